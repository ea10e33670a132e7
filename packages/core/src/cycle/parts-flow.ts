import { FlatParts, SpaceParts, type AnyPart, type PartsWorld } from '../contact';
import type { Cue, Machine, PartSource } from '../machine';
import type { Scatter } from '../numeric';
import type { Agenda } from './agenda';
import type { EventLog } from './log';
import { PartsRecorder, type PartFate, type PartsRecord } from './record';
import type { StepPoses } from './sight';

/** Frames of loose parts kept a second. */
const FRAMES = 100;

/** What the flow of parts needs of the rest of the cycle. */
export interface FlowNeed {
  machine: Machine;
  agenda: Agenda;
  log: EventLog;
  /** Length of a step, and longest run, s. */
  step: number;
  horizon: number;
  /** Factor on all coefficients of friction. */
  friction: number | undefined;
  /** Seeded numbers by source. */
  scatters: ReadonlyMap<string, Scatter>;
  /** Time of the cycle, and the end of the step that the world has come to, s. */
  now(): number;
  stepEnd(): number;
  poses(): StepPoses;
  /** Axes that move bodies of the mechanism, grippers among them. */
  driven(): readonly string[];
  /** Belt or axis that each cue sets going. */
  moverOf: ReadonlyMap<string, string>;
  done(cue: Cue, time: number, event: number): void;
  changed(time: number): void;
  partGone(sink: string, time: number, event: number): void;
}

/** Loose parts from their sources to their sinks: released, carried, gripped, lost, taken away. */
export class PartsFlow {
  /** The world in which they move; null where none can come. */
  readonly world: PartsWorld | null;
  private readonly recorder: PartsRecorder;
  private readonly fates = new Map<number, PartFate>();
  /** What last happened to each part, as its event. */
  private readonly events = new Map<number, number>();
  private readonly takers = new Map<string, Cue[]>();

  constructor(private readonly need: FlowNeed) {
    const { machine, step, friction } = need;
    const { loose } = machine;
    const parts = loose.sources.length > 0 || loose.platforms.length > 0;
    const poses = need.poses().now;
    const make = () => (loose.space ? new SpaceParts(machine, step, poses, friction) : new FlatParts(machine, step, poses, friction)); // prettier-ignore
    this.world = parts ? make() : null;
    this.recorder = new PartsRecorder(this.world);
  }

  /** Plans what sources release by themselves. */
  begin(): void {
    for (const source of this.need.machine.loose.sources) this.plan(source);
    this.record();
  }

  private plan(source: PartSource): void {
    const { release } = source;
    if (release.how === 'times') for (const at of release.times) this.releaseAt(source, at, null);
    if (release.how === 'interval' || release.how === 'flow') {
      const scatter = this.need.scatters.get(source.id)!;
      const gap = release.how === 'interval' ? release.interval : 60 / release.perMinute;
      // Random arrivals: what lies between two of them is spread exponentially.
      const random = release.how === 'flow' && release.arrive === 'randomly';
      const next = (n: number, came: number) => {
        if (release.count !== null && n >= release.count) return;
        const at = random ? came - (n > 0 ? gap * Math.log(1 - scatter.uniform()) : 0) : release.first + n * gap;
        if (at > this.need.horizon) return;
        this.releaseAt(source, at, null, () => next(n + 1, at));
      };
      next(0, release.first);
    }
  }

  private releaseAt(source: PartSource, at: number, cause: number | null, then?: () => void): void {
    const scatter = this.need.scatters.get(source.id)!;
    const drawn = source.scatter.time > 0 ? scatter.normal(source.scatter.time) : 0;
    this.need.agenda.add(Math.max(this.need.now(), at + drawn), (time) => {
      this.release(source, time, cause);
      then?.();
    });
  }

  /** Releases a part of a source, as soon as its place is free. */
  release(source: PartSource, time: number, cause: number | null, cue?: Cue, heldBack = false): void {
    const { world } = this;
    const { log, agenda, step } = this.need;
    if (!world) return;
    const places = world.places(source, this.need.poses().now, this.need.scatters.get(source.id)!);
    if (places.some((place) => place.blocked())) {
      if (!heldBack) {
        log.add(time, 'held-back', source.id, [cause ?? 0]);
        log.find({ code: 'held-back', severity: 'warning', time, subjects: [source.id] });
      }
      agenda.add(time + 5 * step, (later) => this.release(source, later, cause, cue, true));
      return;
    }
    let event = 0;
    for (const place of places) {
      const part = place.release(Math.max(0, this.need.stepEnd() - time));
      event = log.add(time, 'released', source.id, [cause ?? 0], { part: part.number });
      this.events.set(part.number, event);
      this.fates.set(part.number, {
        number: part.number,
        kind: part.kind,
        source: source.id,
        born: time,
        gone: null,
        sink: null,
      });
    }
    if (cue) this.need.done(cue, time, event);
  }

  /** What happened to parts in a step that the world has gone: lost, taken, carried into sinks, fallen out. */
  follow(from: number, to: number): void {
    const { grips } = this.world!;
    for (const { gripper, part, presses } of grips.slips) this.slips(gripper, part, presses, to);
    for (const { gripper, part, force } of grips.lost) this.lost(gripper, part, force, to);
    this.takeWaiting(to);
    this.takeAway(from, to);
  }

  /** Keeps a frame of all parts, every few steps. */
  recordSome(stepsDone: number): void {
    if (stepsDone % Math.max(1, Math.round(1 / (FRAMES * this.need.step))) === 0) this.record();
  }

  private record(): void {
    if (!this.world) return;
    this.recorder.take(this.need.stepEnd(), this.world.parts, this.world.shifts());
  }

