import { minus, plus, timesRotation, turned, turnedBack, type Point3, type Rotation } from '../geometry';
import {
  GROUND,
  pairsOfWatch,
  standingOf,
  type Clearances,
  type ClearanceWatch,
  type Mechanism,
  type Place,
} from '../machine';
import { clearanceOf, type Clearance, type ClearanceSolid, type Standing } from '../solid';
import { smoothPosesAt, type PosedRun } from './poses-at';

/** How near two bodies, or a body and the ground, come to each other over a run. */
export interface PairClearance {
  a: string;
  b: string;
  /** Times and distances between, s and m; empty where only the least was sought. */
  times: number[];
  distance: number[];
  /** The least distance with its time and the nearest places on both, in the world; 0 where they touch or cross. */
  least: { distance: number; time: number; onA: Point3; onB: Point3 };
  /** When they first touch, to a millionth of a second; null where they do not. */
  meetsFrom: number | null;
}

/** Share of their distance by which two may move before they are looked at again, or this length, m: no touch is missed. */
const STEP_SHARE = 0.9;
const STEP = 1e-6;
/** While they move they are looked at so often over the run at least: a dip of the distance takes longer. */
const LOOKS = 800;
/** So often, and no more, where two guide each other: what they keep apart they keep all the way. */
const LOOKS_GUIDED = 120;
/** Distances nearer to each other than this are one, m. */
const LEVEL = 1e-8;
/** How finely the time of the first touch is sought, s. */
const MOMENT = 1e-7;
/** Points of a curve at most, and samples by which motion is measured. */
const CURVE = 400;
const MEASURED = 4000;
const LEAST_MEASURED = 2000;
const AT_ONCE = 60;

const WORLD: Standing = { at: [0, 0, 0], axes: [1, 0, 0, 0, 1, 0, 0, 0, 1] };

/** How all bodies stand over a run, at the times by which motion is measured. */
class Stood {
  readonly times: readonly number[];
  private readonly known = new Map<number, ReturnType<typeof standingOf>>();

  constructor(
    private readonly mechanism: Mechanism,
    private readonly run: PosedRun,
  ) {
    const reached = Math.max(1, run.mechanism?.reached ?? 1);
    const step = Math.max(1, Math.ceil(reached / MEASURED));
    // Few samples are measured more finely: what turns goes farther than from sample to sample.
    const parts = Math.max(1, Math.ceil(LEAST_MEASURED / reached));
    const measured = new Set([0]);
    for (let k = step; k < reached + step - 1; k += step) {
      const [from, to] = [run.times[k - step]!, run.times[Math.min(k, reached - 1)]!];
      for (let part = 1; part <= parts; part++) measured.add(from + ((to - from) * part) / parts);
    }
    this.times = [...measured];
  }

  /** At one of the times that are measured: worked out once for all pairs. */
  measured(time: number): (id: string) => Standing {
    let standing = this.known.get(time);
    if (!standing) this.known.set(time, (standing = standingOf(this.mechanism, smoothPosesAt(this.run, time))));
    const own = standing;
    return (id) => (id === GROUND ? WORLD : own.body(id));
  }

  at(time: number): (id: string) => Standing {
    const standing = standingOf(this.mechanism, smoothPosesAt(this.run, time));
    return (id) => (id === GROUND ? WORLD : standing.body(id));
  }
}

/** A pair of bodies as they stand over the time of a run. */
class Course {
  /** How far anything of the second body has gone as seen from the first, by the times that are measured, m. */
  private readonly gone: number[] = [];
  private readonly times: readonly number[];

  constructor(
    private readonly stood: Stood,
    private readonly pair: readonly [string, string],
    private readonly solids: readonly [ClearanceSolid, ClearanceSolid],
  ) {
    this.times = stood.times;
    let before: { at: Point3; axes: Rotation } | null = null;
    let sum = 0;
    for (const time of this.times) {
      const of = stood.measured(time);
      const [one, other] = [of(pair[0]), of(pair[1])];
      const back = [0, 3, 6, 1, 4, 7, 2, 5, 8].map((i) => one.axes[i]!);
      const axes = timesRotation(back, other.axes);
      const middle = plus(other.at, turned(other.axes, solids[1].middle));
      const at = turnedBack(one.axes, minus(middle, one.at));
      if (before) sum += Math.hypot(...minus(at, before.at)) + solids[1].reach * chordOf(before.axes, axes);
      before = { at, axes };
      this.gone.push(sum);
    }
  }

  get end(): number {
    return this.times.at(-1)!;
  }

  private standing(time: number): [Standing, Standing] {
    const of = this.stood.at(time);
    return [of(this.pair[0]), of(this.pair[1])];
  }

  /** @param known how far apart they are at another time: they cannot be farther than that and the way between */
  distance(time: number, known?: { time: number; distance: number }): Clearance {
    const [one, other] = this.standing(time);
    const [a, b] = this.solids;
    if (!known) return clearanceOf(a, one, b, other)!;
    const most = known.distance + Math.abs(this.goneAt(time) - this.goneAt(known.time));
    return clearanceOf(a, one, b, other, most * (1 + 1e-6) + STEP, false) ?? clearanceOf(a, one, b, other)!;
  }

