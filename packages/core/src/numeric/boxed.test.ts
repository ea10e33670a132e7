import fc from 'fast-check';
import { minimiseInBox, solveSemidefinite } from './boxed';
import { dense } from './dense';

/** G·Gᵀ of an n × k matrix: semidefinite, and singular where k < n. */
function gram(n: number, k: number, entries: readonly number[]) {
  const w = dense(n, n);
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++)
      for (let l = 0; l < k; l++) w.data[i * n + j]! += entries[i * k + l]! * entries[j * k + l]!;
  return w;
}
const number = fc.double({ min: -2, max: 2, noNaN: true });

test('what is within its limits has no slope, what is at a limit only opposes it (Karush, Kuhn, Tucker)', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 6 }),
      fc.integer({ min: 1, max: 6 }),
      fc.array(number, { minLength: 48, maxLength: 48 }),
      (n, k, numbers) => {
        const w = gram(n, k, numbers);
        // The slope without f lies in the range of W, as accelerations of joints of one mechanism do.
        const x = numbers.slice(36, 36 + n);
        const b = x.map((_, i) => 4 * x.reduce((sum, value, j) => sum + w.data[i * n + j]! * value, 0));
        const limit = numbers.slice(42, 42 + n).map((value) => Math.abs(value) + 0.01);
        const f = new Float64Array(n);
        minimiseInBox(w, b, limit, f);
        const size = 1 + b.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
        for (let i = 0; i < n; i++) {
          let slope = b[i]!;
          for (let j = 0; j < n; j++) slope += w.data[i * n + j]! * f[j]!;
          expect(Math.abs(f[i]!)).toBeLessThanOrEqual(limit[i]!);
          if (Math.abs(f[i]!) < limit[i]!) expect(Math.abs(slope) / size).toBeLessThan(1e-7);
          else expect((slope * Math.sign(f[i]!)) / size).toBeLessThan(1e-7);
        }
      },
    ),
    { numRuns: 400 },
  );
});

test('equations that depend on each other are solved where they agree', () => {
  const w = gram(3, 1, [1, 2, -1]);
  const x = solveSemidefinite(w, [3, 6, -3]);
  expect(x[0]! + 2 * x[1]! - x[2]!).toBeCloseTo(3, 12);
});
