import { arcThrough, emptyCurvePoint, nearestOn, pathCurve, type Point2 } from '../geometry';
import { carriedAlong, pathPoints, pieceEnds, withPathPoint, type PathPiece, type PathShape } from './path';

/** A point of a drawing, m. */
export type At = [number, number];
/** A path of pieces in a row. */
export type Chain = Extract<PathShape, { kind: 'chain' }>;
type Arc = Extract<PathPiece, { kind: 'arc' }>;

/** Points nearer to each other are one, m. */
export const SAME = 1e-9;
/** How far points are apart, m. */
export const apart = (a: Readonly<Point2>, b: Readonly<Point2>): number => Math.hypot(a[0] - b[0], a[1] - b[1]);
/** A point of its own where another one is. */
export const copy = (p: Readonly<Point2>): At => [p[0], p[1]];

/** Something of a path to take hold of: a point that it goes through, or the point by which an arc bends. */
export type PathHandle =
  | { what: 'point'; at: At; /** Which of its points, as {@link pathPoints} tells them. */ index: number }
  | { what: 'bend'; at: At; /** The arc that bends. */ piece: number };

/** Whether a closed chain ends just where it began, so that its first and last point are one. */
export const meetsItself = (of: PathShape): boolean =>
  of.kind === 'chain' && of.closed && of.pieces.length > 1 && apart(pieceEnds(of, of.pieces.length - 1)[1], of.start) < SAME; // prettier-ignore

/** All that can be taken hold of; the last point of a chain that meets itself is its first. */
export function pathHandles(of: PathShape): PathHandle[] {
  const points = pathPoints(of).map((at, index): PathHandle => ({ what: 'point', at: copy(at), index }));
  if (meetsItself(of)) points.pop();
  if (of.kind !== 'chain') return points;
  const bends = of.pieces.flatMap((piece, i): PathHandle[] =>
    piece.kind === 'arc' ? [{ what: 'bend', at: copy(piece.via), piece: i }] : [],
  );
  return [...points, ...bends];
}

/** A path with a handle drawn elsewhere; what is closed stays closed. */
export function withPathHandle(of: PathShape, handle: PathHandle, to: At): PathShape {
  if (handle.what === 'point') {
    const moved = withPathPoint(of, handle.index, to);
    return handle.index === 0 && meetsItself(of) ? withPathPoint(moved, pathPoints(of).length - 1, to) : moved;
  }
  if (of.kind !== 'chain') return of;
  return withPiece(of, handle.piece, { ...(of.pieces[handle.piece] as Arc), via: to });
}

/** A chain with one of its pieces made into others. */
export const withPiece = (of: Chain, index: number, ...made: PathPiece[]): Chain => ({
  ...of,
  pieces: of.pieces.flatMap((piece, i) => (i === index ? made : [piece])),
});

/** Arc lengths at which the pieces of a path begin, and its whole length behind them; of a loop those of its points. */
export function pieceStarts(of: PathShape): number[] {
  const curve = pathCurve(of);
  if (of.kind === 'loop') return [...of.through.map(([x, y], i) => (i === 0 ? 0 : nearestOn(curve, x, y))), curve.length]; // prettier-ignore
  return [...(curve.closed ? curve.knees : [0, ...curve.knees]), curve.length];
}

/**
 * The place on a path that lies nearest to another, and the piece it is on; behind the pieces of a closed chain comes
 * the line that closes it. Of a loop it is the stretch between two of its points.
 * @throws PathError where there is no curve
 */
export function nearestPiece(of: PathShape, [x, y]: Readonly<Point2>): { piece: number; at: At; distance: number } {
  const curve = pathCurve(of);
  const s = nearestOn(curve, x, y);
  const p = emptyCurvePoint();
  curve.at(s, p);
  const wrapped = curve.closed ? s - curve.length * Math.floor(s / curve.length) : s;
  const starts = pieceStarts(of);
  let piece = starts.length - 2;
  while (piece > 0 && starts[piece]! > wrapped) piece--;
  return { piece, at: [p.x, p.y], distance: Math.hypot(p.x - x, p.y - y) };
}

/**
 * A path with a point more on one of its pieces; it runs as before, as far as its kind allows.
 * @param at a place on that piece, as by {@link nearestPiece}
 * @returns the path, or a sentence that says why there is none
 */
