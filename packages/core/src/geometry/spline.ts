import { parametricPiece, type CurvePiece, type CurvePoint, type Derivatives } from './curve';
import type { Point2 } from './mass';

/** Second derivatives of a cubic spline over rising abscissae; natural ends, or periodic where the last value is the first. */
export function splineCurvatures(u: readonly number[], y: readonly number[], periodic: boolean): number[] {
  const n = u.length - 1;
  const h = (i: number) => u[i + 1]! - u[i]!;
  const slope = (i: number) => (y[i + 1]! - y[i]!) / h(i);
  if (!periodic) {
    const m = new Array<number>(n + 1).fill(0);
    const c = new Array<number>(n + 1).fill(0);
    for (let i = 1; i < n; i++) {
      const diagonal = 2 * (h(i - 1) + h(i)) - h(i - 1) * c[i - 1]!;
      c[i] = h(i) / diagonal;
      m[i] = (6 * (slope(i) - slope(i - 1)) - h(i - 1) * m[i - 1]!) / diagonal;
    }
    for (let i = n - 1; i > 0; i--) m[i] = m[i]! - c[i]! * m[i + 1]!;
    return m;
  }
  // Cyclic tridiagonal system by the Sherman–Morrison formula.
  const at = (i: number) => (i + n) % n;
  const diagonal: number[] = [];
  const right: number[] = [];
  for (let i = 0; i < n; i++) {
    diagonal.push(2 * (h(at(i - 1)) + h(i)));
    right.push(6 * (slope(i) - slope(at(i - 1))));
  }
  if (n === 2) {
    const off = h(0) + h(1);
    const determinant = diagonal[0]! * diagonal[1]! - off * off;
    const a = (right[0]! * diagonal[1]! - off * right[1]!) / determinant;
    const b = (right[1]! * diagonal[0]! - off * right[0]!) / determinant;
    return [a, b, a];
  }
  const corner = h(n - 1);
  const gamma = -diagonal[0]!;
  diagonal[0] = diagonal[0]! - gamma;
  diagonal[n - 1] = diagonal[n - 1]! - (corner * corner) / gamma;
  const sweep = (b: readonly number[]) => {
    const x = [...b];
    const c = new Array<number>(n).fill(0);
    for (let i = 0; i < n; i++) {
      const low = i > 0 ? h(i - 1) : 0;
      const d = diagonal[i]! - (i > 0 ? low * c[i - 1]! : 0);
      c[i] = i < n - 1 ? h(i) / d : 0;
      x[i] = (x[i]! - (i > 0 ? low * x[i - 1]! : 0)) / d;
    }
    for (let i = n - 2; i >= 0; i--) x[i] = x[i]! - c[i]! * x[i + 1]!;
    return x;
  };
  const x = sweep(right);
  const extra = new Array<number>(n).fill(0);
  extra[0] = gamma;
  extra[n - 1] = corner;
  const z = sweep(extra);
  const factor = (x[0]! + (corner * x[n - 1]!) / gamma) / (1 + z[0]! + (corner * z[n - 1]!) / gamma);
  const m = x.map((value, i) => value - factor * z[i]!);
  return [...m, m[0]!];
}

/**
 * Value and three derivatives of a cubic spline, into every `stride`-th place of `out` from `first` on.
 * @param u rising abscissae
 * @param column values there, and second derivatives as of {@link splineCurvatures}
 */
export function splineAt(
  u: readonly number[],
  { y, m }: { y: readonly number[]; m: readonly number[] },
  w: number,
  out: number[],
  first: number,
  stride: number,
): void {
  let low = 0;
  let high = u.length - 1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (u[middle]! <= w) low = middle;
    else high = middle;
  }
  const h = u[low + 1]! - u[low]!;
  const b = (w - u[low]!) / h;
  const a = 1 - b;
  const [y0, y1, m0, m1] = [y[low]!, y[low + 1]!, m[low]!, m[low + 1]!];
  out[first] = a * y0 + b * y1 + (((a ** 3 - a) * m0 + (b ** 3 - b) * m1) * h * h) / 6;
  out[first + stride] = (y1 - y0) / h + (((1 - 3 * a * a) * m0 + (3 * b * b - 1) * m1) * h) / 6;
  out[first + 2 * stride] = a * m0 + b * m1;
  out[first + 3 * stride] = (m1 - m0) / h;
}

