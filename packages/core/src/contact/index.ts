export { ContactError, loadContact } from './engine';
export * from './pairs';
export * from './shapes';
export * from './world';
