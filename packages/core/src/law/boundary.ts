import { dense, solveDense } from '../numeric';
import { put } from './pieces';
import type { LawEnds, MotionLaw } from './types';

/** Degrees offered for polynomials from boundary values. */
export const DEGREES = [3, 5, 7, 9] as const;

/** Value and derivatives at both ends of [0, 1], from the order zero up; both lists of the same length. */
export interface BoundaryValues {
  left: readonly number[];
  right: readonly number[];
}

const factorial = (n: number): number => (n < 2 ? 1 : n * factorial(n - 1));
/** k! / (k − n)!: what the n-th derivative of τᵏ has in front. */
const falling = (k: number, n: number): number => {
  let product = 1;
  for (let i = 0; i < n; i++) product *= k - i;
  return product;
};

/**
 * Coefficients c of the polynomial Σ cₖτᵏ of lowest degree that has the given values and derivatives at τ = 0 and 1
 * (Hermite interpolation; VDI 2143 part 1 gives the fifth degree). The left end gives its coefficients at once,
 * the right end by one linear solve.
 */
export function boundaryPolynomial({ left, right }: BoundaryValues): Float64Array {
  const n = left.length;
  const m = right.length;
  const c = new Float64Array(n + m);
  for (let k = 0; k < n; k++) c[k] = left[k]! / factorial(k);
  const matrix = dense(m, m);
  const b = new Float64Array(m);
  for (let row = 0; row < m; row++) {
    b[row] = right[row]!;
    for (let k = row; k < n; k++) b[row]! -= c[k]! * falling(k, row);
    for (let j = 0; j < m; j++) matrix.data[row * m + j] = falling(n + j, row);
  }
  solveDense(matrix, b);
  c.set(b, n);
  return c;
}

/** Writes a polynomial and its first three derivatives at τ (Horner). */
export function putPolynomial(c: Float64Array, tau: number, out: Float64Array, offset: number): void {
  let f = 0;
  let f1 = 0;
  let f2 = 0;
  let f3 = 0;
  for (let k = c.length - 1; k >= 0; k--) {
    f3 = f3 * tau + 3 * f2;
    f2 = f2 * tau + 2 * f1;
    f1 = f1 * tau + f;
    f = f * tau + c[k]!;
  }
  put(out, offset, f, f1, f2, f3);
}

/**
 * The polynomial of an odd degree between given ends: degree 3 meets velocities, 5 accelerations too,
 * 7 and 9 also have no jerk (and no change of it) there.
 */
export function polynomialLaw(degree: number, { rise, v0, v1, a0, a1 }: LawEnds): MotionLaw {
  const each = (degree + 1) / 2;
  const left = [0, v0, a0, 0, 0].slice(0, each);
  const right = [rise, v1, a1, 0, 0].slice(0, each);
  const c = boundaryPolynomial({ left, right });
  return {
    derivatives: (tau, out, offset) => putPolynomial(c, tau, out, offset),
    breaks: [],
    accelerationSteps: degree < 5 ? [0, 1] : [],
    velocitySteps: [],
  };
}
