import {
  arcPiece,
  arcThrough,
  chainCurve,
  emptyCurvePoint,
  linePiece,
  type Curve,
  type CurvePiece,
  type CurvePoint,
} from './curve';
import type { Point2 } from './mass';
import { splinePiece, transitionPiece } from './spline';

/** One piece of a path: where it goes from where the piece before it ended. */
export type PathPiece =
  | { kind: 'line'; to: Point2 }
  | { kind: 'arc'; via: Point2; to: Point2 }
  | { kind: 'spline'; through: readonly Point2[] }
  | { kind: 'transition'; to: Point2 };

/** A path as the document holds it: a full circle, a closed spline, or pieces in a chain. Lengths in m. */
export type PathShape =
  | { kind: 'circle'; centre: Point2; radius: number }
  | { kind: 'loop'; through: readonly Point2[] }
  | { kind: 'chain'; start: Point2; pieces: readonly PathPiece[]; closed: boolean };

/** A path that cannot be made; the message says why and what to do. */
export class PathError extends Error {
  override name = 'PathError';
}

const NO_LENGTH = 1e-12;

/**
 * Makes a curve of a path. Transitions take direction, curvature and rate of curvature from their neighbours.
 * @throws PathError where a piece has no length, or a transition has nothing to join
 */
export function pathCurve(path: PathShape): Curve {
  if (path.kind === 'circle') return chainCurve([arcPiece(path.centre, path.radius, 0, 2 * Math.PI)], true);
  if (path.kind === 'loop') {
    if (path.through.length < 3) throw new PathError('A closed curve needs at least three points.');
    return chainCurve([splinePiece(path.through, true)], true);
  }
  return chainCurve(chainPieces(path), path.closed);
}

/**
 * The pieces of a chain as curves, one after the other, with the line that closes it.
 * @throws PathError as {@link pathCurve}
 */
export function chainPieces({ pieces, start, closed }: Extract<PathShape, { kind: 'chain' }>): CurvePiece[] {
  if (pieces.length === 0) throw new PathError('The path has no pieces yet: draw at least one.');
  const ends = pieces.map(endOf);
  const made: (CurvePiece | undefined)[] = pieces.map((piece, i) => {
    const from = i === 0 ? start : ends[i - 1]!;
    if (piece.kind === 'transition') return undefined;
    const to = ends[i]!;
    if (piece.kind === 'line' && Math.hypot(to[0] - from[0], to[1] - from[1]) < NO_LENGTH)
      throw new PathError(`Piece ${i + 1} of the path has no length: move its end or remove it.`);
    if (piece.kind === 'line') return linePiece(from, to);
    if (piece.kind === 'arc') return arcThrough(from, piece.via, to);
    return splinePiece([from, ...piece.through], false);
  });
  const last = ends[ends.length - 1]!;
  const gap = Math.hypot(last[0] - start[0], last[1] - start[1]);
  if (closed && gap > NO_LENGTH) {
    ends.push(start);
    made.push(linePiece(last, start));
  }
  return made.map((piece, i) => {
    if (piece) return piece;
    const count = made.length;
    const before = closed ? made[(i + count - 1) % count] : made[i - 1];
    const after = closed ? made[(i + 1) % count] : made[i + 1];
    if (!before || !after)
      throw new PathError(
        `Piece ${i + 1} of the path is a transition with nothing to join: a line, arc or spline must stand on both sides.`,
      );
    const from = emptyCurvePoint();
    const to = emptyCurvePoint();
    before.at(before.length, from);
    after.at(0, to);
    if (Math.hypot(to.x - from.x, to.y - from.y) < NO_LENGTH)
      throw new PathError(`Piece ${i + 1} of the path has no length: move its end or remove it.`);
    return transitionPiece(from, to);
  });
}

function endOf(piece: PathPiece): Point2 {
  if (piece.kind === 'spline') return piece.through[piece.through.length - 1]!;
  return piece.to;
}

/** Points along a curve, evenly spaced by arc length, both ends included (a closed curve's first point once). */
export function tracePoints(curve: Curve, count: number): [number, number][] {
  const p: CurvePoint = emptyCurvePoint();
  return Array.from({ length: count }, (_, i) => {
    curve.at((curve.length * i) / (curve.closed ? count : count - 1), p);
    return [p.x, p.y];
  });
}
