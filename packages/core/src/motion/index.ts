export * from './plan';
export { axisMotion, type MotionSource } from './source';
export { motionAt, planMotion, sampleMotion } from './motion';
export type { Motion, MotionSamples, MotionState, MotionStretch } from './motion';
export { MOST_SAMPLES, proposeStep, sampleTimes, shortestMove } from './grid';
export * from './checks';
export * from './edit';
export { explainPlanFinding } from './explain';
export { checkMotion } from './check-motion';
