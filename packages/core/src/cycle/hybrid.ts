import { LooseWorld, type LoosePart } from '../contact';
import { placed, shapeDistance, type Place2 } from '../geometry';
import type { Cue, CueAction, Machine, PartSource } from '../machine';
import type { FoundMotions } from '../motion';
import { Scatter } from '../numeric';
import { Signals } from '../sequence';
import { Agenda, type Due } from './agenda';
import { AxisBank, movedByCues } from './axes';
import { Director } from './director';
import type { CycleEnd, CycleEvent, CycleFinding, CueMove } from './events';
import { EventLog } from './log';
import { ClearanceWatch, type ClearanceCurve } from './monitors';
import { planCylinder, planMove, planSpeed } from './moves';
import { MechanismPoses } from './poses';
import { PartsRecorder, type PartFate, type PartsRecord } from './record';
import { between, type StepPoses } from './sensing';
import { SensorBank } from './sensors';
import { explainWaiting, type WaitingReport } from './waiting';

/** Settings of a run that are not in the document: what scatters between runs. */
export interface CycleOptions {
  seed?: number;
  /** Factor on all coefficients of friction. */
  friction?: number;
  /** Largest extra delay of each change of a sensor, s, evenly spread. */
  sensorDelay?: number;
  /** Step of the contact computation in s, instead of the document's. */
  step?: number;
  progress?: ((share: number) => void) | undefined;
}

/** What a simulated cycle came to. Times in s. */
export interface CycleRecord {
  duration: number;
  end: CycleEnd;
  events: CycleEvent[];
  findings: CycleFinding[];
  moves: CueMove[];
  /** Starts of the cycles; the last may be the end of the run. */
  cycles: number[];
  /** Signals of sensors: times of changes, the first is the start; on at even or odd places as `first` says. */
  signals: { sensor: string; first: boolean; times: number[] }[];
  parts: PartsRecord;
  fates: PartFate[];
  /** Speeds of belts: pairs of time and speed, straight between. */
  belts: { belt: string; times: number[]; speeds: number[] }[];
  clearances: ClearanceCurve[];
  /** Forces of parts on axes, N or N·m along their positive direction, over rising times. */
  pushes: { axis: string; times: Float64Array; effort: Float64Array }[];
  waiting: WaitingReport | null;
  seed: number;
  steps: number;
}

/** Frames of loose parts kept a second. */
const FRAMES = 100;
/** Machine time without any event after which a run that moves nothing counts as waiting for ever, s. */
const PATIENCE = 3;
/** Things that may happen at one instant before it counts as endless. */
const MOST_AT_ONCE = 5000;
/** Events and parts that a run may come to: more is no machine, and would fill the memory. */
const MOST_EVENTS = 400_000;
const MOST_PARTS = 3000;

interface Belt {
  times: number[];
  speeds: number[];
}

/**
 * One simulated machine cycle: motions, mechanism, loose parts, sensors and cues together. Motions of axes are exact
 * functions of time; parts go in steps of fixed length; what changes inside a step is found there and happens at its
 * own time, while the parts feel it from the next step on. The same document and seed give the same run to the bit.
 */
export class HybridRun {
  private time = 0;
  private stepEnd = 0;
  private stepsDone = 0;
  private readonly log = new EventLog();
  private readonly agenda = new Agenda();
  private readonly axes: AxisBank;
  private readonly mechanism: MechanismPoses;
  private readonly director: Director;
  private readonly signals: Signals;
  private readonly sensors: SensorBank;
  private readonly world: LooseWorld | null;
  private readonly horizon: number;
  private readonly step: number;
  private readonly stepped: boolean;
  private readonly recorder = new PartsRecorder();
  private readonly fates = new Map<number, PartFate>();
  private readonly partEvents = new Map<number, number>();
  private readonly belts = new Map<string, Belt>();
  private readonly watches: ClearanceWatch[];
  /** Belt or axis that each cue sets going. */
  private readonly moverOf: ReadonlyMap<string, string>;
  private readonly scatters: Map<string, Scatter>;
  private readonly moves: CueMove[] = [];
  /** The cue that moves an axis now, its end on the agenda, and cues that wait for the axis. */
  private readonly owners = new Map<string, { cue: Cue; due: Due | undefined; move: CueMove }>();
  private readonly queues = new Map<string, { cue: Cue; event: number }[]>();
  private readonly takers = new Map<string, Cue[]>();
  private readonly pushes = new Map<string, { times: number[]; effort: number[] }>();
  private readonly signalTimes = new Map<string, { first: boolean; times: number[] }>();
  private poses: StepPoses;
  private ended: { time: number; end: CycleEnd } | null = null;
  private lastEvent = 0;
  private evolveDue: Due | undefined;
  private restless = 0;

