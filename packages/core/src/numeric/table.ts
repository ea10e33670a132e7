/** Index i of the last entry of the rising list `xs` with xs[i] ≤ x; -1 where x lies before all of them. */
export function lastAtOrBefore(xs: ArrayLike<number>, x: number): number {
  let low = 0;
  let high = xs.length;
  while (low < high) {
    const middle = (low + high) >>> 1;
    if (xs[middle]! <= x) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}

/**
 * Straight-line interpolation in a table; the first and last values hold outside of it.
 * Where an abscissa stands twice (a step), the later value counts from there on.
 */
export function interpolate(xs: ArrayLike<number>, ys: ArrayLike<number>, x: number): number {
  const i = lastAtOrBefore(xs, x);
  if (i < 0) return ys[0]!;
  if (i >= xs.length - 1) return ys[xs.length - 1]!;
  const width = xs[i + 1]! - xs[i]!;
  return ys[i]! + ((ys[i + 1]! - ys[i]!) * (x - xs[i]!)) / width;
}

/** Index of the entry of largest magnitude. */
export function indexOfLargest(values: ArrayLike<number>): number {
  let best = 0;
  for (let i = 1; i < values.length; i++) {
    if (Math.abs(values[i]!) > Math.abs(values[best]!)) best = i;
  }
  return best;
}
