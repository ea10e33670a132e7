export { leavesFront, SpacePlayback, spaceSamples, wayInSpace } from './space-channels';
export * from './channels';
export * from './simulate';
export { explainRunFinding } from './explain';
export { changeWords, channelFacts, type ChannelFacts, type Extreme } from './compare';
export { findPeak, rmsOf, sampleIndexAt, valueAt, type Peak, type PeakKind } from './peaks';
export {
  mechanismChannels,
  mechanismSamples,
  signalChannels,
  tracedPath,
  type ChannelGroup,
  type MechanismChannel,
} from './mechanism-channels';
export { integrateAxis, type AxisEnergy, type DutyIntegrals } from './integrals';
export { axisModel, emptyInstant, evaluateAxis, type AxisModel } from './model';
export { MechanismSystem, type AxisMotions, type AxisReader, type PartsOnBodies } from './system';
export { hasMechanism, prepareMechanism, type PreparedMechanism } from './prepare';
export * from './mechanism-run';
export { explainMechanismFinding, nameIn } from './explain-mechanism';
export { makeCylinder, strokeNeed, type StrokeNeed } from './stroke';
export { camCentres, camFromAxis, camFromPoint, camPlaces, drawCam, type CamSize } from './cam';
export { posesAt, smoothPosesAt, type PosedRun } from './poses-at';
export { keepMotions, runLead } from './lead';
export { leadLength, leadShape, leadSpace, pathLength, wholeWay } from './path-length';
export { travelEnds } from './travel-ends';
export { AxisPoses, likelyTool, straightOn, type AxisPlaces, type ReachedPose } from './axis-poses';
export * from './point-to-point';
export * from './keep-transfer';
export type { LeadPeak, LeadResult, LeadSamples, RequiredMotion, UnreachableStretch } from './lead-result';
export { isHeldBack } from './gate';
export {
  clearanceAt,
  clearancesOver,
  guidesOf,
  isNearer,
  watchedOver,
  type PairClearance,
  type WatchedClearance,
} from './clearance';
export { framesAt, reachedBy, sweptOver } from './shapes-over';
