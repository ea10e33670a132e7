export { gaussNodes, integrate } from './quadrature';
export { bisectChange, maximise } from './root';
export { indexOfLargest, interpolate, lastAtOrBefore } from './table';
export { analyseRank, dense, solveDense, type Dense, type RankAnalysis } from './dense';
export { SparseLu, type SparsePattern } from './sparse';
export { fillHermite, hermitePiece, splineThrough } from './hermite';
export type { HermiteKnots, HermiteWish, SplineChoice } from './hermite';
export { Scatter } from './scatter';
export { minimiseInBox, solveSemidefinite } from './boxed';
