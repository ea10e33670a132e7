import { cycleTime, type Machine } from '../machine';
import { planDuration } from './plan';
import { BlockError, runBlocks } from './servo-moves';

/** How long the longest motion over time goes on, s; what cannot be carried out does not count. */
export function longestMotion({ axes }: Pick<Machine, 'axes'>): number {
  const times = axes.map(({ motion: { over, source }, plan, home, limits }) => {
    if (over !== 'time') return 0;
    if (source.kind === 'plan') return planDuration(plan);
    if (source.kind === 'points') return source.rows.at(-1)?.[0] ?? 0;
    if (source.kind !== 'moves') return 0;
    try {
      return runBlocks(source.blocks, home, limits).stretches.at(-1)?.to ?? 0;
    } catch (error) {
      if (error instanceof BlockError) return 0;
      throw error;
    }
  });
  return Math.max(0, ...times);
}

/** The cycle of a machine, made as long as its longest motion where that does not fit into it; else as it is. */
export function cycleThatFits(machine: Pick<Machine, 'axes' | 'cycle'>): Machine['cycle'] {
  const need = longestMotion(machine);
  if (!(need > cycleTime(machine) * (1 + 1e-9))) return machine.cycle;
  return machine.cycle.given === 'time' ? { given: 'time', time: need } : { given: 'rate', rate: 1 / need };
}
