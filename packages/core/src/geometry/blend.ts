import { emptyCurvePoint, type CurvePiece, type CurvePoint } from './curve';
import { chainPieces, type PathPiece, type PathShape } from './path';

/** A corner of a path: its arc length, and the angle in rad by which the direction jumps. */
export interface Corner {
  at: number;
  angle: number;
}

/** Directions that differ by less are one. */
const STRAIGHT = 1e-6;

function tangents(pieces: readonly CurvePiece[]): { start: CurvePoint; end: CurvePoint }[] {
  return pieces.map((piece) => {
    const [start, end] = [emptyCurvePoint(), emptyCurvePoint()];
    piece.at(0, start);
    piece.at(piece.length, end);
    return { start, end };
  });
}

const turn = (a: CurvePoint, b: CurvePoint) => Math.atan2(a.tx * b.ty - a.ty * b.tx, a.tx * b.tx + a.ty * b.ty);

/**
 * Corners of a path, where the direction jumps from one piece to the next.
 * @throws PathError where the path has no course
 */
export function pathCorners(shape: PathShape): Corner[] {
  if (shape.kind !== 'chain') return [];
  const pieces = chainPieces(shape);
  const ends = tangents(pieces);
  let at = 0;
  return pieces.flatMap((piece, i) => {
    at += piece.length;
    const next = ends[i + 1] ?? (shape.closed ? ends[0] : undefined);
    if (!next) return [];
    const angle = turn(ends[i]!.end, next.start);
    return Math.abs(angle) > STRAIGHT ? [{ at, angle }] : [];
  });
}

/**
 * Rounds every corner of a path of lines and arcs by a transition that begins and ends `distance` (m along the path)
 * from it and meets direction and curvature at both ends. Where a piece is short, what is left of it is shared.
 * A path with other pieces, or without corners, comes back as it is.
 */
export function blendCorners(shape: PathShape, distance: number): PathShape {
  if (shape.kind !== 'chain' || distance <= 0) return shape;
  if (shape.pieces.some(({ kind }) => kind !== 'line' && kind !== 'arc') || pathCorners(shape).length === 0)
    return shape;
  const pieces = chainPieces(shape);
  const ends = tangents(pieces);
  const count = pieces.length;
  const cornerAt = (i: number) => {
    const next = i === count - 1 ? (shape.closed ? 0 : -1) : i + 1;
    return next >= 0 && Math.abs(turn(ends[i]!.end, ends[next]!.start)) > STRAIGHT;
  };
  const before = (i: number) => (i === 0 ? (shape.closed ? cornerAt(count - 1) : false) : cornerAt(i - 1));
  // Never more than leaves a hundredth of the piece standing.
  const trims = pieces.map((piece, i) => {
    const sides = (before(i) ? 1 : 0) + (cornerAt(i) ? 1 : 0);
    return sides === 0 ? 0 : Math.min(distance, (0.99 * piece.length) / sides);
  });
  const p = emptyCurvePoint();
  const at = (i: number, s: number): [number, number] => {
    pieces[i]!.at(s, p);
    return [p.x, p.y];
  };
  const start = at(0, before(0) ? trims[0]! : 0);
  const blended: PathPiece[] = [];
  pieces.forEach((piece, i) => {
    const from = before(i) ? trims[i]! : 0;
    const to = piece.length - (cornerAt(i) ? trims[i]! : 0);
    const source = shape.pieces[i];
    blended.push(
      source?.kind === 'arc'
        ? { kind: 'arc', via: at(i, (from + to) / 2), to: at(i, to) }
        : { kind: 'line', to: at(i, to) },
    );
    if (!cornerAt(i)) return;
    const next = (i + 1) % count;
    blended.push({ kind: 'transition', to: next === 0 ? start : at(next, trims[next]!) });
  });
  return { kind: 'chain', start, pieces: blended, closed: shape.closed };
}
