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
): { share: number; time: number } {
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
  const worst = { share: 0, time: 0 };
  for (const { effort: values, velocity } of channels) {
    let most = 0;
    for (const value of values) if (Math.abs(value) > most) most = Math.abs(value);
    if (!(most > 0)) continue;
    for (let k = 1; k + 1 < times.length; k++) {
      if (!smooth[k] || Math.sign(velocity[k - 1]!) !== Math.sign(velocity[k + 1]!)) continue;
      const at = (times[k]! - times[k - 1]!) / (times[k + 1]! - times[k - 1]!);
      const off = Math.abs(values[k]! - values[k - 1]! - at * (values[k + 1]! - values[k - 1]!));
      if (off > worst.share * most) Object.assign(worst, { share: off / most, time: times[k]! });
    }
  }
  return worst;
}
