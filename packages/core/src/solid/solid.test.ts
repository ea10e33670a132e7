import fc from 'fast-check';
import { rotationOf, turned, type Point3 } from '../geometry';
import {
  insideOut,
  joined,
  meshVolume,
  oriented,
  ownMesh,
  ownSolidProblem,
  ownVolume,
  soundnessOf,
  soundnessWords,
  triangleCount,
  volumeOf,
  welded,
  type Mesh,
  type OwnSolid,
  type VolumeProperties,
} from './index';

const size = fc.double({ min: 0.01, max: 2, noNaN: true });
/** A mesh turned and put elsewhere. */
function placed(mesh: Mesh, quaternion: [number, number, number, number], at: Point3): Mesh {
  const r = rotationOf(quaternion);
  const points = new Float64Array(mesh.points.length);
  for (let i = 0; i < points.length; i += 3)
    turned(r, [mesh.points[i]!, mesh.points[i + 1]!, mesh.points[i + 2]!]).forEach((part, k) => (points[i + k] = part + at[k]!)); // prettier-ignore
  return { points, triangles: mesh.triangles };
}
function expectNear(own: VolumeProperties, wanted: VolumeProperties, share: number): void {
  const scale = Math.cbrt(wanted.volume);
  expect(Math.abs(own.volume / wanted.volume - 1)).toBeLessThan(share);
  own.centre.forEach((part, k) => expect(Math.abs(part - wanted.centre[k]!)).toBeLessThan(share * scale));
  const largest = Math.max(wanted.tensor.xx, wanted.tensor.yy, wanted.tensor.zz);
  for (const key of ['xx', 'yy', 'zz', 'xy', 'xz', 'yz'] as const)
    expect(Math.abs(own.tensor[key] - wanted.tensor[key])).toBeLessThan(share * largest);
}

