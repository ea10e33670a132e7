import fc from 'fast-check';
import { concurrency, type PlainNet } from './concurrency';

/** All pairs of steps that are active together in some situation, by walking through every situation. */
function byWalking({ steps, transitions, initial }: PlainNet): Set<string> {
  const start = [...new Set(initial)].sort((a, b) => a - b);
  const seen = new Set([start.join()]);
  const pairs = new Set<string>();
  const queue = [start];
  for (let at = queue.pop(); at; at = queue.pop()) {
    for (const a of at) for (const b of at) if (a < b) pairs.add(`${a} ${b}`);
    for (const { from, to } of transitions) {
      if (!from.every((step) => at.includes(step))) continue;
      const next = [...new Set([...at.filter((step) => !from.includes(step)), ...to])].sort((a, b) => a - b);
      if (seen.has(next.join())) continue;
      seen.add(next.join());
      queue.push(next);
    }
  }
  expect(steps).toBeGreaterThan(0);
  return pairs;
}

const step = fc.integer({ min: 0, max: 8 });
const list = (min: number) => fc.uniqueArray(step, { minLength: min, maxLength: 3 });

test('no pair that some situation has is missing (property, against a walk through all situations)', () => {
  const net = fc.record({
    steps: fc.constant(9),
    transitions: fc.array(fc.record({ from: list(1), to: list(1) }), { minLength: 1, maxLength: 8 }),
    initial: list(1),
  });
  fc.assert(
    fc.property(net, (given) => {
      const together = concurrency(given);
      for (const pair of byWalking(given)) {
        const [a, b] = pair.split(' ').map(Number) as [number, number];
        expect(together(a, b) && together(b, a)).toBe(true);
      }
    }),
    { numRuns: 500 },
  );
});

test('two rows side by side are concurrent step by step, steps of one row are not, and a join ends it', () => {
  // 0 → 1 and 2; 1 → 3; 2 → 4; 3 and 4 → 5
  const together = concurrency({
    steps: 6,
    initial: [0],
    transitions: [
      { from: [0], to: [1, 2] },
      { from: [1], to: [3] },
      { from: [2], to: [4] },
      { from: [3, 4], to: [5] },
    ],
  });
  const pairs: string[] = [];
  for (let a = 0; a < 6; a++) for (let b = a + 1; b < 6; b++) if (together(a, b)) pairs.push(`${a}${b}`);
  expect(pairs).toEqual(['12', '14', '23', '34']);
});
