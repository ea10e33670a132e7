import type { Machine } from '../machine';
import type { Agenda, Due } from './agenda';
import type { Director } from './director';
import type { EventLog } from './log';

/** What the controller has of its inputs: it reads them at its scans, or at once, and lets the cues evolve then. */
export class ControllerImage {
  /** Signals changed since the last scan: what they are now, and how often they changed. */
  private readonly waiting = new Map<string, boolean>();
  private readonly changes = new Map<string, number>();
  private readonly timesPlanned = new Set<number>();
  private due: Due | undefined;

  /** @param timesInConditions times since the start of a cycle that conditions speak of, s */
  constructor(
    private readonly machine: Machine,
    private readonly agenda: Agenda,
    private readonly log: EventLog,
    private readonly director: () => Director,
    private readonly timesInConditions: () => Iterable<number>,
  ) {}

  /** A sensor's signal comes to the controller. */
  seen(sensor: string, on: boolean, time: number): void {
    if (this.machine.sequence.controller.scan === null) this.director().seen(sensor, on);
    else {
      this.changes.set(sensor, (this.changes.get(sensor) ?? 0) + 1);
      this.waiting.set(sensor, on);
    }
    this.evolveAt(time);
  }

  /** Lets the cues evolve: at once, or at the next scan of the controller. */
  evolveAt(time: number): void {
    const { scan } = this.machine.sequence.controller;
    const at = scan === null ? time : Math.ceil(time / scan - 1e-9) * scan;
    if (this.due && this.due.time <= at) return;
    this.agenda.cancel(this.due);
    this.due = this.agenda.add(at, (now) => {
      this.due = undefined;
      this.read(now);
      this.director().evolve(now);
      // Times in conditions must be looked at when they come.
      this.planTimes(now);
    });
  }

  private read(now: number): void {
    for (const [sensor, on] of this.waiting) {
      if ((this.changes.get(sensor) ?? 0) % 2 === 0) {
        this.log.add(now, 'pulse', sensor, [this.log.last('sensor', sensor)]);
        this.log.find({ code: 'pulse', severity: 'warning', time: now, subjects: [sensor] });
      }
      this.director().seen(sensor, on);
    }
    this.waiting.clear();
    this.changes.clear();
  }

  private planTimes(now: number): void {
    const start = this.director().cycleStarts.at(-1)?.time ?? 0;
    for (const at of this.timesInConditions()) {
      const due = start + at;
      if (due <= now || this.timesPlanned.has(due)) continue;
      this.timesPlanned.add(due);
      this.agenda.add(due, (time) => this.evolveAt(time));
    }
  }
}
