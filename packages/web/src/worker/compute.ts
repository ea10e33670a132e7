import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex } from '@noble/hashes/utils';
import {
  brokenBy,
  chosenRotors,
  compareMotions,
  confirmProposals,
  dutyOf,
  finishRun,
  hasCycle,
  isKeepable,
  judgeCandidate,
  planCandidates,
  rankMotors,
  runBase,
  resultInput,
  runInput,
  runLead,
  sweepRatios,
  isHeldBack,
  liftOffSpeed,
  toldFindings,
  type Candidate,
  type CycleOptions,
  type ComparedMotion,
  type JudgedCandidate,
  type LeadResult,
  type LiftOff,
  type Machine,
  type MachineBase,
  type MachineRun,
  type Motor,
  type MotionOption,
  type PathLead,
  type ProposalTask,
  type SweptRatio,
} from '@yoke/core';
import { expose } from 'comlink';
import { browserStorage, KeptResults } from '@/lib/kept-results';
import { ShippedResults } from '@/lib/shipped-results';

/** Tells one release of the computation from another: what an other one found is not taken for what this one would find. */
declare const RESULTS_OF: string;

/** What a run is told about while it is computed. */
export interface RunHooks {
  /** Share done, from 0 to 1, now and then. */
  progress?: (share: number) => void;
  /** The beginning of a long cycle, to be looked at meanwhile. */
  begun?: (beginning: MachineRun) => void;
}

/** A run, by the key of what it was computed from. */
export interface KeyedRun extends Pick<MachineRun, 'findings'> {
  key: string;
  /** Whether it was computed now, or was there. */
  from: 'computed' | 'kept';
  /** Null where the page has it already. */
  result: Pick<MachineRun, 'run' | 'record'> | null;
}

/** Length of the beginning of a cycle that is shown while the rest is computed, s. */
const BEGINNING = 1;
/** Cycles shorter than this, s, are not begun by themselves. */
const SHORT = 4;
/** A run that took longer than this, ms, is worth keeping. */
const WORTH_KEEPING = 100;

let catalogue: Motor[] = [];
const kept = new KeptResults(browserStorage());
const shipped = new ShippedResults();
/** The runs computed last, without rotors, by their input. */
const bases = new Map<string, MachineBase>();
/** The results given last, by their keys. */
const given = new Map<string, Pick<MachineRun, 'run' | 'record'>>();
/** How long the computation before took, ms. */
let lastTook = Infinity;
/** How long the cycle computed last was, s; null before any. */
let lastDuration: number | null = null;

const keyOf = (machine: Machine, draw: CycleOptions) =>
  bytesToHex(sha256(resultInput(RESULTS_OF, machine, catalogue, draw)));

/** A run from what is there: the one given last, one kept in the browser, one that lacks rotors; else it is computed. */
async function resultOf(machine: Machine, hooks: RunHooks, draw: CycleOptions) {
  const input = runInput(machine, draw);
  const key = keyOf(machine, draw);
  const before = given.get(key);
  if (before) return { ...before, key, from: 'kept' as const };
  const base = bases.get(input);
  // Where the run before was not worth keeping, this one was not either: a look would take as long as the run.
  const old = base || lastTook <= WORTH_KEEPING ? null : ((await kept.find(key)) ?? (await shipped.find(key)));
  if (old) return { ...old, key, from: 'kept' as const };
  const started = performance.now();
  const found = finishRun(machine, base ?? (await computeBase(machine, input, hooks, draw)), catalogue);
  lastTook = performance.now() - started;
  if (lastTook > WORTH_KEEPING && isKeepable(found)) void kept.keep(key, found);
  return { key, run: found.run, record: found.record, from: 'computed' as const };
}

async function computeBase(machine: Machine, input: string, { progress, begun }: RunHooks, draw: CycleOptions) {
  const { cycle } = machine.sequence;
  if (begun && hasCycle(machine) && cycle.most > SHORT && (lastDuration ?? Infinity) > SHORT) {
    const sequence = { ...machine.sequence, cycle: { ...cycle, most: BEGINNING } };
    const { run, record } = await runBase({ ...machine, sequence }, draw);
    begun({ run, record, findings: [] });
  }
  const base = await runBase(machine, { ...draw, progress });
  if (base.record) lastDuration = base.record.duration;
  putLast(bases, input, base);
  return base;
}

/** Puts a value behind all others, of which the last one alone stays. */
function putLast<T>(map: Map<string, T>, key: string, value: T): void {
  map.delete(key);
  map.set(key, value);
  for (const older of [...map.keys()].slice(0, -2)) map.delete(older);
}

const worker = {
  setCatalogue(motors: Motor[]): void {
    catalogue = motors;
  },
  /**
   * Runs one cycle of a machine, with the rotors of the motors chosen. What was computed before is not computed again.
   * @param have key of the result that the page has
   */
  async run(
    machine: Machine,
    hooks: RunHooks = {},
    draw: CycleOptions = {},
    have: string | null = null,
  ): Promise<KeyedRun> {
    // Another machine than before.
    if (have === null) lastTook = Infinity;
    const { key, from, run, record } = await resultOf(machine, hooks, draw);
    putLast(given, key, { run, record });
    const findings = toldFindings(machine, run, record);
    return { key, from, findings, result: key === have ? null : { run, record } };
  },
  /**
   * Ranks the catalogue for every axis of a machine, by its run.
   * @param draw with which it was run
   * @param anyway ranks also by a run that broke off, as far as it got
   */
  async rank(machine: Machine, draw: CycleOptions, anyway: boolean): Promise<Record<string, Candidate[]>> {
    const { run, record } = await resultOf(machine, {}, draw);
    const findings = toldFindings(machine, run, record);
    return Object.fromEntries(
      machine.axes.map((axis, i) => {
        const own = run.axes[i]!;
        const held = isHeldBack(own) || (!anyway && brokenBy(findings, axis) !== null);
        return [axis.id, held ? [] : rankMotors(catalogue, dutyOf(axis, own, run.times), axis.sizing)];
      }),
    );
  },
  /** Runs the machine with each of some motions of an axis. */
  async compare(machine: Machine, axisId: string, options: MotionOption[]): Promise<ComparedMotion[]> {
    const inertia = chosenRotors(machine, (await runBase(machine)).run, catalogue)[axisId] ?? 0;
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
  /** The best of what was judged, with prices by runs of the machine, and that of the plan as it is. */
  confirm: (machine: Machine, task: ProposalTask, judged: JudgedCandidate[]) => confirmProposals(machine, task, judged),
  /** Leads a tool point along its path. */
  lead: (machine: Machine, lead: PathLead): LeadResult => runLead(machine, lead),
  /** Searches the speed at which a cam lets go of its follower. */
  /** The gear ratios of an axis, each with the motor that ranks first; of the run that is there where it is. */
  sweepRatios: (machine: Machine, axisId: string): Promise<SweptRatio[] | string> =>
    sweepRatios(machine, axisId, catalogue, bases.get(runInput(machine, {}))),
  liftOff: (machine: Machine, jointId: string): Promise<LiftOff | string> => liftOffSpeed(machine, jointId),
};

export type ComputeWorker = typeof worker;
expose(worker);
