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

/** The longest arc that begins at a corner, of so many corners at most. */
function arcFrom(
  corners: readonly Readonly<Point2>[],
  from: number,
  most = corners.length,
): { count: number; round: Round } | null {
  let best: { count: number; round: Round } | null = null;
  for (let count = FEWEST; count <= most; count++) {
    const points = Array.from({ length: count }, (_, i) => corners[(from + i) % corners.length]!);
    const round = circleFit(points);
    const off = round ? offOf(round, points) : Infinity;
    if (!round || off > KINDS[1].off) break;
    const turn = turnAbout(round.centre, points);
    if (KINDS.some((kind) => off <= kind.off && turn >= kind.turn)) best = { count, round };
  }
  return best;
}

/** A closed line of so many corners at least, none further from the next than this share of its radius, is a circle by its looks. */
const CIRCLE = { fewest: 12, widest: 0.55 };

const isClose = ({ radius }: Round, [ax, ay]: Readonly<Point2>, [bx, by]: Readonly<Point2>) =>
  Math.hypot(bx - ax, by - ay) <= CIRCLE.widest * radius;

/** The circle that a closed line of close corners is: not one on which the corners of a square happen to lie. */
export function circleOf(points: readonly Readonly<Point2>[]): Round | undefined {
  if (points.length < CIRCLE.fewest) return undefined;
  const [round, ...others] = roundsOf(points);
  if (!round || others.length > 0) return undefined;
  const isWhole = points.every(
    (own, i) =>
      isClose(round, points.at(i - 1)!, own) &&
      Math.abs(Math.hypot(own[0] - round.centre[0], own[1] - round.centre[1]) / round.radius - 1) < 1e-3,
  );
  return isWhole ? round : undefined;
}

/** Sides that meet at more than this do not go round, rad. */
const EDGED = Math.PI / 6;

type At = [number, number];
/** A path about an outline, as a document holds paths. */
export type OutlinePath =
  | { kind: 'circle'; centre: At; radius: number }
  | { kind: 'chain'; start: At; pieces: ({ kind: 'line'; to: At } | { kind: 'arc'; via: At; to: At })[]; closed: true };

/**
 * A closed outline as the path that it was before it was given corners: a circle, or lines and arcs.
 * @param corners without the first once more, m
 */
export function outlinePath(corners: readonly Readonly<Point2>[]): OutlinePath {
  const whole = circleOf(corners);
  if (whole) return { kind: 'circle', ...whole };
  const n = corners.length;
  const turnAt = (i: number) => {
    const [a, b, c] = [corners.at(i - 1)!, corners[i]!, corners[(i + 1) % n]!];
    const [ux, uy, vx, vy] = [b[0] - a[0], b[1] - a[1], c[0] - b[0], c[1] - b[1]];
    return Math.abs(Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy));
  };
  const sideTo = (i: number) => Math.hypot(corners[i]![0] - corners.at(i - 1)![0], corners[i]![1] - corners.at(i - 1)![1]); // prettier-ignore
  const most = (of: (i: number) => number) => corners.reduce((best, _, i) => (of(i) > of(best) ? i : best), 0);
  // From the sharpest corner, or the end of the longest side where nothing is sharp: no arc goes over the beginning.
  const sharpest = most(turnAt);
  const first = turnAt(sharpest) > EDGED ? sharpest : most(sideTo);
  const all = Array.from({ length: n + 1 }, (_, i): At => [...corners[(first + i) % n]!]);
  const pieces: Extract<OutlinePath, { kind: 'chain' }>['pieces'] = [];
  for (let from = 0; from < n;) {
    const arc = arcFrom(all, from, n + 1 - from);
    const isFine = arc && Array.from({ length: arc.count - 1 }, (_, i) => isClose(arc.round, all[from + i]!, all[from + i + 1]!)).every(Boolean); // prettier-ignore
    const to = from + (isFine ? arc.count - 1 : 1);
    pieces.push(isFine ? { kind: 'arc', via: all[from + (arc.count >> 1)]!, to: all[to]! } : { kind: 'line', to: all[to]! }); // prettier-ignore
    from = to;
  }
  return { kind: 'chain', start: all[0]!, pieces, closed: true };
}

const isSame = (a: Round, b: Round) =>
  Math.hypot(a.centre[0] - b.centre[0], a.centre[1] - b.centre[1]) + Math.abs(a.radius - b.radius) < 1e-3 * a.radius;
