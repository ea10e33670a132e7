/** The stores of a machine that is open, for what is drawn of them; a store takes others by their own files. */
export { useBoard, type Colouring } from './board';
export { useCatalogue } from './catalogue';
export { useClearance } from './clearance';
export { useCompare, type Compared } from './compare';
export { useCues } from './cues';
export { PLAYBACK_SPEEDS, useCursor, type PlaybackMode } from './cursor';
export { useGeometry } from './geometry';
export { useLoose } from './loose';
export { useMachine } from './machine';
export { useMotions } from './motions';
export { usePreferences } from './preferences';
export { useRun } from './run';
export { useSeeing, type Plot } from './seeing';
export { useSolids } from './solids';
export { useStudy } from './study';
export { useWork, type Proposals } from './work';
export { useStroke } from './stroke';
export { useTransfer } from './transfer';
