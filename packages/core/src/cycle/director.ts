import type { Condition, Cue, Machine, Sequence } from '../machine';
import { compileSheet, isInitial, judge, Net, type Sheet, type SheetTransition, type World } from '../sequence';
import type { Agenda } from './agenda';
import { causeOf } from './causes';
import { heldCues, type HeldCue } from './held-cues';
import { InterlockStops } from './interlock-stops';
import { KeptCalls } from './kept-calls';
import { logOverrun, type EventLog } from './log';
import { WaitClocks } from './wait-clocks';

/** What the director asks of the machine. */
export interface Stage {
  log: EventLog;
  agenda: Agenda;
  /** Begins the action of a cue; the event is that of its beginning. */
  act(cue: Cue, time: number, event: number): void;
  /** Whether a cue moves something; brings that to rest; lets it go on. */
  moves(cue: Cue, time: number): boolean;
  pause(cue: Cue, time: number): void;
  resume(cue: Cue, time: number, event: number): void;
  /** Gives up an action under way. */
  abandon(cue: Cue, time: number): void;
  /** @param row whether the last cycle is done with its row */
  stop(time: number, cause: number, row?: boolean): void;
  emergency(time: number, causes: readonly number[]): void;
  position(axis: string, time: number): number;
  rests(axis: string, time: number): boolean;
  holds(gripper: string): boolean;
  /** Asks for another evolution at this time. */
  again(time: number): void;
}

/** Moves the cue sheet of a machine on: which cues start, which end, and by what. */
export class Director {
  readonly net: Net;
  private readonly sheet: Sheet;
  private readonly cues: ReadonlyMap<string, Cue>;
  private readonly sequence: Sequence;
  private readonly flags: Map<string, boolean>;
  private readonly flagEvents = new Map<string, number>();
  /** Signals as the controller sees them, with the event of their last change. */
  private readonly image = new Map<string, boolean>();
  private readonly edges = new Map<string, boolean>();
  private readonly finished = new Set<string>();
  private readonly starts = new Map<string, number>();
  private readonly ends = new Map<string, number>();
  private endedNow = new Set<string>();
  private readonly armed = new Map<string, boolean>();
  private readonly linkEvents = new Map<number, number>();
  private readonly startEvents = new Map<string, number>();
  private readonly actEvents = new Map<string, number>();
  private readonly blocked = new Set<string>();
  private readonly clocks: WaitClocks;
  private readonly verdicts = new Map<SheetTransition, number[]>();
  private readonly calls: KeptCalls;
  private readonly stops: InterlockStops;
  private halted = false;
  cycleStarts: { time: number; event: number }[] = [];

  constructor(
    machine: Pick<Machine, 'sequence'>,
    private readonly stage: Stage,
    begin: number,
  ) {
    this.sequence = machine.sequence;
    this.cues = new Map(this.sequence.cues.map((cue) => [cue.id, cue]));
    this.flags = new Map(this.sequence.flags.map(({ id, set }) => [id, set]));
    this.sheet = compileSheet(this.sequence);
    this.net = new Net(this.sheet.steps.length, this.sheet.transitions, this.sheet.initial);
    this.begin = begin;
    this.clocks = new WaitClocks(this.sheet, this.net, this.cues, {
      agenda: stage.agenda,
      startsOf: (cue) => this.startsOf(cue),
      tooLate: (cue, time) => this.tooLate(cue, time),
    });
    this.calls = new KeptCalls(this.sequence, this.sheet, this.net);
    this.stops = new InterlockStops(this.sequence.interlocks, {
      log: stage.log,
      cue: (id) => this.cues.get(id)!,
      moves: (cue, time) => stage.moves(cue, time),
      pause: (cue, time) => stage.pause(cue, time),
      resume: (cue, time, event) => stage.resume(cue, time, event),
      causesOf: (because) => this.causesOf(because),
    });
    this.initial = new Set(this.sequence.cues.filter((cue) => isInitial(cue, this.sequence)).map(({ id }) => id));
    for (const { id } of this.sequence.cues) this.armed.set(id, true);
  }

