import { everyChannel, everySamples, hasCycle, runCycle } from '../src/cycle';
import type { Machine } from '../src/machine';
import { simulate } from '../src/run';

/** The largest magnitude of a channel, and a sum of its samples in which every one counts by a weight of its own. */
export type Sum = [peak: number, sum: number];

/** Sums of every channel of a machine's run, by identifier; of machines led by cues, of two cycles at most. */
export function channelSums(machine: Machine): Record<string, Sum> {
  if (machine.sequence.cues.length > 0) machine.sequence.cycle.most = 2;
  const ran = hasCycle(machine) ? runCycle(machine) : { run: simulate(machine), record: null };
  const sums: Record<string, Sum> = {};
  for (const { id } of everyChannel(machine, ran)) {
    const samples = everySamples(machine, ran, id)!;
    let [peak, sum, weights] = [0, 0, 0];
    samples.forEach((value, k) => {
      if (!Number.isFinite(value)) return;
      const weight = Math.cos(k);
      peak = Math.max(peak, Math.abs(value));
      sum += weight * value;
      weights += Math.abs(weight);
    });
    sums[id] = [peak, weights > 0 ? sum / weights : 0];
  }
  return sums;
}
