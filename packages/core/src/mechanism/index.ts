export {
  armX,
  armY,
  coordinateRate,
  ofBody,
  retract,
  copyOf,
  positionsOf,
  ratesOf,
  type Positions,
  type Rates,
  pointOf,
  type Attachment,
  type Constraint,
  type Coordinate,
  type Layout,
} from './state';
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
export { BorderedSystem, CLOSED, close, Equations, SquareSystem, type MotionSystem } from './solver';
export { CarriedSystem } from './carried-system';
export { SpaceTree, type SpaceBody, type SpacePlane, type SpacePoint } from './planes';
export { SpacePair } from './space-joints';
export { SpaceMotion } from './space-motion';
export { BodyLoads } from './loads';
export { loadPaths, type LoadPath } from './joint-graph';
export { mobilityAt, ungroundedBodies, type FreeMode, type Mobility } from './mobility';
export { clustersOf, linkedUnknowns, type Cluster } from './clusters';
export { assemble, Kinematics, leadPose, type Assembly, type MechanismState } from './kinematics';
export { distanceAt, framePose, framePoses, placeAt, setFramePoses, type Pose } from './poses';
export { dragInSpace, dragTowards, type DragEnd } from './drag';
export { Reach, type DriveRange, type Reached } from './reach';
export { otherClosure } from './closure';
export { otherClosures, type OtherPose } from './closures';
export { chosenAnew, isWaning, type Soundness } from './chosen-rows';