  private takeAway(from: number, to: number): void {
    const world = this.world!;
    const { parts } = world;
    for (let i = 0; i < parts.length; i++) {
      const part = parts[i]!;
      // What rests gets nowhere; the one that left makes room for the next.
      if (!world.rests(part) && this.leaves(part, from, to)) i--;
    }
  }

  /** Takes a part away that came into a sink, or fell out of the machine. */
  private leaves(part: AnyPart, from: number, to: number): boolean {
    const { agenda, log } = this.need;
    const world = this.world!;
    const sink = part.heldBy === null ? world.sinkOf(part, 1) : null;
    if (sink !== null) {
      let low = 0;
      let high = 1;
      for (let i = 0; i < 24; i++) {
        const middle = (low + high) / 2;
        if (world.sinkOf(part, middle) === sink) high = middle;
        else low = middle;
      }
      const at = from + high * (to - from);
      world.remove(part);
      Object.assign(this.fates.get(part.number)!, { gone: at, sink });
      agenda.add(at, (time) => this.gone(sink, part, time));
      return true;
    }
    if (!world.isOut(part)) return false;
    world.remove(part);
    this.fates.get(part.number)!.gone = to;
    log.add(to, 'left', part.source, [this.events.get(part.number)], { part: part.number });
    log.find({ code: 'left', severity: 'warning', time: to, subjects: [part.source], value: part.number });
    return true;
  }

  private gone(sink: string, part: AnyPart, time: number): void {
    const { machine, log } = this.need;
    const counts = machine.loose.sinks.find(({ id }) => id === sink)!.counts;
    const event = log.add(time, 'gone', sink, [this.events.get(part.number)], { part: part.number });
    if (counts === 'missed')
      log.find({ code: 'missed', severity: 'warning', time, subjects: [sink], value: part.number });
    this.need.partGone(sink, time, event);
  }

  private lost(gripper: string, part: number, force: number, time: number): void {
    const { log } = this.need;
    // What slipped out of fingers was told when it began to.
    const event = log.add(time, 'lost', gripper, [this.events.get(part)], { part, ...(force > 0 && { value: force }) });
    this.events.set(part, event);
    if (force > 0) log.find({ code: 'lost', severity: 'warning', time, subjects: [gripper], value: force });
    this.need.changed(time);
  }

  private slips(gripper: string, part: number, presses: number, time: number): void {
    const { log } = this.need;
    log.add(time, 'slips', gripper, [this.events.get(part)], { part, value: presses });
    log.find({ code: 'slips', severity: 'warning', time, subjects: [gripper], value: presses });
  }

  /** Closes a gripper for a cue, which is done when it holds a part. */
  take(gripper: string, cue: Cue, time: number): void {
    this.takers.set(gripper, [...(this.takers.get(gripper) ?? []), cue]);
    this.world?.grips.close(gripper);
    this.takeWaiting(time);
  }

  /** Gives up taking. */
  abandonTaking(gripper: string): void {
    this.takers.delete(gripper);
    this.world?.grips.open(gripper);
  }

  /** Opens a gripper. */
  letGo(gripper: string, time: number, cause: number): void {
    const part = this.world?.grips.open(gripper);
    const event = this.need.log.add(time, 'let-go', gripper, [cause], part ? { part: part.number } : {});
    if (part) this.events.set(part.number, event);
  }

  /** Grippers that are closed and wait for a part may have found one. */
  private takeWaiting(time: number): void {
    const { log } = this.need;
    for (const [gripper, cues] of [...this.takers]) {
      const part = this.world?.grips.holding(gripper);
      if (!part) continue;
      this.takers.delete(gripper);
      const event = log.add(
        time,
        'took',
        gripper,
        [this.events.get(part.number), ...cues.map(({ id }) => log.last('acts', id))],
        { part: part.number },
      );
      this.events.set(part.number, event);
      for (const cue of cues) this.need.done(cue, Math.max(time, this.need.now()), event);
    }
  }

  /** Cues that wait for grippers to find something. */
  get taking(): { gripper: string; cue: string }[] {
    return [...this.takers].flatMap(([gripper, cues]) => cues.map(({ id }) => ({ gripper, cue: id })));
  }

  /**
   * What brought a part to where a sensor sees it: its release or grip, or, where it came later, the cue that set
   * the belt below it or the axis that carries it going.
   */
  bringers(number: number | null): number | null {
    if (number === null) return null;
    const { machine, log, moverOf } = this.need;
    const own = this.events.get(number) ?? null;
    const part = this.world?.parts.find((p) => p.number === number);
    if (!part) return own;
    const { belts, grippers } = machine.loose;
    const movers = new Set<string>();
    const under = this.world!.beltsUnder(part);
    for (const belt of belts) {
      if (!under.includes(belt.id)) continue;
      movers.add(belt.drive.by === 'axis' ? `axis ${belt.drive.axis}` : `belt ${belt.id}`);
    }
    if (grippers.some(({ id }) => id === part.heldBy))
      for (const axis of this.need.driven()) movers.add(`axis ${axis}`);
    const latest = log.events.findLast(
      (event) => event.kind === 'acts' && movers.has(moverOf.get(event.subject) ?? ''),
    );
    return latest && own !== null && latest.time > log.events[own]!.time ? latest.index : own;
  }

  /** Keeps the last frame and frees the world. */
  finish(): { parts: PartsRecord; fates: PartFate[] } {
    if (this.world) {
      this.record();
      this.world.free();
    }
    return { parts: this.recorder.finish(), fates: [...this.fates.values()] };
  }
}
