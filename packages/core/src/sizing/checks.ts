import { rmsTorque } from '../run';
import type { Duty } from './duty';
import { continuousEnvelope, peakEnvelope, speedHeat, type Motor } from './motor';

/** Wanted reserves as shares, and the largest inertia ratio. */
export interface Reserves {
  torqueReserve: number;
  speedReserve: number;
  inertiaRatio: number;
}

/** What a motor is checked for. */
export type CheckCode = 'peak' | 'rms' | 'speed' | 'inertia' | 'thermal' | 'brake';

/** One check of a candidate; quantities in SI units (ratios without one). */
export interface MotorCheck {
  code: CheckCode;
  required: number;
  available: number;
  /** available / required − 1; infinite where nothing is required. */
  margin: number;
  /** Margin that is wanted. */
  wanted: number;
  ok: boolean;
  /** When the requirement is hardest, s; for peak torque and speed. */
  time?: number;
  /** Motor speed in rad/s that belongs to the requirement; for the torque checks. */
  speed?: number;
}

const SLACK = 1e-9;

function judge(
  code: CheckCode,
  required: number,
  available: number,
  wanted: number,
  place: Pick<MotorCheck, 'time' | 'speed'> = {},
): MotorCheck {
  const margin = required <= 0 ? Infinity : available / required - 1;
  return { code, required, available, margin, wanted, ok: margin >= wanted - SLACK, ...place };
}

/** Peak torque against the peak envelope at the speed of the same moment; the tightest moment counts. */
export function checkPeak(motor: Motor, inertia: number, duty: Duty, wanted: number): MotorCheck {
  let worst = -1;
  let place = 0;
  let torqueThere = 0;
  for (let k = 0; k < duty.times.length; k++) {
    const torque = Math.abs(duty.torque[k]! + inertia * duty.acceleration[k]!);
    if (torque === 0) continue;
    const use = torque / peakEnvelope(motor, duty.speed[k]!);
    if (use > worst) {
      worst = use;
      place = k;
      torqueThere = torque;
    }
  }
  const speed = duty.speed[place] ?? 0;
  return judge('peak', torqueThere, peakEnvelope(motor, speed), wanted, {
    time: duty.times[place] ?? 0,
    speed,
  });
}

/** RMS torque against the continuous envelope at RMS speed, where the heat of both is the mean heat of the cycle. */
export function checkRms(motor: Motor, inertia: number, { integrals }: Duty, wanted: number): MotorCheck {
  const speed = Math.sqrt(integrals.speedSquare / integrals.duration);
  return judge('rms', rmsTorque(integrals, inertia), continuousEnvelope(motor, speed), wanted, { speed });
}

/** Largest speed against the motor's own. */
export function checkSpeed(motor: Motor, { speed, times }: Duty, wanted: number): MotorCheck {
  let place = 0;
  for (let k = 1; k < speed.length; k++) if (Math.abs(speed[k]!) > Math.abs(speed[place]!)) place = k;
  return judge('speed', Math.abs(speed[place] ?? 0), motor.maxSpeed, wanted, { time: times[place] ?? 0 });
}

/** Load inertia over motor inertia against the largest ratio wanted (common practice: up to about 10). */
export function checkInertia(inertia: number, { loadInertia }: Duty, largest: number): MotorCheck {
  return judge('inertia', loadInertia / inertia, largest, 0);
}

/** Cycles longer than this share of the thermal time constant are checked for their hottest moment. */
const LONG_CYCLE = 0.1;

/**
 * Hottest moment of the winding as a share of what is permitted, in the steady periodic state of a first-order lag;
 * undefined where the cycle is so short that the mean tells all.
 */
export function checkThermal(motor: Motor, inertia: number, duty: Duty): MotorCheck | undefined {
  const { times } = duty;
  const cycle = duty.integrals.duration;
  if (cycle < LONG_CYCLE * motor.thermalTime) return undefined;
  const heat = (k: number) =>
    ((duty.torque[k]! + inertia * duty.acceleration[k]!) / motor.stallTorque) ** 2 + speedHeat(motor, duty.speed[k]!);
  const pass = (start: number) => {
    let level = start;
    let hottest = start;
    let place = 0;
    for (let k = 0; k + 1 < times.length; k++) {
      const keep = Math.exp(-(times[k + 1]! - times[k]!) / motor.thermalTime);
      level = level * keep + ((heat(k) + heat(k + 1)) / 2) * (1 - keep);
      if (level > hottest) {
        hottest = level;
        place = k + 1;
      }
    }
    return { level, hottest, place };
  };
  const start = pass(0).level / (1 - Math.exp(-cycle / motor.thermalTime));
  const { hottest, place } = pass(start);
  return judge('thermal', hottest, 1, 0, { time: times[place] ?? 0 });
}

/** Brake torque against the torque that holds the axis with the motor off. */
export function checkBrake(motor: Motor, { holding }: Duty, wanted: number): MotorCheck {
  return judge('brake', holding, motor.brakeTorque ?? 0, wanted);
}
