import type { CycleEnd } from './events';
import type { EventLog } from './log';
import type { Watched } from './monitors';

/** Events and parts that a run may come to: more is no machine, and would fill the memory. */
const MOST_EVENTS = 400_000;
const MOST_PARTS = 3000;

/** When and why a simulated cycle ends. */
export class Ending {
  /** Time in s and kind of the end, once it is settled. */
  at: { time: number; end: CycleEnd } | null = null;

  /**
   * @param halt lets no more cues begin
   * @param step shortest run, s
   */
  constructor(
    private readonly log: EventLog,
    private readonly halt: () => void,
    private readonly step: number,
  ) {}

  /** Settles an end. */
  settle(time: number, end: CycleEnd): void {
    this.at = { time, end };
  }

  /**
   * A cue stops the machine, or its cycles are done.
   * @param still when what moves has come to rest, s; null where the last cycle is done with its row
   */
  stop(time: number, cause: number, still: number | null): void {
    if (this.at) return;
    this.log.add(time, 'stop', '', [cause]);
    if (still === null || this.log.events[cause]?.kind === 'cycle') this.settle(time, 'cycles');
    else this.settle(still, 'stop');
  }

  /** A clearance is watched and was less than it may be. */
  tooClose(monitor: Watched, time: number): void {
    const event = this.log.add(time, 'monitor', monitor.id, [0], { value: monitor.least });
    const code = monitor.least > 0 ? 'clearance' : 'interference';
    this.log.find({ code, severity: 'error', time, subjects: [monitor.id, monitor.a, monitor.b] });
    if (!monitor.stop || this.at) return;
    this.halt();
    this.log.add(time, 'stop', '', [event]);
    this.settle(time, 'monitor');
  }

  /** The mechanism cannot follow its axes. */
  stuck(time: number): void {
    this.halt();
    this.log.find({ code: 'stuck', severity: 'error', time, subjects: [] });
    this.settle(Math.max(time, this.step), 'stuck');
  }

  /** Cues start each other at one instant without end. */
  endless(time: number): void {
    const last = this.log.events.filter((e) => e.kind === 'cue' && e.time === time).slice(-50);
    const subjects = [...new Set(last.map((e) => e.subject))].slice(0, 6);
    this.log.find({ code: 'endless', severity: 'error', time, subjects });
    this.halt();
    this.settle(time, 'endless');
  }

  /** Whether a run came to more than any machine does; then that is its end. */
  isTooMuch(time: number, parts: number): boolean {
    const events = this.log.events.length;
    if (events <= MOST_EVENTS && parts <= MOST_PARTS) return false;
    const [value, text] = parts > MOST_PARTS ? [parts, 'parts'] : [events, 'events'];
    this.log.find({ code: 'too-much', severity: 'error', time, subjects: [], value, text });
    this.halt();
    this.settle(Math.max(time, this.step), 'too-much');
    return true;
  }
}
