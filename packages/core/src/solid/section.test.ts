import fc from 'fast-check';
import { polygonArea, rotationOf, UNTURNED, type Point2 } from '../geometry';
import { crossingOf, joined, ownMesh, sectionOf, sharpEdges, type Mesh } from './index';

const moved = (mesh: Mesh, by: readonly [number, number, number]): Mesh => ({
  points: mesh.points.map((own, i) => own + by[i % 3]!),
  triangles: mesh.triangles,
});
const areaOf = (mesh: Mesh, at: [number, number, number], axes = UNTURNED) =>
  sectionOf(mesh, at, axes).reduce(
    (sum, { outline, holes }) =>
      sum + polygonArea(outline).area - holes.reduce((less, hole) => less + polygonArea(hole).area, 0),
    0,
  );

test('a plate with holes cut level with it is its outline again, with its holes', () => {
  const outline: Point2[] = [[0, 0], [0.3, 0], [0.3, 0.2], [0, 0.2]]; // prettier-ignore
  const holes: Point2[][] = [
    [[0.05, 0.05], [0.1, 0.05], [0.1, 0.1], [0.05, 0.1]], // prettier-ignore
    [[0.2, 0.1], [0.22, 0.1], [0.21, 0.12]], // prettier-ignore
  ];
  const areas = sectionOf(ownMesh({ kind: 'plate', outline, holes, thickness: 0.02 }, 1e-4), [0, 0, 0.003], UNTURNED);
  expect(areas).toHaveLength(1);
  expect(areas[0]!.outline).toHaveLength(4);
  expect(areas[0]!.holes.map((hole) => hole.length).sort()).toEqual([3, 4]);
  expect(polygonArea(areas[0]!.outline).area).toBeCloseTo(0.06, 12);
});

test('sections of a ball and of a tube have the areas of closed form within their chords (property)', () => {
  const ball = ownMesh({ kind: 'ball', radius: 0.1 }, 1e-4);
  const tube = ownMesh({ kind: 'tube', outer: 0.1, inner: 0.06, length: 0.5 }, 2e-5);
  const part = fc.double({ min: -1, max: 1, noNaN: true });
  fc.assert(
    fc.property(
      fc.tuple(part, part, part, part).filter((q) => Math.hypot(...q) > 0.1),
      fc.double({ min: -0.08, max: 0.08, noNaN: true }),
      (q, z) => {
        // prettier-ignore
        const axes = rotationOf(q);
        const at: [number, number, number] = [axes[2]! * z, axes[5]! * z, axes[8]! * z];
        const wanted = Math.PI * (0.01 - z * z);
        expect(Math.abs(areaOf(ball, at, axes) - wanted) / wanted).toBeLessThan(1e-2);
      },
    ),
    { numRuns: 30 },
  );
  expect(areaOf(tube, [0, 0, 0.1])).toBeCloseTo(Math.PI * (0.01 - 0.0036), 4);
  expect(sectionOf(tube, [0, 0, 1], UNTURNED)).toEqual([]);
});

test('a cut through two pieces gives both, the larger first; through an opening it gives none', () => {
  const large = ownMesh({ kind: 'box', size: [0.2, 0.2, 0.2] }, 1e-4);
  const small = moved(ownMesh({ kind: 'box', size: [0.1, 0.1, 0.1] }, 1e-4), [1, 0, 0]);
  const areas = sectionOf(joined([small, large]), [0, 0, 0], UNTURNED).map(({ outline }) => polygonArea(outline).area);
  expect(areas).toEqual([expect.closeTo(0.04, 12), expect.closeTo(0.01, 12)]);
  const open = { points: large.points, triangles: large.triangles.slice(0, -12) };
  expect(sectionOf(open, [0, 0, 0], UNTURNED)).toEqual([]);
});

test('the edges of a box are its twelve; those of a cylinder its two rims', () => {
  expect(sharpEdges(ownMesh({ kind: 'box', size: [1, 2, 3] }, 1e-3)).length / 6).toBe(12);
  const cylinder = sharpEdges(ownMesh({ kind: 'cylinder', radius: 0.1, length: 0.3 }, 1e-5));
  expect([...cylinder].filter((_, i) => i % 3 === 2).every((z) => Math.abs(Math.abs(z) - 0.15) < 1e-6)).toBe(true);
});

test('a skin that goes through itself is found, one that only touches itself is not', () => {
  const box = ownMesh({ kind: 'box', size: [0.2, 0.2, 0.2] }, 1e-4);
  expect(crossingOf(box)).toBeNull();
  expect(crossingOf(ownMesh({ kind: 'tube', outer: 0.1, inner: 0.05, length: 0.2 }, 1e-4))).toBeNull();
  expect(crossingOf(joined([box, moved(box, [0.2, 0, 0])]))).toBeNull();
  const place = crossingOf(joined([box, moved(box, [0.15, 0.07, 0.03])]));
  expect(place).not.toBeNull();
  // Both have it on their skins.
  expect(Math.max(...place!.map((own) => Math.abs(own)))).toBeCloseTo(0.1, 9);
});
