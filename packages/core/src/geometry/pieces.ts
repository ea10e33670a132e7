// The package has no types of its own; all packages of the workspace read this file.
// eslint-disable-next-line @typescript-eslint/triple-slash-reference
/// <reference path="./poly-decomp.d.ts" />
import { isSimple, makeCCW, quickDecomp } from 'poly-decomp';
import simplify from 'simplify-js';
import type { Point2 } from './mass';

/** An outline that crosses itself cannot be cut into pieces. */
export class OutlineError extends Error {
  override name = 'OutlineError';
}

/**
 * Cuts an outline into convex pieces that together are exactly the outline (Bayazit's method, package poly-decomp).
 * @throws OutlineError where the outline crosses itself
 */
export function convexPieces(outline: readonly Point2[]): Point2[][] {
  const corners = outline.map(([x, y]): [number, number] => [x, y]);
  if (!isSimple(corners)) throw new OutlineError('The outline crosses itself: move its corners apart.');
  makeCCW(corners);
  return quickDecomp(corners)
    .map(withoutStraightCorners)
    .filter((piece) => piece.length > 2);
}

/** A convex piece without corners at which it goes straight on. */
function withoutStraightCorners(piece: readonly Point2[]): Point2[] {
  return piece.filter(([x, y], i) => {
    const [ax, ay] = piece[(i + piece.length - 1) % piece.length]!;
    const [bx, by] = piece[(i + 1) % piece.length]!;
    const cross = (x - ax) * (by - y) - (y - ay) * (bx - x);
    return Math.abs(cross) > 1e-6 * Math.hypot(x - ax, y - ay) * Math.hypot(bx - x, by - y);
  });
}

/** An outline with fewer corners, none further than the tolerance (m) from the line that stands for it (Douglas and Peucker). */
export function simplified(outline: readonly Point2[], tolerance: number): Point2[] {
  const first = outline[0]!;
  const closed = [...outline, first].map(([x, y]) => ({ x, y }));
  const fewer = simplify(closed, tolerance, true).map(({ x, y }): Point2 => [x, y]);
  return fewer.length > 4 || fewer.length > outline.length ? fewer.slice(0, -1) : [...outline];
}
