import { conditionTerms, type Condition, type Machine, type Sensor } from '../machine';
import type { MachineMotions } from '../motion';
import { axisModel, emptyInstant, evaluateAxis, type AxisModel } from '../run';
import type { Signals } from '../sequence';
import type { Agenda, Due } from './agenda';
import type { AxisBank } from './axes';
import type { MechanismPoses } from './poses';
import { Eye, past } from './sensing';
import type { Seeing, Sight, StepPoses } from './sight';

/** Something about an axis that is true or false, and is told when it changes. */
interface Watch {
  axis: string;
  holds: (time: number, was: boolean) => boolean;
  changed: (on: boolean, time: number) => void;
  on: boolean;
  due: Due | undefined;
}

/** Places at which a moving stretch is looked at when the next change of a watch is sought. */
const LOOKS = 48;

/** All sensors of a machine during a run: what they sense, before filters and delays. */
export class SensorBank {
  /** Times since the start of the cycle that conditions speak of, s. */
  readonly timesInConditions: readonly number[];
  private readonly eyes: Eye[] = [];
  private readonly watches: Watch[] = [];
  private readonly forces: { sensor: Sensor; axis: string; model: AxisModel; driven: boolean; on: boolean }[] = [];
  private readonly instant = emptyInstant();
  private readonly counts = new Map<string, number>();
  private readonly timers = new Map<string, Due | undefined>();
  /** Event of the beginning of the move under way of an axis; set by the run. */
  moverEvent: (axis: string) => number | null = () => null;
  /** Asks the cues to look again; set by the run. */
  lookAgain: (time: number) => void = () => undefined;

  constructor(
    private readonly machine: Machine,
    private readonly axes: AxisBank,
    motions: MachineMotions,
    private readonly mechanism: MechanismPoses,
    private readonly signals: Signals,
    private readonly agenda: Agenda,
    private readonly horizon: number,
    sightOf: (sensing: Seeing) => Sight,
  ) {
    const { sensors } = machine.sequence;
    for (const sensor of sensors) {
      const { sensing, id, hysteresis } = sensor;
      if (sensing.kind === 'beam' || sensing.kind === 'area' || sensing.kind === 'proximity')
        this.eyes.push(new Eye(sensor, sightOf(sensing)));
      if (sensing.kind === 'position')
        this.watch(
          sensing.axis,
          (time, was) => {
            const state = axes.at(sensing.axis, time);
            const value = sensing.quantity === 'position' ? state.position : Math.abs(state.velocity);
            return past(value, sensing.side, sensing.value, hysteresis, was);
          },
          (on, time) => signals.sense(id, on, time, this.moverEvent(sensing.axis)),
        );
      if (sensing.kind === 'force') {
        const axis = machine.axes.find((a) => a.id === sensing.axis)!;
        const driven = mechanism.driven.includes(axis.id);
        this.forces.push({
          sensor,
          axis: axis.id,
          model: axisModel(axis, motions),
          driven,
          on: false,
        });
      }
    }
    const terms = conditionsOf(machine).flatMap(conditionTerms);
    this.timesInConditions = [...new Set(terms.flatMap((term) => (term.op === 'time' ? [term.at] : [])))];
    for (const term of terms) {
      const again = (_: boolean, time: number) => this.lookAgain(time);
      if (term.op === 'at')
        this.watch(term.axis, (time) => Math.abs(axes.at(term.axis, time).position - term.value) <= term.within, again);
      if (term.op === 'rests') this.watch(term.axis, (time) => !axes.of(term.axis).movesAt(time), again);
    }
  }

  private watch(axis: string, holds: Watch['holds'], changed: Watch['changed']): void {
    this.watches.push({ axis, holds, changed, on: false, due: undefined });
  }

  /** Whether something is sensed that has to be looked at in steps. */
  get needSteps(): boolean {
    return this.eyes.length > 0 || this.forces.length > 0;
  }

  /** Sets all signals as they are at the start. */
  begin(poses: StepPoses): void {
    for (const eye of this.eyes) this.signals.begin(eye.sensor.id, eye.begin(poses));
    for (const watch of this.watches) watch.on = watch.holds(0, false);
    const positions = this.machine.sequence.sensors.filter(({ sensing }) => sensing.kind === 'position');
    positions.forEach(({ id }, i) => this.signals.begin(id, this.watches[i]!.on));
    for (const watch of this.watches) this.predict(watch, 0);
    for (const { id, sensing } of this.machine.sequence.sensors) {
      if (sensing.kind !== 'button') continue;
      for (const { at, hold } of sensing.presses) {
        this.agenda.add(at, (time) => this.signals.sense(id, true, time, 0));
        this.agenda.add(at + hold, (time) => this.signals.sense(id, false, time, 0));
      }
    }
  }

  /** An axis will move otherwise from a time on: what it will pass is sought anew. */
  axisChanged(axis: string, time: number): void {
    for (const watch of this.watches)
      if (watch.axis === axis) {
        const now = watch.holds(time, watch.on);
        if (now !== watch.on) this.flip(watch, now, time);
        this.predict(watch, time);
      }
  }

  private flip(watch: Watch, on: boolean, time: number): void {
    watch.on = on;
    watch.changed(on, time);
  }

