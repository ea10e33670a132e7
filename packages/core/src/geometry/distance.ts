import type { Point2 } from './mass';

/**
 * A shape for distances: everything within `radius` of a polygon, of a line (two corners) or of a point.
 * Corners of a polygon run anticlockwise; it need not be convex.
 */
export interface RoundShape {
  corners: readonly Point2[];
  radius: number;
}

/** A place and turn in the plane: m and rad. */
export interface Place2 {
  x: number;
  y: number;
  angle: number;
}

/** Places by identifier. */
export type Places = Pick<ReadonlyMap<string, Place2>, 'get'>;

/** A shape carried to a place. */
export function placed({ corners, radius }: RoundShape, { x, y, angle }: Place2): RoundShape {
  const c = Math.cos(angle);
  const s = Math.sin(angle);
  return { radius, corners: corners.map(([px, py]): Point2 => [x + c * px - s * py, y + s * px + c * py]) };
}

/** Squared distance of a point from a line between two points. */
function squareToLine(p: Point2, a: Point2, b: Point2): number {
  const dx = b[0] - a[0];
  const dy = b[1] - a[1];
  const length = dx * dx + dy * dy;
  const along = length > 0 ? ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / length : 0;
  const t = along < 0 ? 0 : along > 1 ? 1 : along;
  const ex = a[0] + t * dx - p[0];
  const ey = a[1] + t * dy - p[1];
  return ex * ex + ey * ey;
}

/** Whether a point lies inside of a polygon (even–odd rule). */
export function insidePolygon(p: Point2, corners: readonly Point2[]): boolean {
  let inside = false;
  for (let i = 0, j = corners.length - 1; i < corners.length; j = i++) {
    const [ax, ay] = corners[i]!;
    const [bx, by] = corners[j]!;
    if (ay > p[1] !== by > p[1] && p[0] < ((bx - ax) * (p[1] - ay)) / (by - ay) + ax) inside = !inside;
  }
  return inside;
}

const cross = (a: Point2, b: Point2, c: Point2) => (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);

function linesCross(a: Point2, b: Point2, c: Point2, d: Point2): boolean {
  return cross(a, b, c) > 0 !== cross(a, b, d) > 0 && cross(c, d, a) > 0 !== cross(c, d, b) > 0;
}

const edgeCount = (corners: readonly Point2[]) =>
  corners.length > 2 ? corners.length : Math.max(1, corners.length - 1);

/**
 * Distance between two shapes in m: positive apart, 0 or less where they touch or overlap
 * (then the depth of the deepest corner, which is a lower bound of how far they must be moved apart).
 */
export function shapeDistance(a: RoundShape, b: RoundShape): number {
  const [ca, cb] = [a.corners, b.corners];
  const around = a.radius + b.radius;
  if (!boxesMeet(ca, cb)) return Math.sqrt(Math.min(leastSquare(ca, cb), leastSquare(cb, ca))) - around;
  const depth = Math.max(deepest(ca, cb), deepest(cb, ca));
  if (depth > 0) return -depth - around;
  if (outlinesCross(ca, cb)) return -around;
  return Math.sqrt(Math.min(leastSquare(ca, cb), leastSquare(cb, ca))) - around;
}

/** Whether the upright boxes round two sets of corners have a point in common. */
function boxesMeet(a: readonly Point2[], b: readonly Point2[]): boolean {
  for (const k of [0, 1] as const) {
    let [lowA, highA, lowB, highB] = [Infinity, -Infinity, Infinity, -Infinity];
    for (const p of a) {
      if (p[k] < lowA) lowA = p[k];
      if (p[k] > highA) highA = p[k];
    }
    for (const p of b) {
      if (p[k] < lowB) lowB = p[k];
      if (p[k] > highB) highB = p[k];
    }
    if (lowA > highB || lowB > highA) return false;
  }
  return true;
}

/** Least squared distance of some corners from an outline. */
function leastSquare(points: readonly Point2[], outline: readonly Point2[]): number {
  const edges = edgeCount(outline);
  let least = Infinity;
  for (const p of points)
    for (let i = 0; i < edges; i++) {
      const square = squareToLine(p, outline[i]!, outline[i + 1 < outline.length ? i + 1 : 0]!);
      if (square < least) least = square;
    }
  return least;
}

function outlinesCross(a: readonly Point2[], b: readonly Point2[]): boolean {
  if (a.length < 2 || b.length < 2) return false;
  const [na, nb] = [edgeCount(a), edgeCount(b)];
  for (let i = 0; i < na; i++)
    for (let j = 0; j < nb; j++)
      if (linesCross(a[i]!, a[(i + 1) % a.length]!, b[j]!, b[(j + 1) % b.length]!)) return true;
  return false;
}

/** How deep the deepest corner of one polygon lies inside of the other; 0 where none does. */
function deepest(points: readonly Point2[], polygon: readonly Point2[]): number {
  if (polygon.length < 3) return 0;
  let depth = 0;
  for (const p of points) {
    if (!insidePolygon(p, polygon)) continue;
    let near = Infinity;
    for (let i = 0; i < polygon.length; i++)
      near = Math.min(near, squareToLine(p, polygon[i]!, polygon[(i + 1) % polygon.length]!));
    depth = Math.max(depth, Math.sqrt(near));
  }
  return depth;
}

/** Smallest upright box round a shape: [left, bottom, right, top]. */
export function boundsOf({ corners, radius }: RoundShape): [number, number, number, number] {
  const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [x, y] of corners) {
    if (x - radius < box[0]) box[0] = x - radius;
    if (y - radius < box[1]) box[1] = y - radius;
    if (x + radius > box[2]) box[2] = x + radius;
    if (y + radius > box[3]) box[3] = y + radius;
  }
  return box;
}
