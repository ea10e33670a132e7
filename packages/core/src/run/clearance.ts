import { minus, plus, timesRotation, turned, turnedBack, type Point3, type Rotation } from '../geometry';
import { GROUND, standingOf, type Mechanism } from '../machine';
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

/** Dips of the distance that may be passed over: half of this share of the distance there, or half of this length, m. */
const DIP_SHARE = 0.05;
const DIP = 5e-5;
/** How finely the time of the first touch is sought, s. */
const MOMENT = 1e-7;
/** Points of a curve at most, and samples by which motion is measured. */
const CURVE = 400;
const MEASURED = 6000;
const LEAST_MEASURED = 2000;
const AT_ONCE = 60;

const WORLD: Standing = { at: [0, 0, 0], axes: [1, 0, 0, 0, 1, 0, 0, 0, 1] };

/** A pair of bodies as they stand over the time of a run. */
class Course {
  /** Times at which motion is measured, s, and how far anything of the second body has gone as seen from the first, m. */
  private readonly times: number[] = [];
  private readonly gone: number[] = [];

  constructor(
    private readonly mechanism: Mechanism,
    private readonly run: PosedRun,
    private readonly pair: readonly [string, string],
    private readonly solids: readonly [ClearanceSolid, ClearanceSolid],
  ) {
    const reached = Math.max(1, run.mechanism?.reached ?? 1);
    const step = Math.max(1, Math.ceil(reached / MEASURED));
    // Few samples are measured more finely: what turns goes farther than from sample to sample.
    const parts = Math.max(1, Math.ceil(LEAST_MEASURED / reached));
    let before: { at: Point3; axes: Rotation } | null = null;
    let sum = 0;
    const measured = new Set([0]);
    for (let k = step; k < reached + step - 1; k += step) {
      const [from, to] = [run.times[k - step]!, run.times[Math.min(k, reached - 1)]!];
      for (let part = 1; part <= parts; part++) measured.add(from + ((to - from) * part) / parts);
    }
    for (const time of measured) {
      const [one, other] = this.standing(time);
      const back = [0, 3, 6, 1, 4, 7, 2, 5, 8].map((i) => one.axes[i]!);
      const axes = timesRotation(back, other.axes);
      const middle = plus(other.at, turned(other.axes, solids[1].middle));
      const at = turnedBack(one.axes, minus(middle, one.at));
      if (before) sum += Math.hypot(...minus(at, before.at)) + solids[1].reach * chordOf(before.axes, axes);
      before = { at, axes };
      this.times.push(time);
      this.gone.push(sum);
    }
  }

  get end(): number {
    return this.times.at(-1)!;
  }

  private standing(time: number): [Standing, Standing] {
    const standing = standingOf(this.mechanism, smoothPosesAt(this.run, time));
    const of = (id: string): Standing => (id === GROUND ? WORLD : standing.body(id));
    return [of(this.pair[0]), of(this.pair[1])];
  }

  distance(time: number): Clearance {
    const [one, other] = this.standing(time);
    return clearanceOf(this.solids[0], one, this.solids[1], other)!;
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
 * @param curve whether the distance over time is wanted too
 */
function follow(course: Course, [a, b]: readonly [string, string], curve: boolean, to: number): PairClearance {
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
    const room = Math.max(found.distance - least.distance, DIP_SHARE * found.distance, DIP);
    const before = time;
    time = Math.min(to, Math.max(course.until(time, room), before + MOMENT));
    found = course.distance(time);
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
  for (let i = 0; i <= CURVE; i++) {
    const at = (to * i) / CURVE;
    result.times.push(at);
    result.distance.push(course.distance(at).distance);
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
  if (!(d1 <= d0 && d1 <= d2) || d1 > least.distance) return least;
  let [low, high] = [t0, t2];
  let best: Clearance & { time: number } = least;
  const golden = (Math.sqrt(5) - 1) / 2;
  let [x, y] = [high - golden * (high - low), low + golden * (high - low)];
  let [fx, fy] = [course.distance(x), course.distance(y)];
  for (let i = 0; i < AT_ONCE && high - low > MOMENT; i++) {
    if (fx.distance <= fy.distance) {
      [high, y, fy] = [y, x, fx];
      x = high - golden * (high - low);
      fx = course.distance(x);
    } else {
      [low, x, fx] = [x, y, fy];
      y = low + golden * (high - low);
      fy = course.distance(y);
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
 * @param options whether curves are wanted, and who is told the share done
 * @returns by pair; those of which one has no skin are left out
 */
export function clearancesOver(
  mechanism: Mechanism,
  run: PosedRun,
  pairs: readonly (readonly [string, string])[],
  solids: ReadonlyMap<string, ClearanceSolid>,
  { curves = false, progress = () => undefined }: { curves?: boolean; progress?: (share: number) => void } = {},
): PairClearance[] {
  return pairs.flatMap((pair, i) => {
    const [one, other] = pair.map((id) => solids.get(id));
    if (!one || !other) return [];
    const course = new Course(mechanism, run, pair, [one, other]);
    const found = follow(course, pair, curves, course.end);
    progress((i + 1) / pairs.length);
    return [found];
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