  constructor(
    private readonly machine: Machine,
    private readonly options: CycleOptions = {},
  ) {
    const { sequence, loose } = machine;
    this.floor = this.lowest() - 1;
    this.horizon = sequence.cycle.most;
    this.step = options.step ?? loose.step;
    const seed = options.seed ?? sequence.seed;
    this.moverOf = new Map(
      sequence.cues.map(({ id, action }) => [
        id,
        action.do === 'belt' ? `belt ${action.belt}` : 'axis' in action ? `axis ${action.axis}` : '',
      ]),
    );
    const streams = ['sensors', ...loose.sources.map(({ id }) => id)];
    this.scatters = new Map(streams.map((key, i) => [key, new Scatter((seed * 977 + i * 7919) >>> 0)]));
    this.log.add(0, 'begin', '', []);
    this.axes = new AxisBank(machine, this.horizon, (axis, time) => this.sensors.axisChanged(axis, time));
    this.mechanism = new MechanismPoses(machine, (axis, time) => this.axes.at(axis, time), this.horizon);
    const reached = this.mechanism.moveTo(0);
    this.poses = { before: new Map(this.mechanism.poses), now: new Map(this.mechanism.poses) };
    const parts = loose.sources.length > 0 || loose.platforms.length > 0;
    this.world = parts ? new LooseWorld(loose, machine.mechanism, this.step, this.poses.now, options.friction) : null;
    this.watches = sequence.monitors.map((monitor) => new ClearanceWatch(monitor, machine));
    const delay = options.sensorDelay ?? 0;
    const drawn = this.scatters.get('sensors')!;
    this.signals = new Signals(sequence.sensors, delay > 0 ? () => drawn.uniform() * delay : undefined);
    this.sensors = new SensorBank(machine, this.axes, this.mechanism, this.signals, this.agenda, this.horizon);
    this.director = new Director(
      machine,
      {
        log: this.log,
        agenda: this.agenda,
        act: (cue, time, event) => this.act(cue, time, event),
        abandon: (cue, time) => this.abandon(cue, time),
        stop: (time, cause) => this.stopSoon(time, cause),
        emergency: (time, causes) => this.emergency(time, causes),
        position: (axis, time) => this.axes.at(axis, time).position,
        rests: (axis, time) => !this.axes.of(axis).movesAt(time) && !this.owners.has(axis),
        holds: (gripper) => (this.world?.holding(gripper) ?? null) !== null,
        again: (time) => this.evolveAt(time),
      },
      0,
    );
    this.sensors.moverEvent = (axis) => this.log.last('acts', this.director.movers.get(axis) ?? '');
    this.sensors.lookAgain = (time) => this.evolveAt(time);
    this.director.onEnd = (cue, time, event) => this.sensors.cueEnded(cue, time, event);
    this.stepped = this.world !== null || this.watches.length > 0 || this.sensors.needSteps;
    for (const belt of loose.belts) {
      const speed = belt.drive.by === 'speed' && belt.drive.running ? belt.drive.speed : 0;
      this.belts.set(belt.id, { times: [0], speeds: [speed] });
    }
    if (!reached) this.stuck(0);
  }

  /** Runs to the end. */
  run(): { record: CycleRecord; found: FoundMotions } {
    this.begin();
    let told = 0;
    let at = -1;
    let count = 0;
    while (!this.finished()) {
      if (this.log.events.length > MOST_EVENTS || (this.world?.parts.length ?? 0) > MOST_PARTS) {
        this.tooMuch();
        break;
      }
      const next = Math.min(this.agenda.next, this.signals.next());
      const limit = this.ended?.time ?? this.horizon;
      if (this.stepped && next > this.stepEnd && this.stepEnd < limit) {
        this.advance();
        if (this.stepsDone - told >= 200) {
          told = this.stepsDone;
          this.options.progress?.(this.time / this.horizon);
        }
        if (this.waitsForEver()) break;
        continue;
      }
      if (next > limit) {
        this.time = limit;
        if (!this.ended) this.ended = { time: this.time, end: this.nothingLeft(next) };
        break;
      }
      this.time = Math.max(this.time, next);
      count = this.time === at ? count + 1 : 0;
      at = this.time;
      if (count > MOST_AT_ONCE) {
        this.endless();
        break;
      }
      const signal = this.signals.next() <= this.agenda.next;
      if (signal) this.signalChanges();
      else this.agenda.pop()!.run(this.time);
      this.lastEvent = this.time;
    }
    return this.finish();
  }

  private finished(): boolean {
    return (
      this.ended !== null && this.time >= this.ended.time && Math.min(this.agenda.next, this.signals.next()) > this.time
    );
  }

  private begin(): void {
    const { sequence, loose } = this.machine;
    this.sensors.begin(this.poses, this.world?.parts ?? []);
    for (const { id } of sequence.sensors) {
      const first = this.signals.value(id);
      this.director.preset(id, first);
      this.signalTimes.set(id, { first, times: [0] });
    }
    for (const source of loose.sources) this.plan(source);
    this.record();
    this.evolveAt(0);
  }

  // --- parts ---

