export * from './net';
export * from './condition';
export * from './sheet';
export * from './signals';
export * from './condition-text';
