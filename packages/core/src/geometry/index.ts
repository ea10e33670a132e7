export * from './mass';
export {
  arcThrough,
  chainCurve,
  circleThrough,
  emptyCurvePoint,
  linePiece,
  nearestOn,
  type Curve,
  type CurvePiece,
  type CurvePoint,
} from './curve';
export { splinePiece, transitionPiece } from './spline';
export * from './path';
export * from './cam-outline';
export { blendCorners, pathCorners, type Corner } from './blend';
export * from './distance';
export * from './space';
export * from './place3';
export { convexDistance, roundOf, type ConvexSolid, type Round3 } from './convex';
export { circleOf, outlinePath, roundsOf, type Round } from './rounds';
export { convexPieces, simplified } from './pieces';
export {
  emptySpaceCurvePoint,
  pathThrough,
  spaceCorners,
  spaceCurve,
  spaceTrace,
  type SpaceCurve,
  type SpaceCurvePoint,
  type SpacePath,
  type SpacePiece,
} from './space-path';