describe('what solids hold', () => {
  test('a box by its mesh, wherever it stands and however it is turned (property; handbook)', () => {
    fc.assert(
      fc.property(fc.tuple(size, size, size), fc.tuple(size, size, size), ([x, y, z], at) => {
        const box = { kind: 'box', size: [x, y, z] } as const;
        const mesh = ownMesh(box, 1e-3);
        expectNear(meshVolume(mesh), ownVolume(box), 1e-12);
        // A quarter turn about x changes y and z for each other.
        const quarter = meshVolume(placed(mesh, [1, 1, 0, 0], at));
        const { volume, tensor } = ownVolume(box);
        expectNear(quarter, { volume, centre: [...at], tensor: { ...tensor, yy: tensor.zz, zz: tensor.yy } }, 1e-9);
      }),
    );
  });

  test('an eighth of a cube cut off: a tetrahedron (textbook: a³/6, centre at a/4, products −∫xy = a⁵/480)', () => {
    const a = 0.6;
    const mesh: Mesh = {
      points: Float64Array.from([0, 0, 0, a, 0, 0, 0, a, 0, 0, 0, a]),
      triangles: Uint32Array.from([0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3]),
    };
    const { volume, centre, tensor } = meshVolume(mesh);
    expect(volume).toBeCloseTo(a ** 3 / 6, 14);
    centre.forEach((part) => expect(part).toBeCloseTo(a / 4, 14));
    // ∫x² = a⁵/60, ∫xy = a⁵/120 about the corner; about the centre less V a²/16.
    expect(tensor.xx).toBeCloseTo(2 * (a ** 5 / 60 - a ** 5 / 96), 14);
    expect(tensor.xy).toBeCloseTo(-(a ** 5 / 120 - a ** 5 / 96), 14);
  });

  test.each<[string, OwnSolid, VolumeProperties]>([
    ['cylinder', { kind: 'cylinder', radius: 0.03, length: 0.2 }, { volume: Math.PI * 0.03 ** 2 * 0.2, centre: [0, 0, 0], tensor: tensor(Math.PI * 0.03 ** 2 * 0.2, (0.03 ** 2 / 4) + (0.2 ** 2 / 12), 0.03 ** 2 / 2) }], // prettier-ignore
    ['ball', { kind: 'ball', radius: 0.05 }, { volume: (4 / 3) * Math.PI * 0.05 ** 3, centre: [0, 0, 0], tensor: tensor((4 / 3) * Math.PI * 0.05 ** 3, 0.4 * 0.05 ** 2, 0.4 * 0.05 ** 2) }], // prettier-ignore
    ['cone', { kind: 'turned', outline: [[0, 0], [0.1, 0], [0, 0.3]] }, { volume: (Math.PI * 0.1 ** 2 * 0.3) / 3, centre: [0, 0, 0.075], tensor: tensor((Math.PI * 0.1 ** 2 * 0.3) / 3, (3 / 20) * 0.1 ** 2 + (3 / 80) * 0.3 ** 2, 0.3 * 0.1 ** 2) }], // prettier-ignore
  ])('%s: in closed form as the handbook has it, by its mesh within the error of its chords', (_, solid, wanted) => {
    expectNear(ownVolume(solid), wanted, 1e-12);
    const mesh = ownMesh(solid, 2e-6);
    expect(soundnessOf(mesh)).toMatchObject({ closed: true, insideOut: false, shells: 1, flatTriangles: 0 });
    expectNear(meshVolume(mesh), wanted, 1.5e-3);
    // Chords lie inside of what is round outwards: a mesh holds less.
    expect(volumeOf(mesh)).toBeLessThan(wanted.volume);
    // Twice as near, a quarter of the error: chords of half the length.
    const errorAt = (chord: number) => 1 - volumeOf(ownMesh(solid, chord)) / wanted.volume;
    expect(errorAt(1e-5) / errorAt(4e-5)).toBeGreaterThan(0.2);
    expect(errorAt(1e-5) / errorAt(4e-5)).toBeLessThan(0.35);
  });

  test('a tube, and a ring of circles (torus: 2π² R r², from memory), against what turns about z', () => {
    const tube = { kind: 'tube', outer: 0.05, inner: 0.04, length: 0.1 } as const;
    const outline: [number, number][] = [[0.04, -0.05], [0.05, -0.05], [0.05, 0.05], [0.04, 0.05]]; // prettier-ignore
    expectNear(ownVolume(tube), ownVolume({ kind: 'turned', outline }), 1e-12);
    expectNear(meshVolume(ownMesh(tube, 1e-6)), ownVolume(tube), 1e-3);
    const [R, r, n] = [0.08, 0.02, 400];
    const ring = Array.from({ length: n }, (_, i): [number, number] => [R + r * Math.cos((2 * Math.PI * i) / n), r * Math.sin((2 * Math.PI * i) / n)]); // prettier-ignore
    const volume = 2 * Math.PI ** 2 * R * r ** 2;
    expectNear(ownVolume({ kind: 'turned', outline: ring }), { volume, centre: [0, 0, 0], tensor: tensor(volume, (4 * R ** 2 + 5 * r ** 2) / 8, (4 * R ** 2 + 3 * r ** 2) / 4) }, 2e-4); // prettier-ignore
  });

  test('a plate with a hole, in either sense of its corners', () => {
    const outline: [number, number][] = [[0, 0], [0, 0.2], [0.3, 0.2], [0.3, 0]]; // prettier-ignore
    const hole: [number, number][] = [[0.1, 0.05], [0.2, 0.05], [0.2, 0.1], [0.1, 0.1]]; // prettier-ignore
    const plate = { kind: 'plate', outline, holes: [hole], thickness: 0.01 } as const;
    const mesh = ownMesh(plate, 1e-4);
    expect(soundnessOf(mesh)).toMatchObject({ closed: true, insideOut: false, shells: 1 });
    expect(volumeOf(mesh)).toBeCloseTo((0.06 - 0.005) * 0.01, 14);
    expectNear(meshVolume(mesh), ownVolume(plate), 1e-10);
  });
});

/** Tensor of a solid by its radii of gyration squared. */
function tensor(volume: number, across: number, along: number) {
  return { xx: volume * across, yy: volume * across, zz: volume * along, xy: 0, xz: 0, yz: 0 };
}

