// The package has no types of its own; all packages of the workspace read this file.
// eslint-disable-next-line @typescript-eslint/triple-slash-reference
/// <reference path="./poly-decomp.d.ts" />
import earcut from 'earcut';
import { isSimple, makeCCW, quickDecomp } from 'poly-decomp';
import simplify from 'simplify-js';
import type { Point2 } from './mass';

/** An outline that crosses itself cannot be cut into pieces. */
export class OutlineError extends Error {
  override name = 'OutlineError';
}

/** Corners that point inwards up to which the search for few pieces is quick; its time grows steeply with them. */
const FEW_REFLEX = 30;
/** Twice an area that is zero within rounding, m². */
const ROUNDING = 1e-12;

/**
 * Cuts an outline into convex pieces that together are exactly the outline: few of them (Bayazit's method, package
 * poly-decomp) where few corners point inwards, else triangles (package earcut) joined as long as they stay convex
 * (Hertel and Mehlhorn 1983: at most four times as many as needed).
 * @throws OutlineError where the outline crosses itself
 */
export function convexPieces(outline: readonly Point2[]): Point2[][] {
  const corners = outline.map(([x, y]): [number, number] => [x, y]);
  if (!isSimple(corners)) throw new OutlineError('The outline crosses itself: move its corners apart.');
  makeCCW(corners);
  const reflex = corners.filter((_, i) => turnAt(corners, i) < 0).length;
  const pieces =
    reflex <= FEW_REFLEX ? cutBetweenReflex(corners).flatMap((part) => quickDecomp(part)) : joinedTriangles(corners);
  return pieces.map(withoutStraightCorners).filter((piece) => piece.length > 2);
}

/** Twice the area of the triangle of three points: positive where they turn left. */
const turn = ([ax, ay]: Point2, [bx, by]: Point2, [cx, cy]: Point2): number =>
  (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);

const turnAt = (corners: readonly Point2[], i: number): number => {
  const n = corners.length;
  return turn(corners[(i + n - 1) % n]!, corners[i]!, corners[(i + 1) % n]!);
};

/**
 * Cuts an anticlockwise outline from one corner that points inwards to another as long as one cut makes both of them
 * convex: the bottom of a comb comes off whole, which leaves fewer and longer pieces than cuts from one corner each.
 */
function cutBetweenReflex(corners: [number, number][]): [number, number][][] {
  const n = corners.length;
  const inwards = corners.flatMap((_, i) => (turnAt(corners, i) < 0 ? [i] : []));
  const at = (i: number) => corners[(i + n) % n]!;
  /** Whether a cut from corner i to corner j leaves no inward corner at i on either side. */
  const makesConvex = (i: number, j: number) =>
    turn(at(i - 1), at(i), at(j)) >= -ROUNDING && turn(at(j), at(i), at(i + 1)) >= -ROUNDING;
  for (const [k, i] of inwards.entries())
    for (const j of inwards.slice(k + 1)) {
      if (j - i < 2 || i + n - j < 2 || !makesConvex(i, j) || !makesConvex(j, i) || !isFree(corners, i, j)) continue;
      const one = corners.slice(i, j + 1);
      const other = [...corners.slice(j), ...corners.slice(0, i + 1)];
      return [...cutBetweenReflex(one), ...cutBetweenReflex(other)];
    }
  return [corners];
}

/** Whether the straight line between two corners meets no other corner and crosses no side. */
function isFree(corners: readonly Point2[], i: number, j: number): boolean {
  const n = corners.length;
  const [a, b] = [corners[i]!, corners[j]!];
  return corners.every((p, k) => {
    if (k === i || k === j) return true;
    const away = turn(a, b, p);
    const along = (p[0] - a[0]) * (b[0] - a[0]) + (p[1] - a[1]) * (b[1] - a[1]);
    if (Math.abs(away) <= ROUNDING && along > 0 && along < (b[0] - a[0]) ** 2 + (b[1] - a[1]) ** 2) return false;
    const next = (k + 1) % n;
    if (next === i || next === j) return true;
    const q = corners[next]!;
    return away * turn(a, b, q) >= 0 || turn(p, q, a) * turn(p, q, b) >= 0;
  });
}

/** Triangles of an anticlockwise outline, joined over their diagonals while what comes of it is convex. */
function joinedTriangles(corners: readonly Point2[]): Point2[][] {
  const indices = earcut(corners.flat());
  const pieces = new Map<number, number[]>();
  /** The piece that has an edge from one corner to another, going round anticlockwise. */
  const at = new Map<number, number>();
  const edge = (a: number, b: number) => a * corners.length + b;
  const put = (id: number, piece: number[]) => {
    pieces.set(id, piece);
    piece.forEach((a, i) => at.set(edge(a, piece[(i + 1) % piece.length]!), id));
  };
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = indices.slice(i, i + 3) as [number, number, number];
    put(i, turn(corners[a]!, corners[b]!, corners[c]!) > 0 ? [a, b, c] : [a, c, b]);
  }
  const convexAt = (piece: readonly number[], corner: number) => {
    const i = piece.indexOf(corner);
    const n = piece.length;
    const [a, b, c] = [piece[(i + n - 1) % n]!, corner, piece[(i + 1) % n]!];
    return turn(corners[a]!, corners[b]!, corners[c]!) >= 0;
  };
  for (const key of [...at.keys()]) {
    const [a, b] = [Math.floor(key / corners.length), key % corners.length];
    const [one, other] = [at.get(key), at.get(edge(b, a))];
    if (one === undefined || other === undefined || one === other) continue;
    const [p, q] = [pieces.get(one)!, pieces.get(other)!];
    // From b round the first piece to a, then from a round the second one, back to b.
    const fromB = [...p.slice(p.indexOf(b)), ...p.slice(0, p.indexOf(b))];
    const fromA = [...q.slice(q.indexOf(a)), ...q.slice(0, q.indexOf(a))];
    const joined = [...fromB, ...fromA.slice(1, -1)];
    if (!convexAt(joined, a) || !convexAt(joined, b)) continue;
    at.delete(key);
    at.delete(edge(b, a));
    pieces.delete(other);
    put(one, joined);
  }
  return [...pieces.values()].map((piece) => piece.map((corner) => corners[corner]!));
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
