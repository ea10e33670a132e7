import type { Axis } from '../machine';
import { interpolate } from '../numeric';
import { STANDARD_GRAVITY, type AxisKind } from '../quantity';

/** Load of an axis beside its formula, SI units: mass in kg or inertia in kg·m², forces in N or torques in N·m. */
export type AxisLoad = Omit<Axis['load'], 'formula'>;

/** One axis' load made ready for evaluation. All efforts along the positive direction, N or N·m. */
export interface LoadModel {
  inertia: number;
  viscous: number;
  coulomb: number;
  /** Effort that gravity asks of the drive at this position. */
  gravity(position: number): number;
  /** Potential energy at this position in J; its derivative is `gravity`. */
  potential(position: number): number;
  /** Force or torque that acts on the axis at this time, along the positive direction. */
  external(time: number): number;
}

/**
 * Makes a load ready for evaluation.
 * Linear: gravity is m g sin α, against the positive direction unless `reversed`.
 * Rotary: an imbalance u = m r in a plane sloped by α asks u g sin α cos(θ + θ₀).
 */
export function loadModel(load: AxisLoad, kind: AxisKind, reversed: boolean): LoadModel {
  const direction = reversed ? -1 : 1;
  const pull = STANDARD_GRAVITY * Math.sin(load.slope);
  const weight = load.inertia * pull * direction;
  const moment = load.imbalance * pull;
  const place = (position: number) => direction * position + load.imbalanceAngle;
  const times = load.forceTable?.map(([time]) => time) ?? [];
  const forces = load.forceTable?.map(([, force]) => force) ?? [];
  return {
    inertia: load.inertia,
    viscous: load.viscous,
    coulomb: load.coulomb,
    gravity: kind === 'linear' ? () => weight : (position) => direction * moment * Math.cos(place(position)),
    potential:
      kind === 'linear'
        ? (position) => weight * position
        : (position) => moment * (Math.sin(place(position)) - Math.sin(load.imbalanceAngle)),
    external: times.length === 0 ? () => load.force : (time) => load.force + interpolate(times, forces, time),
  };
}

/** Direction in which an axis is going: +1, −1, or 0 at rest; at the turn it is where the motion leads. */
export function directionOfMotion(velocity: number, acceleration: number, jerk: number): number {
  return Math.sign(velocity || acceleration || jerk);
}

/** Effort needed at the axis: m a + gravity + friction − external force. */
export function axisEffort(
  load: LoadModel,
  time: number,
  position: number,
  velocity: number,
  acceleration: number,
  direction: number,
): number {
  return (
    load.inertia * acceleration +
    load.gravity(position) +
    load.coulomb * direction +
    load.viscous * velocity -
    load.external(time)
  );
}
