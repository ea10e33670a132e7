/** The part of the package `cubic-spline` that the tests use: a natural cubic spline. */
export default class Spline {
  constructor(xs: readonly number[], ys: readonly number[]);
  at(x: number): number;
}
