import type { RankingCriterion, SizingWishes } from '../machine';
import { rmsTorque } from '../run';
import { checkBrake, checkInertia, checkPeak, checkRms, checkSpeed, checkThermal, type MotorCheck } from './checks';
import type { Duty } from './duty';
import type { Motor } from './motor';

/** A motor held against the duty of an axis. */
export interface Candidate {
  motor: Motor;
  /** Whether it is taken with its brake; the brake's inertia and mass are then included. */
  withBrake: boolean;
  /** Rotor and brake, kg·m². */
  inertia: number;
  mass: number;
  checks: MotorCheck[];
  fits: boolean;
  /** The check with the least margin over what is wanted. */
  decisive: MotorCheck;
  rmsTorque: number;
  /** Mean copper loss R (T_rms/k)² over the cycle, W. */
  loss: number;
}

/** Below this holding torque in N·m an axis stays where it is. */
const STAYS = 1e-6;

/** Whether an axis needs a holding brake: it would sink, or one is wanted always. */
export function needsBrake(duty: Duty, brake: SizingWishes['brake']): boolean {
  return brake === 'always' || (brake === 'auto' && duty.holding > STAYS);
}

/** How far a check is from what is wanted; negative where it fails. */
const spare = (check: MotorCheck): number => check.margin - check.wanted;

/** Holds one motor against a duty, its own inertia (and brake) included. */
export function judgeMotor(motor: Motor, duty: Duty, wishes: SizingWishes): Candidate {
  const brake = needsBrake(duty, wishes.brake);
  const withBrake = brake && motor.brakeTorque !== null;
  const inertia = motor.inertia + (withBrake ? motor.brakeInertia : 0);
  const thermal = checkThermal(motor, inertia, duty);
  const checks = [
    checkPeak(motor, inertia, duty, wishes.torqueReserve),
    checkRms(motor, inertia, duty, wishes.torqueReserve),
    checkSpeed(motor, duty, wishes.speedReserve),
    checkInertia(inertia, duty, wishes.inertiaRatio),
    ...(thermal ? [thermal] : []),
    ...(brake ? [brakeCheck(motor, duty, wishes)] : []),
  ];
  const rms = rmsTorque(duty.integrals, inertia);
  return {
    motor,
    withBrake,
    inertia,
    mass: motor.mass + (withBrake ? motor.brakeMass : 0),
    checks,
    fits: checks.every((check) => check.ok),
    decisive: checks.reduce((worst, check) => (spare(check) < spare(worst) ? check : worst)),
    rmsTorque: rms,
    loss: motor.resistance * (rms / motor.torqueConstant) ** 2,
  };
}

function brakeCheck(motor: Motor, duty: Duty, wishes: SizingWishes): MotorCheck {
  const check = checkBrake(motor, duty, wishes.torqueReserve);
  return motor.brakeTorque === null ? { ...check, margin: -1, ok: false } : check;
}

/** What each criterion compares; smaller ranks first. */
const CRITERIA: Record<RankingCriterion, (candidate: Candidate) => number> = {
  mass: (candidate) => candidate.mass,
  loss: (candidate) => candidate.loss,
  torque: (candidate) =>
    -Math.min(...candidate.checks.filter(({ code }) => code === 'peak' || code === 'rms').map((c) => c.margin)),
  inertia: (candidate) => candidate.checks.find(({ code }) => code === 'inertia')!.required,
};

/**
 * Ranks a catalogue for a duty: those that fit first, by the wanted criterion;
 * then those that do not, the nearest miss first. Ties by mass, then by name.
 */
export function rankMotors(motors: readonly Motor[], duty: Duty, wishes: SizingWishes): Candidate[] {
  const key = CRITERIA[wishes.rankBy];
  return motors
    .map((motor) => judgeMotor(motor, duty, wishes))
    .sort(
      (a, b) =>
        Number(b.fits) - Number(a.fits) ||
        (a.fits ? key(a) - key(b) : spare(b.decisive) - spare(a.decisive)) ||
        a.mass - b.mass ||
        a.motor.type.localeCompare(b.motor.type),
    );
}
