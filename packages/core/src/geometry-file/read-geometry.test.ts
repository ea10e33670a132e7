import { readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { Document, WebIO } from '@gltf-transform/core';
import fc from 'fast-check';
import makeKernel from 'occt-import-js';
import { boundsOf, meshVolume, ownMesh, soundnessOf, triangleCount, volumeOf, type Mesh } from '../solid';
import { ImportError, inUnit, readGeometry, type StepKernel } from './index';

// The kernel's own test files: cubes in several units, and an assembly that many programs were asked to write alike.
const files = join(dirname(require.resolve('occt-import-js/package.json')), 'test/testfiles');
const kernel = (): Promise<StepKernel> => makeKernel({ print: () => undefined, printErr: () => undefined });
const none = () => Promise.reject(new Error('no STEP file was to be read'));
const bytes = (text: string) => new TextEncoder().encode(text);
const box = ownMesh({ kind: 'box', size: [2, 3, 4] }, 1e-3);
const corners = (mesh: Mesh, t: number) =>
  [0, 1, 2].map((k) => [...mesh.points.slice(3 * mesh.triangles[t + k]!, 3 * mesh.triangles[t + k]! + 3)]);

function stlText(name: string, mesh: Mesh): string {
  let text = `solid ${name}\n`;
  for (let t = 0; t < mesh.triangles.length; t += 3)
    text += `facet normal 0 0 0\nouter loop\n${corners(mesh, t).map((own) => `vertex ${own.join(' ')}`).join('\n')}\nendloop\nendfacet\n`; // prettier-ignore
  return `${text}endsolid ${name}\n`;
}
function stlBinary(mesh: Mesh): Uint8Array {
  const view = new DataView(new ArrayBuffer(84 + 50 * triangleCount(mesh)));
  view.setUint32(80, triangleCount(mesh), true);
  for (let t = 0; t < mesh.triangles.length; t += 3)
    corners(mesh, t).flat().forEach((part, k) => view.setFloat32(84 + (50 * t) / 3 + 12 + 4 * k, part, true)); // prettier-ignore
  return new Uint8Array(view.buffer);
}
const refused = async (name: string, content: Uint8Array | string): Promise<string> => {
  const error = await readGeometry(typeof content === 'string' ? bytes(content) : content, name, none).catch((own: unknown) => own); // prettier-ignore
  expect(error).toBeInstanceOf(ImportError);
  return (error as Error).message;
};

describe('STEP', () => {
  test.each(['cube-mm.step', 'cube-m.step', 'cube-in.step'])(
    '%s: a cube of a metre, whatever its unit',
    async (file) => {
      const { solids, metres } = await readGeometry(readFileSync(join(files, 'cube-units', file)), file, kernel);
      expect(metres).toBe(true);
      expect(solids).toHaveLength(1);
      expect(soundnessOf(solids[0]!.mesh)).toMatchObject({ closed: true, insideOut: false });
      expect(volumeOf(solids[0]!.mesh)).toBeCloseTo(1, 9);
      expect(solids[0]).toMatchObject({
        name: 'Cube',
        path: ['Part'],
        colour: expect.stringMatching(/^#[0-9a-f]{6}$/),
      });
    },
  );

  test('an assembly comes with its branches, each solid closed and told apart from others of its name', async () => {
    const { solids } = await readGeometry(readFileSync(join(files, 'cax-if/as1-oc-214.stp')), 'assembly.stp', kernel);
    expect(solids).toHaveLength(18);
    for (const { mesh } of solids) expect(soundnessOf(mesh)).toMatchObject({ closed: true, insideOut: false });
    const keys = solids.map(({ path, name }) => JSON.stringify([...path, name]));
    expect(new Set(keys).size).toBe(18);
    expect(Math.max(...solids.map(({ path }) => path.length))).toBeGreaterThan(1);
    // Two brackets, three bolts with nuts in each: what is alike holds alike, wherever it stands.
    const volumes = solids.map(({ mesh }) => volumeOf(mesh)).sort((x, y) => x - y);
    const alike = new Map<string, number>();
    for (const volume of volumes) alike.set(volume.toPrecision(5), (alike.get(volume.toPrecision(5)) ?? 0) + 1);
    expect([...alike.values()].sort((x, y) => x - y)).toEqual([1, 1, 2, 6, 8]);
  });

  test('what is no STEP file, or half of one, is refused', async () => {
    expect(await refused('a.step', '').catch(String)).toBeDefined();
    const half = readFileSync(join(files, 'cube-units/cube-mm.step')).subarray(0, 900);
    await expect(readGeometry(half, 'half.step', kernel)).rejects.toThrow(ImportError);
    await expect(readGeometry(bytes('solid x'), 'x.step', kernel)).rejects.toThrow(/ISO-10303-21/);
  });
});

describe('STL', () => {
  test('in text and in binary: corners are joined, the unit is asked for', async () => {
    for (const content of [bytes(stlText('Block', box)), stlBinary(box)]) {
      const read = await readGeometry(content, 'block.stl', none);
      expect(read.metres).toBe(false);
      const [{ mesh }] = read.solids as [(typeof read.solids)[number]];
      expect(mesh.points).toHaveLength(24);
      expect(soundnessOf(mesh)).toMatchObject({ closed: true, insideOut: false });
      expect(volumeOf(inUnit(read, 0.001).solids[0]!.mesh)).toBeCloseTo(24e-9, 15);
    }
  });

  test('solids of one file keep their names', async () => {
    const away = { points: box.points.map((part) => part + 10), triangles: box.triangles };
    const read = await readGeometry(bytes(stlText('Rail', box) + stlText('Rail', away)), 'two.stl', none);
    expect(read.solids.map(({ name }) => name)).toEqual(['Rail', 'Rail 2']);
    expect(read.solids.map(({ mesh }) => boundsOf(mesh)!.low[0])).toEqual([-1, 9]);
    expect(read.solids.every(({ mesh }) => triangleCount(mesh) === 12)).toBe(true);
  });
});

test('OBJ: objects are solids; what it only names or does not need is told', async () => {
  const face = (t: number) => `f ${[0, 1, 2].map((k) => box.triangles[t + k]! + 1).join(' ')}`;
  const faces = Array.from({ length: 12 }, (_, t) => face(3 * t)).join('\n');
  const points = Array.from({ length: 8 }, (_, i) => `v ${[...box.points.slice(3 * i, 3 * i + 3)].join(' ')}`).join('\n'); // prettier-ignore
  const text = `mtllib colours.mtl\n${points}\no Block\n${faces}\no Edge\nl 1 2\nbevel on\n`;
  const { solids, notes, metres } = await readGeometry(bytes(text), 'block.obj', none);
  expect(metres).toBe(false);
  expect(solids.map(({ name }) => name)).toEqual(['Block']);
  expect(volumeOf(solids[0]!.mesh)).toBeCloseTo(24, 9);
  expect(notes.join(' ')).toMatch(/colours\.mtl.*One line not understood, such as “bevel on”.*One object of lines/);
});

test('glTF: where nodes stand, their branches and colours; text with its buffers within, none beside', async () => {
  const document = new Document();
  const buffer = document.createBuffer();
  const accessor = (type: 'VEC3' | 'SCALAR', array: Float32Array | Uint32Array) => document.createAccessor().setType(type).setArray(array).setBuffer(buffer); // prettier-ignore
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', accessor('VEC3', Float32Array.from(box.points)))
    .setIndices(accessor('SCALAR', box.triangles))
    .setMaterial(document.createMaterial().setBaseColorFactor([1, 0.2158605, 0, 1]));
  const mesh = document.createMesh('Block').addPrimitive(primitive);
  const inner = document.createNode('Head').setMesh(mesh).setTranslation([5, 0, 0]);
  const outer = document.createNode('Arm').addChild(inner).setTranslation([0, 1, 0]).setScale([0.5, 0.5, 0.5]);
  document.createScene().addChild(outer);
  const io = new WebIO();
  const read = await readGeometry(await io.writeBinary(document), 'arm.glb', none);
  expect(read).toMatchObject({ metres: true, notes: [] });
  // Half of the linear share 0.2158605 is 0x80 on the screen (sRGB).
  expect(read.solids).toMatchObject([{ name: 'Head', path: ['Arm'], colour: '#ff8000' }]);
  expect(volumeOf(read.solids[0]!.mesh)).toBeCloseTo(3, 6);
  expect(boundsOf(read.solids[0]!.mesh)!.low).toEqual([2, 0.25, -1]);
  const { json, resources } = await io.writeJSON(document);
  const [uri] = Object.keys(resources) as [string];
  const beside = JSON.stringify(json);
  expect(await refused('arm.gltf', beside)).toMatch(new RegExp(`needs ${uri}`));
  const within = beside.replace(uri, `data:application/octet-stream;base64,${Buffer.from(resources[uri]!).toString('base64')}`); // prettier-ignore
  expect((await readGeometry(bytes(within), 'arm.gltf', none)).solids).toHaveLength(1);
});

describe('what is no geometry', () => {
  test('is refused with what to do', async () => {
    expect(await refused('x.docx', 'abc')).toMatch(/\.docx are not read: save it as \.step/);
    expect(await refused('x.stl', '')).toMatch(/STL/);
    expect(await refused('x.obj', 'v 0 0 0\nv 1 0 0\nl 1 2\n')).toMatch(/no solid/);
    expect(await refused('x.glb', 'glTF')).toMatch(/glTF/);
    expect(await refused('x.gltf', '{')).toMatch(/glTF/);
  });

  test('whatever bytes come, nothing but a sentence comes of them (property)', async () => {
    const heads = { stl: stlBinary(box), obj: bytes('v 0 0 0\nf 1 2 3\n'), glb: bytes('glTF\x02\x00\x00\x00'), gltf: bytes('{"asset":{"version":"2.0"},') }; // prettier-ignore
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...(Object.keys(heads) as (keyof typeof heads)[])),
        fc.uint8Array({ maxLength: 200 }),
        fc.nat(120),
        async (kind, noise, at) => {
          const content = Uint8Array.from([...heads[kind].subarray(0, at), ...noise]);
          const read = await readGeometry(content, `x.${kind}`, none).catch((error: unknown) => error);
          if (read instanceof Error) expect(read).toBeInstanceOf(ImportError);
        },
      ),
    );
  });
});

