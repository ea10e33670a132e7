export { createApp, type AppSettings } from './app';
export { openDatabase, type Database, type DatabaseSettings } from './database';
export { loadDemoOnce } from './demo';
export { closeReaders } from './documents';
export { RunResults } from './results';
export { Studies } from './studies';
