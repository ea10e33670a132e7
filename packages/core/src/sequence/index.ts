export * from './net';
export * from './condition';
export * from './sheet';
export * from './signals';
export * from './condition-text';
export * from './check';
export * from './edit';
