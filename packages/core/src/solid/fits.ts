import { eigs } from 'mathjs';
import { cross, dot, minus, plus, unit3, type Point3 } from '../geometry';
import { dense, solveDense } from '../numeric';

/** A cylinder through corners of a mesh. */
export interface RoundFit {
  /** Middle of its axis between its ends, m. */
  at: Point3;
  /** Direction of the axis. */
  axis: Point3;
  radius: number;
  /** From end to end along the axis, m. */
  length: number;
  /** How far round it goes, rad. */
  round: number;
  /** Largest distance of a corner from it, m. */
  residual: number;
}

/** Two directions square to a third and to each other, so that the three are right-handed. */
export function acrossOf(axis: Point3): [Point3, Point3] {
  const [x, y, z] = axis.map(Math.abs) as [number, number, number];
  const least: Point3 = x <= y && x <= z ? [1, 0, 0] : y <= z ? [0, 1, 0] : [0, 0, 1];
  const u = unit3(cross(axis, least));
  return [u, cross(axis, u)];
}

/** Principal directions of vectors, the least first: of Σ weight v vᵀ. */
function principal(vectors: readonly { v: Point3; weight: number }[]): { value: number; vector: Point3 }[] {
  const sum = [0, 1, 2].map((i) =>
    [0, 1, 2].map((k) => vectors.reduce((all, { v, weight }) => all + weight * v[i]! * v[k]!, 0)),
  );
  return eigs(sum)
    .eigenvectors.map(({ value, vector }) => {
      const [x, y, z] = (vector as number[]).map(Number) as [number, number, number];
      return { value: Number(value), vector: unit3([x, y, z]) };
    })
    .sort((a, b) => a.value - b.value);
}

/** Direction that is most square to all normals, each counted by its area: the least of Σ area (n · axis)². */
export function axisOfNormals(normals: readonly { normal: Point3; area: number }[]): Point3 {
  return principal(normals.map(({ normal: v, area: weight }) => ({ v, weight })))[0]!.vector;
}

/** Whether normals go all ways about their mean, and not round a cone or in a plane alone. */
export function goAllWays(normals: readonly { normal: Point3 }[]): boolean {
  const mean = normals.reduce<Point3>((sum, { normal }) => plus(sum, normal, 1 / normals.length), [0, 0, 0]);
  const [least, , most] = principal(normals.map(({ normal }) => ({ v: minus(normal, mean), weight: 1 })));
  return least!.value > 1e-4 * most!.value;
}

/** Centre and radius of the circle (or ball) nearest to points, by linear least squares (Kåsa); null where there is none. */
export function fitCentre(points: readonly (readonly number[])[]): { at: number[]; radius: number } | null {
  const size = points[0]!.length;
  // About their middle, so that nothing is lost far from the origin.
  const middle = Array.from({ length: size }, (_, k) => points.reduce((sum, p) => sum + p[k]!, 0) / points.length);
  const normal = dense(size + 1, size + 1);
  const right = new Float64Array(size + 1);
  for (const point of points) {
    const row = [...point.map((part, k) => part - middle[k]!), 1];
    const square = row.slice(0, size).reduce((sum, part) => sum + part * part, 0);
    row.forEach((a, i) => {
      right[i] = right[i]! + a * square;
      row.forEach((b, k) => (normal.data[i * (size + 1) + k] = normal.data[i * (size + 1) + k]! + a * b));
    });
  }
  if (!solveDense(normal, right)) return null;
  const half = [...right.subarray(0, size)].map((part) => part / 2);
  const square = right[size]! + half.reduce((sum, part) => sum + part * part, 0);
  if (!(square > 0)) return null;
  return { at: half.map((part, k) => part + middle[k]!), radius: Math.sqrt(square) };
}

/** The cylinder about an axis of this direction that the corners of facets lie on; null where there is none. */
export function fitRound(axis: Point3, facets: readonly (readonly Point3[])[]): RoundFit | null {
  const [u, v] = acrossOf(axis);
  const corners = facets.flat();
  const flat = corners.map((p): [number, number] => [dot(p, u), dot(p, v)]);
  const circle = fitCentre(flat);
  if (!circle) return null;
  const [cx, cy] = circle.at as [number, number];
  const along = corners.map((p) => dot(p, axis)).sort((a, b) => a - b);
  const [low, high] = [along[0]!, along.at(-1)!];
  const at = plus(plus(plus([0, 0, 0], u, cx), v, cy), axis, (low + high) / 2);
  const angleOf = (p: Point3) => Math.atan2(dot(p, v) - cy, dot(p, u) - cx);
  const round = covered(facets.map((facet) => facet.map(angleOf)));
  const residual = flat.reduce((most, [x, y]) => Math.max(most, Math.abs(Math.hypot(x - cx, y - cy) - circle.radius)), 0); // prettier-ignore
  return { at, axis, radius: circle.radius, length: high - low, round, residual };
}

/** How much of a turn facets cover, each by the angles of its corners, rad: all but the widest gap between them. */
function covered(facets: readonly (readonly number[])[]): number {
  const turn = 2 * Math.PI;
  const spans = facets
    .map((angles): [number, number] => {
      const ways = angles.map((angle) => angle - angles[0]! - turn * Math.round((angle - angles[0]!) / turn));
      const from = angles[0]! + Math.min(...ways);
      const start = from - turn * Math.floor(from / turn);
      return [start, start + Math.max(...ways) - Math.min(...ways)];
    })
    .sort((a, b) => a[0] - b[0]);
  let [reach, gap] = [-Infinity, 0];
  for (const [from, to] of spans) {
    if (reach > -Infinity) gap = Math.max(gap, from - reach);
    reach = Math.max(reach, to);
  }
  gap = Math.max(gap, spans[0]![0] + turn - reach);
  return gap < 1e-6 ? turn : turn - gap;
}

/** The ball that corners lie on; null where there is none. */
export function fitBall(corners: readonly Point3[]): { at: Point3; radius: number; residual: number } | null {
  const ball = fitCentre(corners);
  if (!ball) return null;
  const [x, y, z] = ball.at as [number, number, number];
  const residual = corners.reduce(
    (most, p) => Math.max(most, Math.abs(Math.hypot(...minus(p, [x, y, z])) - ball.radius)),
    0,
  );
  return { at: [x, y, z], radius: ball.radius, residual };
}
