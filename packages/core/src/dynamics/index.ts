export { axisEffort, directionOfMotion, loadModel, type AxisLoad, type LoadModel } from './load';
export * from './drivetrain';
export { courseEdges, courseValue } from './course';
export {
  compileEfforts,
  type EffortInputs,
  type ElementFormulas,
  type Effort,
  type EffortResult,
  type EffortState,
} from './elements';
export { InverseDynamics, kineticEnergy } from './inverse';
export { levelled } from './space-efforts';
export { kineticPowerInSpace, SpaceForces } from './newton-euler';
export { ForwardDynamics, type Leading } from './forward';
export { ForwardError } from './forward-error';
export * from './switching';
export * from './wrench';
