import { loadContact } from '../contact';
import { hasCycle, runCyclePlain, toldFindings, type CycleOptions, type CycleRecord, type ToldFinding } from '../cycle';
import type { Machine } from '../machine';
import { isHeldBack, simulatePlain, type PlainRun, type RotorInertias, type Run } from '../run';
import { dutyOf } from './duty';
import type { Motor } from './motor';
import { judgeMotor } from './rank';

/** The run of a machine, and what happened in it where cues, sensors and parts make the cycle. */
export interface MachineRun {
  run: Run;
  record: CycleRecord | null;
  /** All that was found in the run, in words; what the sheet says before it runs is {@link toldSheet}. */
  findings: ToldFinding[];
}

/** Inertia in kg·m² of the motors chosen in a machine, brakes included where they are needed, by axis. */
export function chosenRotors(machine: Machine, plain: Run, motors: readonly Motor[]): RotorInertias {
  const inertias: Record<string, number> = {};
  machine.axes.forEach((axis, i) => {
    const motor = motors.find(({ type }) => type === axis.sizing.motor);
    if (!motor || isHeldBack(plain.axes[i]!)) return;
    inertias[axis.id] = judgeMotor(motor, dutyOf(axis, plain.axes[i]!, plain.times), axis.sizing).inertia;
  });
  return inertias;
}

/** A run of a machine before motors are chosen; see {@link finishRun}. */
export interface MachineBase extends PlainRun {
  record: CycleRecord | null;
}

/** Runs a machine, whatever it consists of, without rotors: a cycle is simulated where cues, sensors or loose parts make one. */
export async function runBase(machine: Machine, options: CycleOptions = {}): Promise<MachineBase> {
  if (!hasCycle(machine)) return { ...simulatePlain(machine, { progress: options.progress }), record: null };
  await loadContact(machine);
  return runCyclePlain(machine, options);
}

/**
 * Adds to a run the rotors of the motors chosen, and tells what was found.
 * @param machine as it was run, but for what {@link runInput} leaves out
 */
export function finishRun(
  machine: Machine,
  { run, record, withRotors }: MachineBase,
  motors: readonly Motor[],
): MachineRun {
  const finished = withRotors(chosenRotors(machine, run, motors));
  return { run: finished, record, findings: toldFindings(machine, finished, record) };
}

/**
 * Runs a machine with the rotors of chosen motors. The one way to the numbers, for browser, command line and server.
 * @param options `motors` is the catalogue from which the motors were chosen
 */
export async function runMachine(
  machine: Machine,
  { motors = [], ...options }: CycleOptions & { motors?: readonly Motor[] } = {},
): Promise<MachineRun> {
  return finishRun(machine, await runBase(machine, options), motors);
}
