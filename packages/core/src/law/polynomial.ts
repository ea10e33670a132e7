import { mirrored, put, whole } from './pieces';
import type { LawFamily } from './types';

const parabola = mirrored((t, out, o) => put(out, o, 2 * t * t, 4 * t, 4, 0), [], [0, 0.5, 1]);

/** Straight line: constant speed, with a velocity step at both ends (VDI 2143 part 1). */
export const STRAIGHT: LawFamily = {
  id: 'straight',
  name: 'Straight line',
  advice: 'Constant speed; meets a dwell with a velocity step, so use it only between constant speeds.',
  parameters: [],
  make: () => whole((t) => [t, 1, 0, 0], { velocitySteps: [0, 1] }),
};

/** Quadratic parabola: two halves of constant acceleration (VDI 2143 part 1). */
export const QUADRATIC: LawFamily = {
  id: 'quadratic',
  name: 'Quadratic parabola',
  advice: 'Least peak acceleration of all, but it steps three times: for slow, stiff, light loads.',
  parameters: [],
  make: () => parabola,
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
  advice: 'A good all-rounder: no acceleration steps and moderate peaks.',
  parameters: [],
  make: () => poly345,
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
  advice: 'Jerk starts and ends at zero: for loads that ring; costs speed and acceleration.',
  parameters: [],
  make: () => poly4567,
};
