import { cycleTime, type Machine } from '../machine';
import { simulate, type Run, type RunOptions } from '../run';
import { movedByCues } from './axes';
import { HybridRun, type CycleOptions, type CycleRecord } from './hybrid';

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
 * Simulates a machine cycle from its cues, then runs all axes over the motions that came of it; pushes of parts
 * and switched forces count as loads. Needs loadContact().
 * @param options `rotors` gives inertias of chosen motors from the plain run, in kg·m² by axis
 */
export function runCycle(
  machine: Machine,
  options: CycleOptions & RunOptions & { rotors?: (plain: Run) => Record<string, number> } = {},
): CycleRun {
  const { record, found } = simulateCycle(machine, {
    ...options,
    progress: options.progress && ((share) => options.progress?.(share * 0.7)),
  });
  const timed: Machine = {
    ...machine,
    cycle: { given: 'time', time: record.duration },
    master: { ...machine.master, course: steady(machine) },
  };
  const known = {
    found,
    pushes: record.pushes,
    progress: options.progress && ((share: number) => options.progress?.(0.7 + share * 0.3)),
  };
  const run = simulate(timed, { ...known, rotorInertia: options.rotorInertia });
  // The rotors of chosen motors change the torques, not the cycle.
  const rotors = options.rotors?.(run) ?? {};
  const whole = Object.keys(rotors).length > 0 ? simulate(timed, { ...known, rotorInertia: rotors }) : run;
  return { record, run: { ...whole, signals: record.signals } };
}

/** A master that turns once a cycle keeps the speed it has over the cycle that was typed. */
function steady(machine: Machine): Machine['master']['course'] {
  const { course, wrap } = machine.master;
  return course.kind === 'cycle' ? { kind: 'speed', speed: wrap / cycleTime(machine) } : course;
}
