import { addBanded, banded, factorBanded, solveBanded } from './banded';
import { dense, solveDense } from './dense';

/**
 * Knots of a piecewise polynomial: at each x a value and its first derivatives (two for degree 5).
 * Between knots it is the Hermite polynomial of degree 3 or 5.
 */
export interface HermiteKnots {
  degree: 3 | 5;
  x: Float64Array;
  /** `orders` values a knot: f, f′ (and f″ for degree 5). */
  values: Float64Array;
}

/** Basis polynomials in τ on [0, 1], by coefficients: value and slope (and curvature) at the left, then right end. */
const CUBIC = [
  [1, 0, -3, 2],
  [0, 1, -2, 1],
  [0, 0, 3, -2],
  [0, 0, -1, 1],
];
const QUINTIC = [
  [1, 0, 0, -10, 15, -6],
  [0, 1, 0, -6, 8, -3],
  [0, 0, 0.5, -1.5, 1.5, -0.5],
  [0, 0, 0, 10, -15, 6],
  [0, 0, 0, -4, 7, -3],
  [0, 0, 0, 0.5, -1, 0.5],
];

function derivative(c: readonly number[], times: number): number[] {
  let d = [...c];
  for (let i = 0; i < times; i++) d = d.slice(1).map((value, k) => value * (k + 1));
  return d;
}

/** ∫₀¹ of the product of the m-th derivatives of all basis polynomials: what bending a piece costs. */
function bending(basis: readonly (readonly number[])[], m: number): number[][] {
  const d = basis.map((c) => derivative(c, m));
  return d.map((p) =>
    d.map((q) => p.reduce((sum, a, i) => sum + q.reduce((inner, b, j) => inner + (a * b) / (i + j + 1), 0), 0)),
  );
}

const BENDING = { 3: bending(CUBIC, 2), 5: bending(QUINTIC, 3) };

/** What the values at the knots are asked to be. */
export interface HermiteWish {
  degree: 3 | 5;
  x: ArrayLike<number>;
  /** At each knot f, f′ (and f″): a number where it is given, null where it is free. */
  given: readonly (readonly (number | null)[])[];
  /** Whether the last knot is the first one again, so that the curve closes. */
  cyclic?: boolean;
  /** Data that free values f are drawn to, with the weight of each squared distance. */
  drawn?: { to: ArrayLike<number>; weight: number } | undefined;
}

/**
 * The piecewise polynomial that fills in what is left free so that the integral of the squared second (degree 3) or
 * third derivative (degree 5) is least. With all f given this is the interpolating cubic (quintic) spline, natural
 * where its ends are free; with f drawn to data it is the smoothing spline (Reinsch 1967; de Boor, A Practical Guide
 * to Splines).
 * @throws RangeError where the wish leaves a curve undetermined
 */
export function fillHermite({ degree, x, given, cyclic = false, drawn }: HermiteWish): HermiteKnots {
  const orders = degree === 3 ? 2 : 3;
  const knots = given.length;
  const distinct = cyclic ? knots - 1 : knots;
  const span = (x[knots - 1]! - x[0]!) / (knots - 1);
  const energy = BENDING[degree];
  const m = degree === 3 ? 2 : 3;
  // Unknowns are scaled by the mean spacing, so that all are of one size. A cyclic first knot goes to the border.
  const unknown = new Int32Array(distinct * orders).fill(-1);
  const values = new Float64Array(knots * orders);
  const scale = [1, span, span * span];
  let inner = 0;
  const border: number[] = [];
  for (let i = 0; i < distinct; i++)
    for (let o = 0; o < orders; o++) {
      const at = i * orders + o;
      const value = given[i]![o] ?? null;
      if (value !== null) values[at] = value * scale[o]!;
      else if (cyclic && i === 0) border.push(at);
      else unknown[at] = inner++;
    }
  const matrix = banded(inner, Math.max(1, 2 * orders - 1));
  const sides = border.map(() => new Float64Array(inner));
  const corner = dense(border.length, border.length);
  const right = new Float64Array(inner);
  const cornerRight = new Float64Array(border.length);
  const add = (p: number, q: number, k: number) => {
    const [i, j] = [unknown[p]!, unknown[q]!];
    const [bi, bj] = [border.indexOf(p), border.indexOf(q)];
    const fixed = j < 0 && bj < 0;
    if (i >= 0) {
      if (j >= 0) {
        if (j <= i) addBanded(matrix, i, j, k);
      } else if (bj >= 0) sides[bj]![i]! += k;
      else right[i]! -= k * values[q]!;
    } else if (bi >= 0) {
      if (bj >= 0) corner.data[bi * border.length + bj]! += k;
      else if (fixed) cornerRight[bi]! -= k * values[q]!;
    }
  };
  for (let e = 0; e + 1 < knots; e++) {
    const h = (x[e + 1]! - x[e]!) / span;
    const places = [e, (e + 1) % distinct].flatMap((knot) =>
      Array.from({ length: orders }, (_, o) => knot * orders + o),
    );
    for (let p = 0; p < 2 * orders; p++)
      for (let q = 0; q < 2 * orders; q++)
        add(places[p]!, places[q]!, (energy[p]![q]! * h ** ((p % orders) + (q % orders))) / h ** (2 * m - 1));
  }
  if (drawn)
    for (let i = 0; i < distinct; i++) {
      const at = i * orders;
      const free = unknown[at]!;
      const b = border.indexOf(at);
      if (free >= 0) {
        addBanded(matrix, free, free, drawn.weight);
        right[free]! += drawn.weight * drawn.to[i]!;
      } else if (b >= 0) {
        corner.data[b * border.length + b]! += drawn.weight;
        cornerRight[b]! += drawn.weight * drawn.to[i]!;
      }
    }
  if (!factorBanded(matrix)) throw new RangeError('The points leave the curve undetermined: give more of them.');
  solveBanded(matrix, right);
  if (border.length > 0) {
    const solved = sides.map((side) => {
      const copy = side.slice();
      solveBanded(matrix, copy);
      return copy;
    });
    const dot = (p: Float64Array, q: Float64Array) => p.reduce((sum, value, i) => sum + value * q[i]!, 0);
    border.forEach((_, r) => {
      cornerRight[r]! -= dot(sides[r]!, right);
      border.forEach((__, c) => (corner.data[r * border.length + c]! -= dot(sides[r]!, solved[c]!)));
    });
    if (!solveDense(corner, cornerRight))
      throw new RangeError('The points leave the curve undetermined: give more of them.');
    border.forEach((at, r) => {
      values[at] = cornerRight[r]!;
      for (let i = 0; i < inner; i++) right[i]! -= solved[r]![i]! * cornerRight[r]!;
    });
  }
  unknown.forEach((i, at) => {
    if (i >= 0) values[at] = right[i]!;
  });
  for (let i = 0; i < distinct; i++) for (let o = 0; o < orders; o++) values[i * orders + o]! /= scale[o]!;
  if (cyclic) for (let o = 0; o < orders; o++) values[(knots - 1) * orders + o] = values[o]!;
  return { degree, x: Float64Array.from(x), values };
}

