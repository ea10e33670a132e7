import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { expect, test, type Download, type Page } from '@playwright/test';
import { WebIO } from '@gltf-transform/core';
import DxfParser, { type ILwpolylineEntity } from 'dxf-parser';
import { addJoint, addPlate, bodyPoint, groundPoint, newDrive, newMachine, takeFile, type Machine } from '@yoke/core';
import { packGeometry, packMachineZip, readGeometry, readMachineZip } from '@yoke/core/geometry-file';
import { boundsOf, joined, ownMesh, soundnessOf } from '@yoke/core/solid';
import { choose, openNew, post, stage } from './helpers';

/** A block of 50 mm driven 100 mm along a rail, and a wall that stands. */
function block(machine: Machine): void {
  const m = machine.mechanism;
  machine.axes = [];
  const corners = (x: number): [number, number][] => [[x, 0], [x + 0.05, 0], [x + 0.05, 0.05], [x, 0.05]]; // prettier-ignore
  const own = addPlate(m, corners(0), 'Block');
  const slide = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, own.id, [0, 0]), { direction: 0 });
  machine.axes.push(newDrive(machine, slide, 0, 0.1));
  const wall = addPlate(m, corners(0.4), 'Wall');
  addJoint(m, 'weld', groundPoint(m, [0.4, 0]), bodyPoint(m, wall.id, [0.4, 0]));
}
async function taken(page: Page, press: () => Promise<void>): Promise<{ download: Download; content: Uint8Array }> {
  const [download] = await Promise.all([page.waitForEvent('download'), press()]);
  return { download, content: new Uint8Array(readFileSync(await download.path())) };
}
const none = () => Promise.reject(new Error('no STEP here'));

test('the pose as STL and GLB, the moving machine as GLB, and the space that a body sweeps', async ({ page }) => {
  await openNew(page, 'Shapes out', { stage: 'deliver', change: block });
  const panel = page.getByRole('region', { name: 'Shapes', exact: true });
  const press = (name: string) => () => panel.getByRole('button', { name, exact: true }).click();
  await expect(panel.getByRole('button', { name: 'STL at the cursor' })).toBeEnabled();
  const stl = await taken(page, press('STL at the cursor'));
  expect(stl.download.suggestedFilename()).toBe('shapes-out.stl');
  const box = boundsOf(joined((await readGeometry(stl.content, 'a.stl', none)).solids.map(({ mesh }) => mesh)))!;
  expect(box.high[0] - box.low[0]).toBeCloseTo(450, 2);
  const pose = await taken(page, press('GLB at the cursor'));
  expect((await readGeometry(pose.content, 'a.glb', none)).solids.map(({ name }) => name)).toEqual(['Block', 'Wall']);
  const cycle = await taken(page, press('GLB of the cycle, moving'));
  expect(cycle.download.suggestedFilename()).toBe('shapes-out-cycle.glb');
  const [animation] = (await new WebIO().readBinary(cycle.content)).getRoot().listAnimations();
  const [channel, ...others] = animation!.listChannels();
  // The block moves, the wall does not.
  expect(others).toEqual([]);
  expect([channel!.getTargetNode()!.getName(), channel!.getTargetPath()]).toEqual(['Block', 'translation']);
  const way = [...channel!.getSampler()!.getOutput()!.getArray()!].filter((_, i) => i % 3 === 0);
  expect(Math.max(...way) - Math.min(...way)).toBeCloseTo(0.1, 4);
  // Drawn from above: two rectangles of 50 by 8 mm, on a layer each.
  await choose(page, 'Seen from', 'Top');
  const drawing = await taken(page, press('DXF at the cursor'));
  expect(drawing.download.suggestedFilename()).toBe('shapes-out-top.dxf');
  await expect(panel.getByText(/top at\s.*full scale; 2 lines, 0 of them hidden and dashed/)).toBeVisible();
  const { entities } = new DxfParser().parseSync(new TextDecoder().decode(drawing.content))!;
  expect(entities.map(({ layer }) => layer)).toEqual(['Block', 'Wall']);
  const { vertices } = entities[1] as ILwpolylineEntity;
  expect(Math.min(...vertices.map(({ x }) => x))).toBeCloseTo(400, 6);
  expect(Math.max(...vertices.map(({ x }) => x))).toBeCloseTo(450, 6);
  await expect(panel.getByRole('button', { name: 'Find the space' })).toBeDisabled();
  await choose(page, 'Space swept by', 'Block');
  await page.keyboard.press('Escape');
  await press('Find the space')();
  await expect(panel.getByText(/Block stays within this space over the whole cycle/)).toBeVisible();
  const swept = await taken(page, press('Save the space as STL'));
  const [space] = (await readGeometry(swept.content, 'a.stl', none)).solids;
  expect(soundnessOf(space!.mesh).closed).toBe(true);
  const { low, high } = boundsOf(space!.mesh)!;
  expect(high[0] - low[0]).toBeGreaterThan(150);
  expect(high[0] - low[0]).toBeLessThan(165);
  await stage(page, /^Run\b/).click();
  await page.getByRole('button', { name: 'Depth', exact: true }).click();
  await expect(page.getByRole('img', { name: /in depth/ })).toBeVisible();
});

