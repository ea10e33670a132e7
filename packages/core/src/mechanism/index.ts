export {
  armX,
  armY,
  coordinateRate,
  ofBody,
  retract,
  stateVector,
  pointOf,
  type Attachment,
  type Constraint,
  type Coordinate,
  type Layout,
} from './state';
export { massOf, shapeArea, type MassProperties } from './bodies';
export { indexerHalfAngle, indexerTransfer } from './couplings';
export {
  compileMechanism,
  MechanismError,
  senseOf,
  type MechanismModel,
  type ModelBody,
  type ModelDrive,
  type ModelJoint,
  type ModelStop,
} from './model';
export { indexerGeometry } from './transfers';
export { BorderedSystem, CLOSED, close, Equations, SquareSystem } from './solver';
export { mobilityAt, ungroundedBodies, type FreeMode, type Mobility } from './mobility';
export { assemble, Kinematics, linkedUnknowns, leadPose, type Assembly, type MechanismState } from './kinematics';
export { framePoses, placeAt, setFramePoses, type Pose } from './poses';
export { dragTowards } from './drag';
export { otherClosure } from './closure';
