import fc from 'fast-check';
import {
  analyseRank,
  bisectChange,
  dense,
  indexOfLargest,
  integrate,
  interpolate,
  lastAtOrBefore,
  maximise,
} from './index';

describe('quadrature', () => {
  test('five Gauss points are exact up to degree nine (Abramowitz & Stegun, 25.4.29)', () => {
    for (let degree = 0; degree <= 9; degree++)
      expect(integrate((x) => x ** degree, 0, 1, 1)).toBeCloseTo(1 / (degree + 1), 14);
    expect(Math.abs(integrate((x) => x ** 10, -1, 1, 1) - 2 / 11)).toBeGreaterThan(1e-4);
  });

  test.each([
    ['sin over half a turn', Math.sin, 0, Math.PI, 2],
    ['1/x from 1 to e', (x: number) => 1 / x, 1, Math.E, 1],
    ['the Gauss bell', (x: number) => Math.exp(-x * x), -8, 8, Math.sqrt(Math.PI)],
  ])('%s (closed forms)', (_name, f, from, to, expected) => {
    expect(integrate(f, from, to)).toBeCloseTo(expected, 12);
  });

  test('turns its sign when the limits change places', () => {
    expect(integrate(Math.cos, 1, 0)).toBeCloseTo(-integrate(Math.cos, 0, 1), 14);
  });
});

describe('roots and maxima', () => {
  test('a change is found to the last bit', () => {
    fc.assert(
      fc.property(fc.double({ min: 1e-6, max: 1, noNaN: true }), (place) => {
        const found = bisectChange((x) => x >= place, 0, 2);
        expect(found).toBeLessThan(place);
        expect(place - found).toBeLessThanOrEqual(place * 3e-16);
      }),
    );
  });

  test('the maximum of a sine and its place', () => {
    const { at, value } = maximise((x) => Math.sin(3 * x), 0, 1);
    expect(at).toBeCloseTo(Math.PI / 6, 6);
    expect(value).toBeCloseTo(1, 14);
  });

  test('a maximum at an end of the range is kept', () => {
    expect(maximise((x) => x, 0, 1)).toMatchObject({ value: 1 });
    expect(maximise((x) => -x, 0, 1)).toMatchObject({ at: 0 });
  });
});

describe('tables', () => {
  const rising = fc
    .uniqueArray(fc.double({ min: -100, max: 100, noNaN: true }), { minLength: 2, maxLength: 20 })
    .map((xs) => xs.sort((a, b) => a - b));

  test('interpolation gives straight lines back exactly and never leaves the values', () => {
    fc.assert(
      fc.property(rising, fc.double({ min: -150, max: 150, noNaN: true }), (xs, x) => {
        const ys = xs.map((value) => Math.sin(value));
        const found = interpolate(xs, ys, x);
        expect(found).toBeGreaterThanOrEqual(Math.min(...ys) - 1e-12);
        expect(found).toBeLessThanOrEqual(Math.max(...ys) + 1e-12);
        const inside = Math.max(xs[0]!, Math.min(xs.at(-1)!, x));
        expect(interpolate(xs, xs, x)).toBeCloseTo(inside, 9);
      }),
    );
  });

  test('a step counts from its abscissa on', () => {
    expect([0.99, 1, 1.01].map((x) => interpolate([0, 1, 1, 2], [0, 0, 5, 5], x))).toEqual([0, 5, 5]);
  });

  test('the index at or before a value', () => {
    expect([-1, 0, 0.5, 1, 1.5, 9].map((x) => lastAtOrBefore([0, 1, 1, 2], x))).toEqual([-1, 0, 0, 2, 2, 3]);
  });

  test('the largest magnitude may be negative', () => {
    expect(indexOfLargest([1, -3, 2])).toBe(1);
  });
});

test('what does not hang together is analysed part by part: rank, null space and shares hold for the whole', () => {
  const entry = fc.integer({ min: -3, max: 3 });
  const block = fc.tuple(fc.integer({ min: 1, max: 4 }), fc.integer({ min: 1, max: 4 })).chain(([r, c]) =>
    fc.array(fc.array(entry, { minLength: c, maxLength: c }), { minLength: r, maxLength: r }),
  ); // prettier-ignore
  fc.assert(
    fc.property(fc.array(block, { minLength: 2, maxLength: 4 }), fc.nat(), (blocks, seed) => {
      const rows = blocks.reduce((sum, own) => sum + own.length, 0);
      const columns = blocks.reduce((sum, own) => sum + own[0]!.length, 0);
      // Rows and columns shuffled, so that the parts lie in each other.
      const shuffled = (count: number) => Array.from({ length: count }, (_, i) => i).sort((a, b) => ((a * 7919 + seed) % 31) - ((b * 7919 + seed) % 31)); // prettier-ignore
      const [rowAt, columnAt] = [shuffled(rows), shuffled(columns)];
      const matrix = dense(rows, columns);
      let [r0, c0, rank] = [0, 0, 0];
      for (const own of blocks) {
        const alone = dense(own.length, own[0]!.length);
        own.forEach((row, r) =>
          row.forEach((value, c) => {
            alone.data[r * alone.columns + c] = value;
            matrix.data[rowAt[r0 + r]! * columns + columnAt[c0 + c]!] = value;
          }),
        );
        rank += analyseRank(alone).rank;
        r0 += own.length;
        c0 += own[0]!.length;
      }
      const found = analyseRank(matrix);
      expect(found.rank).toBe(rank);
      expect(found.independentRows).toHaveLength(rank);
      expect(found.dependentRows).toHaveLength(rows - rank);
      expect(found.nullSpace).toHaveLength(columns - rank);
      const rowOf = (i: number) => [...matrix.data.subarray(i * columns, (i + 1) * columns)];
      for (const x of found.nullSpace)
        for (let i = 0; i < rows; i++) expect(Math.abs(rowOf(i).reduce((sum, a, j) => sum + a * x[j]!, 0))).toBeLessThan(1e-9); // prettier-ignore
      for (const { row, of } of found.dependentRows)
        rowOf(row).forEach((value, j) =>
          expect(of.reduce((sum, own) => sum + own.share * rowOf(own.row)[j]!, 0)).toBeCloseTo(value, 6),
        );
    }),
    { numRuns: 60 },
  );
});
