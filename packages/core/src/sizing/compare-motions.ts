import { LAWS, type LawId } from '../law';
import { cycleTime, type Alternative, type Axis, type Machine } from '../machine';
import { checkPlan } from '../motion';
import type { AxisRun } from '../run';
import { withLaw } from './proposals';
import { runBase } from './run-machine';

/** A motion an axis might have, to be held against others. */
export interface MotionOption {
  id: string;
  name: string;
  plan: Axis['plan'];
  motion: Axis['motion'];
}

/** What an option does on this machine; SI units, torques in N·m at the motor shaft. */
export interface ComparedMotion {
  id: string;
  name: string;
  times: Float64Array;
  position: Float64Array;
  velocity: Float64Array;
  acceleration: Float64Array;
  jerk: Float64Array;
  torque: Float64Array;
  peaks: { velocity: number; acceleration: number; jerk: number; torque: number };
  rmsTorque: number;
  /** Whether acceleration jumps, so that the jerk has no largest value. */
  jerky: boolean;
  /** Whether limits of the axis are broken, or it cannot be made. */
  faults: number;
}

/** Options of an axis: as it is, what was put aside, and its plan under other laws. */
export function motionOptions(axis: Axis, laws: readonly LawId[]): MotionOption[] {
  const aside = axis.alternatives.map(({ id, name, plan, motion }: Alternative): MotionOption => ({
    id,
    name,
    plan,
    motion,
  }));
  const planned = axis.motion.source.kind === 'plan';
  const other = planned ? laws : [];
  return [
    { id: 'now', name: 'As it is', plan: axis.plan, motion: axis.motion },
    ...aside,
    ...other.map((id): MotionOption => ({
      id: `law ${id}`,
      name: LAWS.find((law) => law.id === id)!.name,
      plan: withLaw(axis.plan, { id }),
      motion: axis.motion,
    })),
  ];
}

/**
 * Runs the machine once with each option, its cycle where it has one, and sums up what the axis does.
 * @param rotorInertia inertia in kg·m² of the chosen motor, which counts in the torque
 */
export async function compareMotions(
  machine: Machine,
  axisId: string,
  options: readonly MotionOption[],
  rotorInertia = 0,
): Promise<ComparedMotion[]> {
  const compared: ComparedMotion[] = [];
  for (const option of options) {
    const axes = machine.axes.map((axis) =>
      axis.id === axisId ? { ...axis, plan: option.plan, motion: option.motion } : axis,
    );
    const axis = axes.find(({ id }) => id === axisId)!;
    const run = (await runBase({ ...machine, axes })).withRotors({ [axisId]: rotorInertia });
    const own = run.axes.find((ran) => ran.axisId === axisId)!;
    const jumps = jumpsWhereItCloses(axis, machine) || jumpsWithin(run.times, own.channels.acceleration);
    compared.push(summed(option, own, run.times, jumps));
  }
  return compared;
}

const largest = (values: Float64Array) => values.reduce((most, value) => Math.max(most, Math.abs(value)), 0);

const jumpsWithin = (times: Float64Array, acceleration: Float64Array): boolean =>
  times.some(
    (time, k) =>
      times[k + 1] === time && Math.abs(acceleration[k + 1]! - acceleration[k]!) > 1e-6 * largest(acceleration),
  );

/** Whether a plan jumps from one cycle to the next; or, of a machine that runs once, out of rest or into it. */
function jumpsWhereItCloses({ plan, motion, limits, travel }: Axis, machine: Machine): boolean {
  if (motion.source.kind !== 'plan' || motion.level !== 'position' || motion.over !== 'time') return false;
  const found = checkPlan(plan, { cycleTime: cycleTime(machine), limits, travel, oneOff: machine.oneOff });
  return found.some(({ code }) => code === 'jump');
}

function summed({ id, name }: MotionOption, run: AxisRun, times: Float64Array, jerky: boolean): ComparedMotion {
  const { position, velocity, acceleration, jerk, motorTorque } = run.channels;
  return {
    id,
    name,
    times,
    position,
    velocity,
    acceleration,
    jerk,
    torque: motorTorque,
    peaks: {
      velocity: largest(velocity),
      acceleration: largest(acceleration),
      jerk: largest(jerk),
      torque: largest(motorTorque),
    },
    rmsTorque: run.rms.motorTorque,
    jerky,
    faults: run.findings.filter(({ severity }) => severity === 'error').length,
  };
}
