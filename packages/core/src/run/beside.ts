/** A hair's breadth, as a share of the time: how far beside a jump the values before and after it are read. */
const BESIDE = 1e-10;

/** The time at which sample k is taken: of a time that stands twice, just before and just after. */
export function besideJumps(times: Float64Array, k: number): number {
  const time = times[k]!;
  const hair = BESIDE * times[times.length - 1]!;
  if (times[k + 1] === time) return time - hair;
  if (k > 0 && times[k - 1] === time) return time + hair;
  return time;
}
