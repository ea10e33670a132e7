import fc from 'fast-check';
import type { Point2 } from './mass';
import { roundsOf } from './rounds';

const arc = (x: number, y: number, r: number, from: number, to: number, count: number): Point2[] =>
  Array.from({ length: count + 1 }, (_, i) => {
    const angle = from + ((to - from) * i) / count;
    return [x + r * Math.cos(angle), y + r * Math.sin(angle)];
  });

describe('centres of what is round', () => {
  test('a drilled hole of any fineness has its centre and radius', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -2, max: 2, noNaN: true }),
        fc.double({ min: 1e-3, max: 1, noNaN: true }),
        fc.integer({ min: 6, max: 200 }),
        (x, r, count) => {
          const [found, ...more] = roundsOf(arc(x, -x, r, 0, 2 * Math.PI, count).slice(1));
          expect(more).toEqual([]);
          expect(Math.hypot(found!.centre[0] - x, found!.centre[1] + x)).toBeLessThan(1e-6 * r);
          expect(found!.radius / r).toBeCloseTo(1, 6);
        },
      ),
    );
  });

  test('an oblong hole has both of its centres, wherever it begins', () => {
    const oblong = [...arc(0.1, 0, 0.01, -Math.PI / 2, Math.PI / 2, 16), ...arc(0, 0, 0.01, Math.PI / 2, 1.5 * Math.PI, 16)]; // prettier-ignore
    for (const first of [0, 5, 16, 17, 30]) {
      const found = roundsOf([...oblong.slice(first), ...oblong.slice(0, first)]);
      expect(found.map(({ centre }) => Math.round(Math.abs(centre[0]) * 1e6) / 1e6).sort()).toEqual([0, 0.1]);
      for (const { radius, centre } of found) {
        expect(radius).toBeCloseTo(0.01, 9);
        expect(centre[1]).toBeCloseTo(0, 9);
      }
    }
  });

  test('a rounded corner of a plate has a centre, its sharp ones have none', () => {
    const plate: Point2[] = [[0, 0], [0.2, 0], ...arc(0.18, 0.08, 0.02, 0, Math.PI / 2, 8), [0, 0.1]]; // prettier-ignore
    const [found, ...more] = roundsOf(plate);
    expect(more).toEqual([]);
    expect(found!.centre[0]).toBeCloseTo(0.18, 9);
    expect(found!.centre[1]).toBeCloseTo(0.08, 9);
  });

  test('what is straight, or bends without a centre, has none', () => {
    const ellipse = arc(0, 0, 1, 0, 2 * Math.PI, 60).slice(1).map(([x, y]): Point2 => [2 * x, y]); // prettier-ignore
    expect(roundsOf([[0, 0], [0.1, 0], [0.2, 0], [0.3, 0], [0.4, 0], [0.4, 0.3]])).toEqual([]); // prettier-ignore
    expect(roundsOf(ellipse)).toEqual([]);
    expect(roundsOf([[0, 0], [1, 0], [0, 1]])).toEqual([]); // prettier-ignore
  });
});
