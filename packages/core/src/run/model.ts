import {
  axisEffort,
  directionOfMotion,
  driveModel,
  loadModel,
  passDrive,
  type DriveModel,
  type DriveState,
  type LoadModel,
} from '../dynamics';
import { FORCE, TORQUE } from '../formula';
import type { Axis } from '../machine';
import { type AxisMotionResult, type MachineMotions, type Motion, type MotionState, type PlanFinding } from '../motion';
import { lastAtOrBefore } from '../numeric';
import { effortFormula, type EffortFormula } from './effort-formula';
import type { RunEdges } from './system';

/** The numerical model of one axis: its motion, load and drive train. */
export interface AxisModel {
  axis: Axis;
  motion: Motion;
  load: LoadModel;
  drive: DriveModel;
  /** Inertia in kg·m² of the chosen motor's rotor and brake; 0 while none is chosen. */
  rotorInertia: number;
  /** How the motion came about. */
  made: AxisMotionResult;
  /** Times inside a run of this length (s) at which the load is not smooth, and those at which it may jump. */
  loadEdges: (motions: MachineMotions, duration: number) => RunEdges;
  loadProblem: PlanFinding | null;
}

/** What a mechanism asks of the axis that drives it, over rising times in s: N or N·m along the positive direction. */
export interface MechanismLoad {
  times: Float64Array;
  effort: Float64Array;
}

/** Makes one axis of a machine ready to run. */
export function axisModel(axis: Axis, motions: MachineMotions): AxisModel {
  const made = motions.of(axis.id);
  const load = loadModel(axis.load, axis.kind, axis.reversed);
  const { external, edges, problem } = loadFormula(axis, motions);
  const tables = axis.load.forceTable?.map(([time]) => time) ?? [];
  return {
    axis,
    motion: made.motion,
    load: external ? { ...load, external: (time) => load.external(time) + external(time) } : load,
    drive: driveModel(axis, axis.reversed),
    rotorInertia: 0,
    made,
    loadEdges: (by, duration) => {
      // Where a formula is not smooth it may jump.
      const jumps = [...doubled(tables), ...edges(by, duration)];
      return { edges: [...tables, ...jumps], steps: jumps };
    },
    loadProblem: problem,
  };
}

function loadFormula(axis: Axis, motions: MachineMotions): EffortFormula {
  const none = { external: null, edges: () => [], problem: null };
  return axis.load.formula === null
    ? none
    : effortFormula(axis.load.formula, axis.kind === 'linear' ? FORCE : TORQUE, motions);
}

/** Times that stand twice: something jumps there. */
export const doubled = (times: ArrayLike<number>): number[] =>
  Array.from(times).filter((time, k, all) => k > 0 && all[k - 1] === time);

/** The axis with a mechanism behind it, whose effort counts as an external load (straight lines between samples). */
export function withMechanism(model: AxisModel, { times, effort }: MechanismLoad): AxisModel {
  const { external } = model.load;
  // Asked for rising times nearly always: the place found last is tried before a search.
  let k = 0;
  const at = (time: number) => {
    const from = times[k]!;
    const to = times[k + 1];
    if (to === undefined || time < from || time >= to || to === from) {
      const found = lastAtOrBefore(times, time);
      if (found < 0) return effort[0]!;
      if (found >= times.length - 1) return effort[times.length - 1]!;
      k = found;
    }
    const width = times[k + 1]! - times[k]!;
    return effort[k]! + ((effort[k + 1]! - effort[k]!) * (time - times[k]!)) / width;
  };
  return { ...model, load: { ...model.load, external: (time) => external(time) - at(time) } };
}

/** Everything an axis and its motor do at one instant. SI units. */
export interface AxisInstant extends DriveState {
  effort: number;
  direction: number;
  motorSpeed: number;
  motorAcceleration: number;
  motorTorque: number;
}

/** An instant to be filled by {@link evaluateAxis}. */
export function emptyInstant(): AxisInstant {
  return {
    effort: 0,
    direction: 0,
    torque: 0,
    loss: 0,
    pattern: 0,
    motorSpeed: 0,
    motorAcceleration: 0,
    motorTorque: 0,
  };
}

/** Computes efforts and torques of an axis from its state of motion at `time`, into `out`. */
export function evaluateAxis(
  model: AxisModel,
  time: number,
  { position, velocity, acceleration, jerk }: MotionState,
  out: AxisInstant,
): void {
  const { load, drive } = model;
  out.direction = directionOfMotion(velocity, acceleration, jerk);
  out.effort = axisEffort(load, time, position, velocity, acceleration, out.direction);
  passDrive(drive, out.effort, velocity, acceleration, out.direction, out);
  out.motorSpeed = velocity * drive.ratio;
  out.motorAcceleration = acceleration * drive.ratio;
  out.motorTorque = out.torque + model.rotorInertia * out.motorAcceleration;
  out.pattern = out.pattern * 3 + Math.sign(out.motorTorque * out.motorSpeed) + 1;
}