/** How a spline through points is made. */
export interface SplineChoice {
  degree: 3 | 5;
  /** Rest (no speed, no acceleration) at both ends, free ends, or a closed curve. */
  ends: 'rest' | 'free' | 'cyclic';
  /** Largest distance from the points that smoothing may use; 0 passes through them. */
  tolerance: number;
}

/**
 * A spline through points, or past them within a tolerance: then it is the smoothest that stays that close at every
 * point (largest smoothing found by bisection). First and last points are always met where the ends are at rest.
 * @param x rising
 * @throws RangeError where there are too few points
 */
export function splineThrough(x: ArrayLike<number>, y: ArrayLike<number>, choice: SplineChoice): HermiteKnots {
  const { degree, ends, tolerance } = choice;
  const orders = degree === 3 ? 2 : 3;
  const count = x.length;
  if (count < (ends === 'cyclic' ? 3 : 2))
    throw new RangeError(`A spline needs at least ${ends === 'cyclic' ? 'three points to close' : 'two points'}.`);
  const wish = (smooth: boolean, weight: number): HermiteWish => ({
    degree,
    x,
    cyclic: ends === 'cyclic',
    given: Array.from({ length: count }, (_, i) => {
      const end = i === 0 || i === count - 1;
      const rest = end && ends === 'rest';
      const open = smooth && !rest;
      return Array.from({ length: orders }, (__, o) => (o === 0 ? (open ? null : y[i]!) : rest ? 0 : null));
    }),
    drawn: smooth ? { to: y, weight } : undefined,
  });
  const exact = () => fillHermite(wish(false, 0));
  if (tolerance <= 0) return exact();
  const away = (knots: HermiteKnots) => {
    let most = 0;
    for (let i = 0; i < count; i++) most = Math.max(most, Math.abs(knots.values[i * orders]! - y[i]!));
    return most;
  };
  let [loose, tight] = [-9, 9];
  let best: HermiteKnots | undefined;
  for (let i = 0; i < 40; i++) {
    const middle = (loose + tight) / 2;
    let tried: HermiteKnots | undefined;
    try {
      tried = fillHermite(wish(true, 10 ** middle));
    } catch {
      // Too loose for the numbers; drawn more tightly it can be solved.
    }
    if (tried && away(tried) <= tolerance) {
      best = tried;
      tight = middle;
    } else loose = middle;
  }
  return best ?? exact();
}

/** Coefficients in τ of the piece behind knot i. */
export function hermitePiece({ degree, x, values }: HermiteKnots, i: number): Float64Array {
  const orders = degree === 3 ? 2 : 3;
  const basis = degree === 3 ? CUBIC : QUINTIC;
  const h = x[i + 1]! - x[i]!;
  const c = new Float64Array(degree + 1);
  basis.forEach((polynomial, p) => {
    const weight = values[i * orders + p]! * h ** (p % orders);
    polynomial.forEach((value, k) => (c[k]! += value * weight));
  });
  return c;
}
