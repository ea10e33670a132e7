import fc from 'fast-check';
import { bisectChange, indexOfLargest, integrate, interpolate, lastAtOrBefore, maximise } from './index';

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