  /** How far anything of the second body has gone by a time, as seen from the first, m. */
  private goneAt(time: number): number {
    const k = this.indexAt(time);
    const [from, to] = [this.times[k]!, this.times[k + 1]];
    if (to === undefined || to <= from) return this.gone[k]!;
    return this.gone[k]! + ((time - from) / (to - from)) * (this.gone[k + 1]! - this.gone[k]!);
  }

  /** The time until which nothing can have come nearer than by `room`, m. */
  until(from: number, room: number): number {
    const most = this.goneAt(from) + room;
    let k = this.indexAt(from);
    while (k + 1 < this.times.length && this.gone[k + 1]! <= most) k++;
    if (k + 1 >= this.times.length) return this.end;
    const begin = Math.max(from, this.times[k]!);
    const [gone, next] = [this.goneAt(begin), this.gone[k + 1]!];
    return begin + ((most - gone) / (next - gone)) * (this.times[k + 1]! - begin);
  }
  private indexAt(time: number): number {
    let [low, high] = [0, this.times.length - 1];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (this.times[middle]! <= time) low = middle;
      else high = middle - 1;
    }
    return low;
  }
}

/** How far two rotations are apart: what a point one metre from the middle goes at most. */
function chordOf(one: Rotation, other: Rotation): number {
  let trace = 0;
  for (let i = 0; i < 9; i++) trace += one[i]! * other[i]!;
  return Math.acos(Math.max(-1, Math.min(1, (trace - 1) / 2)));
}

/**
 * Follows two bodies over a run: as far as nothing can have come nearer than what was found, it goes on at once, so that
 * nothing is passed over between samples.
 * @param curve whether the distance over time is wanted too; @param guided whether they are looked at now and then only
 */
function follow(
  course: Course,
  [a, b]: readonly [string, string],
  curve: boolean,
  guided: boolean,
  to: number,
): PairClearance {
  const times: number[] = [];
  const distance: number[] = [];
  let time = 0;
  let found = course.distance(0);
  let least = { ...found, time: 0 };
  let meetsFrom: number | null = null;
  for (;;) {
    if (found.distance < least.distance) least = { ...found, time };
    if (found.meets) {
      meetsFrom = time === 0 ? 0 : onset(course, times.at(-1) ?? 0, time);
      least = { ...course.distance(meetsFrom), distance: 0, time: meetsFrom };
      break;
    }
    times.push(time);
    distance.push(found.distance);
    if (time >= to) break;
    const before = { time, distance: found.distance };
    // As far as nothing can come nearer than the least so far, and else by small steps while anything moves.
    const safe = course.until(time, found.distance - least.distance);
    const still = course.until(time, 0);
    const step = Math.max(still, time + to / (guided ? LOOKS_GUIDED : LOOKS));
    const near = guided ? step : Math.min(step, course.until(time, Math.max(STEP_SHARE * found.distance, STEP)));
    time = Math.min(to, Math.max(safe, near, time + MOMENT));
    found = course.distance(time, before);
    // What lies between two that are measured, where they turn back, is looked for more finely.
    if (!found.meets && times.length > 1) least = dip(course, times.at(-2)!, time, distance.at(-2)!, distance.at(-1)!, found.distance, least); // prettier-ignore
  }
  const result: PairClearance = {
    a,
    b,
    times: [],
    distance: [],
    least: { distance: least.distance, time: least.time, onA: least.onFirst, onB: least.onSecond },
    meetsFrom,
  };
  if (!curve) return result;
  let last: { time: number; distance: number } | undefined;
  for (let i = 0; i <= CURVE; i++) {
    const at = (to * i) / CURVE;
    // Where they share space one may come to lie in the other, and the way between tells nothing.
    const apart = meetsFrom === null || at < meetsFrom;
    last = { time: at, distance: course.distance(at, apart ? last : undefined).distance };
    result.times.push(at);
    result.distance.push(last.distance);
  }
  return result;
}

/** The lowest place between three times, where the middle one lies below both others. */
function dip<L extends Clearance & { time: number }>(
  course: Course,
  t0: number,
  t2: number,
  d0: number,
  d1: number,
  d2: number,
  least: L,
): Clearance & { time: number } {
  if (!(d1 < d0 - LEVEL && d1 < d2 - LEVEL) || d1 > least.distance + LEVEL) return least;
  let [low, high] = [t0, t2];
  let best: Clearance & { time: number } = least;
  const golden = (Math.sqrt(5) - 1) / 2;
  let [x, y] = [high - golden * (high - low), low + golden * (high - low)];
  const known = { time: t0, distance: d0 };
  let [fx, fy] = [course.distance(x, known), course.distance(y, known)];
  for (let i = 0; i < AT_ONCE && high - low > MOMENT; i++) {
    if (fx.distance <= fy.distance) {
      [high, y, fy] = [y, x, fx];
      x = high - golden * (high - low);
      fx = course.distance(x, known);
    } else {
      [low, x, fx] = [x, y, fy];
      y = low + golden * (high - low);
      fy = course.distance(y, known);
    }
    for (const [at, own] of [[x, fx], [y, fy]] as const) if (own.distance < best.distance) best = { ...own, time: at }; // prettier-ignore
  }
  return best;
}

