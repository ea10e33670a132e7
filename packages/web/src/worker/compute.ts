import {
  compareMotions,
  dutyOf,
  judgeCandidate,
  judgeMotor,
  planCandidates,
  rankMotors,
  runLead,
  simulate,
  hasCycle,
  isHeldBack,
  loadContact,
  runCycle,
  type Candidate,
  type CycleOptions,
  type CycleRecord,
  type ComparedMotion,
  type JudgedCandidate,
  type LeadResult,
  type Machine,
  type Motor,
  type MotionOption,
  type PathLead,
  type ProposalTask,
  type Run,
} from '@yoke/core';
import { expose } from 'comlink';

/** A run of all axes, and what happened in it where cues and parts make the cycle. */
export interface RunResult {
  run: Run;
  record: CycleRecord | null;
}

let catalogue: Motor[] = [];

/** Rotor inertia in kg·m² of the motors chosen in a machine, brakes included where they are needed. */
function chosenRotors(machine: Machine, plain: Run): Record<string, number> {
  const inertias: Record<string, number> = {};
  machine.axes.forEach((axis, i) => {
    const motor = catalogue.find(({ type }) => type === axis.sizing.motor);
    if (!motor || isHeldBack(plain.axes[i]!)) return;
    inertias[axis.id] = judgeMotor(motor, dutyOf(axis, plain.axes[i]!, plain.times), axis.sizing).inertia;
  });
  return inertias;
}

const worker = {
  setCatalogue(motors: Motor[]): void {
    catalogue = motors;
  },
  /** Runs one cycle of a machine, with the rotors of the motors chosen; tells the share done now and then. */
  async run(machine: Machine, progress?: (share: number) => void, draw: CycleOptions = {}): Promise<RunResult> {
    if (hasCycle(machine)) {
      await loadContact();
      return runCycle(machine, { ...draw, progress, rotors: (plain) => chosenRotors(machine, plain) });
    }
    const plain = simulate(machine, { progress });
    const rotorInertia = chosenRotors(machine, plain);
    const run = Object.keys(rotorInertia).length > 0 ? simulate(machine, { rotorInertia, progress }) : plain;
    return { run, record: null };
  },
  /** Ranks the catalogue for every axis of a machine, by its run. */
  rank(machine: Machine, run: Run): Record<string, Candidate[]> {
    return Object.fromEntries(
      machine.axes.map((axis, i) => [
        axis.id,
        isHeldBack(run.axes[i]!) ? [] : rankMotors(catalogue, dutyOf(axis, run.axes[i]!, run.times), axis.sizing),
      ]),
    );
  },
  /** Runs the machine with each of some motions of an axis. */
  compare(machine: Machine, axisId: string, options: MotionOption[]): ComparedMotion[] {
    const inertia = chosenRotors(machine, simulate(machine))[axisId] ?? 0;
    return compareMotions(machine, axisId, options, inertia);
  },
  /** Judges every n-th candidate of a task, beginning with one; tells now and then how many are done. */
  propose(
    machine: Machine,
    task: ProposalTask,
    first: number,
    every: number,
    progress: (done: number) => void,
  ): JudgedCandidate[] {
    const axis = machine.axes.find(({ id }) => id === task.axisId)!;
    const candidates = planCandidates(axis, task.goal);
    const judged: JudgedCandidate[] = [];
    let done = 0;
    for (let i = first; i < candidates.length; i += every) {
      const found = judgeCandidate(machine, task, candidates[i]!);
      if (found) judged.push(found);
      if (++done % 5 === 0) progress(done);
    }
    return judged;
  },
  /** Leads a tool point along its path. */
  lead: (machine: Machine, lead: PathLead): LeadResult => runLead(machine, lead),
};

export type ComputeWorker = typeof worker;
expose(worker);