  private plan(source: PartSource): void {
    const { release } = source;
    if (release.how === 'times') for (const at of release.times) this.releaseAt(source, at, null);
    if (release.how === 'interval') {
      const next = (n: number) => {
        if (release.count !== null && n >= release.count) return;
        const at = release.first + n * release.interval;
        if (at > this.horizon) return;
        this.releaseAt(source, at, null, () => next(n + 1));
      };
      next(0);
    }
  }

  private releaseAt(source: PartSource, at: number, cause: number | null, then?: () => void): void {
    const scatter = this.scatters.get(source.id)!;
    const drawn = source.scatter.time > 0 ? scatter.normal(source.scatter.time) : 0;
    this.agenda.add(Math.max(this.time, at + drawn), (time) => {
      this.release(source, time, cause);
      then?.();
    });
  }

  private release(source: PartSource, time: number, cause: number | null, cue?: Cue, heldBack = false): void {
    const { world } = this;
    if (!world) return;
    const carrier =
      source.body === 'ground'
        ? { x: 0, y: 0, angle: 0 }
        : (this.poses.now.get(source.body) ?? { x: 0, y: 0, angle: 0 });
    const scatter = this.scatters.get(source.id)!;
    const beside = source.scatter.place;
    const dx = source.at[0] + (beside > 0 ? scatter.within(beside) : 0);
    const dy = source.at[1] + (beside > 0 ? scatter.within(beside) : 0);
    const turn = source.angle + (source.scatter.angle > 0 ? scatter.within(source.scatter.angle) : 0);
    const [c, s] = [Math.cos(carrier.angle), Math.sin(carrier.angle)];
    const pose: Place2 = {
      x: carrier.x + c * dx - s * dy,
      y: carrier.y + s * dx + c * dy,
      angle: carrier.angle + turn,
    };
    if (world.blocked(source.kind, pose)) {
      if (!heldBack) {
        this.log.add(time, 'held-back', source.id, [cause ?? 0]);
        this.log.find({ code: 'held-back', severity: 'warning', time, subjects: [source.id] });
      }
      this.agenda.add(time + 5 * this.step, (later) => this.release(source, later, cause, cue, true));
      return;
    }
    const [vx, vy] = source.velocity;
    const part = world.release(
      source.id,
      source.kind,
      pose,
      [c * vx - s * vy, s * vx + c * vy],
      Math.max(0, this.stepEnd - time),
    );
    const event = this.log.add(time, 'released', source.id, [cause ?? 0], { part: part.number });
    this.partEvents.set(part.number, event);
    this.fates.set(part.number, {
      number: part.number,
      kind: part.kind,
      source: source.id,
      born: time,
      gone: null,
      sink: null,
    });
    if (cue) this.actionDone(cue, time, event);
  }

  /** Moves parts and mechanism on by one step, and finds what changed inside it. */
  private advance(): void {
    const from = this.stepEnd;
    const to = (this.stepsDone + 1) * this.step;
    this.stepsDone++;
    this.stepEnd = to;
    const before = this.poses.now;
    if (!this.mechanism.moveTo(to)) {
      this.stuck(to);
      return;
    }
    this.poses = { before, now: this.mechanism.poses.size > 0 ? new Map(this.mechanism.poses) : before };
    const { world } = this;
    if (world) {
      const middle = from + this.step / 2;
      world.advance(this.poses.now, (belt) => this.beltSpeed(belt, middle));
      for (const { gripper, part, force } of world.lost) this.lost(gripper, part, force, to);
      this.takeWaiting(to);
      this.takeAway(from, to);
      this.feelPushes(from, to);
      if (this.stepsDone % Math.max(1, Math.round(1 / (FRAMES * this.step))) === 0) this.record();
    }
    this.sensors.look(
      this.poses,
      world?.parts ?? [],
      from,
      to,
      (part) => this.bringers(part),
      (axis) => this.forceExtra(axis),
    );
    for (const watch of this.watches) {
      const at = watch.look(this.poses, from, to);
      if (at !== null) this.agenda.add(at, (time) => this.tooClose(watch, time));
    }
  }

  /** Force of parts and switched loads on an axis along its positive direction, N or N·m. */
  private forceExtra(axis: string): number {
    const pushed = this.pushes.get(axis);
    const last = pushed && pushed.times.at(-1)! >= this.stepEnd - 2 * this.step ? pushed.effort.at(-1)! : 0;
    return last + this.axes.loadAt(axis, this.stepEnd);
  }

