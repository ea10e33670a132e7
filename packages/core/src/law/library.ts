import { CYCLOIDAL, HARMONIC, MODIFIED_SINE, MODIFIED_TRAPEZOID } from './harmonic';
import { ADJUSTABLE, JERK_LIMITED } from './adjustable';
import { POLYNOMIAL, POLYNOMIAL_345, POLYNOMIAL_4567, QUADRATIC, STRAIGHT } from './polynomial';
import { TRAPEZOIDAL } from './trapezoidal';
import type { LawFamily, LawParameters, MotionLaw } from './types';

/** Every law of the library, in the order in which they are offered. */
export const LAWS = [
  QUADRATIC,
  HARMONIC,
  POLYNOMIAL_345,
  POLYNOMIAL_4567,
  CYCLOIDAL,
  MODIFIED_SINE,
  MODIFIED_TRAPEZOID,
  TRAPEZOIDAL,
  JERK_LIMITED,
  ADJUSTABLE,
  POLYNOMIAL,
  STRAIGHT,
] as const satisfies readonly LawFamily[];

/** Identifiers of the laws, as the document names them. */
export const LAW_IDS = [
  'quadratic',
  'harmonic',
  'poly345',
  'poly4567',
  'cycloidal',
  'modifiedSine',
  'modifiedTrapezoid',
  'trapezoidal',
  'jerkLimited',
  'adjustable',
  'polynomial',
  'straight',
] as const;
export type LawId = (typeof LAW_IDS)[number];

const byId = new Map<string, LawFamily>(LAWS.map((law) => [law.id, law]));

/** The law with this identifier, or undefined. */
export function findLaw(id: string): LawFamily | undefined {
  return byId.get(id);
}

const made = new Map<string, MotionLaw>();
/** Adjusted laws kept for reuse; dragging a parameter must not grow this without end. */
const MOST_MADE = 500;

/**
 * A law ready for use; the same identifier and parameters give the same law.
 * @param parameters values for the law's own parameters; defaults fill the rest
 * @throws RangeError naming an unknown law
 */
export function makeLaw(id: string, parameters: LawParameters = {}): MotionLaw {
  const family = byId.get(id);
  if (!family) throw new RangeError(`There is no law “${id}”; known are ${[...byId.keys()].join(', ')}.`);
  if (family.parameters.length === 0) return family.make(parameters);
  const key = `${id} ${family.parameters.map(({ name, default: usual }) => parameters[name] ?? usual).join(' ')}`;
  let law = made.get(key);
  if (!law) {
    if (made.size >= MOST_MADE) made.clear();
    law = family.make(parameters);
    made.set(key, law);
  }
  return law;
}

/** Everything a law says at τ: [f, f′, f″, f‴]. */
export function lawAt(law: MotionLaw, tau: number): Float64Array {
  const out = new Float64Array(4);
  law.derivatives(tau, out, 0);
  return out;
}
