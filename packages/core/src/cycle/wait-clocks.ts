import type { Cue } from '../machine';
import type { Net, Sheet } from '../sequence';
import type { Agenda } from './agenda';

/** What the clocks of waiting cues need. */
export interface ClocksNeed {
  agenda: Agenda;
  startsOf(cue: string): number;
  tooLate(cue: Cue, time: number): void;
}

/** Clocks of cues that wait for their condition longer than they should. */
export class WaitClocks {
  private readonly since = new Map<string, number>();

  constructor(
    private readonly sheet: Sheet,
    private readonly net: Net,
    private readonly cues: ReadonlyMap<string, Cue>,
    private readonly need: ClocksNeed,
  ) {}

  /** Starts the clocks of time-outs of cues that have begun to wait. */
  look(time: number): void {
    for (const transition of this.sheet.transitions) {
      if (transition.what !== 'start') continue;
      const cue = this.cues.get(transition.cue)!;
      if (!this.net.enabled(transition)) {
        this.since.delete(cue.id);
        continue;
      }
      if (this.since.has(cue.id)) continue;
      this.since.set(cue.id, time);
      const limit = cue.timeOut;
      if (limit?.of !== 'wait') continue;
      const turn = this.need.startsOf(cue.id);
      this.need.agenda.add(time + limit.time, (late) => {
        if (this.since.get(cue.id) === time && this.need.startsOf(cue.id) === turn) this.need.tooLate(cue, late);
      });
    }
  }

  /** A cue no longer waits. */
  stop(cue: string): void {
    this.since.delete(cue);
  }
}
