import { WebIO } from '@gltf-transform/core';
import { validateBytes } from 'gltf-validator';
import { aboutZ, UNTURNED } from '../geometry';
import { ownMesh, volumeOf } from '../solid';
import { inUnit, packGeometry, readGeometry, writeGltf, writeStl } from './index';

const box = ownMesh({ kind: 'box', size: [0.1, 0.2, 0.3] }, 1e-4);
/** Faults that the validator of the format's own makers finds (Khronos glTF Validator). */
const faultsOf = async (content: Uint8Array) => {
  const { issues } = await validateBytes(content);
  return issues.messages.filter(({ severity }) => severity < 2).map(({ code, pointer }) => `${code} ${pointer}`);
};
const none = () => Promise.reject(new Error('no STEP here'));

test('STL that is written is read again: the same solid, in millimetres', async () => {
  const read = inUnit(await readGeometry(writeStl(box, 'Box'), 'box.stl', none), 0.001);
  expect(read.solids).toHaveLength(1);
  expect(volumeOf(read.solids[0]!.mesh)).toBeCloseTo(0.006, 9);
});

test('GLB of a pose is read again: names, colours and places', async () => {
  const bodies = [{ name: 'Bridge', colour: '#5b7fa6', mesh: box }, { name: 'Lift', colour: '#c2a878', mesh: box }]; // prettier-ignore
  const content = await writeGltf('Gantry', bodies, { times: [0], frames: [[{ at: [1, 2, 3], axes: UNTURNED }, { at: [0, 0, 0], axes: aboutZ(Math.PI / 2) }]] }); // prettier-ignore
  expect(await faultsOf(content)).toEqual([]);
  const { solids, metres } = await readGeometry(content, 'gantry.glb', none);
  expect(metres).toBe(true);
  expect(solids.map(({ name, colour }) => [name, colour])).toEqual([['Bridge', '#5b7fa6'], ['Lift', '#c2a878']]); // prettier-ignore
  const [bridge, lift] = solids.map(({ mesh }) =>
    [0, 1, 2].map((k) => Math.max(...mesh.points.filter((_, i) => i % 3 === k))),
  );
  [1.05, 2.1, 3.15].forEach((part, k) => expect(bridge![k]).toBeCloseTo(part, 6));
  [0.1, 0.05, 0.15].forEach((part, k) => expect(lift![k]).toBeCloseTo(part, 6));
});

test('geometry as it is kept has no fault of the format either', async () => {
  expect(await faultsOf(await packGeometry([{ key: 'a / Box', mesh: box }]))).toEqual([]);
});

test('GLB of a motion holds it: what slides and what turns, a whole turn without a jump', async () => {
  const times = Array.from({ length: 41 }, (_, i) => i / 40);
  const bodies = ['Slide', 'Table', 'Frame'].map((name) => ({ name, colour: '#808080', mesh: box }));
  const frames = times.map((time) => [
    { at: [time, 0, 0] as const, axes: UNTURNED },
    { at: [0, 1, 0] as const, axes: aboutZ(2 * Math.PI * time) },
    { at: [0, 0, 5] as const, axes: UNTURNED },
  ]);
  const content = await writeGltf('Cycle', bodies, { times, frames });
  expect(await faultsOf(content)).toEqual([]);
  const document = await new WebIO().readBinary(content);
  const [animation] = document.getRoot().listAnimations();
  const told = animation!
    .listChannels()
    .map((channel) => [channel.getTargetNode()!.getName(), channel.getTargetPath()]);
  expect(told).toEqual([['Slide', 'translation'], ['Table', 'rotation']]); // prettier-ignore
  const turns = animation!.listChannels()[1]!.getSampler()!.getOutput()!;
  const quaternion: number[] = [];
  let before: number[] | null = null;
  for (let k = 0; k < turns.getCount(); k++) {
    turns.getElement(k, quaternion);
    if (before) expect(quaternion.reduce((sum, part, i) => sum + part * before![i]!, 0)).toBeGreaterThan(0.99);
    before = [...quaternion];
  }
  // After a whole turn the quaternion is that of the start with its sign changed: the table went round.
  expect(quaternion[3]).toBeCloseTo(-1, 6);
});
