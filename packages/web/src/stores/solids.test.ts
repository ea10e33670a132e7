/** @jest-environment jsdom */
import '../../test/computing';
import { addSolid, GROUND, STEEL, UNASSIGNED, type SolidRef } from '@yoke/core';
import { nextTick } from 'vue';
import { opened } from '../../test/mounting';
import { useAside } from './aside';
import { useGeometry } from './geometry';
import { useMachine } from './machine';
import { useSolids } from './solids';

/** Three boxes of 100 by 60 by 40 mm in a row, and a rod of 20 mm through the height of the first. */
beforeEach(async () => {
  await opened((machine) => {
    machine.axes = [];
    for (const [i, name] of ['Left', 'Middle', 'Right'].entries())
      addSolid(machine.mechanism, UNASSIGNED, { name, colour: null, shape: { kind: 'box', x: 0.1, y: 0.06, z: 0.04 }, at: [0.2 * i, 0, 0], turn: [1, 0, 0, 0], density: STEEL }); // prettier-ignore
    addSolid(machine.mechanism, UNASSIGNED, { name: 'Rod', colour: null, shape: { kind: 'cylinder', radius: 0.01, length: 0.1 }, at: [0, 0, 0], turn: [1, 0, 0, 0], density: STEEL }); // prettier-ignore
  });
});
const mechanism = () => useMachine().document!.mechanism;
const refs = (carrier = UNASSIGNED): SolidRef[] =>
  useGeometry()
    .all.filter((own) => own.carrier === carrier)
    .map(({ solid }) => ({ carrier, id: solid.id }));
const names = () => useSolids().chosen.map((ref) => useSolids().find(ref)!.name);

test('solids are chosen, others with them, and the same once more not', () => {
  const solids = useSolids();
  const [left, middle, right] = refs();
  solids.choose([left!]);
  expect(names()).toEqual(['Left']);
  solids.choose([middle!, right!], true);
  expect(names()).toEqual(['Left', 'Middle', 'Right']);
  solids.choose([left!, middle!], true);
  expect(names()).toEqual(['Right']);
  solids.choose([middle!]);
  expect(names()).toEqual(['Middle']);
});

test('one body of several solids, or one of each: told, weighed by them, and one step of undo', () => {
  const solids = useSolids();
  const [left, middle, right] = refs();
  solids.choose([left!, middle!]);
  solids.makeBody(false);
  expect(mechanism().bodies.map(({ solids: own, mass }) => [own!.length, mass.given])).toEqual([[2, 'solids']]);
  // What was made stays chosen, where it is found now.
  expect(solids.chosen.map(({ carrier }) => carrier)).toEqual([mechanism().bodies[0]!.id, mechanism().bodies[0]!.id]);
  useMachine().undo();
  expect(mechanism().bodies).toEqual([]);
  expect(refs()).toHaveLength(4);
  solids.choose([left!, middle!, right!]);
  solids.makeBody(true);
  expect(mechanism().bodies.map(({ name }) => name)).toEqual(['Left', 'Middle', 'Right']);
  expect(solids.message).toBe('“Left”, “Middle”, “Right” made.');
});

test('what is given to the ground or to a body stays where it is, and says where it went', () => {
  const solids = useSolids();
  const [left, middle] = refs();
  solids.choose([left!]);
  solids.makeBody(false);
  const body = mechanism().bodies[0]!.id;
  solids.choose([middle!]);
  solids.assign(body);
  expect(solids.message).toBe('“Middle” moves with “Left” now.');
  const corners = solids
    .bodyCorners(mechanism())(body)
    .map(([x]) => x);
  expect([Math.min(...corners), Math.max(...corners)].map((x) => Number(x.toFixed(9)))).toEqual([-0.05, 0.25]);
  solids.assign(GROUND);
  expect(solids.message).toBe('“Middle” is ground now.');
  expect(refs(GROUND)).toHaveLength(1);
  solids.assign(UNASSIGNED);
  expect(solids.message).toBe('“Middle”: not assigned.');
});

