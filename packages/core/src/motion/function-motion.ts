import { bisectChange, lastAtOrBefore } from '../numeric';
import type { Motion, MotionStretch } from './motion';

/** Values just beside a place where a function is not smooth are read this share of the duration away from it. */
const HAIR = 1e-12;
/** Places looked at for changes of piece. */
const SCAN = 2000;

/**
 * Times at which the piece that a function is in changes: found between neighbours of a scan, then bisected.
 * @param hints times known to be such places
 */
export function findBreaks(
  duration: number,
  piece: (time: number) => unknown,
  hints: readonly number[] = [],
): number[] {
  const hair = HAIR * duration;
  const known = hints.filter((time) => time > hair && time < duration - hair).sort((a, b) => a - b);
  /** The known place within a hair of a time, found by halving. */
  const knownAt = (time: number) => {
    const i = lastAtOrBefore(known, time);
    return [known[i], known[i + 1]].find((place) => place !== undefined && Math.abs(place - time) <= hair);
  };
  const places = [
    ...Array.from({ length: SCAN + 1 }, (_, i) => (duration * i) / SCAN),
    ...known.flatMap((t) => [t - hair, t + hair]),
  ].sort((a, b) => a - b);
  const breaks: number[] = [];
  let state = piece(places[0]!);
  for (let i = 1; i < places.length; i++) {
    const next = piece(places[i]!);
    if (next === state) continue;
    let from = places[i - 1]!;
    const to = places[i]!;
    const near = knownAt((from + to) / 2);
    if (near !== undefined) breaks.push(near);
    else
      for (let guard = 0; from < to && guard < 20 && piece(from) !== next; guard++) {
        const at = bisectChange(piece, from, to);
        breaks.push(at);
        from = at + hair;
      }
    state = next;
  }
  return breaks.filter((time, i) => time > hair && time < duration - hair && (i === 0 || time - breaks[i - 1]! > hair));
}

/**
 * A motion given by a function of time (value and three derivatives), smooth between its breaks.
 * @param breaks times inside at which it is not smooth
 * @param parts least number of stretches, for functions that bend often
 * @param smooth whether it is smooth at its ends and between parts, so that it can be read there exactly
 */
export function functionMotion(
  duration: number,
  f: (time: number, out: Float64Array) => void,
  breaks: readonly number[] = [],
  parts = 1,
  smooth = false,
): Motion {
  const hair = HAIR * duration;
  const even = Array.from({ length: parts - 1 }, (_, i) => (duration * (i + 1)) / parts);
  const edges = [0, ...breaks, ...even, duration]
    .sort((a, b) => a - b)
    .filter((time, i, all) => i === 0 || time - all[i - 1]! > 2 * hair);
  edges[edges.length - 1] = duration;
  const state = new Float64Array(4);
  const stretches = edges.slice(1).map((to, i): MotionStretch => {
    const from = edges[i]!;
    const length = to - from;
    const [low, high] = smooth ? [from, to] : [from + (from > 0 ? hair : 0), to - hair];
    const derivatives = (tau: number, out: Float64Array, offset: number) => {
      const time = from + tau * length;
      f(time < low ? low : time > high ? high : time, state);
      out[offset] = state[0]!;
      out[offset + 1] = state[1]! * length;
      out[offset + 2] = state[2]! * length * length;
      out[offset + 3] = state[3]! * length * length * length;
    };
    return {
      from,
      to,
      start: 0,
      stroke: 1,
      law: { derivatives, breaks: [], accelerationSteps: [], velocitySteps: [] },
    };
  });
  return { duration, stretches, edges, steps: stepsAt(duration, f, breaks) };
}

/** Breaks at which velocity or acceleration jumps. */
function stepsAt(duration: number, f: (time: number, out: Float64Array) => void, breaks: readonly number[]): number[] {
  const [before, after] = [new Float64Array(4), new Float64Array(4)];
  return breaks.filter((time) => {
    f(time - 2 * HAIR * duration, before);
    f(time + 2 * HAIR * duration, after);
    return [0, 1, 2].some(
      (order) =>
        Math.abs(after[order]! - before[order]!) > 1e-7 * (Math.abs(after[order]!) + Math.abs(before[order]!) + 1e-6),
    );
  });
}
