import fc from 'fast-check';
import { analyseRank, dense, solveDense, SparseLu } from './index';

/** A sparse matrix as entries, with enough on a shuffled diagonal to be regular. */
const system = fc.integer({ min: 1, max: 25 }).chain((size) =>
  fc.record({
    size: fc.constant(size),
    extra: fc.array(
      fc.tuple(
        fc.integer({ min: 0, max: size - 1 }),
        fc.integer({ min: 0, max: size - 1 }),
        fc.double({ min: -1, max: 1, noNaN: true }),
      ),
      { maxLength: 3 * size },
    ),
    shuffle: fc.shuffledSubarray(
      Array.from({ length: size }, (_, i) => i),
      { minLength: size, maxLength: size },
    ),
    b: fc.array(fc.double({ min: -5, max: 5, noNaN: true }), { minLength: size, maxLength: size }),
  }),
);

type System = { size: number; extra: [number, number, number][]; shuffle: number[]; b: number[] };

function entriesOf({ size, extra, shuffle }: System) {
  const rows = [...shuffle.keys(), ...extra.map(([r]) => r)];
  const columns = [...shuffle, ...extra.map(([, c]) => c)];
  // The sums of the extra entries stay below the strong ones, so the matrix is regular.
  const values = [...shuffle.map(() => 3 * size + 1), ...extra.map(([, , v]) => v)];
  return { pattern: { size, rows: Int32Array.from(rows), columns: Int32Array.from(columns) }, values };
}

const largestGap = (a: ArrayLike<number>, b: ArrayLike<number>) =>
  Array.from(a).reduce((most, value, i) => Math.max(most, Math.abs(value - b[i]!)), 0);

function product(
  { size, rows, columns }: ReturnType<typeof entriesOf>['pattern'],
  values: number[],
  x: ArrayLike<number>,
  transposed: boolean,
) {
  const out = new Float64Array(size);
  rows.forEach((r, k) => {
    const c = columns[k]!;
    if (transposed) out[c] = out[c]! + values[k]! * x[r]!;
    else out[r] = out[r]! + values[k]! * x[c]!;
  });
  return out;
}

test('a sparse system and its transpose are solved, also with new values in the same pattern', () => {
  fc.assert(
    fc.property(system, (given) => {
      const { pattern, values } = entriesOf(given);
      const lu = new SparseLu(pattern);
      const x = new Float64Array(given.size);
      for (const scale of [1, -0.3]) {
        const changed = values.map((value, k) => value * scale * (k < given.size ? 1 : scale));
        expect(lu.factor(changed)).toBe(true);
        lu.solve(given.b, x);
        expect(largestGap(product(pattern, changed, x, false), given.b)).toBeLessThan(1e-11);
        lu.solveTransposed(given.b, x);
        expect(largestGap(product(pattern, changed, x, true), given.b)).toBeLessThan(1e-11);
      }
    }),
  );
});

test('a pivot that vanishes with new values makes the order be sought anew', () => {
  const lu = new SparseLu({ size: 2, rows: Int32Array.of(0, 0, 1, 1), columns: Int32Array.of(0, 1, 0, 1) });
  expect(lu.factor([1, 0.1, 0.1, 1])).toBe(true);
  expect(lu.factor([0, 1, 1, 0])).toBe(true);
  const x = new Float64Array(2);
  lu.solve([3, 4], x);
  expect([...x]).toEqual([4, 3]);
  expect(lu.factor([1, 2, 2, 4])).toBe(false);
});

test('rank, null space and dependent rows by hand', () => {
  const matrix = { rows: 3, columns: 4, data: Float64Array.of(1, 0, 2, 0, 0, 1, 1, 0, 1, 1, 3, 0) };
  const { rank, nullSpace, dependentRows } = analyseRank(matrix);
  expect(rank).toBe(2);
  expect(nullSpace).toHaveLength(2);
  for (const x of nullSpace)
    for (let i = 0; i < 3; i++) {
      let sum = 0;
      for (let j = 0; j < 4; j++) sum += matrix.data[4 * i + j]! * x[j]!;
      expect(sum).toBeCloseTo(0, 12);
    }
  const [dependent] = dependentRows;
  for (let j = 0; j < 4; j++) {
    const made = dependent!.of.reduce((sum, { row, share }) => sum + share * matrix.data[4 * row + j]!, 0);
    expect(made).toBeCloseTo(matrix.data[4 * dependent!.row + j]!, 12);
  }
});

test('a dense system is solved, a singular one refused', () => {
  const a = dense(3, 3);
  a.data.set([0, 2, 1, 1, 1, 0, 3, 0, 1]);
  const b = Float64Array.of(7, 3, 6);
  expect(solveDense(a, b)).toBe(true);
  expect(Array.from(b, (value) => Math.round(value * 1e9) / 1e9)).toEqual([1, 2, 3]);
  const singular = dense(2, 2);
  singular.data.set([1, 2, 2, 4]);
  expect(solveDense(singular, Float64Array.of(1, 1))).toBe(false);
});
