import { driveModel, holdingTorque, loadModel, reflectedInertia } from '../dynamics';
import type { Axis } from '../machine';
import type { AxisRun, DutyIntegrals } from '../run';

/** What the cycle asks of a motor, its own inertia left out. All at the motor shaft, SI units. */
export interface Duty {
  times: Float64Array;
  torque: Float64Array;
  speed: Float64Array;
  acceleration: Float64Array;
  integrals: DutyIntegrals;
  /** Inertia of drive train and load, kg·m². */
  loadInertia: number;
  /** Torque that keeps the axis from sinking at its worst position with the motor off, N·m. */
  holding: number;
}

/** Gathers the duty of an axis from its run. */
export function dutyOf(axis: Axis, run: AxisRun, times: Float64Array): Duty {
  const drive = driveModel(axis, axis.reversed);
  const load = loadModel(axis.load, axis.kind, axis.reversed);
  let pull = 0;
  for (const position of run.channels.position) pull = Math.max(pull, Math.abs(load.gravity(position)));
  return {
    times,
    torque: run.channels.shaftTorque,
    speed: run.channels.motorSpeed,
    acceleration: run.motorAcceleration,
    integrals: run.duty,
    loadInertia: reflectedInertia(drive, axis.load.inertia + run.mechanismInertia),
    holding: holdingTorque(drive, Math.max(0, pull + run.mechanismHolding - axis.load.coulomb)),
  };
}