  private readonly begin: number;
  /** Cues that wait for nothing before them. */
  private readonly initial: ReadonlySet<string>;

  /** Sets a signal at the start of the run, without an edge. */
  preset(sensor: string, on: boolean): void {
    this.image.set(sensor, on);
  }

  /** A signal as the controller sees it has changed. */
  seen(sensor: string, on: boolean): void {
    if (this.image.get(sensor) === on) return;
    this.image.set(sensor, on);
    this.edges.set(sensor, on);
  }

  setFlag(flag: string, to: boolean, event: number): void {
    this.flags.set(flag, to);
    this.flagEvents.set(flag, event);
  }

  /** The action of a cue is done. */
  done(cue: string): void {
    // What an interlock let go on may end after its cue has.
    if (this.running(cue)) this.finished.add(cue);
  }

  running(cue: string): boolean {
    const step = this.sheet.active.get(cue);
    return step !== undefined && this.net.active[step] === 1;
  }

  endsOf(cue: string): number {
    return this.ends.get(cue) ?? 0;
  }

  startsOf(cue: string): number {
    return this.starts.get(cue) ?? 0;
  }

  /** Stops all cues: nothing starts any more. */
  halt(): void {
    this.halted = true;
  }

  get isHalted(): boolean {
    return this.halted;
  }

  /** What conditions read at a time. */
  world(time: number): World {
    return {
      sensor: (id) => this.image.get(id) ?? false,
      edge: (id, to) => this.edges.get(id) === to,
      flag: (id) => this.flags.get(id) ?? false,
      running: (id) => this.running(id),
      endedNow: (id) => this.endedNow.has(id),
      ends: (id) => this.endsOf(id),
      position: (axis) => this.stage.position(axis, time),
      rests: (axis) => this.stage.rests(axis, time),
      time: () => time - (this.cycleStarts.at(-1)?.time ?? 0),
      holds: (gripper) => this.stage.holds(gripper),
    };
  }

  /** Events that a condition goes by, as its terms stand. */
  private causesOf(because: readonly { term: Condition }[]): (number | null)[] {
    const { flagEvents, movers } = this;
    const cycle = this.cycleStarts.at(-1)?.event ?? this.begin;
    return because.map(({ term }) => causeOf(term, { log: this.stage.log, flagEvents, movers, cycle }));
  }

  /** The cue that moved an axis last, told by the machine. */
  readonly movers = new Map<string, string>();

  /** Lets everything happen that can happen at this instant. */
  evolve(time: number): void {
    if (this.halted) return;
    const world = this.world(time);
    const { log } = this.stage;
    const { when } = this.sequence.emergency;
    if (when) {
      const verdict = judge(when, world, true);
      if (verdict.holds) {
        this.halt();
        this.stage.emergency(
          time,
          this.causesOf(verdict.because).filter((c) => c !== null),
        );
        return;
      }
    }
    this.calls.listen(this.cues, world, this.armed, (because) => this.causesOf(because));
    const { endless, races } = this.net.evolve(
      (transition, fresh) => this.holds(transition as SheetTransition, world, fresh, time),
      (pass, again) => {
        for (const step of again) logOverrun(this.sheet.steps[step]!, log, time);
        this.cleared(pass as SheetTransition[], time);
      },
    );
    for (const { taken, left } of races) {
      const cueOf = (id: string) => id.replace(/^\w+ /, '');
      log.find({ code: 'race', severity: 'warning', time, subjects: [taken, ...left].map(cueOf) });
    }
    if (endless) {
      const subjects = [...new Set(endless.map((id) => id.replace(/^\w+ /, '')))];
      log.find({ code: 'endless', severity: 'error', time, subjects });
      this.halt();
      this.stage.stop(time, this.begin);
      return;
    }
    this.stops.look(world, time);
    this.edges.clear();
    this.endedNow.clear();
    this.clocks.look(time);
    this.endWithRow(time);
  }

