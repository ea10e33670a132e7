import type { Point2 } from './mass';

/** A circle that a line of points runs on. */
export interface Round {
  centre: [number, number];
  radius: number;
}

/**
 * Corners lie on a circle where they are no further from it than this share of its radius, over a turn in rad of so
 * much at least: curves drawn as cubics are round to 3e-4 only, and any bend is round over a short way.
 */
const KINDS = [
  { off: 1e-6, turn: Math.PI / 9 },
  { off: 3e-4, turn: (4 * Math.PI) / 9 },
] as const;
/** Fewer corners in a row are no arc. */
const FEWEST = 5;

/** The circle nearest to some points (algebraic least squares, Kåsa 1976); null where they lie in line. */
function circleFit(points: readonly Readonly<Point2>[]): Round | null {
  const n = points.length;
  const [mx, my] = [0, 1].map((k) => points.reduce((sum, p) => sum + p[k]!, 0) / n) as [number, number];
  let [xx, xy, yy, xz, yz, zz] = [0, 0, 0, 0, 0, 0];
  for (const [px, py] of points) {
    const [x, y] = [px - mx, py - my];
    const z = x * x + y * y;
    xx += x * x;
    xy += x * y;
    yy += y * y;
    xz += x * z;
    yz += y * z;
    zz += z;
  }
  const det = xx * yy - xy * xy;
  if (!(det > 1e-12 * zz * zz)) return null;
  const [a, b] = [(xz * yy - yz * xy) / (2 * det), (yz * xx - xz * xy) / (2 * det)];
  return { centre: [mx + a, my + b], radius: Math.sqrt(a * a + b * b + zz / n) };
}

/** The furthest of some points from a circle, as a share of its radius. */
const offOf = ({ centre: [x, y], radius }: Round, points: readonly Readonly<Point2>[]) =>
  points.reduce((most, [px, py]) => Math.max(most, Math.abs(Math.hypot(px - x, py - y) - radius)), 0) / radius;

/** By how much a line of points turns about a place, rad. */
function turnAbout([x, y]: Readonly<Point2>, points: readonly Readonly<Point2>[]): number {
  let turn = 0;
  for (let i = 1; i < points.length; i++) {
    const [ax, ay] = [points[i - 1]![0] - x, points[i - 1]![1] - y];
    const [bx, by] = [points[i]![0] - x, points[i]![1] - y];
    turn += Math.atan2(ax * by - ay * bx, ax * bx + ay * by);
  }
  return Math.abs(turn);
}

/**
 * Circles about whose centres a closed outline is round: the whole of it, as of a drilled or regular hole, or arcs of
 * five corners or more.
 * @param corners without the first once more, m
 */
export function roundsOf(corners: readonly Readonly<Point2>[]): Round[] {
  const whole = corners.length >= 4 ? circleFit(corners) : null;
  if (whole && offOf(whole, corners) <= KINDS[1].off) return [whole];
  const n = corners.length;
  const found: Round[] = [];
  for (let from = 0; from < n;) {
    const arc = arcFrom(corners, from);
    from += arc ? arc.count - 1 : 1;
    // One that goes over the first corner is met twice.
    if (arc && !found.some((known) => isSame(known, arc.round))) found.push(arc.round);
  }
  return found;
}

/** The longest arc that begins at a corner. */
function arcFrom(corners: readonly Readonly<Point2>[], from: number): { count: number; round: Round } | null {
  let best: { count: number; round: Round } | null = null;
  for (let count = FEWEST; count <= corners.length; count++) {
    const points = Array.from({ length: count }, (_, i) => corners[(from + i) % corners.length]!);
    const round = circleFit(points);
    const off = round ? offOf(round, points) : Infinity;
    if (!round || off > KINDS[1].off) break;
    const turn = turnAbout(round.centre, points);
    if (KINDS.some((kind) => off <= kind.off && turn >= kind.turn)) best = { count, round };
  }
  return best;
}

const isSame = (a: Round, b: Round) =>
  Math.hypot(a.centre[0] - b.centre[0], a.centre[1] - b.centre[1]) + Math.abs(a.radius - b.radius) < 1e-3 * a.radius;
