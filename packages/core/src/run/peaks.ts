import { indexOfLargest } from '../numeric';

/** Where a channel is largest in magnitude; the sign of `value` is a direction. */
export interface Peak {
  index: number;
  time: number;
  value: number;
}

/** Largest magnitude of a channel with its time. */
export function findPeak(times: ArrayLike<number>, samples: ArrayLike<number>): Peak {
  const index = indexOfLargest(samples);
  return { index, time: times[index] ?? 0, value: samples[index] ?? 0 };
}

/** Index of the last sample at or before `time`; of two at the same time, the later one. */
export { lastAtOrBefore as sampleIndexAt, interpolate as valueAt } from '../numeric';
