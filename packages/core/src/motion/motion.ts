import type { MotionLaw } from '../law';
import { lastAtOrBefore } from '../numeric';
import { planPieces } from './knees';
import type { MotionPlan } from './plan';

/** Position and its three derivatives at one instant, SI units of the axis. */
export interface MotionState {
  position: number;
  velocity: number;
  acceleration: number;
  jerk: number;
}

/** Position and its three derivatives over a grid of times, SI units of the axis. */
export interface MotionSamples {
  position: Float64Array;
  velocity: Float64Array;
  acceleration: Float64Array;
  jerk: Float64Array;
}

/** One stretch of a motion under one law; `law` is absent at rest. */
export interface MotionStretch {
  from: number;
  to: number;
  start: number;
  stroke: number;
  law: MotionLaw | undefined;
}

/** A motion over [0, duration] s, made of stretches that follow one another without a gap. */
export interface Motion {
  duration: number;
  stretches: readonly MotionStretch[];
  /** Instants between which the motion is smooth, rising, 0 and `duration` included. */
  edges: readonly number[];
  /** Instants at which the acceleration or the velocity steps. */
  steps: readonly number[];
  /** Reads a motion that is still coming to be; its stretches are not known then. */
  live?: (time: number) => MotionState;
}

/**
 * Turns a plan into a motion over one cycle.
 * A plan shorter than the cycle rests at its end; what lies beyond the cycle is cut off.
 * @param cycleTime length of the cycle in s
 */
export function planMotion(plan: MotionPlan, cycleTime: number): Motion {
  const pieces = planPieces(plan);
  const stretches: MotionStretch[] = [];
  const edges = new Set([0, cycleTime]);
  const steps = new Set<number>();
  for (const { from, to, start, stroke, law } of pieces) {
    if (from >= cycleTime || to <= from) continue;
    stretches.push({ from, to, start, stroke, law });
    const at = (tau: number) => (tau === 1 ? to : from + tau * (to - from));
    for (const tau of [0, ...(law?.breaks ?? []), 1]) edges.add(Math.min(cycleTime, at(tau)));
    for (const tau of law ? [...law.accelerationSteps, ...law.velocitySteps] : []) {
      if (at(tau) <= cycleTime) steps.add(at(tau));
    }
  }
  const last = pieces.at(-1);
  const end = last?.to ?? 0;
  if (end < cycleTime) {
    stretches.push({ from: end, to: cycleTime, start: last?.end ?? plan.start, stroke: 0, law: undefined });
  }
  const rising = (a: number, b: number) => a - b;
  return {
    duration: cycleTime,
    stretches,
    edges: [...edges].sort(rising),
    steps: [...steps].sort(rising),
  };
}

const scratch = new Float64Array(4);
/** Just below one, so that a law is read to the left of a break, which may lie a rounding error before the time asked. */
const BELOW = 1 - 1e-13;
/** Share of a motion's duration within which two times are one. */
export const ONE_TIME = 1e-12;

function evaluate(stretch: MotionStretch, time: number, leftOf: boolean, out: Float64Array): void {
  if (!stretch.law) {
    out[0] = stretch.start;
    out[1] = out[2] = out[3] = 0;
    return;
  }
  const length = stretch.to - stretch.from;
  let tau = (time - stretch.from) / length;
  if (leftOf && tau < 1) tau *= BELOW;
  stretch.law.derivatives(tau < 0 ? 0 : tau > 1 ? 1 : tau, out, 0);
  const rate = 1 / length;
  const scale1 = stretch.stroke * rate;
  const scale2 = scale1 * rate;
  out[0] = stretch.start + stretch.stroke * out[0]!;
  out[1] = scale1 * out[1]!;
  out[2] = scale2 * out[2]!;
  out[3] = scale2 * rate * out[3]!;
}

/** State of one stretch at a time inside it; to the right of a break unless at its end. */
export function stretchAt(stretch: MotionStretch, time: number): MotionState {
  evaluate(stretch, time, time >= stretch.to, scratch);
  return { position: scratch[0]!, velocity: scratch[1]!, acceleration: scratch[2]!, jerk: scratch[3]! };
}

/** Starts of the stretches of long motions, kept for the search. */
const starts = new WeakMap<Motion, Float64Array>();

function stretchIndexAt(motion: Motion, time: number, leftOf: boolean): number {
  const { stretches } = motion;
  let index = stretches.length - 1;
  if (index > 16) {
    let from = starts.get(motion);
    if (!from) starts.set(motion, (from = Float64Array.from(stretches, (stretch) => stretch.from)));
    index = Math.max(0, lastAtOrBefore(from, time));
  }
  const hair = motion.duration * ONE_TIME;
  while (index > 0 && (leftOf ? stretches[index]!.from >= time - hair : stretches[index]!.from > time)) index--;
  return index;
}

/**
 * State of a motion at one instant inside [0, duration].
 * @param side which limit counts where the motion steps: just before or just after `time`
 */
export function motionAt(motion: Motion, time: number, side: 'before' | 'after' = 'after'): MotionState {
  if (motion.live) return motion.live(time);
  const leftOf = side === 'before' || time >= motion.duration;
  const index = stretchIndexAt(motion, time, leftOf);
  evaluate(motion.stretches[index]!, time, leftOf, scratch);
  return {
    position: scratch[0]!,
    velocity: scratch[1]!,
    acceleration: scratch[2]!,
    jerk: scratch[3]!,
  };
}

/**
 * Samples a motion over rising times in [0, duration].
 * Where a time stands twice, the first is read just before it and the second just after.
 */
export function sampleMotion(motion: Motion, times: Float64Array): MotionSamples {
  const count = times.length;
  const position = new Float64Array(count);
  const velocity = new Float64Array(count);
  const acceleration = new Float64Array(count);
  const jerk = new Float64Array(count);
  const { stretches, duration } = motion;
  const out = new Float64Array(4);
  const hair = duration * ONE_TIME;
  let index = 0;
  for (let k = 0; k < count; k++) {
    const time = times[k]!;
    const leftOf = time >= duration || times[k + 1] === time;
    while (index + 1 < stretches.length) {
      const next = stretches[index + 1]!.from;
      if (leftOf ? next < time - hair : next <= time) index++;
      else break;
    }
    evaluate(stretches[index]!, time, leftOf, out);
    position[k] = out[0]!;
    velocity[k] = out[1]!;
    acceleration[k] = out[2]!;
    jerk[k] = out[3]!;
  }
  return { position, velocity, acceleration, jerk };
}