  /** Ends the run when the last of its cycles has come to its end, and every row that begins by itself was in it. */
  private endWithRow(time: number): void {
    const last = this.cycleStarts.at(-1);
    if (this.halted || !last || !this.isLastCycleDone) return;
    const begun = [...this.initial].every((id) => {
      const cue = this.cues.get(id)!;
      return !cue.on || cue.action.do === 'alarm' || (this.stage.log.events[this.startEvents.get(id) ?? -1]?.time ?? -1) >= last.time; // prettier-ignore
    });
    if (!begun) return;
    this.halt();
    const ended = [...this.cues.keys()].map((id) => this.stage.log.last('ended', id) ?? -1);
    this.stage.stop(time, Math.max(last.event, ...ended), true);
  }

  /** Whether as many cycles as the run shall have were begun, and nothing of them is left to do. */
  get isLastCycleDone(): boolean {
    return this.cycleStarts.length === this.sequence.cycle.cycles && this.isThrough;
  }

  private holds(transition: SheetTransition, world: World, fresh: boolean, time: number): boolean {
    if (this.halted) return false;
    const { cue: id, what } = transition;
    if (what === 'end') return this.finished.has(id);
    const cue = this.cues.get(id)!;
    if (cue.times !== null && this.startsOf(id) >= cue.times) return false;
    if (what === 'forced') {
      this.verdicts.set(transition, []);
      return true;
    }
    const call = this.calls.of(id);
    if (this.calls.isBusy(id)) return false;
    const verdict = cue.when && !call ? judge(cue.when, world, fresh) : { holds: true, because: [] };
    if (this.initial.has(id) && !call) {
      if (!verdict.holds) this.armed.set(id, true);
      else if (!this.armed.get(id)) return false;
    }
    if (!verdict.holds) return false;
    const causes = [...(call ?? []), ...this.causesOf(verdict.because)];
    for (const lock of this.sequence.interlocks) {
      if (!lock.forbids.includes(id)) continue;
      const forbids = judge(lock.during, world, fresh);
      if (!forbids.holds) {
        causes.push(...this.causesOf(forbids.because));
        continue;
      }
      if (!this.blocked.has(`${lock.id} ${id}`)) {
        this.blocked.add(`${lock.id} ${id}`);
        const more = { other: lock.id, text: lock.reason };
        this.stage.log.add(time, 'blocked', id, this.causesOf(forbids.because), more);
      }
      return false;
    }
    this.verdicts.set(
      transition,
      causes.filter((c) => c !== null),
    );
    return true;
  }

  private cleared(pass: readonly SheetTransition[], time: number): void {
    this.endedNow = new Set();
    for (const transition of pass) {
      const cue = this.cues.get(transition.cue)!;
      if (transition.what === 'end') this.end(cue, transition, time);
      else this.start(cue, transition, time);
    }
  }

  private start(cue: Cue, transition: SheetTransition, time: number): void {
    const { log, agenda } = this.stage;
    const { id } = cue;
    this.armed.set(id, false);
    this.calls.answered(id);
    for (const lock of this.sequence.interlocks) this.blocked.delete(`${lock.id} ${id}`);
    this.clocks.stop(id);
    this.starts.set(id, this.startsOf(id) + 1);
    const links = transition.links.map((step) => this.linkEvents.get(step) ?? null);
    const causes = [this.begin, ...links, log.last('ended', id), ...(this.verdicts.get(transition) ?? [])];
    const timeOut = transition.what === 'forced' ? log.last('time-out', id) : null;
    const event = log.add(time, 'cue', id, [...causes, timeOut], { value: cue.delay });
    this.startEvents.set(id, event);
    const { starts, cycles } = this.sequence.cycle;
    const marks =
      starts === null
        ? this.cycleStarts[0]
          ? log.events[this.cycleStarts[0].event]!.other === id
          : true
        : starts === id;
    if (marks) {
      const mark = log.add(time, 'cycle', '', [event], { value: this.cycleStarts.length + 1, other: id });
      this.cycleStarts.push({ time, event: mark });
      if (cycles !== null && this.cycleStarts.length > cycles) {
        this.halt();
        this.stage.stop(time, mark);
        return;
      }
    }
    const act = (at: number) => {
      if (this.halted || !this.running(id) || this.stops.putsOff(id, this.world(at), act)) return;
      const acts = log.add(at, 'acts', id, [event]);
      this.actEvents.set(id, acts);
      this.stage.act(cue, at, acts);
      const limit = cue.timeOut;
      if (limit?.of === 'action') {
        const turn = this.startsOf(id);
        agenda.add(at + limit.time, (late) => {
          if (this.running(id) && !this.finished.has(id) && this.startsOf(id) === turn) this.tooLate(cue, late);
        });
      }
    };
    const wait = cue.delay + this.sequence.controller.outputDelay;
    // The step must be active before its action can end in the same evolution.
    agenda.add(time + wait, act);
  }

