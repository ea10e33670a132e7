import { counted, formatNumber, formatQuantity, type UnitSystem } from '../quantity';
import type { RankingCriterion } from '../machine';
import type { CheckCode, MotorCheck } from './checks';
import type { Candidate } from './rank';

/** Names of the checks as headings. */
export const CHECK_LABELS: Record<CheckCode, string> = {
  peak: 'Peak torque',
  rms: 'RMS torque',
  speed: 'Speed',
  inertia: 'Inertia ratio',
  thermal: 'Winding heat',
  brake: 'Brake',
};

/** Names of the ranking criteria. */
export const CRITERION_LABELS: Record<RankingCriterion, string> = {
  mass: 'Lightest first',
  loss: 'Least copper loss first',
  torque: 'Largest torque reserve first',
  inertia: 'Smallest inertia ratio first',
};

/** A share as a whole percentage. */
export function percent(share: number): string {
  return Number.isFinite(share) ? `${formatNumber(Math.round(share * 100), 6)}\u00a0%` : '∞';
}

/** Says one failed check in a sentence: what is asked, when, and what the motor has. */
export function explainFailure(check: MotorCheck, system: UnitSystem): string {
  const torque = (value: number) => formatQuantity(value, 'torque', system);
  const speed = (value: number) => formatQuantity(Math.abs(value), 'shaftSpeed', system);
  const at = check.time === undefined ? '' : ` at ${formatQuantity(check.time, 'time', system)}`;
  const short =
    check.margin >= 0 ? `leave ${percent(check.margin)} reserve, ${percent(check.wanted)} are wanted, of` : 'exceed';
  switch (check.code) {
    case 'peak':
      if (check.available === 0)
        return `it gives no torque at ${speed(check.speed ?? 0)}, where ${torque(check.required)} are needed${at}`;
      return `${torque(check.required)}${at} ${short} its ${torque(check.available)} at ${speed(check.speed ?? 0)}`;
    case 'rms':
      if (check.available === 0)
        return `it has no continuous torque left at the RMS speed of ${speed(check.speed ?? 0)}`;
      return `${torque(check.required)} RMS ${short} its continuous ${torque(check.available)} at ${speed(check.speed ?? 0)}`;
    case 'speed':
      return `${speed(check.required)}${at} ${short} its ${speed(check.available)}`;
    case 'inertia':
      return `the load has ${formatNumber(check.required)} times its inertia; at most ${formatNumber(check.available)} are wanted`;
    case 'thermal':
      return `the winding gets ${percent(check.required)} of its permitted heat${at}, though the mean is lower`;
    case 'brake':
      return check.available === 0
        ? `the axis sinks without power (${torque(check.required)} to hold) and it comes without a brake`
        : `holding ${torque(check.required)} ${short.replace('leave', 'leaves')} its brake’s ${torque(check.available)}`;
  }
}

/** Why a candidate fits or fails, in words. */
export function explainCandidate(candidate: Candidate, system: UnitSystem): string {
  const failed = candidate.checks.filter((check) => !check.ok);
  if (failed.length > 0) return `Fails because ${failed.map((check) => explainFailure(check, system)).join('; and ')}.`;
  const margins = candidate.checks
    .filter(({ code }) => code === 'peak' || code === 'rms' || code === 'speed')
    .map((check) => `${percent(check.margin)} on ${CHECK_LABELS[check.code].replace(/^[PS]/, (c) => c.toLowerCase())}`);
  const ratio = candidate.checks.find(({ code }) => code === 'inertia')!.required;
  const brake = candidate.withBrake ? ', with brake' : '';
  return `Fits${brake}: in hand ${margins.join(', ')}; inertia ratio ${formatNumber(ratio, 3)}. Tightest: ${CHECK_LABELS[candidate.decisive.code].toLowerCase().replace('rms', 'RMS')}.`;
}

/** Why the first of a ranking is first. */
export function explainRanking(ranking: readonly Candidate[], by: RankingCriterion, system: UnitSystem): string {
  const fitting = ranking.filter((candidate) => candidate.fits);
  const [first, second] = fitting;
  if (ranking.length === 0) return 'The catalogue is empty: import motors from a CSV file.';
  if (!first) {
    const nearest = ranking[0]!;
    return `None of ${counted(ranking.length, 'motor')} fits. Nearest is ${nearest.motor.type}: ${explainFailure(nearest.decisive, system)}.`;
  }
  const reason: Record<RankingCriterion, (c: Candidate) => string> = {
    mass: (c) => formatQuantity(c.mass, 'mass', system, 3),
    loss: (c) => `${formatQuantity(c.loss, 'power', system, 3)} copper loss`,
    torque: (c) =>
      `${percent(Math.min(...c.checks.filter(({ code }) => code === 'peak' || code === 'rms').map((k) => k.margin)))} torque reserve`,
    inertia: (c) => `inertia ratio ${formatNumber(c.checks.find(({ code }) => code === 'inertia')!.required, 3)}`,
  };
  const superlative: Record<RankingCriterion, string> = {
    mass: 'the lightest',
    loss: 'the coolest',
    torque: 'the one with most torque in hand',
    inertia: 'the best match of inertia',
  };
  const next = second ? `; next is ${second.motor.type} with ${reason[by](second)}` : '';
  return `${first.motor.type} is ${superlative[by]} of the ${fitting.length} that fit (out of ${ranking.length}): ${reason[by](first)}${next}.`;
}
