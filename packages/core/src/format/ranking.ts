import { displayUnit, toDisplay, type UnitSystem } from '../quantity';
import { explainCandidate, type Candidate } from '../sizing';
import { heading, writeCsv } from './csv';

const figure = (value: number) => (Number.isFinite(value) ? Number(value.toPrecision(6)) : null);

/** A ranking as plain data in SI units; infinite margins are null. */
export function rankingJson(ranking: readonly Candidate[], reason: (candidate: Candidate) => string) {
  return ranking.map((candidate, i) => ({
    rank: i + 1,
    motor: candidate.motor.type,
    family: candidate.motor.family,
    fits: candidate.fits,
    withBrake: candidate.withBrake,
    mass: candidate.mass,
    inertia: candidate.inertia,
    rmsTorque: figure(candidate.rmsTorque),
    copperLoss: figure(candidate.loss),
    checks: candidate.checks.map(({ code, required, available, margin, wanted, ok, time, speed }) => ({
      code,
      required: figure(required),
      available: figure(available),
      margin: figure(margin),
      wanted,
      ok,
      ...(time === undefined ? {} : { time: figure(time) }),
      ...(speed === undefined ? {} : { speed: figure(speed) }),
    })),
    reason: reason(candidate).replace(/\u00a0/g, ' '),
  }));
}

/** A ranking as CSV: one row a motor, margins in percent, the reason in words. */
export function rankingCsv(ranking: readonly Candidate[], system: UnitSystem): string {
  const mass = displayUnit('mass', system).symbol;
  const margin = (candidate: Candidate, code: string) => {
    const check = candidate.checks.find((c) => c.code === code);
    return check && Number.isFinite(check.margin) ? Number((check.margin * 100).toFixed(1)) : '';
  };
  return writeCsv(
    [
      'rank',
      'motor',
      'fits',
      heading('mass', mass),
      heading('peak torque margin', '%'),
      heading('RMS torque margin', '%'),
      heading('speed margin', '%'),
      'inertia ratio',
      'reason',
    ],
    ranking.map((candidate, i) => [
      i + 1,
      candidate.motor.type,
      candidate.fits ? 'yes' : 'no',
      Number(toDisplay(candidate.mass, 'mass', system).toPrecision(4)),
      margin(candidate, 'peak'),
      margin(candidate, 'rms'),
      margin(candidate, 'speed'),
      Number((candidate.checks.find(({ code }) => code === 'inertia')?.required ?? 0).toPrecision(4)),
      explainCandidate(candidate, system).replace(/\u00a0/g, ' '),
    ]),
  );
}
