import fc from 'fast-check';
import { rotationOf, turned, UNTURNED, type Point3 } from '../geometry';
import {
  clearanceOf,
  ClearanceSolid,
  cornersAt,
  distanceAtLeast,
  joined,
  insideOut,
  ownMesh,
  type Mesh,
  type Standing,
} from './index';
import { triangleDistance } from './triangle-distance';

const stands = (x: number, y: number, z: number, quaternion: [number, number, number, number] = [1, 0, 0, 0]): Standing => ({ at: [x, y, z], axes: rotationOf(quaternion) }); // prettier-ignore
const still: Standing = { at: [0, 0, 0], axes: UNTURNED };
const box = new ClearanceSolid(ownMesh({ kind: 'box', size: [0.2, 0.1, 0.06] }, 1e-3));
const part = fc.double({ min: -1, max: 1, noNaN: true });

/** Distance of two triangles' corners and edges by fine sampling: an upper bound of the true one, from no tree. */
function sampled(a: Mesh, standsA: Standing, b: Mesh, standsB: Standing, steps: number): number {
  const places = ({ points, triangles }: Mesh, { at, axes }: Standing): Point3[] => {
    const corner = (i: number) => [0, 1, 2].map((k) => turned(axes, [points[3 * i]!, points[3 * i + 1]!, points[3 * i + 2]!])[k]! + at[k]!); // prettier-ignore
    const all: Point3[] = [];
    for (let t = 0; t < triangles.length; t += 3) {
      const [p, q, r] = [0, 1, 2].map((k) => corner(triangles[t + k]!)) as [number[], number[], number[]];
      for (let i = 0; i <= steps; i++)
        for (let k = 0; k <= steps - i; k++) {
          const [u, v] = [i / steps, k / steps];
          all.push([0, 1, 2].map((c) => p[c]! + u * (q[c]! - p[c]!) + v * (r[c]! - p[c]!)) as [number, number, number]);
        }
    }
    return all;
  };
  const [first, second] = [places(a, standsA), places(b, standsB)];
  let least = Infinity;
  for (const [x, y, z] of first)
    for (const [u, v, w] of second) least = Math.min(least, Math.hypot(x - u, y - v, z - w));
  return least;
}

test('boxes face to face, edge to edge and corner to corner (closed forms)', () => {
  const at = (stand: Standing) => clearanceOf(box, still, box, stand)!;
  expect(at(stands(0.25, 0, 0))).toMatchObject({ meets: false, distance: expect.closeTo(0.05, 9) });
  expect(at(stands(0.23, 0.14, 0)).distance).toBeCloseTo(0.05, 9);
  expect(at(stands(0.22, 0.13, 0.12)).distance).toBeCloseTo(Math.hypot(0.02, 0.03, 0.06), 9);
  const corner = at(stands(0.22, 0.13, 0.12));
  expect(corner.onFirst).toEqual([0.1, 0.05, 0.03].map((own) => expect.closeTo(own, 9)));
  expect(corner.onSecond).toEqual([0.12, 0.08, 0.09].map((own) => expect.closeTo(own, 9)));
  // An edge turned by an eighth comes nearer by what it stands out.
  const eighth: [number, number, number, number] = [Math.cos(Math.PI / 8), 0, 0, Math.sin(Math.PI / 8)];
  const cube = new ClearanceSolid(ownMesh({ kind: 'box', size: [0.1, 0.1, 0.1] }, 1e-3));
  expect(clearanceOf(cube, still, cube, stands(0.2, 0, 0, eighth))!.distance).toBeCloseTo(
    0.2 - 0.05 - 0.05 * Math.SQRT2,
    9,
  );
});

test('balls: the distance of their middles less both radii, within the error of their chords', () => {
  const ball = new ClearanceSolid(ownMesh({ kind: 'ball', radius: 0.05 }, 2e-5));
  fc.assert(
    fc.property(fc.tuple(part, part, part), ([x, y, z]) => {
      const far = Math.hypot(x, y, z);
      fc.pre(far > 0.12);
      const found = clearanceOf(ball, still, ball, stands(x, y, z, [1, x, y, z]))!;
      expect(found.distance).toBeGreaterThan(far - 0.1 - 1e-9);
      expect(found.distance).toBeLessThan(far - 0.1 + 6e-5);
      expect(Math.hypot(...found.onFirst.map((own, k) => own - found.onSecond[k]!))).toBeCloseTo(found.distance, 9);
    }),
    { numRuns: 60 },
  );
});

test('against every pair of sampled places, in any two poses (property)', () => {
  const wedge = new ClearanceSolid(ownMesh({ kind: 'plate', outline: [[0, 0], [0.2, 0], [0.05, 0.12]], holes: [], thickness: 0.03 }, 1e-3)); // prettier-ignore
  fc.assert(
    fc.property(fc.tuple(part, part, part), fc.tuple(part, part, part), fc.tuple(part, part, part), (q1, q2, way) => {
      const [one, other] = [stands(0, 0, 0, [1, ...q1]), stands(0.6 * way[0], 0.6 * way[1], 0.6 * way[2], [1, ...q2])];
      const found = clearanceOf(box, one, wedge, other)!;
      const wanted = sampled(box.mesh, one, wedge.mesh, other, 8);
      expect(found.distance).toBeLessThanOrEqual(wanted + 1e-9);
      // Places of a face lie within a step of some sampled one.
      if (!found.meets) expect(wanted - found.distance).toBeLessThan(0.04);
      expect(distanceAtLeast(box, one, wedge, other)).toBeLessThanOrEqual(found.distance + 1e-12);
      // The same from the other side.
      expect(clearanceOf(wedge, other, box, one)!.distance).toBeCloseTo(found.distance, 9);
    }),
    { numRuns: 20 },
  );
});