  private end(cue: Cue, transition: SheetTransition, time: number): void {
    const { log } = this.stage;
    const { id } = cue;
    this.finished.delete(id);
    this.ends.set(id, this.endsOf(id) + 1);
    this.endedNow.add(id);
    const event = log.add(time, 'ended', id, [this.actEvents.get(id), this.endCause.get(id)], {
      value: this.endsOf(id),
    });
    this.endCause.delete(id);
    for (const step of transition.to) {
      if (this.sheet.steps[step]!.is !== 'link') continue;
      this.linkEvents.set(step, event);
    }
    this.onEnd?.(id, time, event);
  }

  /** What decided that an action was done, where that was not its beginning: the event of a part taken, say. */
  readonly endCause = new Map<string, number>();
  /** Told when a cue has ended. */
  onEnd: ((cue: string, time: number, event: number) => void) | null = null;

  private tooLate(cue: Cue, time: number): void {
    const { log } = this.stage;
    const limit = cue.timeOut!;
    const event = log.add(time, 'time-out', cue.id, [this.actEvents.get(cue.id) ?? this.begin], { text: limit.then });
    log.find({ code: 'time-out', severity: 'warning', time, subjects: [cue.id], value: limit.time, text: limit.then });
    if (limit.then === 'stop') {
      this.halt();
      this.stage.stop(time, event);
    } else if (limit.then === 'emergency') {
      this.halt();
      this.stage.emergency(time, [event]);
    } else if (limit.then === 'cue' && limit.cue !== null) {
      this.giveUp(cue, time);
      const step = this.sheet.forced.get(limit.cue);
      if (step !== undefined) this.net.active[step] = 1;
      log.add(time, 'time-out', limit.cue, [event], { other: cue.id, text: 'starts' });
      this.stage.again(time);
    }
  }

  /** A cue that is too late is given up: what came before it is used up, what comes after it does not start. */
  private giveUp(cue: Cue, time: number): void {
    const active = this.sheet.active.get(cue.id)!;
    if (this.net.active[active] === 1) {
      this.stage.abandon(cue, time);
      this.finished.delete(cue.id);
      const end = this.sheet.transitions.find((t) => t.cue === cue.id && t.what === 'end')!;
      this.net.active[active] = 0;
      for (const step of end.to) if (this.sheet.steps[step]!.is === 'ready') this.net.active[step] = 1;
    } else {
      const start = this.sheet.transitions.find((t) => t.cue === cue.id && t.what === 'start')!;
      for (const step of start.links) this.net.active[step] = 0;
    }
    this.stops.forget(cue.id);
    this.clocks.stop(cue.id);
  }

  /** Cues that wait, with the links they have and lack, and whether their condition holds. */
  waiting(time: number): HeldCue[] {
    return heldCues(this.sequence, this.sheet, this.net, this.world(time), {
      running: (cue) => this.running(cue),
      startsOf: (cue) => this.startsOf(cue),
    });
  }

  /** Whether everything that was begun has come to its end: no cue runs, none waits for a second one. */
  get isThrough(): boolean {
    return (
      this.starts.size > 0 && this.sheet.steps.every(({ is }, step) => is === 'ready' || this.net.active[step] === 0)
    );
  }
}
