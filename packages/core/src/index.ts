export * from './quantity';
export * from './law';
export * from './motion';
export * from './machine';
export * from './dynamics';
export * from './run';
export * from './sizing';
export * from './format';
