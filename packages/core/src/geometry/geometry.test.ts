import fc from 'fast-check';
import {
  barArea,
  discArea,
  emptyCurvePoint,
  joinAreas,
  nearestOn,
  pathCurve,
  plateArea,
  polygonArea,
  splinePiece,
  tracePoints,
  type Curve,
  type Point2,
} from './index';

describe('mass properties against closed forms (any handbook of mechanics)', () => {
  test('rectangle: A = bh, Ip = bh(b²+h²)/12', () => {
    const { area, centre, polar } = polygonArea([[1, 1], [4, 1], [4, 3], [1, 3]]); // prettier-ignore
    expect(area).toBeCloseTo(6, 12);
    expect(centre[0]).toBeCloseTo(2.5, 12);
    expect(centre[1]).toBeCloseTo(2, 12);
    expect(polar).toBeCloseTo((3 * 2 * (9 + 4)) / 12, 12);
  });

  test('the sense and the first corner do not matter, and moving a polygon moves only its centre', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: 0.2, max: 2, noNaN: true })), { minLength: 3, maxLength: 9 }),
        fc.double({ min: -50, max: 50, noNaN: true }),
        (radii, shift) => {
          const star = radii.map(([r], i): Point2 => {
            const angle = (2 * Math.PI * i) / radii.length;
            return [r * Math.cos(angle), r * Math.sin(angle)];
          });
          const one = polygonArea(star);
          const other = polygonArea(star.map(([x, y]): Point2 => [x + shift, y - shift]).reverse());
          expect(other.area).toBeCloseTo(one.area, 9);
          expect(other.polar).toBeCloseTo(one.polar, 8);
          expect(other.centre[0]).toBeCloseTo(one.centre[0] + shift, 8);
        },
      ),
    );
  });

  test('ring: disc less disc, Ip = π(R⁴ − r⁴)/2', () => {
    const polygon = (r: number) =>
      Array.from({ length: 2000 }, (_, i): Point2 => {
        const angle = (2 * Math.PI * i) / 2000;
        return [r * Math.cos(angle), r * Math.sin(angle)];
      });
    const ring = plateArea(polygon(2), [polygon(1)]);
    expect(ring.area / (3 * Math.PI)).toBeCloseTo(1, 5);
    expect(ring.polar / ((Math.PI * 15) / 2)).toBeCloseTo(1, 5);
  });

  test('bar with round ends: strip and two half discs, by the parallel-axis theorem', () => {
    const [length, r] = [0.3, 0.02];
    const { area, centre, polar } = barArea([[0, 0], [length, 0]], r); // prettier-ignore
    expect(area).toBeCloseTo(2 * r * length + Math.PI * r ** 2, 12);
    expect(centre[0]).toBeCloseTo(length / 2, 12);
    const half = (Math.PI * r ** 2) / 2;
    const off = (4 * r) / (3 * Math.PI);
    const ends = 2 * ((Math.PI * r ** 4) / 4 - half * off ** 2 + half * (length / 2 + off) ** 2);
    expect(polar).toBeCloseTo((2 * r * length * (length ** 2 + 4 * r ** 2)) / 12 + ends, 12);
  });

  test('a bar through three points is the triangle with a round rim', () => {
    const corners: Point2[] = [[0, 0], [0.2, 0], [0.05, 0.1]]; // prettier-ignore
    const perimeter = corners.reduce((sum, p, i) => {
      const next = corners[(i + 1) % 3]!;
      return sum + Math.hypot(next[0] - p[0], next[1] - p[1]);
    }, 0);
    const r = 0.01;
    expect(barArea(corners, r).area).toBeCloseTo(polygonArea(corners).area + perimeter * r + Math.PI * r * r, 12);
    // Points inside the hull add nothing.
    expect(barArea([...corners, [0.08, 0.03]], r).polar).toBeCloseTo(barArea(corners, r).polar, 14);
  });

  test('a disc in two places', () => {
    const two = joinAreas([discArea([0, 0], 1), discArea([4, 0], 1)]);
    expect(two.centre).toEqual([2, 0]);
    expect(two.polar).toBeCloseTo(Math.PI + 2 * Math.PI * 4, 12);
  });
});

/** Compares tangent, curvature and its rate with differences of the curve itself. */
function expectConsistent(curve: Curve, s: number, h = 1e-5): void {
  const at = (place: number) => {
    const p = emptyCurvePoint();
    curve.at(place, p);
    return p;
  };
  const [before, here, after] = [at(s - h), at(s), at(s + h)];
  expect((after.x - before.x) / (2 * h)).toBeCloseTo(here.tx, 6);
  expect((after.y - before.y) / (2 * h)).toBeCloseTo(here.ty, 6);
  expect(Math.hypot(here.tx, here.ty)).toBeCloseTo(1, 12);
  const turn = (before.tx * after.ty - before.ty * after.tx) / (2 * h);
  expect(turn).toBeCloseTo(here.curvature, 4);
  expect((after.curvature - before.curvature) / (2 * h) / (1 + Math.abs(here.curvatureRate))).toBeCloseTo(
    here.curvatureRate / (1 + Math.abs(here.curvatureRate)),
    3,
  );
}

