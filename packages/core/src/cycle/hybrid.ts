import { WrenchSchedule } from '../dynamics';
import type { Cue, Machine } from '../machine';
import { Scatter } from '../numeric';
import { hasMechanism, MechanismSystem, type CycleFound } from '../run';
import { Signals } from '../sequence';
import { carryOut, type ActionTargets } from './actions';
import { Agenda } from './agenda';
import { AxisBank, movedByCues } from './axes';
import { AxisOwners } from './axis-owners';
import { AxisPushes } from './axis-pushes';
import { Belts } from './belts';
import { conclude, cyclesUntil, lastEnded, movesUntil } from './conclude';
import { ControllerImage } from './controller-image';
import type { CycleOptions, CycleRecord } from './cycle-record';
import { Director } from './director';
import type { CycleEnd } from './events';
import { Ending } from './ending';
import { EventLog } from './log';
import { watchesOf, type ClearanceWatch } from './monitors';
import { partForcesOf, sightsOf, type TakesDown } from './flat-or-space';
import { pushableBodies } from './part-forces';
import { PartsFlow } from './parts-flow';
import { Pauses } from './pauses';
import { MechanismPoses } from './poses';
import type { StepPoses } from './sight';
import { SensorBank } from './sensors';
import { Switches } from './switches';