  /** Finds the next change by looking along the stretches, then by bisection to the last bit. */
  private predict(watch: Watch, time: number): void {
    this.agenda.cancel(watch.due);
    watch.due = undefined;
    const is = (t: number) => watch.holds(t, watch.on);
    for (const { from, to, law } of this.axes.of(watch.axis).from(time)) {
      const start = Math.max(from, time);
      if (start > this.horizon) return;
      const looks = law ? LOOKS : 1;
      let last = start;
      for (let i = 0; i <= looks; i++) {
        const at = i === looks ? to : start + ((to - start) * i) / looks;
        if (is(at) === watch.on) {
          last = at;
          continue;
        }
        let high = at;
        while (high > last) {
          const middle = (last + high) / 2;
          if (middle <= last || middle >= high) break;
          if (is(middle) === watch.on) last = middle;
          else high = middle;
        }
        watch.due = this.agenda.add(Math.max(high, time), (now) => {
          watch.due = undefined;
          this.flip(watch, !watch.on, now);
          this.predict(watch, now);
        });
        return;
      }
    }
  }

  /** Looks at everything that parts, bodies and forces changed in a step. */
  look(
    poses: StepPoses,
    from: number,
    to: number,
    partEvent: (part: number | null) => number | null,
    forceOn: (axis: string) => number,
  ): void {
    for (const eye of this.eyes)
      for (const { share, on } of eye.changes(poses)) {
        const cause = partEvent(eye.part);
        this.agenda.add(from + share * (to - from), (time) => this.signals.sense(eye.sensor.id, on, time, cause));
      }
    for (const force of this.forces) {
      const { sensing, hysteresis, id } = force.sensor;
      if (sensing.kind !== 'force') continue;
      const pushed = forceOn(force.axis);
      const effort = (time: number) => {
        evaluateAxis(force.model, time, this.axes.at(force.axis, time), this.instant);
        return this.instant.effort - pushed + (force.driven ? this.mechanism.effortAt(force.axis, time) : 0);
      };
      const is = (time: number) => past(effort(time), sensing.side, sensing.value, hysteresis, force.on);
      if (is(to) === force.on) continue;
      let low = from;
      let high = to;
      for (let i = 0; i < 30; i++) {
        const middle = (low + high) / 2;
        if (is(middle) === force.on) low = middle;
        else high = middle;
      }
      const on = !force.on;
      force.on = on;
      this.agenda.add(high, (time) => this.signals.sense(id, on, time, this.moverEvent(force.axis)));
    }
  }

  private each(kind: Sensor['sensing']['kind'], run: (sensor: Sensor) => void): void {
    for (const sensor of this.machine.sequence.sensors) if (sensor.sensing.kind === kind) run(sensor);
  }

  /** A signal has changed: counters and timers that hang on it go on. */
  signalChanged(changed: string, on: boolean, time: number, event: number): void {
    this.each('count', ({ id, sensing }) => {
      if (sensing.kind === 'count' && sensing.of.what === 'sensor' && sensing.of.sensor === changed && on)
        this.count(id, sensing.value, time, event);
    });
    this.each('timer', ({ id, sensing }) => {
      if (sensing.kind !== 'timer' || sensing.of !== changed) return;
      const later = (to: boolean) => {
        this.agenda.cancel(this.timers.get(id));
        this.timers.set(
          id,
          this.agenda.add(time + sensing.time, (at) => {
            this.timers.set(id, undefined);
            this.signals.sense(id, to, at, event);
          }),
        );
      };
      const now = (to: boolean) => {
        this.agenda.cancel(this.timers.get(id));
        this.timers.set(id, undefined);
        this.signals.sense(id, to, time, event);
      };
      if (sensing.how === 'on') {
        if (on) later(true);
        else now(false);
      } else if (sensing.how === 'off') {
        if (on) now(true);
        else later(false);
      } else if (on && !this.timers.get(id)) {
        now(true);
        later(false);
      }
    });
  }

  private count(id: string, value: number, time: number, event: number): void {
    const count = (this.counts.get(id) ?? 0) + 1;
    this.counts.set(id, count);
    if (count >= value) this.signals.sense(id, true, time, event);
  }

  /** A cue has ended. */
  cueEnded(cue: string, time: number, event: number): void {
    this.each('count', ({ id, sensing }) => {
      if (sensing.kind === 'count' && sensing.of.what === 'cue' && sensing.of.cue === cue)
        this.count(id, sensing.value, time, event);
    });
    this.each('cue', ({ id, sensing }) => {
      if (sensing.kind !== 'cue' || sensing.cue !== cue) return;
      this.agenda.cancel(this.timers.get(id));
      this.signals.sense(id, true, time, event);
      // Without a time it stays on.
      if (sensing.time > 0)
        this.timers.set(
          id,
          this.agenda.add(time + sensing.time, (at) => this.signals.sense(id, false, at, event)),
        );
    });
  }

  /** A part has been taken away. */
  partGone(sink: string, time: number, event: number): void {
    this.each('count', ({ id, sensing }) => {
      if (sensing.kind === 'count' && sensing.of.what === 'sink' && sensing.of.sink === sink)
        this.count(id, sensing.value, time, event);
    });
  }

  /** Sets a count back to nothing; other sensors go off until they sense something again. */
  reset(sensor: string, time: number, event: number): void {
    this.counts.set(sensor, 0);
    const kind = this.machine.sequence.sensors.find(({ id }) => id === sensor)?.sensing.kind;
    if (kind === 'count' || kind === 'cue') this.signals.sense(sensor, false, time, event);
  }
}

/** All conditions of a machine. */
export function conditionsOf({ sequence }: Pick<Machine, 'sequence'>): Condition[] {
  return [
    ...sequence.cues.flatMap(({ when }) => (when ? [when] : [])),
    ...sequence.interlocks.map(({ during }) => during),
    ...(sequence.emergency.when ? [sequence.emergency.when] : []),
  ];
}
