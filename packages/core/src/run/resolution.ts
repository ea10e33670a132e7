import type { Axis } from '../machine';
import { MOST_PROPOSED, motionAt, proposeStep, type Motion } from '../motion';

/** Samples on the quickest turn of an axis whose load goes by its angle: keep the peak of a sine to 0.02 %. */
const SAMPLES_PER_TURN = 160;
/** Samples over a cycle where a mechanism moves, so that its curves stay smooth. */
const MECHANISM_SAMPLES = 1000;
/** Samples over a long run, and in every piece of a move in it. */
const LONG_SAMPLES = 5000;
const SAMPLES_PER_PIECE = 50;
/** Places in every stretch at which the speed is looked at. */
const LOOKS = 16;

/** An axis with its motion, as far as the step of sampling goes by it. */
export interface Sampled {
  axis: Pick<Axis, 'kind' | 'joint' | 'load'>;
  motion: Motion;
}

/** A proposed grid: a step in s, and parts at least into which each piece of a move is cut. */
export interface ProposedGrid {
  step: number;
  moving: number;
}

/**
 * Proposes how to sample a run: fine enough for the shortest move and the quickest turn of all axes. Where the step
 * for that would fill a long run with samples of rest, short moves get theirs where they are.
 * @param duration of the run, s
 */
export function proposeGrid(axes: readonly Sampled[], duration: number, hasMechanism: boolean): ProposedGrid {
  const rest = { duration, stretches: [], edges: [0, duration], steps: [] };
  const motions = axes.length > 0 ? axes.map(({ motion }) => motion) : [rest];
  const speed = Math.max(0, ...axes.filter(goesByAngle).map(({ motion }) => topSpeed(motion)));
  const turn = speed > 0 ? (2 * Math.PI) / speed / SAMPLES_PER_TURN : Infinity;
  const step = Math.min(proposeStep(motions), turn, hasMechanism ? duration / MECHANISM_SAMPLES : Infinity);
  const least = duration / MOST_PROPOSED;
  if (step > least * (1 + 1e-9)) return { step, moving: 1 };
  const pieces = motions.reduce((sum, { edges }) => sum + edges.length, 0);
  const moving = Math.max(1, Math.min(SAMPLES_PER_PIECE, Math.floor((2 * MOST_PROPOSED) / pieces)));
  return { step: Math.max(least, Math.min(duration / LONG_SAMPLES, turn)), moving };
}

/** Whether what an axis must give comes again with every turn. */
const goesByAngle = ({ axis }: Sampled): boolean =>
  axis.kind === 'rotary' && (axis.joint !== null || axis.load.imbalance !== 0);

function topSpeed(motion: Motion): number {
  let most = 0;
  for (const { from, to, law } of motion.stretches) {
    if (!law) continue;
    for (let i = 0; i <= LOOKS; i++) {
      const side = i === LOOKS ? 'before' : 'after';
      most = Math.max(most, Math.abs(motionAt(motion, from + ((to - from) * i) / LOOKS, side).velocity));
    }
  }
  return most;
}

/** Where efforts bend most between samples, as a share of the peak of their channel. */
export interface Bend {
  share: number;
  time: number;
  /** Whether samples beside it tell already that it is a jump, which no finer step would make smaller. */
  jumps: boolean;
}

/** How far a sample lies off the straight line between those so many places before and after it. */
function bendAt(times: Float64Array, values: Float64Array, k: number, reach: number): number {
  const [i, j] = [k - reach, k + reach];
  const at = (times[k]! - times[i]!) / (times[j]! - times[i]!);
  return Math.abs(values[k]! - values[i]! - at * (values[j]! - values[i]!));
}

/** Samples on either side that a jump is told by. */
const FAR = 5;
/**
 * Whether a bend is a jump: over twice the distance it bends hardly more (a smooth curve four times, a knee twice as
 * much), and it stands alone (a motion that is quicker than its samples bends everywhere).
 */
function isJump(times: Float64Array, values: Float64Array, k: number, off: number): boolean {
  if (bendAt(times, values, k, 2) > 1.4 * off) return false;
  return [-FAR + 1, -FAR + 2, FAR - 2, FAR - 1].every((far) => bendAt(times, values, k + far, 1) < 0.2 * off);
}

/**
 * How much efforts bend between samples: the most by which a sample lies off the straight line between its neighbours,
 * as a share of the largest value of its channel. Where a run is not smooth anyway is left out: at edges, and where
 * an axis turns round, as friction then does.
 * @param edges times at which something is not smooth, s
 */
export function bendOf(
  times: Float64Array,
  edges: readonly number[],
  channels: readonly { effort: Float64Array; velocity: Float64Array }[],
): Bend {
  const sorted = [...edges].sort((a, b) => a - b);
  const hair = 1e-9 * (times.at(-1) ?? 0);
  let next = 0;
  const smooth = new Uint8Array(times.length);
  for (let k = 1; k + 1 < times.length; k++) {
    const [before, now, after] = [times[k - 1]!, times[k]!, times[k + 1]!];
    while (next < sorted.length && sorted[next]! <= before + hair) next++;
    const edge = sorted[next];
    smooth[k] = now > before && after > now && !(edge !== undefined && edge <= after + hair) ? 1 : 0;
  }
  const worst: Bend = { share: 0, time: 0, jumps: false };
  for (const { effort: values, velocity } of channels) {
    let most = 0;
    for (const value of values) if (Math.abs(value) > most) most = Math.abs(value);
    if (!(most > 0)) continue;
    for (let k = 1; k + 1 < times.length; k++) {
      if (!smooth[k] || Math.sign(velocity[k - 1]!) !== Math.sign(velocity[k + 1]!)) continue;
      const off = bendAt(times, values, k, 1);
      if (off <= worst.share * most) continue;
      const around = smooth.subarray(k - FAR, k + FAR + 1);
      const known = k >= FAR && around.length === 2 * FAR + 1 && around.every(Boolean);
      Object.assign(worst, { share: off / most, time: times[k]!, jumps: known && isJump(times, values, k, off) });
    }
  }
  return worst;
}
