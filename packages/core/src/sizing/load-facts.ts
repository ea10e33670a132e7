import { driveModel, loadModel, reflectedInertia } from '../dynamics';
import type { Axis } from '../machine';
import { isHeldBack, type Run } from '../run';
import { dutyOf } from './duty';

/** What a motor has behind it, at its shaft and at the axis; SI units. */
export interface LoadFacts {
  /** Way of the axis for one turn of the motor, m or rad. */
  perTurn: number;
  /** Inertia of drive train, load and mechanism at the motor shaft, kg·m²: at its largest, and on average. */
  inertia: { worst: number; mean: number };
  /** What gravity asks of the axis at its home, along its positive direction, N or N·m, its own load alone. */
  gravityAtHome: number;
  /** What gravity, springs and loads of its mechanism ask of the axis at rest, at most, N or N·m; 0 without one. */
  mechanismHolding: number;
  /** Torque of the motor shaft that keeps it all at rest where that takes most, N·m. */
  holding: number;
}

/**
 * What an axis' motor has behind it, by the run: the same that sizing goes by.
 * @returns null where that is not known yet, or not to be relied on: no run, or one that did not get through
 */
export function loadFacts(axis: Axis, run: Run | null): LoadFacts | null {
  const own = run?.axes.find(({ axisId }) => axisId === axis.id);
  if (!run || !own || isHeldBack(own)) return null;
  const drive = driveModel(axis, axis.reversed);
  const { loadInertia, holding } = dutyOf(axis, own, run.times);
  const reflected = run.mechanism?.drives.find(({ axisId }) => axisId === axis.id)?.reflected;
  return {
    perTurn: (2 * Math.PI) / Math.abs(drive.ratio),
    inertia: {
      worst: loadInertia,
      mean: reflectedInertia(drive, axis.load.inertia + (reflected ? meanOf(run.times, reflected) : 0)),
    },
    gravityAtHome: loadModel(axis.load, axis.kind, axis.reversed).gravity(axis.home),
    mechanismHolding: own.mechanismHolding,
    holding,
  };
}

/** Mean over time by the trapezoidal rule. */
function meanOf(times: Float64Array, values: Float64Array): number {
  let sum = 0;
  for (let k = 1; k < times.length; k++)
    sum += ((Math.abs(values[k]!) + Math.abs(values[k - 1]!)) / 2) * (times[k]! - times[k - 1]!);
  const span = times.at(-1)! - times[0]!;
  return span > 0 ? sum / span : Math.abs(values[0] ?? 0);
}
