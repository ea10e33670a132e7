import fc from 'fast-check';
import {
  convexDistance,
  place3,
  pointWithin,
  carriedPoint,
  rotationOf,
  STILL3,
  type ConvexSolid,
  type Place3,
  type Point3,
} from '.';

const ball = (radius: number): ConvexSolid => ({ corners: new Float64Array(3), radius });
const box = (x: number, y: number, z: number): ConvexSolid => ({
  corners: Float64Array.from(
    [-1, 1].flatMap((i) => [-1, 1].flatMap((j) => [-1, 1].flatMap((k) => [i * x, j * y, k * z]))),
  ),
  radius: 0,
});
const hold = (value: number, most: number) => Math.max(-most, Math.min(most, value));
const line = (...corners: number[]): ConvexSolid => ({ corners: Float64Array.from(corners), radius: 0 });
const cylinder = (half: number, radius: number): ConvexSolid => ({
  corners: Float64Array.of(0, -half, 0, 0, half, 0),
  radius: 0,
  disc: { axis: 1, radius },
});
const at = (x: number, y: number, z: number): Place3 => ({ ...STILL3, x, y, z });
const place = fc
  .tuple(
    ...Array.from({ length: 3 }, () => fc.double({ min: -2, max: 2, noNaN: true })),
    fc.tuple(...Array.from({ length: 4 }, () => fc.double({ min: -1, max: 1, noNaN: true }))),
  )
  .filter(([, , , q]) => Math.hypot(...(q as number[])) > 0.1)
  .map(([x, y, z, q]) =>
    place3([x as number, y as number, z as number], rotationOf(q as [number, number, number, number])),
  );

describe('distances of convex solids', () => {
  // Closed forms of elementary geometry.
  test.each([
    ['two balls', ball(0.3), at(0, 0, 0), ball(0.2), at(1, 2, 2), 3 - 0.5],
    ['a ball over the face of a box', box(1, 1, 1), at(0, 0, 0), ball(0.5), at(0.3, 2, -0.4), 0.5],
    ['a ball beside the edge of a box', box(1, 1, 1), at(0, 0, 0), ball(0.5), at(4, 5, 0.2), 5 - 0.5],
    ['a ball off the corner of a box', box(1, 1, 1), at(0, 0, 0), ball(0.5), at(3, 3, 2), 3 - 0.5],
    [
      'two lines that cross at a distance',
      line(-1, 0, 0, 1, 0, 0),
      at(0, 0, 0),
      line(0, -1, 0, 0, 1, 0),
      at(0.2, 0.1, 0.7),
      0.7,
    ],
    ['a line beside a cylinder', cylinder(1, 0.4), at(0, 0, 0), line(0, -3, 0, 0, 3, 0), at(1, 0, 0), 0.6],
    ['a ball off the rim of a cylinder', cylinder(1, 0.4), at(0, 0, 0), ball(0.1), at(0.4 + 0.3, 1.4, 0), 0.4],
    ['a line through a box', box(1, 1, 1), at(0, 0, 0), line(-3, 0, 0, 3, 0, 0), at(0, 0.5, 0.2), 0],
  ])('%s', (_, one, first, other, second, wanted) => {
    expect(convexDistance(one, first, other, second)).toBeCloseTo(wanted, 9);
    expect(convexDistance(other, second, one, first)).toBeCloseTo(wanted, 9);
  });

  // To a point, by clamping it to the solid in its own frame.
  test('of turned boxes, cylinders and lines to points are those by clamping (property)', () => {
    const solids = [
      { own: box(0.4, 0.2, 0.7), clamp: ([x, y, z]: Point3) => [hold(x, 0.4), hold(y, 0.2), hold(z, 0.7)] },
      {
        own: cylinder(0.5, 0.3),
        clamp: ([x, y, z]: Point3) => {
          const share = Math.min(1, 0.3 / Math.hypot(x, z));
          return [share * x, hold(y, 0.5), share * z];
        },
      },
      { own: line(-0.5, 0, 0, 0.5, 0, 0), clamp: ([x]: Point3) => [hold(x, 0.5), 0, 0] },
    ];
    fc.assert(
      fc.property(fc.constantFrom(...solids), place, place, ({ own, clamp }, stands, seen) => {
        const point = pointWithin(stands, [seen.x, seen.y, seen.z]);
        const wanted = Math.hypot(...clamp(point).map((part, k) => part - point[k]!));
        const distance = convexDistance(own, stands, ball(0), seen);
        expect(Math.abs(distance - wanted)).toBeLessThan(1e-6);
        expect(convexDistance(ball(0.1), seen, own, stands)).toBeCloseTo(Math.max(0, wanted - 0.1), 6);
        // What is far enough is told so.
        if (distance > 1e-6)
          expect(convexDistance(own, stands, ball(0), seen, distance / 2)).toBeGreaterThan(distance / 2);
      }),
    );
  });

  test('of two turned solids are the same seen from either, and no point of one is nearer (property)', () => {
    const solid = fc.constantFrom(box(0.4, 0.2, 0.7), cylinder(0.5, 0.3), line(-0.5, 0, 0, 0.5, 0.2, 0.1), ball(0.3));
    fc.assert(
      fc.property(solid, place, solid, place, (one, first, other, second) => {
        const distance = convexDistance(one, first, other, second);
        expect(Math.abs(convexDistance(other, second, one, first) - distance)).toBeLessThan(1e-6);
        for (let i = 0; i < other.corners.length; i += 3) {
          const [x, y, z] = carriedPoint(second, [other.corners[i]!, other.corners[i + 1]!, other.corners[i + 2]!]);
          const corner = convexDistance(one, first, ball(other.radius), { ...STILL3, x, y, z });
          expect(distance).toBeLessThanOrEqual(corner + 1e-6);
        }
      }),
    );
  });
});