describe('whether a surface is the skin of a solid', () => {
  const box = ownMesh({ kind: 'box', size: [0.1, 0.2, 0.3] }, 1e-3);
  const without = (mesh: Mesh, t: number): Mesh => ({ points: mesh.points, triangles: Uint32Array.from(mesh.triangles.filter((_, i) => Math.floor(i / 3) !== t)) }); // prettier-ignore
  /** Every triangle with corners of its own, as files have them. */
  const loose = ({ points, triangles }: Mesh): Mesh => ({
    points: Float64Array.from([...triangles].flatMap((i) => [...points.slice(3 * i, 3 * i + 3)])),
    triangles: Uint32Array.from(triangles, (_, i) => i),
  });

  test('triangles with corners of their own are joined where they meet', () => {
    expect(welded(loose(box)).points).toHaveLength(24);
    expect(soundnessOf(loose(box))).toMatchObject({ closed: true, openEdges: 0, shells: 1 });
  });

  test('what is open, turned, crowded or inside out is told with what can be done', () => {
    expect(soundnessWords(soundnessOf(box))).toBeNull();
    const open = soundnessOf(without(box, 0));
    expect(open).toMatchObject({ closed: false, openEdges: 3 });
    expect(soundnessWords(open)).toMatch(/open at 3 edges.* type its mass/);
    expect(soundnessWords(soundnessOf(insideOut(box)))).toMatch(/outside is in/);
    const turnedOne = { points: box.points, triangles: box.triangles.slice() };
    [turnedOne.triangles[0], turnedOne.triangles[1]] = [turnedOne.triangles[1]!, turnedOne.triangles[0]!];
    expect(soundnessWords(soundnessOf(turnedOne))).toMatch(/At 3 edges its faces do not agree/);
    expect(soundnessOf(oriented(turnedOne))).toMatchObject({ closed: true, insideOut: false });
    // Two boxes that share an edge: four faces meet there.
    const beside = placed(box, [1, 0, 0, 0], [0.1, 0.2, 0]);
    expect(soundnessWords(soundnessOf(joined([box, beside])))).toMatch(/At one edge more than two faces meet/);
    expect(soundnessWords(soundnessOf({ points: new Float64Array(), triangles: new Uint32Array() }))).toMatch(/nothing in it/); // prettier-ignore
  });

  test('two solids in one are counted; each holds its own', () => {
    const two = joined([box, placed(box, [1, 0, 0, 0], [1, 0, 0])]);
    expect(soundnessOf(two)).toMatchObject({ closed: true, shells: 2 });
    expect(volumeOf(two)).toBeCloseTo(2 * 0.006, 14);
    expect(triangleCount(two)).toBe(24);
  });

  test('however many faces are turned over, they are turned back (property)', () => {
    const ball = ownMesh({ kind: 'ball', radius: 0.1 }, 5e-3);
    const volume = volumeOf(ball);
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: triangleCount(ball) - 1 }), { maxLength: 60 }), (which) => {
        const triangles = ball.triangles.slice();
        for (const t of new Set(which)) [triangles[3 * t + 1], triangles[3 * t + 2]] = [triangles[3 * t + 2]!, triangles[3 * t + 1]!]; // prettier-ignore
        const back = oriented({ points: ball.points, triangles });
        expect(soundnessOf(back)).toMatchObject({ closed: true, insideOut: false });
        expect(volumeOf(back)).toBeCloseTo(volume, 12);
      }),
    );
  });
});

test('what no solid can be is said', () => {
  expect(ownSolidProblem({ kind: 'box', size: [1, 0, 1] })).toMatch(/three sides/);
  expect(ownSolidProblem({ kind: 'tube', outer: 1, inner: 2, length: 1 })).toMatch(/smaller than the tube/);
  expect(ownSolidProblem({ kind: 'turned', outline: [[-1, 0], [1, 0], [1, 1]] })).toMatch(/cross its axis/); // prettier-ignore
  expect(ownSolidProblem({ kind: 'ball', radius: 0.1 })).toBeNull();
});
