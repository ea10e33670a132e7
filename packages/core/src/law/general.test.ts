import fc from 'fast-check';
import { lusolve } from 'mathjs';
import { boundaryPolynomial, describeEnds, findLaw, LAWS, lawAt, lawCharacteristics, makeLaw } from './index';

const share = fc.double({ min: 0.05, max: 0.45, noNaN: true });
const value = fc.double({ min: -3, max: 3, noNaN: true });

describe('the adjustable family holds the classical laws (Norton: sine–constant–cosine family)', () => {
  test.each([
    ['quadratic', 0, 0],
    ['harmonic', 0, 1],
    ['cycloidal', 0.5, 0.5],
    ['modifiedSine', 0.25, 0.75],
    ['modifiedTrapezoid', 0.25, 0.25],
  ])('%s', (id, up, down) => {
    const law = makeLaw('adjustable', { up, down });
    const classic = makeLaw(id);
    for (const tau of [0, 0.03, 0.2, 0.41, 0.55, 0.8, 0.97, 1])
      for (const order of [0, 1, 2, 3]) expect(lawAt(law, tau)[order]).toBeCloseTo(lawAt(classic, tau)[order]!, 9);
  });

  test('without flanks and with a straight third it is the trapezoid of thirds (common practice)', () => {
    const law = makeLaw('adjustable', { up: 0, down: 0, straight: 1 / 3 });
    expect(lawCharacteristics(law)).toMatchObject({ cv: expect.closeTo(1.5, 10), ca: expect.closeTo(4.5, 10) });
  });

  test('jerk-limited with halves for flanks: Cv 2, Ca 8, Cj 32 (seven phases without holds; from memory, recomputed)', () => {
    const { cv, ca, cj } = lawCharacteristics(makeLaw('jerkLimited', { up: 0.5, down: 0.5 }));
    expect([cv, ca, cj].map((x) => Number(x.toFixed(9)))).toEqual([2, 8, 32]);
  });

  test('accelerating for a share s: the lobes are as s to 1 − s, so peak accelerations are as (1 − s) to s', () => {
    fc.assert(
      fc.property(share, (split) => {
        const law = makeLaw('adjustable', { split });
        const peaks = Array.from({ length: 4001 }, (_, i) => lawAt(law, i / 4000)[2]!);
        expect(Math.max(...peaks) / -Math.min(...peaks)).toBeCloseTo((1 - split) / split, 3);
      }),
      { numRuns: 20 },
    );
  });
});

describe('boundary polynomials', () => {
  test.each([3, 5, 7, 9])('degree %i against the linear solve of mathjs', (degree) => {
    const each = (degree + 1) / 2;
    fc.assert(
      fc.property(
        fc.array(value, { minLength: each, maxLength: each }),
        fc.array(value, { minLength: each, maxLength: each }),
        (left, right) => {
          const derivative = (k: number, order: number, tau: number) => {
            let f = 1;
            for (let i = 0; i < order; i++) f *= k - i;
            return k < order ? 0 : f * tau ** (k - order);
          };
          const rows = [0, 1].flatMap((tau) =>
            left.map((_, order) => Array.from({ length: degree + 1 }, (__, k) => derivative(k, order, tau))),
          );
          const reference = (lusolve(rows, [...left, ...right]) as number[][]).map(([x]) => x!);
          boundaryPolynomial({ left, right }).forEach((c, k) => expect(c).toBeCloseTo(reference[k]!, 7));
        },
      ),
      { numRuns: 40 },
    );
  });

  test('at rest they are the tabulated ones: 3-4-5, 4-5-6-7, and 2-3 with Cv 1.5, Ca 6 (VDI 2143 part 1)', () => {
    for (const [degree, id] of [
      [5, 'poly345'],
      [7, 'poly4567'],
    ] as const)
      for (const tau of [0.1, 0.4, 0.9])
        expect(lawAt(makeLaw('polynomial', { degree }), tau)[2]).toBeCloseTo(lawAt(makeLaw(id), tau)[2]!, 9);
    const cubic = lawCharacteristics(makeLaw('polynomial', { degree: 3 }));
    expect([cubic.cv, cubic.ca, cubic.cj]).toEqual([expect.closeTo(1.5, 9), expect.closeTo(6, 9), Infinity]);
  });

  test('degree 9 at rest: 5-6-7-8-9 with Cv 315/128 (closed form: 630 τ⁴(1 − τ)⁴)', () => {
    expect(lawCharacteristics(makeLaw('polynomial', { degree: 9 })).cv).toBeCloseTo(315 / 128, 9);
  });
});

describe.each(LAWS.filter(({ between }) => between).map(({ id }) => id))('%s between moving ends', (id) => {
  const family = findLaw(id)!;
  test('meets positions and speeds at both ends, and accelerations where it says so', () => {
    fc.assert(
      fc.property(value, value, value, value, value, (rise, v0, v1, a0, a1) => {
        const degreeMeets = family.meetsAcceleration === true;
        const law = family.between!({ rise, v0, v1, a0, a1 }, {});
        const [start, end] = [lawAt(law, 0), lawAt(law, 1)];
        expect(start[0]).toBeCloseTo(0, 9);
        expect(end[0]).toBeCloseTo(rise, 9);
        expect(start[1]).toBeCloseTo(v0, 9);
        expect(end[1]).toBeCloseTo(v1, 9);
        if (degreeMeets) expect([start[2], end[2]]).toEqual([expect.closeTo(a0, 8), expect.closeTo(a1, 8)]);
      }),
      { numRuns: 60 },
    );
  });
  test('at rest it is the law itself', () => {
    const law = family.between!({ rise: 1, v0: 0, v1: 0, a0: 0, a1: 0 }, {});
    for (const tau of [0.07, 0.3, 0.62, 0.9])
      for (const order of [0, 1, 2]) expect(lawAt(law, tau)[order]).toBeCloseTo(lawAt(makeLaw(id), tau)[order]!, 9);
  });
});

test('the ends are said in words', () => {
  expect(describeEnds(makeLaw('harmonic'))).toBe('acceleration steps at the ends: to 4.935, from −4.935');
  expect(describeEnds(makeLaw('poly345'))).toBe('jerk steps at the ends: to 60, from 60');
  expect(describeEnds(makeLaw('poly4567'))).toContain('smooth against rest');
  expect(describeEnds(makeLaw('straight'))).toBe('velocity steps at the ends: to 1, from 1');
});
