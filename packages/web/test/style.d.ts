// Styles that components bring along.
declare module '*.css';
