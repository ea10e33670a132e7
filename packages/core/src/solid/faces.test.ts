import { readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import fc from 'fast-check';
import makeKernel from 'occt-import-js';
import { dot, polygonArea, rotationOf, turned, type Point2, type Point3 } from '../geometry';
import { readGeometry } from '../geometry-file';
import { facesOf, insideOut, joined, ownMesh, rimsOf, type Face, type Mesh } from './index';

const ring = (x: number, y: number, r: number, count: number, from = 0, to = 2 * Math.PI): Point2[] => {
  const steps = to - from < 2 * Math.PI ? count : count - 1;
  return Array.from({ length: count }, (_, i): Point2 => {
    const angle = from + ((to - from) * i) / (to - from < 2 * Math.PI ? steps - 1 : count);
    return [x + r * Math.cos(angle), y + r * Math.sin(angle)];
  });
};
const kinds = (faces: readonly Face[]) => faces.map(({ kind }) => kind).sort();
const only = <K extends Face['kind']>(faces: readonly Face[], kind: K) => faces.filter((face): face is Extract<Face, { kind: K }> => face.kind === kind); // prettier-ignore
function placed(mesh: Mesh, quaternion: [number, number, number, number], at: Point3): Mesh {
  const r = rotationOf(quaternion);
  const points = mesh.points.slice();
  for (let i = 0; i < points.length; i += 3)
    turned(r, [mesh.points[i]!, mesh.points[i + 1]!, mesh.points[i + 2]!]).forEach((part, k) => (points[i + k] = part + at[k]!)); // prettier-ignore
  return { points, triangles: mesh.triangles };
}

test('a box has six flat faces, each with its middle, its area and its way out', () => {
  const { faces } = facesOf(ownMesh({ kind: 'box', size: [2, 4, 6] }, 0.01));
  expect(kinds(faces)).toEqual(Array.from({ length: 6 }, () => 'flat'));
  expect(faces.map(({ area }) => area)).toEqual([24, 24, 12, 12, 8, 8].map((area) => expect.closeTo(area, 12)));
  for (const { at, normal } of only(faces, 'flat')) expect(dot(at, normal)).toBeCloseTo(Math.hypot(...at), 12);
});

test('a shaft anywhere: axis, middle, radius and length of its facets (property)', () => {
  const part = fc.double({ min: -1, max: 1, noNaN: true });
  fc.assert(
    fc.property(
      fc.tuple(part, part, part),
      fc.tuple(part, part, part),
      fc.double({ min: 0.005, max: 0.2, noNaN: true }),
      fc.double({ min: 0.02, max: 0.5, noNaN: true }),
      ([x, y, z], at, radius, length) => {
        const quaternion: [number, number, number, number] = [1, x, y, z];
        const shaft = placed(ownMesh({ kind: 'cylinder', radius, length }, radius / 100), quaternion, at);
        const { faces } = facesOf(shaft);
        expect(kinds(faces)).toEqual(['flat', 'flat', 'shaft']);
        const found = only(faces, 'shaft')[0]!;
        const axis = turned(rotationOf(quaternion), [0, 0, 1]);
        expect(Math.abs(dot(found.axis, axis))).toBeCloseTo(1, 9);
        expect(found.radius).toBeCloseTo(radius, 9);
        expect(found.length).toBeCloseTo(length, 9);
        expect(found.round).toBeCloseTo(2 * Math.PI, 9);
        found.at.forEach((own, k) => expect(own).toBeCloseTo(at[k]!, 9));
        expect(found.residual).toBeLessThan(1e-9);
      },
    ),
    { numRuns: 40 },
  );
});

test('a plate with holes and rounded corners: holes are holes, corners are quarters of shafts between flats', () => {
  const [w, h, r] = [0.2, 0.1, 0.02];
  const corner = (x: number, y: number, quarter: number) => ring(x, y, r, 9, (quarter * Math.PI) / 2, ((quarter + 1) * Math.PI) / 2); // prettier-ignore
  const outline = [...corner(w - r, h - r, 0), ...corner(r, h - r, 1), ...corner(r, r, 2), ...corner(w - r, r, 3)];
  const holes = [ring(0.05, 0.05, 0.008, 40), ring(0.15, 0.05, 0.004, 24)];
  const { faces } = facesOf(ownMesh({ kind: 'plate', outline, holes, thickness: 0.012 }, 1e-4));
  expect(kinds(faces)).toEqual([...Array.from({ length: 6 }, () => 'flat'), 'hole', 'hole', ...Array.from({ length: 4 }, () => 'shaft')]); // prettier-ignore
  const found = only(faces, 'hole').sort((a, b) => b.radius - a.radius);
  expect(found.map(({ radius }) => radius)).toEqual([expect.closeTo(0.008, 9), expect.closeTo(0.004, 9)]);
  expect(found[0]!.at).toEqual([expect.closeTo(0.05, 9), expect.closeTo(0.05, 9), expect.closeTo(0, 9)]);
  for (const shaft of only(faces, 'shaft')) {
    expect(shaft.radius).toBeCloseTo(r, 6);
    expect(shaft.round).toBeCloseTo(Math.PI / 2, 6);
  }
});

test('a tube is a hole in a shaft; a ball, and a hollow of one', () => {
  expect(kinds(facesOf(ownMesh({ kind: 'tube', outer: 0.05, inner: 0.03, length: 0.1 }, 2e-4)).faces)).toEqual(['flat', 'flat', 'hole', 'shaft']); // prettier-ignore
  const ball = ownMesh({ kind: 'ball', radius: 0.02 }, 5e-5);
  const { faces } = facesOf(placed(ball, [1, 0.3, 0.2, 0.1], [1, 2, 3]));
  expect(faces).toMatchObject([{ kind: 'ball', radius: expect.closeTo(0.02, 6) }]);
  only(faces, 'ball')[0]!.at.forEach((part, k) => expect(part).toBeCloseTo(k + 1, 6));
  const block = joined([ownMesh({ kind: 'box', size: [0.1, 0.1, 0.1] }, 1e-3), insideOut(ball)]);
  expect(kinds(facesOf(block).faces)).toEqual([...Array.from({ length: 6 }, () => 'flat'), 'hollow']);
});

test('a cone is no shaft', () => {
  const cone = ownMesh({ kind: 'turned', outline: [[0, 0], [0.1, 0], [0.02, 0.3], [0, 0.3]] }, 1e-3); // prettier-ignore
  expect(kinds(facesOf(cone).faces)).toEqual(['flat', 'flat']);
});

test('bolts, rod, nuts and brackets of an assembly from a STEP file: holes stand where shafts go through', async () => {
  const files = join(dirname(require.resolve('occt-import-js/package.json')), 'test/testfiles/cax-if');
  const kernel = () => makeKernel({ print: () => undefined, printErr: () => undefined });
  const { solids } = await readGeometry(readFileSync(join(files, 'as1-oc-214.stp')), 'assembly.stp', kernel);
  const found = solids.map(({ name, mesh }) => ({ name, faces: facesOf(mesh).faces }));
  const holes = found.flatMap(({ faces }) => only(faces, 'hole'));
  const shafts = found.flatMap(({ faces }) => only(faces, 'shaft'));
  // Six in the plate, four in each bracket, one in each nut; two on each bolt, and the rod.
  expect([holes.length, shafts.length]).toEqual([22, 13]);
  for (const { radius, round, residual } of [...holes, ...shafts]) {
    expect(round).toBeCloseTo(2 * Math.PI, 6);
    expect(residual).toBeLessThan(2e-3 * radius);
  }
  // Every bolt stands in line with a hole of the plate below and of the bracket above.
  for (const bolt of found.filter(({ name }) => name.startsWith('bolt'))) {
    const [shaft] = only(bolt.faces, 'shaft').sort((a, b) => b.length - a.length);
    const inLine = holes.filter(({ at, axis }) => {
      const way = at.map((part, k) => part - shaft!.at[k]!) as [number, number, number];
      const along = dot(way, shaft!.axis);
      return Math.abs(dot(axis, shaft!.axis)) > 1 - 1e-9 && Math.hypot(...way.map((part, k) => part - along * shaft!.axis[k]!)) < 1e-6; // prettier-ignore
    });
    expect(inLine.length).toBeGreaterThanOrEqual(2);
  }
});

test('the rims of a drilled plate’s flat face: its outline, then its hole, each corner once', () => {
  const outline: Point2[] = [[0, 0], [0.3, 0], [0.3, 0.2], [0, 0.2]]; // prettier-ignore
  const hole: Point2[] = [[0.1, 0.05], [0.1, 0.1], [0.15, 0.1]]; // prettier-ignore
  const { mesh, faces } = facesOf(ownMesh({ kind: 'plate', outline, holes: [hole], thickness: 0.02 }, 1e-4));
  const top = faces.find((face) => face.kind === 'flat' && face.normal[2] > 0.9)!;
  const rims = rimsOf(mesh, top.triangles);
  expect(rims.map((rim) => rim.length)).toEqual([4, 3]);
  for (const rim of rims) for (const [, , z] of rim) expect(z).toBeCloseTo(0.01, 12);
  expect(polygonArea(rims[0]!.map(([x, y]) => [x, y])).area).toBeCloseTo(0.06, 12);
});