  /**
   * What brought a part to where a sensor sees it: its release or grip, or, where it came later, the cue that set
   * the belt below it or the axis that carries it going.
   */
  private bringers(number: number | null): number | null {
    if (number === null) return null;
    const own = this.partEvents.get(number) ?? null;
    const part = this.world?.parts.find((p) => p.number === number);
    if (!part) return own;
    const { belts, grippers } = this.machine.loose;
    const movers = new Set<string>();
    for (const belt of belts) {
      const line = { corners: [belt.from, belt.to], radius: belt.thickness };
      if (!part.pieces.some((piece) => shapeDistance(placed(piece, part.now), line) < 0.01)) continue;
      movers.add(belt.drive.by === 'axis' ? `axis ${belt.drive.axis}` : `belt ${belt.id}`);
    }
    if (grippers.some(({ id }) => id === part.heldBy))
      for (const axis of this.mechanism.driven) movers.add(`axis ${axis}`);
    const latest = this.log.events.findLast(
      (event) => event.kind === 'acts' && movers.has(this.moverOf.get(event.subject) ?? ''),
    );
    return latest && own !== null && latest.time > this.log.events[own]!.time ? latest.index : own;
  }

  private record(): void {
    if (!this.world) return;
    const platforms = this.machine.loose.platforms.map(({ id }) => this.world!.platformShift(id));
    this.recorder.take(this.stepEnd, this.world.parts, platforms);
  }

  private takeAway(from: number, to: number): void {
    const { world, machine } = this;
    for (const part of [...world!.parts]) {
      const centre = (pose: Place2) => {
        const [cx, cy] = part.mass.centre;
        return [
          pose.x + Math.cos(pose.angle) * cx - Math.sin(pose.angle) * cy,
          pose.y + Math.sin(pose.angle) * cx + Math.cos(pose.angle) * cy,
        ] as const;
      };
      const [x, y] = centre(part.now);
      const sink = part.heldBy === null ? machine.loose.sinks.find((s) => within(s, x, y)) : undefined;
      if (sink) {
        let low = 0;
        let high = 1;
        for (let i = 0; i < 24; i++) {
          const middle = (low + high) / 2;
          const [mx, my] = centre(between(part.before, part.now, middle));
          if (within(sink, mx, my)) high = middle;
          else low = middle;
        }
        const at = from + high * (to - from);
        world!.remove(part);
        Object.assign(this.fates.get(part.number)!, { gone: at, sink: sink.id });
        this.agenda.add(at, (time) => this.gone(sink.id, part, time));
      } else if (y < this.floor || Math.abs(x) > 100) {
        world!.remove(part);
        this.fates.get(part.number)!.gone = to;
        this.log.add(to, 'left', part.source, [this.partEvents.get(part.number)], { part: part.number });
        this.log.find({ code: 'left', severity: 'warning', time: to, subjects: [part.source], value: part.number });
      }
    }
  }

  /** Height below which a part has fallen out of the machine, m. */
  private readonly floor: number;

  private lowest(): number {
    const { loose, mechanism } = this.machine;
    const ys = [
      ...loose.sources.map(({ at }) => at[1]),
      ...loose.surfaces.flatMap(({ line }) => line.map(([, y]) => y)),
      ...loose.belts.flatMap(({ from, to }) => [from[1], to[1]]),
      ...loose.platforms.flatMap(({ from, to }) => [from[1], to[1]]),
      ...loose.sinks.flatMap(({ from, to }) => [from[1], to[1]]),
      ...mechanism.ground.map(({ at }) => at[1]),
    ];
    return Math.min(0, ...ys);
  }

  private gone(sink: string, part: LoosePart, time: number): void {
    const counts = this.machine.loose.sinks.find(({ id }) => id === sink)!.counts;
    const event = this.log.add(time, 'gone', sink, [this.partEvents.get(part.number)], { part: part.number });
    if (counts === 'missed')
      this.log.find({ code: 'missed', severity: 'warning', time, subjects: [sink], value: part.number });
    this.sensors.partGone(sink, time, event);
  }

  private feelPushes(from: number, to: number): void {
    const bodies = this.world!.pushable;
    if (bodies.length > 0)
      for (const [axis, effort] of this.mechanism.alongAxes(bodies, (body) => this.world!.pushOn(body)))
        this.push(axis, effort, from, to);
    for (const belt of this.machine.loose.belts) {
      const { drive } = belt;
      if (drive.by !== 'axis') continue;
      const effort = this.world!.pushOnBelt(belt.id) * drive.radius;
      if (effort !== 0) this.push(drive.axis, effort, from, to);
    }
  }

  /** Keeps the mean push of a step at its middle; it fades over a step where nothing pushed before or pushes after. */
  private push(axis: string, effort: number, from: number, to: number): void {
    let list = this.pushes.get(axis);
    if (!list) this.pushes.set(axis, (list = { times: [0], effort: [0] }));
    const middle = (from + to) / 2;
    const last = list.times.at(-1)!;
    if (middle - last > 1.5 * this.step) {
      if (list.effort.at(-1) !== 0) {
        list.times.push(last + this.step);
        list.effort.push(0);
      }
      if (middle - this.step > list.times.at(-1)!) {
        list.times.push(middle - this.step);
        list.effort.push(0);
      }
    }
    if (middle > list.times.at(-1)!) {
      list.times.push(middle);
      list.effort.push(effort);
    } else list.effort[list.effort.length - 1] = effort;
  }

