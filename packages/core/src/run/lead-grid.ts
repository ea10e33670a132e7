import { emptyCurvePoint, emptySpaceCurvePoint, length3, minus, type Curve, type SpaceCurve } from '../geometry';
import { motionAt, sampleTimes, type Motion } from '../motion';
import { bisectChange } from '../numeric';

/** Where curvature jumps, the sides are read this share of the cycle beside the jump. */
const BESIDE = 1e-7;
/** A sample may lie off the straight line between its neighbours by this share of the largest acceleration. */
const BEND = 2e-3;
/** Times an interval is halved at most, and samples there may be at most. */
const DEPTH = 8;
const MOST = 20_000;
/** Curvatures that differ by less than this share of the largest are one. */
const SAME = 1e-6;

/** How a path bends along its length, in its plane or in space. */
export interface Bends {
  length: number;
  closed: boolean;
  knees: readonly number[];
  /** One over the radius at an arc length; signed in a plane. */
  curvatureAt(s: number): number;
  /** By how much the bend differs between two arc lengths, its direction among it. */
  apart(one: number, other: number): number;
}

/** Bends of a plane curve. */
export function flatBends(curve: Curve): Bends {
  const p = emptyCurvePoint();
  const curvatureAt = (s: number) => {
    curve.at(s, p);
    return p.curvature;
  };
  return { ...curve, curvatureAt, apart: (a, b) => Math.abs(curvatureAt(a) - curvatureAt(b)) };
}

/** Bends of a curve in space. */
export function spaceBends(curve: SpaceCurve): Bends {
  const p = emptySpaceCurvePoint();
  const bendAt = (s: number) => {
    curve.at(s, p);
    return p.bend;
  };
  return {
    ...curve,
    curvatureAt: (s) => length3(bendAt(s)),
    apart: (a, b) => length3(minus([...bendAt(a)], bendAt(b))),
  };
}

/** Acceleration of a point led along a curve at a time, m/s². */
export function accelerationAlong(
  curve: Bends,
  motion: Motion,
  time: number,
  side: 'before' | 'after' = 'after',
): number {
  const { position, velocity, acceleration } = motionAt(motion, time, side);
  return Math.hypot(acceleration, curve.curvatureAt(position) * velocity ** 2);
}

/**
 * Times at which a point led along a curve is looked at: what the law asks for, the knees of the path (both sides where
 * its curvature jumps), and as many between them as its acceleration needs to be drawn as it is.
 * @param parts into which the cycle is cut at least
 */
export function leadTimes(curve: Bends, motion: Motion, parts: number): Float64Array {
  const T = motion.duration;
  const passes = kneesPassed(curve, motion, parts);
  const even = Array.from(sampleTimes([motion], T / parts, passes));
  const jumps = new Set(passes.filter((time) => jumpsAt(curve, motion, time)));
  const times = even.flatMap((time) =>
    jumps.has(time) && time > BESIDE * T && time < T * (1 - BESIDE) ? [time - BESIDE * T, time + BESIDE * T] : [time],
  );
  const value = (time: number) => accelerationAlong(curve, motion, time);
  let most = 0;
  for (const time of times) most = Math.max(most, value(time));
  const fine: number[] = [];
  const add = (from: number, a: number, to: number, b: number, depth: number) => {
    const middle = (from + to) / 2;
    const m = value(middle);
    if (Math.abs(m - (a + b) / 2) <= BEND * most || depth >= DEPTH || fine.length >= MOST) return;
    most = Math.max(most, m);
    add(from, a, middle, m, depth + 1);
    fine.push(middle);
    add(middle, m, to, b, depth + 1);
  };
  times.forEach((time, k) => {
    fine.push(time);
    const next = times[k + 1];
    if (next !== undefined && next - time > 3 * BESIDE * T)
      add(time, value(time), next, accelerationAlong(curve, motion, next, 'before'), 0);
  });
  return Float64Array.from(fine);
}

/** Times at which the point passes where pieces of the path meet. */
function kneesPassed(curve: Bends, motion: Motion, parts: number): number[] {
  const { length, closed, knees } = curve;
  const times = sampleTimes([motion], motion.duration / parts);
  const arc = (time: number) => motionAt(motion, time).position;
  const passed: number[] = [];
  for (let k = 0; k + 1 < times.length; k++) {
    const [a, b] = [arc(times[k]!), motionAt(motion, times[k + 1]!, 'before').position];
    for (const knee of knees) {
      const laps = closed ? Math.ceil((Math.min(a, b) - knee) / length) : 0;
      for (let place = knee + laps * length; place < Math.max(a, b); place += length) {
        if (place > Math.min(a, b)) passed.push(bisectChange((time) => arc(time) < place, times[k]!, times[k + 1]!));
        if (!closed) break;
      }
    }
  }
  return passed;
}

/** Whether the curvature jumps at the place passed at a time. */
function jumpsAt(curve: Bends, motion: Motion, time: number): boolean {
  const { position } = motionAt(motion, time);
  const hair = 1e-9 * curve.length;
  const [a, b] = [position - hair, position + hair];
  const most = Math.max(Math.abs(curve.curvatureAt(a)), Math.abs(curve.curvatureAt(b)), 1 / curve.length);
  return curve.apart(a, b) > SAME * most;
}

/**
 * Rows of time, position, velocity and acceleration for a table: samples just beside a jump become the two sides of
 * one knee, where they differ.
 */
export function rowsWithKnees(
  times: Float64Array,
  { position, rate, change }: { position: ArrayLike<number>; rate: ArrayLike<number>; change: ArrayLike<number> },
): number[][] {
  const T = times.at(-1)!;
  const most = (values: ArrayLike<number>) => Array.from(values).reduce((m, v) => Math.max(m, Math.abs(v)), 0);
  const [fastest, strongest] = [most(rate), most(change)];
  const rows: number[][] = [];
  for (let k = 0; k < times.length; k++) {
    const own = [times[k]!, position[k]!, rate[k]!, change[k]!];
    const next = times[k + 1];
    if (next === undefined || next - times[k]! > 3 * BESIDE * T) {
      rows.push(own);
      continue;
    }
    // Both sides, carried on to the time between them.
    const h = (next - times[k]!) / 2;
    const carried = (i: number, by: number) => [rate[i]! + change[i]! * by, change[i]!];
    const place = (position[k]! + rate[k]! * h + position[k + 1]! - rate[k + 1]! * h) / 2;
    const [before, after] = [carried(k, h), carried(k + 1, -h)];
    rows.push([times[k]! + h, place, ...before]);
    const steps =
      Math.abs(before[0]! - after[0]!) > 1e-6 * fastest || Math.abs(before[1]! - after[1]!) > 1e-6 * strongest;
    if (steps) rows.push([times[k]! + h, place, ...after]);
    k++;
  }
  return rows;
}
