import type { Machine } from '../machine';
import type { Director } from './director';
import type { CycleRecord } from './cycle-record';
import type { CycleEnd, CueMove } from './events';
import type { EventLog } from './log';
import type { PartsFlow } from './parts-flow';
import { explainWaiting, type WaitingReport } from './waiting';

/** A cycle that has come to its end. */
interface Ended {
  machine: Machine;
  log: EventLog;
  director: Director;
  flow: PartsFlow;
  end: CycleEnd;
  /** Time at which it ended, and length of the run, s. */
  time: number;
  duration: number;
}

/** Says what a cycle waits for at its end, if anything, and which cues never ran. */
export function conclude({ machine, log, director, flow, end, time, duration }: Ended): WaitingReport | null {
  const { cues, cycle } = machine.sequence;
  let waiting: WaitingReport | null = null;
  if (end === 'waiting' || (end === 'longest' && cues.length > 0)) {
    waiting = explainWaiting(
      machine,
      director.waiting(time),
      (gripper) => flow.world?.grips.nearest(gripper) ?? null,
      flow.taking,
    );
    if (end === 'waiting') {
      // A machine that has gone round and ends for want of parts is no deadlock.
      const dead = waiting.circle.length > 0 || director.cycleStarts.length < 2;
      const subjects = waiting.circle.length > 0 ? waiting.circle : waiting.cues.map(({ cue }) => cue);
      log.find({
        code: dead ? 'deadlock' : 'waits',
        severity: dead ? 'error' : 'warning',
        time: duration,
        subjects,
      });
    } else if (cycle.cycles !== null)
      log.find({ code: 'longest', severity: 'warning', time: duration, subjects: [], value: cycle.most });
  }
  for (const cue of cues)
    if (cue.on && director.startsOf(cue.id) === 0 && end !== 'stuck' && cue.action.do !== 'alarm')
      log.find({ code: 'never', severity: 'info', time: null, subjects: [cue.id] });
  return waiting;
}

/** Event of the last cue that ended; null where none has. */
export const lastEnded = (log: EventLog): number | null =>
  log.events.findLast(({ kind }) => kind === 'ended')?.index ?? null;

/** Moves of a run up to its end, with the events that ended them. */
export function movesUntil(moves: readonly CueMove[], log: EventLog, duration: number): CueMove[] {
  const ends = new Map<string, { index: number; time: number }[]>();
  for (const { kind, subject, index, time } of log.events)
    if (kind === 'ended') ends.set(subject, [...(ends.get(subject) ?? []), { index, time }]);
  return moves
    .filter(({ from }) => from < duration)
    .map((move) => ({
      ...move,
      ended: ends.get(move.cue)?.find(({ time }) => time >= move.to - 1e-12)?.index ?? -1,
      to: Math.min(move.to, duration),
    }));
}

/** Starts of the cycles of a run; the end of the last one too where the run, or the row of its cues, ended it. */
export function cyclesUntil(
  director: Director,
  log: EventLog,
  end: CycleEnd,
  duration: number,
): Pick<CycleRecord, 'cycles' | 'lastByRow'> {
  const cycles = director.cycleStarts.map(({ time }) => time);
  if (end === 'stop' && cycles.length > 0) return { cycles: [...cycles, duration] };
  const ended = lastEnded(log);
  if (end !== 'cycles' || !director.isLastCycleDone || ended === null) return { cycles };
  return { cycles: [...cycles, log.events[ended]!.time], lastByRow: true };
}
