import type { AnyPart } from '../contact';
import type { HeldCue } from './held-cues';
import { conditionTerms, type Condition, type Machine } from '../machine';

/** A cue that waits, and for what. */
export interface WaitingCue {
  cue: string;
  /** Cues that have not ended. */
  lacks: string[];
  /** Terms of its condition that do not hold. */
  terms: { term: Condition; is: boolean }[];
  /** Interlocks that hold it back. */
  blockedBy: string[];
  /** Whether its action runs and does not end. */
  running: boolean;
  /** What its gripper could take, if that is what it waits for. */
  nearest: { part: number; distance: number } | null;
}

/** Why a run does not go on. */
export interface WaitingReport {
  /** Cues that had begun to wait, the ones that matter. */
  cues: WaitingCue[];
  /** Cues that wait for each other in a circle; empty where there is none. */
  circle: string[];
}

/** Says which cues wait for what, and whether they wait for each other. */
export function explainWaiting(
  machine: Machine,
  waiting: readonly HeldCue[],
  nearest: (gripper: string) => { part: AnyPart; distance: number } | null,
  takers: readonly { gripper: string; cue: string }[],
): WaitingReport {
  const { cues } = machine.sequence;
  const byId = new Map(waiting.map((entry) => [entry.cue, entry]));
  const waitsFor = (entry: HeldCue): string[] => {
    if (entry.running) return [];
    const forTerms = entry.because.flatMap(({ term }) => makers(machine, term));
    const forLocks = machine.sequence.interlocks
      .filter(({ id }) => entry.blockedBy.includes(id))
      .flatMap(({ during }) => conditionTerms(during).flatMap((term) => makers(machine, term)));
    return [...entry.lacks, ...forTerms, ...forLocks].filter((id) => byId.has(id) && id !== entry.cue);
  };
  const circle = findCircle(
    waiting.map(({ cue }) => cue),
    (id) => waitsFor(byId.get(id)!),
  );
  const begun = waiting.filter(({ has, running, lacks, cue }) => {
    const after = cues.find(({ id }) => id === cue)!.after;
    return running || has || (after.length > 0 && lacks.length === 0);
  });
  const shown = begun.length > 0 ? begun : waiting;
  return {
    cues: shown.map(({ cue, lacks, because, blockedBy, running }) => {
      const taker = takers.find((t) => t.cue === cue);
      const near = taker ? nearest(taker.gripper) : null;
      return {
        cue,
        lacks: running ? [] : lacks,
        terms: running ? [] : because,
        blockedBy,
        running,
        nearest: near ? { part: near.part.number, distance: near.distance } : null,
      };
    }),
    circle,
  };
}

/** Cues that could bring a term about. */
function makers({ sequence }: Machine, term: Condition): string[] {
  switch (term.op) {
    case 'ended':
    case 'running':
    case 'count':
      return [term.cue];
    case 'flag':
      return sequence.cues
        .filter(({ action }) => action.do === 'flag' && action.flag === term.flag)
        .map(({ id }) => id);
    case 'holds':
      return sequence.cues
        .filter(({ action }) => action.do === 'take' && action.gripper === term.gripper)
        .map(({ id }) => id);
    case 'at':
    case 'rests':
      return sequence.cues.filter(({ action }) => 'axis' in action && action.axis === term.axis).map(({ id }) => id);
    case 'on':
    case 'rises':
    case 'falls': {
      const sensing = sequence.sensors.find(({ id }) => id === term.sensor)?.sensing;
      if (sensing?.kind === 'cue') return [sensing.cue];
      if (sensing?.kind === 'count' && sensing.of.what === 'cue') return [sensing.of.cue];
      if (sensing?.kind === 'position' || sensing?.kind === 'force')
        return sequence.cues
          .filter(({ action }) => 'axis' in action && action.axis === sensing.axis)
          .map(({ id }) => id);
      return [];
    }
    default:
      return [];
  }
}

/** A circle in a graph, in order; empty where there is none. */
export function findCircle(nodes: readonly string[], next: (node: string) => readonly string[]): string[] {
  const done = new Set<string>();
  for (const start of nodes) {
    const path: string[] = [];
    const visit = (node: string): string[] | null => {
      const seen = path.indexOf(node);
      if (seen >= 0) return path.slice(seen);
      if (done.has(node)) return null;
      path.push(node);
      for (const other of next(node)) {
        const found = visit(other);
        if (found) return found;
      }
      path.pop();
      done.add(node);
      return null;
    };
    const found = visit(start);
    if (found) return found;
  }
  return [];
}