/** Machine time without any event after which a run that moves nothing counts as waiting for ever, s. */
const PATIENCE = 3;
/** Things that may happen at one instant before it counts as endless. */
const MOST_AT_ONCE = 5000;

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
  private readonly switches: Switches;
  private readonly pauses: Pauses;
  private readonly system: MechanismSystem | null;
  private readonly mechanism: MechanismPoses;
  private readonly forces: TakesDown | null;
  private readonly director: Director;
  private readonly signals: Signals;
  private readonly sensors: SensorBank;
  private readonly flow: PartsFlow;
  private readonly belts: Belts;
  private readonly pushes: AxisPushes;
  private readonly owners: AxisOwners;
  private readonly image: ControllerImage;
  private readonly horizon: number;
  private readonly step: number;
  private readonly stepped: boolean;
  private readonly watches: ClearanceWatch[];
  private readonly signalTimes = new Map<string, { first: boolean; times: number[] }>();
  private poses: StepPoses;
  private readonly ending: Ending;
  private lastEvent = 0;
  private restless = 0;

  constructor(
    private readonly machine: Machine,
    private readonly options: CycleOptions = {},
  ) {
    const { sequence, loose } = machine;
    this.horizon = sequence.cycle.most;
    this.step = options.step ?? loose.step;
    const seed = options.seed ?? sequence.seed;
    const moverOf = new Map(
      sequence.cues.map(({ id, action }) => [
        id,
        action.do === 'belt' ? `belt ${action.belt}` : 'axis' in action ? `axis ${action.axis}` : '',
      ]),
    );
    const streams = ['sensors', ...loose.sources.map(({ id }) => id)];
    const scatters = new Map(streams.map((key, i) => [key, new Scatter((seed * 977 + i * 7919) >>> 0)]));
    this.log.add(0, 'begin', '', []);
    this.axes = new AxisBank(machine, this.horizon, (axis, time) => this.sensors.axisChanged(axis, time));
    const motions = this.axes.live(this.horizon);
    const wrenches = new WrenchSchedule(this.step, loose.space === true);
    this.switches = new Switches(machine, (time) => this.mechanism.actsFrom(time));
    this.system = hasMechanism(machine)
      ? new MechanismSystem(
          machine,
          motions,
          { schedule: wrenches, bodies: pushableBodies(machine) },
          this.switches.schedule,
        )
      : null;
    this.mechanism = new MechanismPoses(machine, this.system, (axis, time) => this.axes.at(axis, time));
    const reached = this.mechanism.moveTo(0);
    this.poses = { before: this.mechanism.poses, now: this.mechanism.poses };
    this.belts = new Belts(machine, this.axes);
    this.pushes = new AxisPushes(this.step);
    this.flow = new PartsFlow({
      machine,
      agenda: this.agenda,
      log: this.log,
      step: this.step,
      horizon: this.horizon,
      friction: options.friction,
      scatters,
      moverOf,
      now: () => this.time,
      stepEnd: () => this.stepEnd,
      poses: () => this.poses,
      driven: () => this.mechanism.driven,
      done: (cue, time, event) => this.actionDone(cue, time, event),
      changed: (time) => this.image.evolveAt(time),
      partGone: (sink, time, event) => this.sensors.partGone(sink, time, event),
    });
    this.forces = partForcesOf(machine, this.flow.world, this.mechanism, wrenches, this.step);
    this.watches = watchesOf(machine, (axis, time) => this.axes.at(axis, time).position);
    const delay = options.sensorDelay ?? 0;
    const drawn = scatters.get('sensors')!;
    this.signals = new Signals(sequence.sensors, delay > 0 ? () => drawn.uniform() * delay : undefined);
    const sights = sightsOf(machine, this.flow.world);
    this.sensors = new SensorBank(machine, this.axes, motions, this.mechanism, this.signals, this.agenda, this.horizon, sights); // prettier-ignore
    this.image = new ControllerImage(
      machine,
      this.agenda,
      this.log,
      () => this.director,
      () => this.sensors.timesInConditions,
    );
    const targets = (): ActionTargets => ({
      machine,
      agenda: this.agenda,
      log: this.log,
      axes: this.axes,
      owners: this.owners,
      pauses: this.pauses,
      switches: this.switches,
      flow: this.flow,
      sensors: this.sensors,
      director: this.director,
      done: (cue, time, event) => this.actionDone(cue, time, event),
      stop: (time, cause) => this.ending.stop(time, cause, this.owners.stillFrom(time)),
    });
    this.director = new Director(
      machine,
      {
        log: this.log,
        agenda: this.agenda,
        act: (cue, time, event) => carryOut({ cue, time, event }, targets()),
        moves: (cue, time) => this.pauses.moves(cue, time),
        pause: (cue, time) => this.pauses.pause(cue, time),
        resume: (cue, time, event) => this.pauses.resume(cue, time, event),
        abandon: (cue, time) => this.pauses.abandon(cue, time),
        stop: (time, cause, row) => this.ending.stop(time, cause, row ? null : this.owners.stillFrom(time)),
        emergency: (time, causes) => this.emergency(time, causes),
        position: (axis, time) => this.axes.at(axis, time).position,
        rests: (axis, time) => !this.axes.of(axis).movesAt(time) && !this.owners.has(axis),
        holds: (gripper) => (this.flow.world?.grips.holding(gripper) ?? null) !== null,
        again: (time) => this.image.evolveAt(time),
      },
      0,
    );
    this.sensors.moverEvent = (axis) => this.log.last('acts', this.director.movers.get(axis) ?? '');
    this.sensors.lookAgain = (time) => this.image.evolveAt(time);
    this.director.onEnd = (cue, time, event) => this.sensors.cueEnded(cue, time, event);
    this.ending = new Ending(this.log, () => this.director.halt(), this.step);
    this.owners = new AxisOwners({
      machine,
      axes: this.axes,
      agenda: this.agenda,
      log: this.log,
      horizon: this.horizon,
      movers: this.director.movers,
      isHalted: () => this.director.isHalted,
      done: (cue, time, event) => this.actionDone(cue, time, event),
    });
    this.pauses = new Pauses({
      agenda: this.agenda,
      axes: this.axes,
      owners: this.owners,
      belts: this.belts,
      flow: this.flow,
      movers: this.director.movers,
      ramp: sequence.emergency.ramp,
      done: (cue, time) => this.actionDone(cue, time),
    });
    this.stepped = this.flow.world !== null || this.watches.length > 0 || this.sensors.needSteps;
    if (!reached) this.ending.stuck(0);
  }

  /** Runs to the end. */
  run(): { record: CycleRecord; found: CycleFound } {
    this.begin();
    let told = 0;
    let at = -1;
    let count = 0;
    while (!this.finished()) {
      if (this.ending.isTooMuch(this.time, this.flow.world?.parts.length ?? 0)) break;
      const next = Math.min(this.agenda.next, this.signals.next());
      const limit = this.ending.at?.time ?? this.horizon;
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
        if (!this.ending.at) this.ending.settle(this.time, this.nothingLeft(next));
        break;
      }
      this.time = Math.max(this.time, next);
      count = this.time === at ? count + 1 : 0;
      at = this.time;
      if (count > MOST_AT_ONCE) {
        this.ending.endless(this.time);
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
      this.ending.at !== null &&
      this.time >= this.ending.at.time &&
      Math.min(this.agenda.next, this.signals.next()) > this.time
    );
  }

  private begin(): void {
    const { sequence } = this.machine;
    this.sensors.begin(this.poses);
    for (const { id } of sequence.sensors) {
      const first = this.signals.value(id);
      this.director.preset(id, first);
      this.signalTimes.set(id, { first, times: [0] });
    }
    this.flow.begin();
    this.image.evolveAt(0);
  }

  /** Moves parts and mechanism on by one step, and finds what changed inside it. */
  private advance(): void {
    const from = this.stepEnd;
    const to = (this.stepsDone + 1) * this.step;
    this.stepsDone++;
    this.stepEnd = to;
    const before = this.poses.now;
    if (!this.mechanism.moveTo(to)) {
      this.ending.stuck(to);
      return;
    }
    this.poses = { before, now: this.mechanism.poses };
    const { world } = this.flow;
    if (world) {
      const middle = from + this.step / 2;
      world.advance(this.poses.now, (belt) => this.belts.speedAt(belt, middle));
      this.flow.follow(from, to);
      this.forces?.feel(from, to);
      this.pushes.feel(world, this.machine.loose.belts, from, to);
      this.flow.recordSome(this.stepsDone);
    }
    this.sensors.look(
      this.poses,
      from,
      to,
      (part) => this.flow.bringers(part),
      (axis) => this.forceExtra(axis),
    );
    for (const watch of this.watches) {
      const at = watch.look(this.poses, from, to);
      if (at !== null) this.agenda.add(at, (time) => this.ending.tooClose(watch.monitor, time));
    }
  }

  /** Force of belts and switched loads on an axis along its positive direction, N or N·m. */
  private forceExtra(axis: string): number {
    return this.pushes.lately(axis, this.stepEnd) + this.axes.loadAt(axis, this.stepEnd);
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
          this.image.seen(sensor, on, at);
        });
      else this.image.seen(sensor, on, time);
    }
  }

  private actionDone(cue: Cue, time: number, event?: number): void {
    if (event !== undefined) this.director.endCause.set(cue.id, event);
    this.director.done(cue.id);
    this.image.evolveAt(time);
  }

  // --- ends ---

  private emergency(time: number, causes: readonly number[]): void {
    const { ramp } = this.machine.sequence.emergency;
    this.log.add(time, 'emergency', '', causes, { value: ramp });
    this.log.find({ code: 'emergency', severity: 'warning', time, subjects: [] });
    for (const axis of this.machine.axes) this.axes.brake(axis.id, time, ramp);
    this.owners.halt(time + ramp);
    this.belts.halt(time, ramp);
    this.ending.settle(time + ramp, 'emergency');
  }

  /** Without parts to wait for: nothing will ever happen again. */
  private nothingLeft(next: number): CycleEnd {
    if (Number.isFinite(next)) return 'longest';
    return this.machine.sequence.cues.some(({ on }) => on) ? 'waiting' : 'idle';
  }

  private waitsForEver(): boolean {
    if (this.ending.at || this.stepEnd - this.lastEvent < PATIENCE) return false;
    if (this.agenda.next < Infinity || this.signals.next() < Infinity || this.machine.sequence.cues.length === 0)
      return false;
    // Axes that go by their own motion, and parts under way, may still bring something about.
    for (const axis of this.machine.axes)
      if (this.axes.of(axis.id).movesAt(this.stepEnd) && !movedByCues(axis)) return false;
    if (this.flow.world?.parts.some((part) => this.flow.world!.wayOf(part) > 0.002 * this.step))
      this.restless = this.stepEnd;
    if (this.stepEnd - this.restless < 1) return false;
    this.time = this.stepEnd;
    this.ending.settle(this.time, 'waiting');
    return true;
  }

  private finish(): { record: CycleRecord; found: CycleFound } {
    let end = this.ending.at?.end ?? 'longest';
    if (this.director.isLastCycleDone && (end === 'waiting' || end === 'longest')) end = 'cycles';
    if (end === 'waiting' && this.director.isThrough) end = 'idle';
    // What happened last is what the length of a run that waits is measured by.
    const duration = Math.max(
      this.step,
      end === 'waiting' && !this.stepped
        ? Math.max(this.lastMove(), this.lastEvent, 0.1)
        : Math.min(this.ending.at?.time ?? this.horizon, this.horizon),
    );
    const { machine, log, director, flow, time } = this;
    const waiting = conclude({ machine, log, director, flow, end, time, duration });
    this.log.add(duration, 'end', '', [this.log.last('stop', ''), this.log.last('emergency', ''), lastEnded(log)], {
      text: end,
    });
    return {
      found: {
        motions: this.axes.found(duration),
        system: this.system,
        pushes: this.pushes.found(duration, this.axes.loads),
      },
      record: {
        duration,
        end,
        events: this.log.events,
        findings: this.log.findings,
        moves: movesUntil(this.owners.moves, log, duration),
        ...cyclesUntil(director, log, end, duration),
        signals: [...this.signalTimes].map(([sensor, { first, times }]) => ({ sensor, first, times })),
        switches: this.switches.schedule.found(),
        ...this.flow.finish(),
        belts: this.belts.found(),
        clearances: this.watches.map((watch) => watch.curve()),
        waiting,
        seed: this.options.seed ?? this.machine.sequence.seed,
        steps: this.stepsDone,
      },
    };
  }

  private lastMove(): number {
    return Math.max(0, ...this.owners.moves.map(({ to }) => to));
  }
}
