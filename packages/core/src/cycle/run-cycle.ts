import { cycleTime, type Machine } from '../machine';
import { simulatePlain, type PlainRun, type Run, type RunOptions } from '../run';
import { movedByCues } from './axes';
import type { CycleOptions, CycleRecord } from './cycle-record';
import { HybridRun } from './hybrid';

/** A machine cycle: what happened, and the run of all axes over it. */
export interface CycleRun {
  record: CycleRecord;
  run: Run;
}

/** Whether a machine has anything that only the simulated cycle can find: cues, loose parts, sensors, monitors. */
export function hasCycle({ sequence, loose, axes }: Pick<Machine, 'sequence' | 'loose' | 'axes'>): boolean {
  return (
    sequence.cues.length > 0 ||
    sequence.sensors.length > 0 ||
    sequence.monitors.length > 0 ||
    (sequence.spacings?.length ?? 0) > 0 ||
    loose.sources.length > 0 ||
    axes.some(movedByCues)
  );
}

/**
 * Longest run of a machine without cues: one cycle of its timed motions, or as long as parts are to be watched.
 */
function withHorizon(machine: Machine): Machine {
  const { sequence, loose } = machine;
  if (sequence.cues.length > 0 || loose.sources.length > 0) return machine;
  return { ...machine, sequence: { ...sequence, cycle: { ...sequence.cycle, most: cycleTime(machine) } } };
}

/** The discrete half and the loose parts alone: enough for cycle times, not for torques. Needs loadContact(). */
export function simulateCycle(machine: Machine, options: CycleOptions = {}) {
  return new HybridRun(withHorizon(machine), options).run();
}

/**
 * Simulates a machine cycle from its cues, then runs all axes and the mechanism over the motions that came of it, with
 * what parts, belts and cues did to them. Needs loadContact().
 */
export function runCycle(
  machine: Machine,
  { rotors, ...options }: CycleOptions & Pick<RunOptions, 'rotors'> = {},
): CycleRun {
  const { record, run, withRotors } = runCyclePlain(machine, options);
  return { record, run: withRotors(typeof rotors === 'function' ? rotors(run) : (rotors ?? {})) };
}

/** As {@link runCycle}, without rotors. */
export function runCyclePlain(machine: Machine, options: CycleOptions = {}): PlainRun & { record: CycleRecord } {
  const { progress } = options;
  const { record, found } = simulateCycle(machine, {
    ...options,
    progress: progress && ((share) => progress(share * 0.7)),
  });
  const { run, withRotors, withGearbox } = simulatePlain(machine, {
    found,
    progress: progress && ((share) => progress(0.7 + share * 0.3)),
  });
  const { signals } = record;
  return {
    record,
    run: { ...run, signals },
    withRotors: (rotors) => ({ ...withRotors(rotors), signals }),
    withGearbox,
  };
}