/** Distance of two skins by every triangle with every other. */
function byAll(a: Mesh, standsA: Standing, b: Mesh, standsB: Standing): number {
  const placed = (mesh: Mesh, { at, axes }: Standing) =>
    Array.from({ length: mesh.triangles.length / 3 }, (_, t) =>
      Float64Array.from(cornersAt(mesh, t).flatMap((corner) => turned(axes, corner).map((part, k) => part + at[k]!))),
    );
  const others = placed(b, standsB);
  return Math.sqrt(
    Math.min(...placed(a, standsA).flatMap((one) => others.map((other) => triangleDistance(one, other, Infinity)))),
  );
}

test('pose after pose it is that of every triangle with every other, whatever was nearest before (property)', () => {
  const tube = ownMesh({ kind: 'tube', outer: 0.08, inner: 0.05, length: 0.1 }, 2e-3);
  const ball = ownMesh({ kind: 'ball', radius: 0.06 }, 2e-3);
  fc.assert(
    fc.property(fc.array(fc.tuple(part, part, part, part, part, part), { minLength: 3, maxLength: 8 }), (poses) => {
      const [one, other] = [new ClearanceSolid(tube), new ClearanceSolid(ball)];
      for (const [x, y, z, ...turn] of poses) {
        const there = stands(0.25 * x, 0.25 * y, 0.25 * z, [1, ...turn]);
        const found = clearanceOf(one, still, other, there, Infinity, false)!;
        expect(found.distance).toBeCloseTo(byAll(tube, still, ball, there), 12);
        const way = Math.hypot(...[0, 1, 2].map((k) => found.onFirst[k]! - found.onSecond[k]!));
        expect(way).toBeCloseTo(found.distance, 12);
      }
    }),
    { numRuns: 25 },
  );
});

test('what crosses, touches, or lies in the other meets; what is far is not looked for', () => {
  expect(clearanceOf(box, still, box, stands(0.15, 0.03, 0.01))).toMatchObject({ meets: true, distance: 0 });
  expect(clearanceOf(box, still, box, stands(0.2, 0, 0))).toMatchObject({ meets: true, distance: 0 });
  const pea = new ClearanceSolid(ownMesh({ kind: 'ball', radius: 0.01 }, 1e-4));
  expect(clearanceOf(box, still, pea, stands(0.05, 0.01, 0))).toMatchObject({ meets: true, distance: 0 });
  expect(clearanceOf(pea, stands(0.05, 0.01, 0), box, still)).toMatchObject({ meets: true, distance: 0 });
  // In a hollow there is room.
  const shell = new ClearanceSolid(joined([ownMesh({ kind: 'ball', radius: 0.1 }, 1e-4), insideOut(ownMesh({ kind: 'ball', radius: 0.08 }, 1e-4))])); // prettier-ignore
  const within = clearanceOf(shell, still, pea, stands(0.03, 0, 0))!;
  expect(within.meets).toBe(false);
  expect(within.distance).toBeGreaterThan(0.039);
  expect(within.distance).toBeLessThan(0.0402);
  expect(clearanceOf(box, still, box, stands(5, 0, 0), 0.1)).toBeNull();
  expect(clearanceOf(box, still, box, stands(0.35, 0, 0), 0.1)).toBeNull();
});

test('when two solids begin to meet: a lever that swings onto a stop (by hand, to 1e-6 s)', () => {
  const lever = new ClearanceSolid(ownMesh({ kind: 'plate', outline: [[0, -0.01], [0.3, -0.01], [0.3, 0.01], [0, 0.01]], holes: [], thickness: 0.02 }, 1e-3)); // prettier-ignore
  const stop = new ClearanceSolid(ownMesh({ kind: 'box', size: [0.04, 0.04, 0.04] }, 1e-3));
  const there = stands(0.2, -0.15, 0);
  const speed = 1.3;
  const meets = (time: number) => {
    const half = (-speed * time) / 2;
    return clearanceOf(lever, stands(0, 0, 0, [Math.cos(half), 0, 0, Math.sin(half)]), stop, there)!.meets;
  };
  let [free, met] = [0, 0.6];
  expect([meets(free), meets(met)]).toEqual([false, true]);
  for (let k = 0; k < 40; k++) {
    const middle = (free + met) / 2;
    if (meets(middle)) met = middle;
    else free = middle;
  }
  // The lower face, 10 mm off the pivot, meets the upper corner of the stop farther out: (0.22, −0.13).
  const angle = Math.atan2(0.13, 0.22) - Math.asin(0.01 / Math.hypot(0.22, 0.13));
  // Or the nearer one: whichever comes first.
  const nearer = Math.atan2(0.13, 0.18) - Math.asin(0.01 / Math.hypot(0.18, 0.13));
  expect(met).toBeCloseTo(Math.min(angle, nearer) / speed, 6);
});
