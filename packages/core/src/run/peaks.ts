import { indexOfLargest } from '../numeric';

/** Where a channel is largest in magnitude; the sign of `value` is a direction. */
export interface Peak {
  index: number;
  time: number;
  value: number;
}

/** Which extreme of a channel is wanted. */
export type PeakKind = 'magnitude' | 'maximum' | 'minimum';

/** Largest magnitude, maximum or minimum of a channel with its time; samples that were not reached do not count. */
export function findPeak(times: ArrayLike<number>, samples: ArrayLike<number>, kind: PeakKind = 'magnitude'): Peak {
  let index = 0;
  if (kind === 'magnitude') index = indexOfLargest(samples);
  else
    for (let k = 1; k < samples.length; k++)
      if (kind === 'maximum' ? samples[k]! > samples[index]! : samples[k]! < samples[index]!) index = k;
  return { index, time: times[index] ?? 0, value: samples[index] ?? 0 };
}

/** Root of the mean square over time by the trapezoidal rule on squares; what was not reached is left out. */
export function rmsOf(times: ArrayLike<number>, samples: ArrayLike<number>): number {
  let sum = 0;
  let span = 0;
  for (let k = 1; k < times.length; k++) {
    const h = times[k]! - times[k - 1]!;
    const [a, b] = [samples[k - 1]!, samples[k]!];
    if (!Number.isFinite(a) || !Number.isFinite(b)) continue;
    // Exact for straight lines between samples.
    sum += (h * (a * a + a * b + b * b)) / 3;
    span += h;
  }
  return span > 0 ? Math.sqrt(sum / span) : 0;
}

/** Index of the last sample at or before `time`; of two at the same time, the later one. */
export { lastAtOrBefore as sampleIndexAt, interpolate as valueAt } from '../numeric';
