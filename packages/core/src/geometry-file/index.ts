/** Files of geometry: STEP, STL, OBJ and glTF read, and geometry as it is kept. */
export { IMPORT_LIMITS, ImportError, inUnit, type ImportedGeometry, type ImportedSolid } from './imported';
export { GEOMETRY_FILES, readGeometry } from './read-geometry';
export type { StepKernel } from './read-step';
export { hullOf } from './hull';
export { packGeometry, unpackGeometry } from './kept';
export { examined, type ExaminedFile, type ExaminedSolid } from './examined';
export { writeStl } from './write-stl';
export { writeGltf, type DrawnBody, type DrawnMotion } from './write-gltf';
export { packMachineZip, readMachineZip, type MachineZip } from './machine-zip';
