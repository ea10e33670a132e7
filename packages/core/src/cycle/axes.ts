import type { Axis, Machine } from '../machine';
import {
  MachineMotions,
  repeatMotion,
  type FoundMotions,
  type Motion,
  type MotionState,
  type MotionStretch,
  movingMachine,
} from '../motion';
import { polynomialLaw } from '../law';
import { Trajectory } from './trajectory';
import { rampStretch } from './moves';

interface Follower {
  axis: string;
  leader: string | null;
  ratio: number;
  offset: number;
  /** From when on it follows exactly; before, it comes up to speed. */
  from: number;
}

/** Whether cues move an axis; others go by their own motion. */
export const movedByCues = (axis: Pick<Axis, 'motion'>): boolean => axis.motion.source.kind === 'cues';

/** All axes of a machine during a run. */
export class AxisBank {
  private readonly trajectories = new Map<string, Trajectory>();
  private readonly followers = new Map<string, Follower>();
  /** Forces that cues switched on, N or N·m along the positive direction: rising times and values from then on. */
  readonly loads = new Map<string, [time: number, force: number][]>();
  readonly master: Motion;

  /** @param horizon longest time of the run, s */
  constructor(
    private readonly machine: Machine,
    horizon: number,
    /** Told whenever an axis will move otherwise than it would have. */
    private readonly changed: (axis: string, time: number) => void,
  ) {
    const described = new MachineMotions(movingMachine(machine));
    this.master = repeatMotion(described.master, horizon);
    for (const axis of machine.axes) {
      const { motion } = described.of(axis.id);
      this.trajectories.set(
        axis.id,
        movedByCues(axis)
          ? new Trajectory((axis.motion.source as { start: number }).start)
          : Trajectory.of(repeatMotion(motion, machine.oneOff ? Math.min(horizon, motion.duration) : horizon)),
      );
    }
  }

  of(id: string): Trajectory {
    return this.trajectories.get(id)!;
  }

  at(id: string, time: number): MotionState {
    return this.of(id).at(time);
  }

  /** Replaces what an axis does from a time on. */
  lead(id: string, time: number, stretches: readonly MotionStretch[]): void {
    this.followers.delete(id);
    this.replace(id, time, stretches);
  }

  private replace(id: string, time: number, stretches: readonly MotionStretch[]): void {
    const trajectory = this.of(id);
    trajectory.cut(time);
    trajectory.add(...stretches);
    this.changed(id, time);
    for (const follower of this.followers.values())
      if (follower.leader === id) {
        const from = Math.max(time, follower.from);
        this.replace(follower.axis, from, trajectory.followed(from, follower.ratio, follower.offset));
      }
  }

  /** Makes an axis follow another, or the master, from where both stand; over a time it comes up to speed smoothly. */
  engage(id: string, leader: string | null, ratio: number, over: number, time: number): void {
    const own = this.at(id, time);
    const leading = leader === null ? Trajectory.of(this.master) : this.of(leader);
    const then = leading.at(time + over);
    // Half the way that it will have gone at full speed: the lead-in is as gentle as it can be.
    const rise = ((own.velocity + ratio * then.velocity) / 2) * over;
    const offset = own.position + rise - ratio * then.position;
    this.followers.set(id, { axis: id, leader, ratio, offset, from: time + over });
    const leadIn: MotionStretch[] =
      over > 0
        ? [
            {
              from: time,
              to: time + over,
              start: own.position,
              stroke: 1,
              law: polynomialLaw(5, {
                rise,
                v0: own.velocity * over,
                v1: ratio * then.velocity * over,
                a0: own.acceleration * over * over,
                a1: ratio * then.acceleration * over * over,
              }),
            },
          ]
        : [];
    this.replace(id, time, [...leadIn, ...leading.followed(time + over, ratio, offset)]);
  }

  /** Brings an axis to rest in a time, evenly braked. */
  brake(id: string, time: number, over: number): void {
    const { position, velocity } = this.at(id, time);
    this.lead(id, time, velocity === 0 ? [] : [rampStretch(time, over, position, velocity, 0)]);
  }

  /** Switches a force on an axis. */
  load(id: string, time: number, force: number): void {
    const list = this.loads.get(id) ?? [];
    list.push([time, force]);
    this.loads.set(id, list);
  }

  /** Force that cues have switched on, N or N·m. */
  loadAt(id: string, time: number): number {
    return this.loads.get(id)?.findLast(([from]) => from <= time)?.[1] ?? 0;
  }

  /** All motions as they come to be: read at any time up to now, they give what they will be found to be. */
  live(horizon: number): MachineMotions {
    const moving = (live: (time: number) => MotionState): Motion => ({
      duration: horizon,
      stretches: [],
      edges: [0, horizon],
      steps: [],
      live,
    });
    const axes = new Map(this.machine.axes.map(({ id }) => [id, moving((time) => this.at(id, time))]));
    return new MachineMotions(movingMachine(this.machine), { duration: horizon, master: this.master, axes });
  }

  /** All motions as they were found, over the length of the run. */
  found(duration: number): FoundMotions {
    return {
      duration,
      master: repeatMotion(this.master, duration),
      axes: new Map(this.machine.axes.map(({ id }) => [id, this.of(id).toMotion(duration)])),
    };
  }
}
