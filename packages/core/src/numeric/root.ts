/**
 * Where a two-valued state changes inside (from, to), by bisection to the last bit.
 * @returns the largest number found at which `state` still equals `state(from)`
 */
export function bisectChange<T>(state: (x: number) => T, from: number, to: number): number {
  const start = state(from);
  let low = from;
  let high = to;
  for (;;) {
    const middle = (low + high) / 2;
    if (middle <= low || middle >= high) return low;
    if (state(middle) === start) low = middle;
    else high = middle;
  }
}

/** Largest value of `f` on [from, to] with its place: a scan followed by golden-section search. */
export function maximise(
  f: (x: number) => number,
  from: number,
  to: number,
  scan = 400,
): { at: number; value: number } {
  let best = 0;
  let bestValue = -Infinity;
  for (let i = 0; i <= scan; i++) {
    const value = f(from + ((to - from) * i) / scan);
    if (value > bestValue) {
      bestValue = value;
      best = i;
    }
  }
  const ratio = (Math.sqrt(5) - 1) / 2;
  let low = from + ((to - from) * Math.max(0, best - 1)) / scan;
  let high = from + ((to - from) * Math.min(scan, best + 1)) / scan;
  for (let i = 0; i < 80; i++) {
    const left = high - ratio * (high - low);
    const right = low + ratio * (high - low);
    if (f(left) < f(right)) low = left;
    else high = right;
  }
  const at = (low + high) / 2;
  const refined = f(at);
  const place = from + ((to - from) * best) / scan;
  return refined >= bestValue ? { at, value: refined } : { at: place, value: bestValue };
}