/** What stands in a box of so many metres, as it is kept beside documents. */
async function boxGeometry(side: number): Promise<{ hash: string; content: Uint8Array }> {
  const content = await packGeometry([{ key: 'box', mesh: ownMesh({ kind: 'box', size: [side, side, side] }, 1e-4) }]);
  return { hash: createHash('sha256').update(content).digest('hex'), content };
}

test('a machine with its shapes goes to another server as one file, and back; what is broken or lacks shapes says so', async ({
  page,
}) => {
  // As another server would have sent it: this one has never seen its shapes.
  const { hash, content } = await boxGeometry(0.1 + (Date.now() % 1e6) / 1e8);
  const machine = newMachine('Came with shapes');
  block(machine);
  const solids = [{ key: 'box', name: 'Box', colour: null, digest: 'a', holds: null, problem: null }];
  takeFile(machine.mechanism, { name: 'box.step', hash, solids });
  const document = JSON.stringify(machine);
  await page.goto('/');
  const input = page.locator('input[type=file]');
  const send = (name: string, bytes: Uint8Array) =>
    input.setInputFiles({ name, mimeType: 'application/zip', buffer: Buffer.from(bytes) });
  await send('broken.yoke.zip', new Uint8Array([1, 2, 3]));
  await expect(page.getByRole('alert')).toContainText('The ZIP file is broken or cut short');
  await send('came.yoke.zip', packMachineZip({ document, geometry: new Map([[hash, content]]) }));
  await expect(page.getByLabel('Name of the machine')).toHaveValue('Came with shapes');
  expect((await page.request.get(`/api/geometry/${hash}`)).status()).toBe(200);
  await page.getByRole('button', { name: 'Solids', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Files of geometry' }).getByText('box.step')).toBeVisible();
  await stage(page, /^Deliver\b/).click();
  const save = page.getByRole('button', { name: 'Save came-with-shapes.yoke.zip, with its shapes' });
  const { download, content: zip } = await taken(page, () => save.click());
  expect(download.suggestedFilename()).toBe('came-with-shapes.yoke.zip');
  const read = readMachineZip(zip);
  expect(JSON.parse(read.document)).toMatchObject({ name: 'Came with shapes' });
  expect(createHash('sha256').update(read.geometry.get(hash)!).digest('hex')).toBe(hash);
  // From the list it goes out whole, too.
  await page.goto('/');
  const listedExport = page.getByRole('button', { name: 'Export Came with shapes' }).first();
  expect((await taken(page, () => listedExport.click())).download.suggestedFilename()).toBe(
    'came-with-shapes.yoke.zip',
  );
  // A machine whose shapes nobody has is not saved as if it had them.
  const lost = structuredClone(machine);
  lost.name = 'Lost shapes';
  lost.mechanism.shapes!.files[0]!.hash = '0'.repeat(64);
  expect((await post(page, '/api/machines', lost)).status()).toBe(201);
  await page.reload();
  await page.getByRole('button', { name: 'Export Lost shapes' }).first().click();
  await expect(page.getByRole('alert')).toContainText('box.step: ');
});