describe('paths', () => {
  test('lengths of line, half circle and full circle', () => {
    expect(pathCurve({ kind: 'circle', centre: [1, 1], radius: 2 }).length).toBeCloseTo(4 * Math.PI, 12);
    const chain = pathCurve({
      kind: 'chain',
      start: [0, 0],
      closed: false,
      pieces: [
        { kind: 'line', to: [3, 0] },
        { kind: 'arc', via: [4, 1], to: [3, 2] },
      ],
    });
    expect(chain.length).toBeCloseTo(3 + Math.PI, 12);
    const p = emptyCurvePoint();
    chain.at(3 + Math.PI / 2, p);
    expect([p.x, p.y, p.tx, p.ty, p.curvature].map((v) => Number(v.toFixed(9)))).toEqual([4, 1, 0, 1, 1]);
  });

  test('a closed spline through points of a circle has its length and curvature nearly everywhere', () => {
    const points = Array.from({ length: 36 }, (_, i): Point2 => {
      const angle = (2 * Math.PI * i) / 36;
      return [0.5 * Math.cos(angle), 0.5 * Math.sin(angle)];
    });
    const loop = pathCurve({ kind: 'loop', through: points });
    expect(loop.length).toBeCloseTo(Math.PI, 5);
    const p = emptyCurvePoint();
    for (const s of [0, 0.4, 1.1, 2.9]) {
      loop.at(s, p);
      expect(p.curvature).toBeCloseTo(2, 1);
      expectConsistent(loop, s + 0.001);
    }
  });

  test('a spline goes through its points', () => {
    const through: Point2[] = [[0, 0], [1, 0.4], [2, -0.3], [2.5, 1]]; // prettier-ignore
    const curve = pathCurve({
      kind: 'chain',
      start: through[0]!,
      closed: false,
      pieces: [{ kind: 'spline', through: through.slice(1) }],
    });
    for (const [x, y] of through) {
      const p = emptyCurvePoint();
      curve.at(nearestOn(curve, x, y), p);
      expect(Math.hypot(p.x - x, p.y - y)).toBeLessThan(1e-9);
    }
    expect(splinePiece(through, false).length).toBeCloseTo(curve.length, 12);
  });

  test('a transition matches place, direction, curvature and its rate at both ends', () => {
    const chain = pathCurve({
      kind: 'chain',
      start: [0, 0],
      closed: false,
      pieces: [
        { kind: 'line', to: [1, 0] },
        { kind: 'transition', to: [2, 0.5] },
        { kind: 'arc', via: [2.3, 1], to: [2, 1.5] },
      ],
    });
    const p = emptyCurvePoint();
    const q = emptyCurvePoint();
    const joint1 = 1;
    const arc = pathCurve({
      kind: 'chain',
      start: [2, 0.5],
      closed: false,
      pieces: [{ kind: 'arc', via: [2.3, 1], to: [2, 1.5] }],
    });
    const joint2 = chain.length - arc.length;
    for (const joint of [joint1, joint2]) {
      chain.at(joint - 1e-7, p);
      chain.at(joint + 1e-7, q);
      expect(Math.hypot(p.x - q.x, p.y - q.y)).toBeLessThan(3e-7);
      expect(Math.hypot(p.tx - q.tx, p.ty - q.ty)).toBeLessThan(1e-5);
      expect(Math.abs(p.curvature - q.curvature)).toBeLessThan(1e-4);
      expect(Math.abs(p.curvatureRate - q.curvatureRate)).toBeLessThan(1e-2);
    }
    expectConsistent(chain, (joint1 + joint2) / 2);
  });

  test.each([
    ['a transition with nothing to join', { kind: 'transition' as const, to: [1, 0] as Point2 }, 'nothing to join'],
    ['a line of no length', { kind: 'line' as const, to: [0, 0] as Point2 }, 'has no length'],
  ])('%s is refused in words', (_name, piece, words) => {
    expect(() => pathCurve({ kind: 'chain', start: [0, 0], closed: false, pieces: [piece] })).toThrow(words);
  });

  test('the nearest place on a curve is where the connecting line stands square to it', () => {
    const curve = pathCurve({ kind: 'circle', centre: [0, 0], radius: 1 });
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 6.28, noNaN: true }),
        fc.double({ min: 0.3, max: 3, noNaN: true }),
        (angle, r) => {
          const s = nearestOn(curve, r * Math.cos(angle), r * Math.sin(angle));
          const p = emptyCurvePoint();
          curve.at(s, p);
          expect(Math.hypot(p.x - Math.cos(angle), p.y - Math.sin(angle))).toBeLessThan(1e-7);
        },
      ),
    );
  });

  test('points along a closed curve stand evenly and do not repeat the first', () => {
    const points = tracePoints(pathCurve({ kind: 'circle', centre: [0, 0], radius: 1 }), 4);
    expect(points.map(([x, y]) => [Math.round(x), Math.round(y)])).toEqual([[1, 0], [0, 1], [-1, 0], [-0, -1]]); // prettier-ignore
  });
});