  private lost(gripper: string, part: number, force: number, time: number): void {
    const event = this.log.add(time, 'lost', gripper, [this.partEvents.get(part)], { part, value: force });
    this.partEvents.set(part, event);
    this.log.find({ code: 'lost', severity: 'warning', time, subjects: [gripper], value: force });
    this.evolveAt(time);
  }

  /** Speed of a belt at a time, m/s. */
  private beltSpeed(id: string, time: number): number {
    const belt = this.machine.loose.belts.find((b) => b.id === id)!;
    if (belt.drive.by === 'axis') return this.axes.at(belt.drive.axis, time).velocity * belt.drive.radius;
    const { times, speeds } = this.belts.get(id)!;
    let i = times.length - 1;
    while (i > 0 && times[i]! > time) i--;
    const next = times[i + 1];
    if (next === undefined) return speeds[i]!;
    return speeds[i]! + ((speeds[i + 1]! - speeds[i]!) * (time - times[i]!)) / (next - times[i]!);
  }

  private leadBelt(id: string, speed: number, ramp: number, time: number): void {
    const belt = this.belts.get(id)!;
    const now = this.beltSpeed(id, time);
    while (belt.times.length > 1 && belt.times.at(-1)! > time) {
      belt.times.pop();
      belt.speeds.pop();
    }
    if (belt.times.at(-1)! < time) {
      belt.times.push(time);
      belt.speeds.push(now);
    }
    belt.times.push(time + Math.max(ramp, 1e-9));
    belt.speeds.push(speed);
  }

  // --- signals and cues ---

  private signalChanges(): void {
    for (const { sensor, on, time, cause } of this.signals.advance(this.time)) {
      const event = this.log.add(time, 'sensor', sensor, [cause ?? 0], { on });
      this.signalTimes.get(sensor)!.times.push(time);
      this.sensors.signalChanged(sensor, on, time, event);
      const { inputDelay } = this.machine.sequence.controller;
      if (inputDelay > 0)
        this.agenda.add(time + inputDelay, (at) => {
          this.seen(sensor, on, at);
        });
      else this.seen(sensor, on, time);
    }
  }

  /** Signals changed since the last scan, how often. */
  private readonly sinceScan = new Map<string, number>();

  private seen(sensor: string, on: boolean, time: number): void {
    if (this.machine.sequence.controller.scan === null) this.director.seen(sensor, on);
    else {
      const count = (this.sinceScan.get(sensor) ?? 0) + 1;
      this.sinceScan.set(sensor, count);
      this.waitingImage.set(sensor, on);
    }
    this.evolveAt(time);
  }

  private readonly waitingImage = new Map<string, boolean>();

  /** Lets the cues evolve: at once, or at the next scan of the controller. */
  private evolveAt(time: number): void {
    const { scan } = this.machine.sequence.controller;
    const at = scan === null ? time : Math.ceil(time / scan - 1e-9) * scan;
    if (this.evolveDue && this.evolveDue.time <= at) return;
    this.agenda.cancel(this.evolveDue);
    this.evolveDue = this.agenda.add(at, (now) => {
      this.evolveDue = undefined;
      for (const [sensor, on] of this.waitingImage) {
        if ((this.sinceScan.get(sensor) ?? 0) % 2 === 0) {
          this.log.add(now, 'pulse', sensor, [this.log.last('sensor', sensor)]);
          this.log.find({ code: 'pulse', severity: 'warning', time: now, subjects: [sensor] });
        }
        this.director.seen(sensor, on);
      }
      this.waitingImage.clear();
      this.sinceScan.clear();
      this.director.evolve(now);
      // Times in conditions must be looked at when they come.
      this.planTimes(now);
    });
  }

  private readonly timesPlanned = new Set<number>();

  private planTimes(now: number): void {
    const start = this.director.cycleStarts.at(-1)?.time ?? 0;
    for (const at of this.sensors.timesInConditions) {
      const due = start + at;
      if (due <= now || this.timesPlanned.has(due)) continue;
      this.timesPlanned.add(due);
      this.agenda.add(due, (time) => this.evolveAt(time));
    }
  }

  private actionDone(cue: Cue, time: number, event?: number): void {
    if (event !== undefined) this.director.endCause.set(cue.id, event);
    this.director.done(cue.id);
    this.evolveAt(time);
  }

