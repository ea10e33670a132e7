export * from './motor';
export * from './duty';
export * from './rank';
export type { CheckCode, MotorCheck } from './checks';
export * from './explain';
export * from './proposals';
export * from './compare-motions';
