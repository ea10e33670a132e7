/** Solids: surfaces of triangles, what they hold, and those that need no file. */
export { boundsOf, insideOut, joined, pointAt, sizeOf, triangleCount, welded, type Mesh } from './mesh';
export { meshVolume, volumeOf, type VolumeProperties } from './solid-mass';
export { oriented, shellsOf, soundnessOf, soundnessWords, type Soundness } from './soundness';
export { ownMesh, ownSolidProblem, ownVolume, segmentsOf, type OwnSolid } from './own-solid';
export { IMPORT_LIMITS, ImportError, inUnit, type ImportedGeometry, type ImportedSolid } from './imported';
export { GEOMETRY_FILES, readGeometry } from './read-geometry';
export type { StepKernel } from './read-step';
export { facesOf, type Face } from './faces';
export { clearanceOf, ClearanceSolid, distanceAtLeast, type Clearance, type Standing } from './clearance';
