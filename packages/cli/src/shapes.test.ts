import { createHash } from 'node:crypto';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  addJoint,
  addPlate,
  assignSolids,
  bodyPoint,
  GROUND,
  groundPoint,
  newDrive,
  newMachine,
  takeFile,
  UNASSIGNED,
  type Machine,
} from '@yoke/core';
import { packGeometry, packMachineZip } from '@yoke/core/geometry-file';
import { ownMesh } from '@yoke/core/solid';
import { yoke } from '../test/yoke';

const folder = mkdtempSync(join(tmpdir(), 'yoke-cli-shapes-'));
const written = (name: string, content: string | Uint8Array) => {
  const file = join(folder, name);
  writeFileSync(file, content);
  return file;
};

/**
 * A block of 50 mm that slides 100 mm to the right and back, and a wall from a file before it.
 * @param gap between them at the start, m
 */
async function blockAndWall(gap: number, stop: boolean): Promise<{ machine: Machine; zip: Uint8Array }> {
  const wall = ownMesh({ kind: 'box', size: [0.05, 0.05, 0.2] }, 1e-4);
  const points = wall.points.map((part, i) => part + ([0.05 + gap + 0.025, 0.025, 0][i % 3] ?? 0));
  const content = await packGeometry([{ key: 'wall', mesh: { ...wall, points } }]);
  const hash = createHash('sha256').update(content).digest('hex');
  const machine = newMachine('Block and wall');
  const m = machine.mechanism;
  const block = addPlate(m, [[0, 0], [0.05, 0], [0.05, 0.05], [0, 0.05]], 'Block'); // prettier-ignore
  const slide = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, block.id, [0, 0]), { direction: 0 });
  machine.axes.push(newDrive(machine, slide, 0, 0.1));
  takeFile(m, { name: 'wall.step', hash, solids: [{ key: 'wall', name: 'Wall', colour: null, digest: 'a', holds: null, problem: null }] }); // prettier-ignore
  const { id } = m.shapes!.unassigned[0]!;
  assignSolids(m, [{ carrier: UNASSIGNED, id }], GROUND);
  machine.clearances = {
    watches: [{ id: 'w1', name: 'Block and wall', a: [block.id], b: [GROUND], least: 0.005, stop }],
    byDesign: [],
  };
  const document = JSON.stringify(machine);
  return { machine, zip: packMachineZip({ document, geometry: new Map([[hash, content]]) }) };
}

test('a machine with its shapes whose parts keep clear is checked without a word', async () => {
  const { zip } = await blockAndWall(0.12, true);
  expect(await yoke('check', written('clear.yoke.zip', zip))).toMatchObject({ code: 0, err: '' });
});

test('what comes nearer than wished, and what collides, ends with 1, and says who, when and how near', async () => {
  const near = await yoke('check', written('near.yoke.zip', (await blockAndWall(0.103, true)).zip));
  expect(near.code).toBe(1);
  expect(near.err).toMatch(/Block and wall: “Block” and the ground come as near as 3\smm at 0\.7\ss, less than 5\smm\./); // prettier-ignore
  const through = await blockAndWall(0.0625, true);
  const hit = await yoke('check', written('hit.yoke.zip', through.zip));
  expect(hit.code).toBe(1);
  expect(hit.err).toMatch(/“Block” and the ground collide at 0\.\d+\ss\. The run ends there/);
  // Nothing is printed as if that run had been one.
  const ran = await yoke('simulate', written('hit.yoke.zip', through.zip));
  expect(ran.code).toBe(1);
  // Noted only, it is no less wrong.
  const noted = await yoke('check', written('noted.yoke.zip', (await blockAndWall(0.0625, false)).zip));
  expect([noted.code, noted.err]).toEqual([1, expect.stringMatching(/the run goes on as if they did not/)]);
});

test('clearances are never taken for good where the shapes did not come along', async () => {
  const { machine } = await blockAndWall(0.12, true);
  const { code, err } = await yoke('check', written('alone.yoke.json', JSON.stringify(machine)));
  expect(code).toBe(1);
  expect(err).toMatch(/the shapes of wall\.step are not in this file\. Save the machine with its shapes in Deliver/);
  // Whether a collision ended that run nobody knows: nothing is printed as if it had been one.
  const ran = await yoke('simulate', written('alone.yoke.json', JSON.stringify(machine)));
  expect([ran.code, ran.out]).toEqual([1, '']);
  // Nothing watched, nothing unknown.
  const unwatched = JSON.stringify({ ...machine, clearances: undefined });
  expect(await yoke('check', written('unwatched.yoke.json', unwatched))).toMatchObject({ code: 0, err: '' });
});

test('a ZIP file that is none, or lacks the machine, is refused by name', async () => {
  const { code, out, err } = await yoke('check', written('broken.yoke.zip', 'no zip'));
  expect([code, out]).toEqual([1, '']);
  expect(err).toMatch(/broken\.yoke\.zip: The ZIP file is broken or cut short/);
});
