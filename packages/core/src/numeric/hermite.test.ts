import Spline from 'cubic-spline';
import fc from 'fast-check';
import { lusolve } from 'mathjs';
import { hermitePiece, splineThrough, type HermiteKnots } from './index';

const gaps = fc.array(fc.double({ min: 0.2, max: 2, noNaN: true }), { minLength: 3, maxLength: 12 });
const points = gaps.chain((steps) => {
  const x = steps.reduce((list, gap) => [...list, list.at(-1)! + gap], [0]);
  return fc.record({
    x: fc.constant(x),
    y: fc.array(fc.double({ min: -5, max: 5, noNaN: true }), { minLength: x.length, maxLength: x.length }),
  });
});

/** Derivative of an order of the piece behind knot i, at a share of it. */
function at(knots: HermiteKnots, i: number, tau: number, order: number): number {
  const c = hermitePiece(knots, i);
  const h = knots.x[i + 1]! - knots.x[i]!;
  let sum = 0;
  for (let k = order; k < c.length; k++) {
    let f = c[k]!;
    for (let n = 0; n < order; n++) f *= k - n;
    sum += f * tau ** (k - order);
  }
  return sum / h ** order;
}

describe('cubic splines', () => {
  test('natural: as the package cubic-spline', () => {
    fc.assert(
      fc.property(points, ({ x, y }) => {
        const ours = splineThrough(x, y, { degree: 3, ends: 'free', tolerance: 0 });
        const reference = new Spline(x, y);
        for (let i = 0; i + 1 < x.length; i++)
          for (const tau of [0.13, 0.5, 0.88])
            expect(at(ours, i, tau, 0)).toBeCloseTo(reference.at(x[i]! + tau * (x[i + 1]! - x[i]!)), 8);
      }),
      { numRuns: 60 },
    );
  });

  test('closed: value, slope and curvature meet at the seam and at every knot', () => {
    fc.assert(
      fc.property(points, ({ x, y }) => {
        const closed = splineThrough(x, [...y.slice(0, -1), y[0]!], { degree: 3, ends: 'cyclic', tolerance: 0 });
        const pieces = x.length - 1;
        for (let i = 0; i < pieces; i++)
          for (const order of [0, 1, 2])
            expect(at(closed, (i + 1) % pieces, 0, order)).toBeCloseTo(at(closed, i, 1, order), 6);
      }),
      { numRuns: 40 },
    );
  });
});

describe('quintic splines', () => {
  test('at rest at both ends: the one curve that is C4 and meets all points (linear solve by mathjs)', () => {
    fc.assert(
      fc.property(points, ({ x, y }) => {
        const n = x.length - 1;
        const rows: number[][] = [];
        const right: number[] = [];
        const term = (piece: number, tau: number, order: number, sign: number, row: number[]) => {
          const h = x[piece + 1]! - x[piece]!;
          for (let k = order; k < 6; k++) {
            let f = sign / h ** order;
            for (let i = 0; i < order; i++) f *= k - i;
            row[piece * 6 + k]! += f * tau ** (k - order);
          }
        };
        const say = (b: number, ...terms: [number, number, number, number][]) => {
          const row = new Array<number>(6 * n).fill(0);
          terms.forEach(([p, tau, order, sign]) => term(p, tau, order, sign, row));
          rows.push(row);
          right.push(b);
        };
        for (let i = 0; i < n; i++) {
          say(y[i]!, [i, 0, 0, 1]);
          say(y[i + 1]!, [i, 1, 0, 1]);
          if (i > 0) for (const order of [1, 2, 3, 4]) say(0, [i - 1, 1, order, 1], [i, 0, order, -1]);
        }
        for (const order of [1, 2]) {
          say(0, [0, 0, order, 1]);
          say(0, [n - 1, 1, order, 1]);
        }
        const reference = (lusolve(rows, right) as number[][]).map(([c]) => c!);
        const ours = splineThrough(x, y, { degree: 5, ends: 'rest', tolerance: 0 });
        for (let i = 0; i < n; i++) {
          const c = hermitePiece(ours, i);
          c.forEach((value, k) => expect(Math.abs(value - reference[i * 6 + k]!)).toBeLessThan(1e-6 * 40));
        }
      }),
      { numRuns: 25 },
    );
  });
  test('closed: continuous to the fourth derivative at the seam', () => {
    const x = [0, 0.3, 0.5, 0.9, 1];
    const closed = splineThrough(x, [0, 2, 1, -1, 0], { degree: 5, ends: 'cyclic', tolerance: 0 });
    for (const order of [1, 2, 3, 4]) {
      const end = at(closed, 3, 1, order);
      expect(Math.abs(at(closed, 0, 0, order) - end)).toBeLessThan(1e-7 * Math.max(1, Math.abs(end)));
    }
  });
});

test('smoothing stays within its tolerance, uses it, and bends less', () => {
  const x = Array.from({ length: 41 }, (_, i) => i / 40);
  const y = x.map((at_, i) => Math.sin(6 * at_) + 0.02 * (i % 2 ? 1 : -1));
  for (const degree of [3, 5] as const) {
    const smooth = splineThrough(x, y, { degree, ends: 'free', tolerance: 0.03 });
    const through = splineThrough(x, y, { degree, ends: 'free', tolerance: 0 });
    const away = x.map((_, i) => Math.abs(smooth.values[i * (degree === 3 ? 2 : 3)]! - y[i]!));
    expect(Math.max(...away)).toBeLessThanOrEqual(0.03);
    expect(Math.max(...away)).toBeGreaterThan(0.025);
    const bend = (knots: HermiteKnots) => Math.max(...x.slice(1, -1).map((_, i) => Math.abs(at(knots, i + 1, 0, 2))));
    expect(bend(smooth)).toBeLessThan(bend(through) / 10);
  }
});

test('two thousand points are fitted and met', () => {
  const x = Array.from({ length: 2000 }, (_, i) => i * 0.001);
  const y = x.map((t) => Math.sin(3 * t));
  const knots = splineThrough(x, y, { degree: 5, ends: 'free', tolerance: 0 });
  expect(at(knots, 1000, 0.5, 1)).toBeCloseTo(3 * Math.cos(3 * 1.0005), 6);
});
