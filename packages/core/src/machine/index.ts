export * from './schema';
export * from './defaults';
export { describeProblems, machineText, readMachine, readMachineText } from './read';
export type { Problem, ReadResult } from './read';
export { machineJsonSchema } from './json-schema';
export * from './mechanism';
export * from './draw';
export * from './edit-mechanism';
export { applyVariant, newVariant } from './variant';