  private act(cue: Cue, time: number, event: number): void {
    const { action } = cue;
    const at = () => this.actionDone(cue, time);
    switch (action.do) {
      case 'move':
      case 'speed':
      case 'cylinder':
      case 'engage':
      case 'leave':
        this.moveAxis(cue, action, time, event);
        return;
      case 'belt':
        this.leadBelt(action.belt, action.speed, action.ramp, time);
        if (action.ramp > 0) this.agenda.add(time + action.ramp, (end) => this.actionDone(cue, end));
        else at();
        return;
      case 'load':
        this.axes.load(action.axis, time, action.force);
        at();
        return;
      case 'release':
        this.release(
          this.machine.loose.sources.find(({ id }) => id === action.source)!,
          time,
          event,
          cue,
        );
        return;
      case 'take': {
        this.takers.set(action.gripper, [...(this.takers.get(action.gripper) ?? []), cue]);
        this.world?.close(action.gripper);
        this.takeWaiting(time);
        return;
      }
      case 'letGo': {
        const part = this.world?.open(action.gripper);
        const let_ = this.log.add(time, 'let-go', action.gripper, [event], part ? { part: part.number } : {});
        if (part) this.partEvents.set(part.number, let_);
        at();
        return;
      }
      case 'flag':
        this.director.setFlag(action.flag, action.set, event);
        at();
        return;
      case 'reset':
        this.sensors.reset(action.sensor, time, event);
        at();
        return;
      case 'wait':
        this.agenda.add(time + action.time, (end) => this.actionDone(cue, end));
        return;
      case 'alarm':
        this.log.add(time, 'alarm', cue.id, [event], { text: action.text });
        this.log.find({ code: 'alarm', severity: 'warning', time, subjects: [cue.id], text: action.text });
        at();
        return;
      case 'stop':
        this.director.halt();
        this.stopSoon(time, event);
        return;
    }
  }

  /** Grippers that are closed and wait for a part may have found one. */
  private takeWaiting(time: number): void {
    for (const [gripper, cues] of [...this.takers]) {
      const part = this.world?.holding(gripper);
      if (!part) continue;
      this.takers.delete(gripper);
      const event = this.log.add(
        time,
        'took',
        gripper,
        [this.partEvents.get(part.number), ...cues.map(({ id }) => this.log.last('acts', id))],
        { part: part.number },
      );
      this.partEvents.set(part.number, event);
      for (const cue of cues) this.actionDone(cue, Math.max(time, this.time), event);
    }
  }

  // --- axes ---

  private moveAxis(cue: Cue, action: Extract<CueAction, { axis: string }>, time: number, event: number): void {
    const { axis } = action;
    const owner = this.owners.get(axis);
    if (owner && owner.cue.id !== cue.id) {
      const over = cue.priority > owner.cue.priority;
      this.log.add(time, over ? 'taken-over' : 'fight', cue.id, [event], { other: owner.cue.id });
      this.log.find({
        code: over ? 'taken-over' : 'fight',
        severity: over ? 'info' : 'warning',
        time,
        subjects: [cue.id, owner.cue.id, axis],
      });
      if (!over) {
        this.queues.set(axis, [...(this.queues.get(axis) ?? []), { cue, event }]);
        return;
      }
      this.agenda.cancel(owner.due);
      owner.move.to = time;
      this.owners.delete(axis);
      this.actionDone(owner.cue, time, event);
    }
    const end = this.lead(action, time, cue);
    const move: CueMove = { cue: cue.id, axis, from: time, to: end, started: event, ended: -1 };
    this.moves.push(move);
    this.director.movers.set(axis, cue.id);
    if (end <= time) {
      this.moved(cue, move, time);
      return;
    }
    const due = this.agenda.add(end, (at) => {
      this.owners.delete(axis);
      this.moved(cue, move, at);
      this.nextInQueue(axis, at);
    });
    this.owners.set(axis, { cue, due, move });
  }

  private nextInQueue(axis: string, time: number): void {
    const queue = this.queues.get(axis);
    const next = queue?.shift();
    if (next && !this.director.isHalted)
      this.moveAxis(
        next.cue,
        next.cue.action as Extract<CueAction, { axis: string }>,
        time,
        this.log.add(time, 'acts', next.cue.id, [
          next.event,
          this.log.last('ended', this.director.movers.get(axis) ?? ''),
        ]),
      );
  }

  private moved(cue: Cue, move: CueMove, time: number): void {
    move.to = time;
    this.actionDone(cue, time);
  }

  /** Gives an axis its stretches for an action. Returns the time at which the action is done. */
  private lead(action: Extract<CueAction, { axis: string }>, time: number, cue: Cue): number {
    const axis = this.machine.axes.find(({ id }) => id === action.axis)!;
    const now = this.axes.at(axis.id, time);
    switch (action.do) {
      case 'move': {
        const { stretches, problem } = planMove(action, axis, now, time);
        if (problem)
          this.log.find({
            code: problem.code,
            severity: 'error',
            time,
            subjects: [cue.id, axis.id],
            ...(problem.shortest === null ? {} : { value: problem.shortest }),
          });
        this.axes.lead(axis.id, time, stretches);
        return stretches.at(-1)?.to ?? time;
      }
      case 'speed': {
        this.axes.lead(axis.id, time, planSpeed(action.speed, action.ramp, now, time, this.horizon));
        return time + (action.speed === now.velocity ? 0 : action.ramp);
      }
      case 'cylinder': {
        const stretches = planCylinder(axis.cylinder!, axis.travel!, action.to, now, time);
        this.axes.lead(axis.id, time, stretches);
        return stretches.at(-1)?.to ?? time;
      }
      case 'engage':
        this.axes.engage(axis.id, action.to, action.ratio, action.over, time);
        return time + action.over;
      case 'leave':
        this.axes.brake(axis.id, time, action.over);
        return time + (now.velocity === 0 ? 0 : action.over);
      default:
        return time;
    }
  }

