import type { Machine } from '../machine';
import type { Director } from './director';
import type { CycleEnd } from './events';
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
