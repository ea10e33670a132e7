/** Solids: surfaces of triangles, what they hold, and those that need no file. */
export { boundsOf, cornersAt, insideOut, joined, pointAt, sizeOf, triangleCount, welded, type Mesh } from './mesh';
export { meshVolume, volumeOf, type VolumeProperties } from './solid-mass';
export { oriented, shellsOf, soundnessOf, soundnessWords, type Soundness } from './soundness';
export { ownMesh, ownSolidProblem, ownVolume, segmentsOf, type OwnSolid } from './own-solid';
export { facesOf, type Face } from './faces';
export { crossingOf } from './self-crossing';
export { lineIn, lineOf, measured, type FaceLine, type Measured } from './measure';
export { rimsOf } from './edges';
export { sharpEdges } from './sharp-edges';
export { SWEPT_CELLS, sweptCell, sweptSpace, type Moving, type Swept, type SweptFrame } from './swept';
export { sectionOf, type SectionArea } from './section';
export { clearanceOf, ClearanceSolid, distanceAtLeast, type Clearance, type Standing } from './clearance';
export { viewLines } from './view-lines';
export type { DrawnLine } from './line-work';