  private abandon(cue: Cue, time: number): void {
    const { action } = cue;
    if (action.do === 'take') {
      this.takers.delete(action.gripper);
      this.world?.open(action.gripper);
    }
    if (!('axis' in action)) return;
    const owner = this.owners.get(action.axis);
    if (owner?.cue.id === cue.id) {
      this.agenda.cancel(owner.due);
      owner.move.to = time;
      this.owners.delete(action.axis);
      this.axes.brake(action.axis, time, this.machine.sequence.emergency.ramp);
    }
    const queue = this.queues.get(action.axis);
    if (queue)
      this.queues.set(
        action.axis,
        queue.filter((entry) => entry.cue.id !== cue.id),
      );
  }

  // --- ends ---

  private stopSoon(time: number, cause: number): void {
    if (this.ended) return;
    this.log.add(time, 'stop', '', [cause]);
    const still = Math.max(time, ...[...this.owners.values()].map(({ move }) => move.to));
    const mark = this.log.events[cause];
    this.ended = { time: still, end: mark?.kind === 'cycle' ? 'cycles' : 'stop' };
    if (mark?.kind === 'cycle') this.ended.time = time;
  }

  private emergency(time: number, causes: readonly number[]): void {
    const { ramp } = this.machine.sequence.emergency;
    this.log.add(time, 'emergency', '', causes, { value: ramp });
    this.log.find({ code: 'emergency', severity: 'warning', time, subjects: [] });
    for (const axis of this.machine.axes) this.axes.brake(axis.id, time, ramp);
    for (const { due, move } of this.owners.values()) {
      this.agenda.cancel(due);
      move.to = time + ramp;
    }
    this.owners.clear();
    for (const [id] of this.belts) this.leadBelt(id, 0, ramp, time);
    this.ended = { time: time + ramp, end: 'emergency' };
  }

  private tooClose(watch: ClearanceWatch, time: number): void {
    const { monitor } = watch;
    const event = this.log.add(time, 'monitor', monitor.id, [0], { value: monitor.least });
    const code = monitor.least > 0 ? 'clearance' : 'interference';
    this.log.find({ code, severity: 'error', time, subjects: [monitor.id, monitor.a, monitor.b] });
    if (!monitor.stop || this.ended) return;
    this.director.halt();
    this.log.add(time, 'stop', '', [event]);
    this.ended = { time, end: 'monitor' };
  }

  private stuck(time: number): void {
    this.director.halt();
    this.log.find({ code: 'stuck', severity: 'error', time, subjects: [] });
    this.ended = { time: Math.max(time, this.step), end: 'stuck' };
  }

  private endless(): void {
    const at = this.log.events.filter((e) => e.kind === 'cue' && e.time === this.time).slice(-50);
    this.log.find({
      code: 'endless',
      severity: 'error',
      time: this.time,
      subjects: [...new Set(at.map((e) => e.subject))].slice(0, 6),
    });
    this.director.halt();
    this.ended = { time: this.time, end: 'endless' };
  }

  private tooMuch(): void {
    const parts = this.world?.parts.length ?? 0;
    const [value, text] = parts > MOST_PARTS ? [parts, 'parts'] : [this.log.events.length, 'events'];
    this.log.find({ code: 'too-much', severity: 'error', time: this.time, subjects: [], value, text });
    this.director.halt();
    this.ended = { time: Math.max(this.time, this.step), end: 'too-much' };
  }

  /** Without parts to wait for: nothing will ever happen again. */
  private nothingLeft(next: number): CycleEnd {
    if (Number.isFinite(next)) return 'longest';
    return this.machine.sequence.cues.some(({ on }) => on) ? 'waiting' : 'idle';
  }

  private waitsForEver(): boolean {
    if (this.ended || this.stepEnd - this.lastEvent < PATIENCE) return false;
    if (this.agenda.next < Infinity || this.signals.next() < Infinity || this.machine.sequence.cues.length === 0)
      return false;
    // Axes that go by their own motion, and parts under way, may still bring something about.
    for (const axis of this.machine.axes)
      if (this.axes.of(axis.id).movesAt(this.stepEnd) && !movedByCues(axis)) return false;
    if (this.world?.parts.some(({ before, now }) => Math.hypot(now.x - before.x, now.y - before.y) > 0.002 * this.step))
      this.restless = this.stepEnd;
    if (this.stepEnd - this.restless < 1) return false;
    this.time = this.stepEnd;
    this.ended = { time: this.time, end: 'waiting' };
    return true;
  }

