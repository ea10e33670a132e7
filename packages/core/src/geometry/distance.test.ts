import fc from 'fast-check';
import { boundsOf, placed, shapeDistance, type Point2, type RoundShape } from './index';

/** Distance of a point from a line, straight from the formula of the foot (Euclid). */
function fromLine([px, py]: Point2, [ax, ay]: Point2, [bx, by]: Point2): number {
  const [dx, dy] = [bx - ax, by - ay];
  const square = dx * dx + dy * dy;
  const t = square === 0 ? 0 : Math.min(1, Math.max(0, ((px - ax) * dx + (py - ay) * dy) / square));
  return Math.hypot(px - ax - t * dx, py - ay - t * dy);
}
const edgesOf = ({ corners }: RoundShape): [Point2, Point2][] =>
  corners.length === 1
    ? [[corners[0]!, corners[0]!]]
    : corners.slice(0, corners.length > 2 ? undefined : 1).map((a, i) => [a, corners[(i + 1) % corners.length]!]);
/** Winding number: another way than the one that is tested. */
function inside([px, py]: Point2, { corners }: RoundShape): boolean {
  if (corners.length < 3) return false;
  let turned = 0;
  corners.forEach(([ax, ay], i) => {
    const [bx, by] = corners[(i + 1) % corners.length]!;
    turned += Math.atan2((ax - px) * (by - py) - (ay - py) * (bx - px), (ax - px) * (bx - px) + (ay - py) * (by - py));
  });
  return Math.abs(turned) > Math.PI;
}
/** Points along the outline of a shape, close together, both ends of every side among them. */
function along(shape: RoundShape, count: number): Point2[] {
  return edgesOf(shape).flatMap(
    ([a, b]) =>
    Array.from({ length: count + 1 }, (_, k): Point2 => [a[0] + ((b[0] - a[0]) * k) / count, a[1] + ((b[1] - a[1]) * k) / count]), // prettier-ignore
  );
}

const place = fc.record({
  x: fc.double({ min: -0.3, max: 0.3, noNaN: true }),
  y: fc.double({ min: -0.3, max: 0.3, noNaN: true }),
  angle: fc.double({ min: -4, max: 4, noNaN: true }),
});
/** Convex polygons, lines and points, rounded or not. */
const shape: fc.Arbitrary<RoundShape> = fc
  .record({
    count: fc.integer({ min: 1, max: 7 }),
    size: fc.double({ min: 0.01, max: 0.2, noNaN: true }),
    squash: fc.double({ min: 0.2, max: 1, noNaN: true }),
    radius: fc.constantFrom(0, 0, 0.01),
  }) // prettier-ignore
  .map(({ count, size, squash, radius }) => ({
    radius,
    corners: Array.from({ length: count }, (_, k): Point2 => {
      const angle = (2 * Math.PI * k) / count;
      return [size * Math.cos(angle), squash * size * Math.sin(angle)];
    }),
  }));
const pair = fc.tuple(shape, place, shape, place).map(([a, pa, b, pb]) => [placed(a, pa), placed(b, pb)] as const);