export function addPathPoint(of: PathShape, piece: number, at: At): PathShape | string {
  if (of.kind === 'circle') return 'A circle has no points on it: make it pieces or a smooth loop first.';
  if (pathPoints(of).some((point) => apart(point, at) < SAME)) return 'There is a point already.';
  if (of.kind === 'loop') return { ...of, through: of.through.toSpliced(piece + 1, 0, at) };
  const own = of.pieces[piece];
  // The line that closes a chain is drawn, but no piece of it yet.
  if (!own) return { ...of, pieces: [...of.pieces, { kind: 'line', to: at }] };
  const [from, to] = pieceEnds(of, piece);
  switch (own.kind) {
    case 'line':
      return withPiece(of, piece, { kind: 'line', to: at }, own);
    case 'arc': {
      const curve = arcThrough(from, own.via, to);
      const p = emptyCurvePoint();
      const s = nearestOn({ ...curve, closed: false, knees: [] }, ...at);
      const on = (length: number): At => {
        curve.at(length, p);
        return [p.x, p.y];
      };
      return withPiece(
        of,
        piece,
        { kind: 'arc', via: on(s / 2), to: on(s) },
        { kind: 'arc', via: on((s + curve.length) / 2), to: copy(to) },
      );
    }
    case 'spline': {
      const curve = pathCurve({ kind: 'chain', start: from, pieces: [own], closed: false });
      const s = nearestOn(curve, ...at);
      const index = own.through.findIndex(([x, y]) => nearestOn(curve, x, y) > s);
      return withPiece(of, piece, { ...own, through: own.through.toSpliced(index < 0 ? -1 : index, 0, at) });
    }
    case 'transition':
      return 'A smooth transition takes its course from its neighbours and has no points of its own: make it a spline or an arc first.';
  }
}

/**
 * A path with a point more behind one of its points: half way to the next one along the path, or as far again behind the
 * last one of an open path.
 * @param index which of its {@link pathPoints}
 * @returns the path, or a sentence that says why there is none
 * @throws PathError where there is no curve
 */
export function addPointBehind(of: PathShape, index: number): PathShape | string {
  const points = pathPoints(of);
  if (of.kind === 'circle') return addPathPoint(of, 0, copy(of.centre));
  const p = emptyCurvePoint();
  if (of.kind === 'loop') {
    const starts = pieceStarts(of);
    pathCurve(of).at((starts[index]! + starts[index + 1]!) / 2, p);
    return addPathPoint(of, index, [p.x, p.y]);
  }
  const next = points[index + 1];
  if (!next && meetsItself(of)) return addPointBehind(of, 0);
  const [x, y] = points[index]!;
  if (!next && of.closed) return addPathPoint(of, of.pieces.length, [(x + of.start[0]) / 2, (y + of.start[1]) / 2]);
  if (!next) {
    const [from] = pieceEnds(of, of.pieces.length - 1);
    return { ...of, pieces: [...of.pieces, { kind: 'line', to: [2 * x - from[0], 2 * y - from[1]] }] };
  }
  let count = 0;
  const piece = of.pieces.findIndex((one) => (count += one.kind === 'spline' ? one.through.length : 1) > index);
  const own = of.pieces[piece]!;
  if (own.kind === 'transition') return addPathPoint(of, piece, copy(next));
  const curve = pathCurve({ kind: 'chain', start: pieceEnds(of, piece)[0], pieces: [own], closed: false });
  const [from, to] = own.kind === 'spline' ? [nearestOn(curve, x, y), nearestOn(curve, ...next)] : [0, curve.length];
  curve.at((from + to) / 2, p);
  return addPathPoint(of, piece, [p.x, p.y]);
}

/**
 * A path without one of its points: what ran to it runs on to the next one.
 * @param index which of its {@link pathPoints}
 * @returns the path, or a sentence that says why it cannot go
 */
export function removePathPoint(of: PathShape, index: number): PathShape | string {
  if (of.kind === 'circle') return 'A circle has no other point than its centre: delete the path itself.';
  if (of.kind === 'loop') {
    if (of.through.length <= 3) return 'A smooth loop needs three points: delete the path itself.';
    return { ...of, through: of.through.toSpliced(index, 1) };
  }
  if (meetsItself(of) && (index === 0 || index === pathPoints(of).length - 1)) {
    // The first point is the last one too: without it the chain closes from the point before to the one behind.
    const [, start] = pieceEnds(of, 0);
    const rest: Chain = { ...of, start, pieces: of.pieces.slice(1, -1) };
    if (rest.pieces.length < 2) return 'What is closed needs three points: open it first, or delete the path.';
    return { ...rest, pieces: [...rest.pieces, { kind: 'line', to: copy(start) }] };
  }
  let at = 0;
  for (let i = 0; i < of.pieces.length; i++) {
    const piece = of.pieces[i]!;
    const own = piece.kind === 'spline' ? piece.through.length : 1;
    if (index === 0) {
      if (of.pieces.length < 2) break;
      return { ...of, start: copy(pieceEnds(of, 0)[1]), pieces: of.pieces.slice(1) };
    }
    if (index <= at + own) {
      if (piece.kind === 'spline' && own > 1)
        return withPiece(of, i, { ...piece, through: piece.through.toSpliced(index - at - 1, 1) });
      if (of.pieces.length < 2) break;
      const next = of.pieces[i + 1];
      const from = pieceEnds(of, i)[0];
      const without = withPiece(of, i);
      return next?.kind === 'arc'
        ? withPiece(without, i, {
            ...next,
            via: carriedAlong(next.via, [pieceEnds(of, i)[1], next.to], [from, next.to]),
          })
        : without;
    }
    at += own;
  }
  return 'A path needs two points: delete the path itself.';
}