  private finish(): { record: CycleRecord; found: FoundMotions } {
    let end = this.ended?.end ?? 'longest';
    if (end === 'waiting' && this.director.isThrough) end = 'idle';
    // What happened last is what the length of a run that waits is measured by.
    const duration = Math.max(
      this.step,
      end === 'waiting' && !this.stepped
        ? Math.max(this.lastMove(), this.lastEvent, 0.1)
        : Math.min(this.ended?.time ?? this.horizon, this.horizon),
    );
    let waiting: WaitingReport | null = null;
    if (end === 'waiting' || (end === 'longest' && this.machine.sequence.cues.length > 0)) {
      waiting = explainWaiting(
        this.machine,
        this.director.waiting(this.time),
        (gripper) => this.world?.nearest(gripper) ?? null,
        [...this.takers].flatMap(([gripper, cues]) => cues.map(({ id }) => ({ gripper, cue: id }))),
      );
      if (end === 'waiting') {
        // A machine that has gone round and ends for want of parts is no deadlock.
        const dead = waiting.circle.length > 0 || this.director.cycleStarts.length < 2;
        const subjects = waiting.circle.length > 0 ? waiting.circle : waiting.cues.map(({ cue }) => cue);
        this.log.find({
          code: dead ? 'deadlock' : 'waits',
          severity: dead ? 'error' : 'warning',
          time: duration,
          subjects,
        });
      } else if (this.machine.sequence.cycle.cycles !== null)
        this.log.find({ code: 'longest', severity: 'warning', time: duration, subjects: [], value: this.horizon });
    }
    for (const cue of this.machine.sequence.cues)
      if (cue.on && this.director.startsOf(cue.id) === 0 && end !== 'stuck' && cue.action.do !== 'alarm')
        this.log.find({ code: 'never', severity: 'info', time: null, subjects: [cue.id] });
    this.log.add(duration, 'end', '', [this.log.last('stop', ''), this.log.last('emergency', ''), this.lastEnded()], {
      text: end,
    });
    for (const move of this.moves) {
      move.ended =
        this.log.events.find((e) => e.kind === 'ended' && e.subject === move.cue && e.time >= move.to - 1e-12)?.index ??
        -1;
      move.to = Math.min(move.to, duration);
    }
    if (this.world) {
      this.record();
      this.world.free();
    }
    const cycles = this.director.cycleStarts.map(({ time }) => time);
    if (end === 'stop' && cycles.length > 0) cycles.push(duration);
    return {
      found: this.axes.found(duration),
      record: {
        duration,
        end,
        events: this.log.events,
        findings: this.log.findings,
        moves: this.moves.filter(({ from }) => from < duration),
        cycles,
        signals: [...this.signalTimes].map(([sensor, { first, times }]) => ({ sensor, first, times })),
        parts: this.recorder.finish(),
        fates: [...this.fates.values()],
        belts: [...this.belts].map(([belt, { times, speeds }]) => ({ belt, times, speeds })),
        clearances: this.watches.map((watch) => watch.curve()),
        pushes: this.allPushes(duration),
        waiting,
        seed: this.options.seed ?? this.machine.sequence.seed,
        steps: this.stepsDone,
      },
    };
  }

  private lastMove(): number {
    return Math.max(0, ...this.moves.map(({ to }) => to));
  }

  private lastEnded(): number | null {
    return this.log.events.findLast(({ kind }) => kind === 'ended')?.index ?? null;
  }

  /** Pushes of parts, and forces that cues switched on, as straight lines over time. */
  private allPushes(duration: number): CycleRecord['pushes'] {
    const ids = new Set([...this.pushes.keys(), ...this.axes.loads.keys()]);
    return [...ids].map((axis) => {
      const pushed = this.pushes.get(axis) ?? { times: [0], effort: [0] };
      if (pushed.effort.at(-1) !== 0) {
        pushed.times.push(pushed.times.at(-1)! + this.step);
        pushed.effort.push(0);
      }
      const switched = this.axes.loads.get(axis) ?? [];
      const times = [...new Set([...pushed.times, ...switched.flatMap(([time]) => [time - 1e-6, time]), duration])]
        .filter((time) => time >= 0 && time <= duration)
        .sort((a, b) => a - b);
      let i = 0;
      const at = (time: number) => {
        while (i + 1 < pushed.times.length && pushed.times[i + 1]! <= time) i++;
        const next = pushed.times[i + 1];
        if (next === undefined) return pushed.effort[i]!;
        return (
          pushed.effort[i]! +
          ((pushed.effort[i + 1]! - pushed.effort[i]!) * (time - pushed.times[i]!)) / (next - pushed.times[i]!)
        );
      };
      return {
        axis,
        times: Float64Array.from(times),
        effort: Float64Array.from(times, (time) => at(time) + this.axes.loadAt(axis, time)),
      };
    });
  }
}

function within(
  { from, to }: { from: readonly [number, number]; to: readonly [number, number] },
  x: number,
  y: number,
): boolean {
  return (
    x >= Math.min(from[0], to[0]) &&
    x <= Math.max(from[0], to[0]) &&
    y >= Math.min(from[1], to[1]) &&
    y <= Math.max(from[1], to[1])
  );
}