test('what the solids of the gantry hold is what the kernel that made them says, within their chords', async () => {
  const root = join(__dirname, '../../../..');
  const wanted = JSON.parse(readFileSync(join(root, 'packages/core/test/kernel-figures.json'), 'utf8')) as { name: string; volume: number; centre: number[] }[]; // prettier-ignore
  const { solids } = await readGeometry(readFileSync(join(root, 'demo/plug-gantry.step')), 'plug-gantry.step', kernel);
  expect(solids.map(({ name }) => name).sort()).toEqual(wanted.map(({ name }) => name).sort());
  // What is round is read with chords of 0.3 rad at most: a full circle of such chords lacks θ²/6 of its area.
  const chords = 0.3 ** 2 / 6;
  const round = /shaft \d|Head|Bearing|Glide|Lift/i;
  for (const { name, volume, centre } of wanted) {
    const held = meshVolume(solids.find((solid) => solid.name === name)!.mesh);
    const off = held.volume / volume - 1;
    expect({ name, off: Math.abs(off) < (round.test(name) ? chords : 1e-11) }).toEqual({ name, off: true });
    // Chords that do not lie alike on both sides shift the middle of what is round.
    const shift = round.test(name) ? 1e-5 : 1e-11;
    held.centre.forEach((part, k) => expect(Math.abs(part - centre[k]!)).toBeLessThan(shift));
  }
});