test('what is deleted is named, is chosen no more, and comes back', () => {
  const solids = useSolids();
  solids.choose(refs().slice(0, 2));
  solids.drop();
  expect(solids.message).toBe('Deleted 2 solids. Undo brings them back.');
  expect(solids.chosen).toEqual([]);
  expect(refs()).toHaveLength(2);
  useMachine().undo();
  expect(refs()).toHaveLength(4);
});

test('a press finds the face: a shaft with its axis where it stands, and what is neither says so', async () => {
  const solids = useSolids();
  const rod = refs()[3]!;
  const { mesh } = useGeometry().loadedOf(solids.find(rod)!)!;
  const side = Array.from({ length: mesh.triangles.length / 3 }, (_, t) => t).find((t) => {
    const z = [0, 1, 2].map((k) => mesh.points[3 * mesh.triangles[3 * t + k]! + 2]!);
    return Math.max(...z) - Math.min(...z) > 0.05;
  })!;
  solids.choose([rod]);
  await solids.press(rod, side, false);
  expect(solids.faces[0]!.face).toMatchObject({ kind: 'shaft', radius: expect.closeTo(0.01, 9) as number });
  expect(solids.faces[0]!.line.axis!.map(Math.abs)).toEqual([0, 0, 1].map((part) => expect.closeTo(part, 9) as number));
  // A second face comes beside it; it goes with its solid.
  solids.choose([refs()[0]!], true);
  await solids.press(refs()[0]!, 0, true);
  expect(solids.faces.map(({ face }) => face.kind)).toEqual(['shaft', 'flat']);
  await solids.press(rod, 1e6, false);
  expect(solids.faces).toEqual([]);
  expect(solids.message).toMatch(/neither a flat face nor a hole/);
});

test('a face stands where its solid stands, and goes with it', async () => {
  const solids = useSolids();
  const [left] = refs();
  solids.choose([left!]);
  await solids.press(left!, 0, false);
  const [x] = solids.faces[0]!.line.at;
  const moved = solids.edit('move it', (m) => void (m.shapes!.unassigned[0]!.at[0] += 0.5));
  expect(moved).toBeNull();
  await nextTick();
  expect(solids.faces[0]!.line.at[0] - x).toBeCloseTo(0.5, 12);
  solids.choose([left!]);
  solids.drop();
  await nextTick();
  expect(solids.faces).toEqual([]);
});

test('what cannot be placed leaves nothing half done, and says why', () => {
  const solids = useSolids();
  const before = JSON.stringify(useMachine().document);
  const found = solids.place('place nothing', (m) => {
    m.bodies.length = 0;
    m.shapes!.unassigned.length = 0;
    return 'There is no room for it.';
  });
  expect(found).toBeNull();
  expect(solids.message).toBe('There is no room for it.');
  expect(JSON.stringify(useMachine().document)).toBe(before);
  expect(useMachine().undoLabel).toBeNull();
});

test('a file that cannot be read says so, and nothing comes of it', async () => {
  const solids = useSolids();
  jest.spyOn(useAside(), 'readGeometry').mockRejectedValue(new Error('This is no STEP file.'));
  await solids.open(new File(['x'], 'a.step'), null);
  expect(solids.message).toBe('This is no STEP file.');
  expect(refs()).toHaveLength(4);
});

test('the same shape is made once, and once more in the mirror', () => {
  const geometry = useGeometry();
  const [left, middle] = refs().map((ref) => useSolids().find(ref)!);
  const loaded = geometry.loadedOf(left!)!;
  expect(geometry.loadedOf(left!)).toBe(loaded);
  expect(geometry.loadedOf(middle!)).not.toBe(loaded);
  const mirrored = geometry.loadedOf({ shape: left!.shape, mirrored: true })!;
  expect(mirrored).not.toBe(loaded);
  expect(geometry.loadedOf({ shape: left!.shape, mirrored: true })).toBe(mirrored);
  // Its x turned round, and its outside still outside.
  expect([...mirrored.mesh.points].filter((_, i) => i % 3 === 0).reduce((a, b) => a + b, 0)).toBeCloseTo(0, 12);
  expect(mirrored.mesh.triangles).not.toEqual(loaded.mesh.triangles);
});
