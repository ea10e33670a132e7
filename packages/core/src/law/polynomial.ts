import { DEGREES, polynomialLaw } from './boundary';
import { lobedLaw } from './lobes';
import { mirrored, put, whole } from './pieces';
import type { LawFamily } from './types';

const parabola = mirrored((t, out, o) => put(out, o, 2 * t * t, 4 * t, 4, 0), [], [0, 0.5, 1]);

/** Straight line: constant speed, with a velocity step at both ends (VDI 2143 part 1). */
export const STRAIGHT: LawFamily = {
  id: 'straight',
  name: 'Straight line',
  formula: 'f = τ',
  tasks: ['G–G'],
  advice: 'Constant speed; meets a dwell with a velocity step, so use it only between constant speeds.',
  parameters: [],
  make: () => whole((t) => [t, 1, 0, 0], { velocitySteps: [0, 1] }),
};

/** Quadratic parabola: two halves of constant acceleration (VDI 2143 part 1). */
export const QUADRATIC: LawFamily = {
  id: 'quadratic',
  name: 'Quadratic parabola',
  formula: 'f = 2τ² up to τ = ½, then 1 − 2(1 − τ)²',
  tasks: ['R–R', 'R–G', 'G–G'],
  advice: 'Least peak acceleration of all, but it steps three times: for slow, stiff, light loads.',
  parameters: [],
  make: () => parabola,
  between: (ends) => lobedLaw({ form: 'sine', up: 0, down: 0, first: 0.5, second: 0.5 }, ends),
};

const poly345 = whole((t) => [
  t * t * t * (10 - t * (15 - 6 * t)),
  30 * t * t * (1 - t) * (1 - t),
  60 * t * (1 - t) * (1 - 2 * t),
  60 * (1 - 6 * t * (1 - t)),
]);

/** Polynomial 3-4-5: f = 10τ³ − 15τ⁴ + 6τ⁵ (VDI 2143 part 1). */
export const POLYNOMIAL_345: LawFamily = {
  id: 'poly345',
  name: 'Polynomial 3-4-5',
  formula: 'f = 10τ³ − 15τ⁴ + 6τ⁵',
  tasks: ['R–R', 'R–G', 'G–G', 'U–U', 'B–B'],
  advice: 'A good all-rounder: no acceleration steps and moderate peaks.',
  parameters: [],
  make: () => poly345,
  between: (ends) => polynomialLaw(5, ends),
  meetsAcceleration: true,
};

const poly4567 = whole((t) => {
  const u = 1 - t;
  return [
    t ** 4 * (35 - t * (84 - t * (70 - 20 * t))),
    140 * t ** 3 * u ** 3,
    420 * t * t * u * u * (1 - 2 * t),
    840 * t * u * (1 - 5 * t * u),
  ];
});

/** Polynomial 4-5-6-7: f = 35τ⁴ − 84τ⁵ + 70τ⁶ − 20τ⁷ (Norton, Cam Design and Manufacturing Handbook). */
export const POLYNOMIAL_4567: LawFamily = {
  id: 'poly4567',
  name: 'Polynomial 4-5-6-7',
  formula: 'f = 35τ⁴ − 84τ⁵ + 70τ⁶ − 20τ⁷',
  tasks: ['R–R', 'R–G', 'G–G', 'U–U', 'B–B'],
  advice: 'Jerk starts and ends at zero: for loads that ring; costs speed and acceleration.',
  parameters: [],
  make: () => poly4567,
  between: (ends) => polynomialLaw(7, ends),
  meetsAcceleration: true,
};

/** Degree asked for, brought to one that both ends share alike. */
const degreeOf = ({ degree = 5 }) => Math.min(9, Math.max(3, 2 * Math.floor(degree / 2) + 1));

/** The polynomial of chosen degree from the values at its ends (VDI 2143 part 1; Hermite interpolation). */
export const POLYNOMIAL: LawFamily = {
  id: 'polynomial',
  name: 'Polynomial of chosen degree',
  formula: 'f = Σ cₖτᵏ, with cₖ from position, velocity, acceleration … at both ends',
  tasks: ['R–R', 'R–G', 'G–G', 'U–U', 'B–B'],
  advice: 'Meets any values at its ends: degree 3 speeds, 5 accelerations too, 7 and 9 start without jerk as well.',
  parameters: [{ name: 'degree', label: 'Degree', default: 5, min: 3, max: 9, choices: DEGREES }],
  make: (parameters) => polynomialLaw(degreeOf(parameters), { rise: 1, v0: 0, v1: 0, a0: 0, a1: 0 }),
  between: (ends, parameters) => polynomialLaw(degreeOf(parameters), ends),
  meetsAcceleration: true,
};