describe('distance of two shapes', () => {
  test('apart, it is that of the nearest corner and side (property)', () => {
    fc.assert(
      fc.property(pair, ([a, b]) => {
        const overlap = along(a, 60).some((p) => inside(p, b)) || along(b, 60).some((p) => inside(p, a));
        fc.pre(!overlap);
        const nearest = Math.min(
          ...a.corners.flatMap((p) => edgesOf(b).map(([s, e]) => fromLine(p, s, e))),
          ...b.corners.flatMap((p) => edgesOf(a).map(([s, e]) => fromLine(p, s, e))),
        );
        // Touching within rounding is neither apart nor overlapping.
        fc.pre(nearest > 1e-9);
        // Lines that cross are in no corner's reach: then it is nothing but the rounding of the two.
        const around = a.radius + b.radius;
        const distance = shapeDistance(a, b);
        const crossed = Math.abs(distance + around) < 1e-12 && nearest > 1e-12;
        if (crossed) expect(Math.min(a.corners.length, b.corners.length)).toBeGreaterThan(1);
        else expect(distance).toBeCloseTo(nearest - around, 12);
      }),
    );
  });

  test('it is the same from both sides, and for both moved alike (property)', () => {
    fc.assert(
      fc.property(pair, place, ([a, b], to) => {
        const distance = shapeDistance(a, b);
        expect(shapeDistance(b, a)).toBeCloseTo(distance, 12);
        expect(shapeDistance(placed(a, to), placed(b, to))).toBeCloseTo(distance, 9);
      }),
    );
  });

  test('where they overlap it is negative, by the deepest corner', () => {
    const box = (x: number, y: number): RoundShape =>
      placed({ corners: [[-0.1, -0.05], [0.1, -0.05], [0.1, 0.05], [-0.1, 0.05]], radius: 0 }, { x, y, angle: 0 }); // prettier-ignore
    expect(shapeDistance(box(0, 0), box(0.19, 0.09))).toBeCloseTo(-0.01, 12);
    expect(shapeDistance(box(0, 0), box(0.2, 0))).toBeCloseTo(0, 12);
    expect(shapeDistance(box(0, 0), box(0.25, 0))).toBeCloseTo(0.05, 12);
    // Corner to corner: Pythagoras.
    expect(shapeDistance(box(0, 0), box(0.23, 0.14))).toBeCloseTo(0.05, 12);
    // A cross: no corner of one lies inside of the other, yet they meet.
    const upright = placed(box(0, 0), { x: 0, y: 0, angle: Math.PI / 2 });
    expect(shapeDistance(box(0, 0), upright)).toBe(-0);
  });

  test('discs, rounded lines, and a disc in a plate', () => {
    const disc = (x: number, y: number, radius: number): RoundShape => ({ corners: [[x, y]], radius });
    expect(shapeDistance(disc(0, 0, 0.1), disc(0.3, 0.4, 0.15))).toBeCloseTo(0.25, 12);
    const rail: RoundShape = { corners: [[0, 0], [1, 0]], radius: 0.02 }; // prettier-ignore
    expect(shapeDistance(rail, disc(0.5, 0.2, 0.03))).toBeCloseTo(0.15, 12);
    expect(shapeDistance(rail, disc(1.3, 0.4, 0.03))).toBeCloseTo(0.45, 12);
    const plate: RoundShape = { corners: [[0, 0], [1, 0], [1, 1], [0, 1]], radius: 0 }; // prettier-ignore
    expect(shapeDistance(plate, disc(0.3, 0.5, 0.1))).toBeCloseTo(-0.4, 12);
  });

  test('a concave plate lets something into its notch', () => {
    const fork: RoundShape = { corners: [[0, 0], [0.3, 0], [0.3, 0.2], [0.2, 0.2], [0.2, 0.05], [0.1, 0.05], [0.1, 0.2], [0, 0.2]], radius: 0 }; // prettier-ignore
    expect(shapeDistance(fork, { corners: [[0.15, 0.12]], radius: 0.02 })).toBeCloseTo(0.03, 12);
    expect(shapeDistance(fork, { corners: [[0.15, 0.06]], radius: 0.02 })).toBeCloseTo(-0.01, 12);
  });
});

test('the box round a shape holds all of it, and touches it on every side (property)', () => {
  fc.assert(
    fc.property(shape, place, (own, at) => {
      const there = placed(own, at);
      const [l, b, r, t] = boundsOf(there);
      const xs = there.corners.map(([x]) => x);
      const ys = there.corners.map(([, y]) => y);
      expect([l, b, r, t]).toEqual([
        Math.min(...xs) - own.radius,
        Math.min(...ys) - own.radius,
        Math.max(...xs) + own.radius,
        Math.max(...ys) + own.radius,
      ]);
    }),
  );
});