/**
 * A cubic spline through points, chord length as parameter: direction and curvature run through.
 * Natural ends, or closed where `closed` (the first point must then not stand again at the end).
 */
export function splinePiece(points: readonly Point2[], closed: boolean): CurvePiece {
  const through = closed ? [...points, points[0]!] : points;
  const u = [0];
  for (let i = 1; i < through.length; i++)
    u.push(u[i - 1]! + Math.hypot(through[i]![0] - through[i - 1]![0], through[i]![1] - through[i - 1]![1]));
  const columns = ([0, 1] as const).map((k) => {
    const y = through.map((p) => p[k]);
    return { y, m: splineCurvatures(u, y, closed) };
  });
  const write = (w: number, out: Derivatives) => columns.forEach((column, k) => splineAt(u, column, w, out, k, 2));
  return parametricPiece(write, u[u.length - 1]!, Math.max(16, 2 * (through.length - 1)));
}

/**
 * A transition between two curve ends that matches place, direction, curvature and rate of curvature at both:
 * a polynomial of degree seven in a parameter whose speed and two further derivatives are those of the arc length
 * at both ends, scaled by the chord.
 */
export function transitionPiece(from: CurvePoint, to: CurvePoint): CurvePiece {
  const scale = Math.hypot(to.x - from.x, to.y - from.y);
  const ends = [from, to].map(({ x, y, tx, ty, curvature: k, curvatureRate: r }) => [
    [x, tx * scale, -ty * k * scale ** 2, (-k * k * tx - r * ty) * scale ** 3],
    [y, ty * scale, tx * k * scale ** 2, (-k * k * ty + r * tx) * scale ** 3],
  ]);
  const polynomials = [0, 1].map((axis) => septic(ends[0]![axis]!, ends[1]![axis]!));
  const write = (u: number, out: Derivatives) => {
    for (let order = 0; order < 4; order++) {
      out[2 * order] = derivativeAt(polynomials[0]!, u, order);
      out[2 * order + 1] = derivativeAt(polynomials[1]!, u, order);
    }
  };
  return parametricPiece(write, 1, 32);
}

/** A derivative of a polynomial of degree seven. */
export function derivativeAt(c: readonly number[], u: number, order: number): number {
  let value = 0;
  for (let i = 7; i >= order; i--) {
    let factor = c[i]!;
    for (let j = 0; j < order; j++) factor *= i - j;
    value = value * u + factor;
  }
  return value;
}

/** Coefficients of the polynomial of degree seven with given value and three derivatives at 0 and 1. */
export function septic(a: readonly number[], b: readonly number[]): number[] {
  const [c0, c1] = [a[0]!, a[1]!];
  const c2 = a[2]! / 2;
  const c3 = a[3]! / 6;
  // What is left to reach at 1 by the powers 4 to 7.
  const p = b[0]! - (c0 + c1 + c2 + c3);
  const v = b[1]! - (c1 + 2 * c2 + 3 * c3);
  const w = b[2]! - (2 * c2 + 6 * c3);
  const j = b[3]! - 6 * c3;
  return [
    c0,
    c1,
    c2,
    c3,
    35 * p - 15 * v + (5 * w) / 2 - j / 6,
    -84 * p + 39 * v - 7 * w + j / 2,
    70 * p - 34 * v + (13 * w) / 2 - j / 2,
    -20 * p + 10 * v - 2 * w + j / 6,
  ];
}
