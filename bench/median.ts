/** Median time in ms of many calls, after a warm-up. */
export function median(call: () => unknown, rounds = 200): number {
  for (let i = 0; i < rounds; i++) call();
  const times = Array.from({ length: rounds }, () => {
    const started = performance.now();
    call();
    return performance.now() - started;
  });
  return times.sort((a, b) => a - b)[rounds >> 1]!;
}
