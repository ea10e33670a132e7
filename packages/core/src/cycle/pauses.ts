import type { Cue, CueAction } from '../machine';
import type { Agenda, Due } from './agenda';
import type { AxisBank } from './axes';
import type { AxisOwners } from './axis-owners';
import type { Belts } from './belts';
import type { PartsFlow } from './parts-flow';

type BeltAction = Extract<CueAction, { do: 'belt' }>;

/** What runs belts and stops what cues move needs of the rest of the cycle. */
export interface PausesNeed {
  agenda: Agenda;
  axes: AxisBank;
  owners: AxisOwners;
  belts: Belts;
  flow: PartsFlow;
  /** Cue that moved each axis last, by axis. */
  movers: ReadonlyMap<string, string>;
  /** Time in which what is stopped comes to rest, s. */
  ramp: number;
  done(cue: Cue, time: number): void;
}

/** What cues set going, and how it is stopped on its way, goes on, or is given up. */
export class Pauses {
  /** The cue that runs each belt, and the end of it. */
  private readonly belts = new Map<string, { cue: Cue; due: Due | undefined; end: number | null }>();

  constructor(private readonly need: PausesNeed) {}

  /** Runs a belt for a cue. Answers whether that is all; if not, the cue is told later. */
  runBelt(cue: Cue, { belt, speed, ramp, time: span }: BeltAction, time: number): 'done' | 'under way' {
    const lasts = speed === 0 ? undefined : span;
    this.need.belts.lead(belt, speed, ramp, time, lasts);
    const takes = lasts ?? ramp;
    const due = takes > 0 ? this.need.agenda.add(time + takes, (at) => this.need.done(cue, at)) : undefined;
    this.belts.set(belt, { cue, due, end: lasts === undefined ? null : time + lasts });
    return due ? 'under way' : 'done';
  }

  /** Whether a cue moves something at a time: its action is under way, or what it set going still goes. */
  moves({ id, action }: Cue, time: number): boolean {
    const { axes, belts, movers, owners } = this.need;
    if (action.do === 'belt')
      return this.belts.get(action.belt)?.cue.id === id && belts.speedAt(action.belt, time) !== 0;
    if (!('axis' in action) || action.do === 'load') return false;
    return owners.isOwner(action.axis, id) || (movers.get(action.axis) === id && axes.of(action.axis).movesAt(time));
  }

  /** Brings what a cue moves to rest. */
  pause(cue: Cue, time: number): void {
    const { action } = cue;
    const { agenda, belts, owners, ramp } = this.need;
    if (action.do === 'belt') {
      const run = this.belts.get(action.belt)!;
      agenda.cancel(run.due);
      run.end = run.end === null ? null : run.end - time;
      belts.lead(action.belt, 0, ramp, time);
    } else if ('axis' in action) owners.pause(cue, action.axis, time, ramp);
  }

  /** Lets it go on: moves to where they were to end, what runs for the time that was left. */
  resume(cue: Cue, time: number, event: number): void {
    const { action } = cue;
    if (action.do === 'belt') {
      const left = this.belts.get(action.belt)!.end;
      const go = this.runBelt(cue, { ...action, ...(left === null ? {} : { time: Math.max(left, 1e-6) }) }, time);
      if (go === 'done') this.need.done(cue, time);
    } else if ('axis' in action) this.need.owners.resume(cue, action.axis, time, event);
  }

  /** Gives up an action under way. */
  abandon(cue: Cue, time: number): void {
    const { action } = cue;
    if (action.do === 'take') this.need.flow.abandonTaking(action.gripper);
    if ('axis' in action) this.need.owners.abandon(cue, action.axis, time);
  }
}
