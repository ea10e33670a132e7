import type { Condition, Cue, Interlock } from '../machine';
import { judge, type World } from '../sequence';
import type { EventLog } from './log';

/** What interlocks that stop what runs need of the rest of the cycle. */
export interface StopsNeed {
  log: EventLog;
  cue(id: string): Cue;
  /** Whether a cue moves something now: its own action is under way, or what it set going still goes. */
  moves(cue: Cue, time: number): boolean;
  pause(cue: Cue, time: number): void;
  resume(cue: Cue, time: number, event: number): void;
  causesOf(because: readonly { term: Condition }[]): (number | null)[];
}

/** Interlocks that also stop what the cues they forbid move already: it rests while they hold, and goes on after that. */
export class InterlockStops {
  private readonly held = new Map<string, ((time: number) => void) | null>();
  private readonly locks: readonly Interlock[];

  constructor(
    interlocks: readonly Interlock[],
    private readonly need: StopsNeed,
  ) {
    this.locks = interlocks.filter(({ stops }) => stops);
  }

  /** Stops and lets go on, as the interlocks stand. */
  look(world: World, time: number): void {
    for (const id of new Set(this.locks.flatMap(({ forbids }) => forbids))) {
      const cue = this.need.cue(id);
      let because: readonly { term: Condition }[] = [];
      const lock = this.locks.find(({ forbids, during }) => {
        if (!forbids.includes(id)) return false;
        const verdict = judge(during, world, true);
        because = verdict.because;
        return verdict.holds;
      });
      const { log } = this.need;
      if (lock && !this.held.has(id) && this.need.moves(cue, time)) {
        const more = { other: lock.id, text: lock.reason };
        log.add(time, 'held', id, this.need.causesOf(because), more);
        log.find({ code: 'held', severity: 'warning', time, subjects: [id, lock.id], text: lock.reason });
        this.held.set(id, null);
        this.need.pause(cue, time);
      } else if (!lock && this.held.has(id)) {
        const later = this.held.get(id)!;
        this.held.delete(id);
        const event = log.add(time, 'goes-on', id, [...this.need.causesOf(because), log.last('held', id)]);
        if (later) later(time);
        else this.need.resume(cue, time, event);
      }
    }
  }

  /** Puts the action of a cue off where an interlock that stops forbids it since its delay began. */
  putsOff(id: string, world: World, act: (time: number) => void): boolean {
    if (!this.locks.some(({ forbids, during }) => forbids.includes(id) && judge(during, world, true).holds))
      return false;
    this.held.set(id, act);
    return true;
  }

  /** A cue is given up: nothing of it goes on. */
  forget(id: string): void {
    this.held.delete(id);
  }
}
