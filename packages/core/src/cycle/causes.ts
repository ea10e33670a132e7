import type { Condition } from '../machine';
import type { EventLog } from './log';

/** What is known of the events that conditions go by. */
export interface Known {
  log: EventLog;
  /** Last change of each flag, and the cue that moved each axis last. */
  flagEvents: ReadonlyMap<string, number>;
  movers: ReadonlyMap<string, string>;
  /** Start of the present cycle. */
  cycle: number;
}

/** The event by which a term of a condition stands as it does; null where there is none. */
export function causeOf(term: Condition, { log, flagEvents, movers, cycle }: Known): number | null {
  switch (term.op) {
    case 'on':
    case 'rises':
    case 'falls':
      return log.last('sensor', term.sensor);
    case 'flag':
      return flagEvents.get(term.flag) ?? null;
    case 'ended':
    case 'count':
      return log.last('ended', term.cue);
    case 'running':
      return log.last('cue', term.cue);
    case 'at':
    case 'rests':
      return log.last('ended', movers.get(term.axis) ?? '');
    case 'time':
      return cycle;
    case 'holds':
      return log.last('took', term.gripper) ?? log.last('let-go', term.gripper);
    default:
      return null;
  }
}