/** When two bodies first touch, between a time at which they are apart and one at which they are not. */
function onset(course: Course, apart: number, touching: number): number {
  let [low, high] = [apart, touching];
  while (high - low > MOMENT) {
    const middle = (low + high) / 2;
    if (course.distance(middle).meets) high = middle;
    else low = middle;
  }
  return high;
}

/**
 * How near pairs of bodies come to each other over a run.
 * @param pairs bodies, or “ground”, two by two
 * @param solids their skins, each in the frame of its body; of the ground in the world
 * @param options whether curves are wanted, which pairs guide each other (these are looked at now and then only), and who
 * is told the share done
 * @returns by pair; those of which one has no skin are left out
 */
export function clearancesOver(
  mechanism: Mechanism,
  run: PosedRun,
  pairs: readonly (readonly [string, string])[],
  solids: ReadonlyMap<string, ClearanceSolid>,
  {
    curves = false,
    guided = () => false,
    progress = () => undefined,
  }: {
    curves?: boolean;
    guided?: (pair: readonly [string, string]) => boolean;
    progress?: (share: number) => void;
  } = {},
): PairClearance[] {
  const stood = new Stood(mechanism, run);
  return pairs.flatMap((pair, i) => {
    const [one, other] = pair.map((id) => solids.get(id));
    if (!one || !other) return [];
    const course = new Course(stood, pair, [one, other]);
    const found = follow(course, pair, curves, guided(pair), course.end);
    progress((i + 1) / pairs.length);
    return [found];
  });
}

/** What was found of a watch: its nearest pair, and the distance of all of it over time. */
export interface WatchedClearance {
  watch: ClearanceWatch;
  nearest: PairClearance;
  times: readonly number[];
  distance: readonly number[];
}

/** Whether one pair matters more than another: it touches sooner, or comes nearer. */
export function isNearer(one: PairClearance, other: PairClearance): boolean {
  if (one.meetsFrom !== null || other.meetsFrom !== null)
    return (one.meetsFrom ?? Infinity) < (other.meetsFrom ?? Infinity);
  return one.least.distance < other.least.distance;
}

/** What comes of all watches over a run; those that watch nothing, as all of it touches by design, are left out. */
export function watchedOver(
  mechanism: Mechanism,
  run: PosedRun,
  clearances: Clearances,
  solids: ReadonlyMap<string, ClearanceSolid>,
  progress: (share: number) => void = () => undefined,
): WatchedClearance[] {
  const { watches } = clearances;
  return watches.flatMap((watch, i) => {
    const pairs = pairsOfWatch(clearances, watch, (id) => solids.has(id));
    const over = clearancesOver(mechanism, run, pairs, solids, {
      curves: true,
      progress: (share) => progress((i + share) / watches.length),
    });
    const [first] = over;
    if (!first) return [];
    const nearest = over.reduce((best, other) => (isNearer(other, best) ? other : best));
    return [{ watch, nearest, times: first.times, distance: first.distance.map((_, k) => Math.min(...over.map((one) => one.distance[k]!))) }]; // prettier-ignore
  });
}

/** How near two bodies are to each other at a time of a run; null where one of them has no skin. */
export function clearanceAt(
  mechanism: Mechanism,
  run: PosedRun,
  pair: readonly [string, string],
  solids: ReadonlyMap<string, ClearanceSolid>,
  time: number,
): Clearance | null {
  const [one, other] = pair.map((id) => solids.get(id));
  if (!one || !other) return null;
  const standing = standingOf(mechanism, smoothPosesAt(run, time));
  const of = (id: string): Standing => (id === GROUND ? WORLD : standing.body(id));
  return clearanceOf(one, of(pair[0]), other, of(pair[1]));
}

/** Tells which pairs of bodies a joint ties within a plane: they guide each other. What lies on the ground of a plane is of its carrier. */
export function guidesOf(mechanism: Mechanism): (pair: readonly [string, string]) => boolean {
  const { planes, ground } = mechanism;
  const carrierOf = ({ body, point }: Place) =>
    body === GROUND
      ? (planes.find(({ id }) => id === ground.find((own) => own.id === point)?.plane)?.on ?? GROUND)
      : body;
  const tied = new Set(
    mechanism.joints.flatMap((joint) => {
      const one =
        'a' in joint ? carrierOf(joint.a) : (mechanism.paths.find(({ id }) => id === joint.path)?.body ?? GROUND);
      const other = carrierOf(joint.b);
      return [`${one} ${other}`, `${other} ${one}`];
    }),
  );
  return ([a, b]) => tied.has(`${a} ${b}`);
}
