export * from './schema';
export * from './defaults';
export { describeProblems, machineText, problemSchema, readMachine, readMachineText } from './read';
export type { Problem, ReadResult } from './read';
export { problemsInWords } from './problem-words';
export { machineJsonSchema } from './json-schema';
export * from './mechanism';
export type { Gripper, GripperFingers } from './gripper';
export * from './in-space';
export * from './loose';
export * from './part-kind';
export * from './material';
export * from './sequence';
export { ACTIONS, actionSchema, actionWords, cueNameFor, type ActionKind, type CueAction } from './action';
export {
  SENSORS,
  sensingSchema,
  sensorSchema,
  sensorWords,
  TILT,
  type Sensing,
  type Sensor,
  type SensorKind,
} from './sensor';
export { addHandler, HANDLERS, handlerSchema, LOOSE_LISTS, type LooseList } from './handlers';
export { drawnFields, fieldsAt, type Change, type Choice, type DrawnField } from './drawn-fields';
export { choicesOf, type Before } from './kinds';
export { BLOCKS, blockSchema, type ServoBlock } from './block';
export { masterSchema } from './motion';
export * from './solid';
export { pairsOfWatch, samePair, type Clearances, type ClearanceWatch } from './clearances';
export { bodyMesh, machineSkins, mirroredMesh, placedMesh, solidMesh, prismOf, solidsMesh } from './body-mesh';
export * from './edit-solids';
export { placeCircle, placeForce, placeRim, placeSensor, placeSpring } from './place-things';
export { placeJoint, placePlane, spotOn, type FaceSpot, type CornersOf } from './place-by-face';
export * from './draw';
export * from './edit-mechanism';
export * from './edit-planes';
export * from './standing';
export * from './gravity';
export * from './draw-plane';
export { addFreeBody } from './free-body';
export * from './draw-stop';
export { carriersOf, carryJoint, hasCarrier, type CarriedJoint } from './carrier';
export { directionName, positiveDirection } from './direction-words';
export { roundCentres, type RoundCentre } from './centres';
export {
  addPathPoint,
  addPointBehind,
  meetsItself,
  nearestPiece,
  pathHandles,
  pieceStarts,
  removePathPoint,
  withPathHandle,
  type PathHandle,
} from './path-edit';
export {
  arcFacts,
  cornerRadius,
  leastRadius,
  roundCorners,
  tangentArc,
  withArc,
  type ArcFacts,
  type NoRoom,
} from './path-arcs';
export { applyVariant, newVariant } from './variant';
export { variantSchema } from './variant-schema';
export type { PathLead } from './lead';
export type { MarkedPose } from './marked-pose';
export { fasterMotion, fasterPlan } from './faster';
export { renameAxis } from './rename';
export { ownerOf, referencesIn, type Reference } from './references';
