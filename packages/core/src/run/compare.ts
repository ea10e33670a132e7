import { findPeak, rmsOf } from './peaks';
import type { Run } from './simulate';

/** An extreme of a channel, and where it stands. */
export interface Extreme {
  value: number;
  /** Time in s, and the share of the cycle gone by then, from 0 to 1. */
  time: number;
  share: number;
}

/** What a channel comes to over a run; of samples that were not reached nothing is known. */
export interface ChannelFacts {
  maximum: Extreme;
  minimum: Extreme;
  rms: number;
  /** Whether the run got through, so that these are the facts of the whole cycle. */
  complete: boolean;
}

/** The facts of one channel of a run, SI units; null where no sample was reached. */
export function channelFacts(
  { times, cycleTime }: Pick<Run, 'times' | 'cycleTime'>,
  samples: Float64Array,
): ChannelFacts | null {
  const reached = samples.findIndex((value) => Number.isFinite(value));
  if (reached < 0) return null;
  const extreme = (kind: 'maximum' | 'minimum'): Extreme => {
    const { index, value, time } = findPeak(times.subarray(reached), samples.subarray(reached), kind);
    return { value: samples[reached + index] ?? value, time, share: cycleTime > 0 ? time / cycleTime : 0 };
  };
  return {
    maximum: extreme('maximum'),
    minimum: extreme('minimum'),
    rms: rmsOf(times, samples),
    complete: samples.every((value) => Number.isFinite(value)),
  };
}

/**
 * How a magnitude differs from another, in words: in percent, as a factor where it is large, and that it turned round
 * where its sign did; nothing where there is nothing to compare with.
 * @param negligible magnitudes below this are nothing
 */
export function changeWords(value: number, from: number, negligible = 0): string {
  if (Math.abs(from) <= negligible || from === 0) return '';
  if (Math.abs(value) <= negligible) return '−100 %';
  const ratio = Math.abs(value / from);
  const turned = Math.sign(value) === -Math.sign(from) ? ', other sign' : '';
  if (ratio >= 10) return `× ${Number(ratio.toPrecision(4))}${turned}`;
  const percent = (ratio - 1) * 100;
  return `${percent > 0 ? '+' : percent < 0 ? '−' : ''}${Math.abs(percent).toFixed(1)} %${turned}`;
}
