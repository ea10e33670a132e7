import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { WebIO } from '@gltf-transform/core';
import { newMachine } from '@yoke/core';
import { readGeometry } from '@yoke/core/geometry-file';
import { boundsOf, soundnessOf } from '@yoke/core/solid';
import { findBody } from './depth';
import { Hand } from './hand';
import { allSaved, post, saved, stage } from './helpers';

const demo = (name: string) => join('demo', name);
const file = (page: Page, nth: number) =>
  page.getByRole('region', { name: 'Files of geometry' }).locator('input[type=file]').nth(nth);

/** What moves together, whatever the file says: words by which their solids are found. */
const GROUPS: [body: string | null, solids: string[]][] = [
  [null, ['Base plate', 'support', 'Post', 'Line shaft', 'Label holder']],
  ['Bridge', ['Bridge beam', 'Bearing block', 'Cross shaft', 'Shaft holder']],
  ['Carriage', ['Carriage plate', 'Glide']],
  ['Lift', ['Lift beam']],
  ['Head', ['Head', 'Finger rail']],
  ['Left finger', ['Left finger']],
  ['Right finger', ['Right finger']],
];
/** Which face of which solid is pressed, seen from where, and what is placed there, joined to what. */
const JOINTS: [side: string, solid: string, face: RegExp, joint: string, other: string][] = [
  ['Front', 'Line shaft 2', /^Shaft/, 'Slide along it', 'Bridge'],
  ['Right', 'Cross shaft 1', /^Shaft/, 'Slide along it', 'Carriage'],
  ['Top', 'Lift beam', /^Flat face/, 'Slide square to it', 'Carriage'],
  ['Front', 'Head disc', /^Shaft/, 'Pin here', 'Lift'],
  ['Left', 'Left finger', /^Flat face/, 'Slide square to it', 'Head'],
  ['Right', 'Right finger', /^Flat face/, 'Slide square to it', 'Head'],
];

async function pick(hand: Hand, label: string, entry: string): Promise<void> {
  await hand.press(hand.page.getByRole('combobox', { name: label, exact: true }), { force: true });
  await hand.press(hand.page.getByRole('listbox').last().getByRole('option', { name: entry, exact: true }));
  await hand.page.keyboard.press('Escape');
}

test('an assembly from a file is taken apart by hand, joined by its faces, driven, found to collide, mended, and taken away', async ({
  page,
}) => {
  const machine = newMachine('From a file');
  machine.cycle = { given: 'time', time: 2 };
  const { id } = (await (await post(page, '/api/machines', machine)).json()) as { id: string };
  await page.goto(`/machine/${id}/build`);
  const hand = new Hand(page);
  await hand.button('Solids');
  await file(page, 0).setInputFiles(demo('plug-gantry.step'));
  await expect(page.getByText('28 solids of plug-gantry.step came in, not assigned yet.')).toBeVisible();
  const list = page.getByRole('region', { name: 'Solids', exact: true });
  // The file has its parts by how they are had, not by what moves together.
  for (const branch of ['Welded', 'Bought', 'Milled'])
    await expect(list.getByRole('button', { name: branch, exact: true })).toBeVisible();
  const chosen = page.getByRole('region', { name: 'Chosen solids' });
  for (const [body, words] of GROUPS) {
    for (const [i, word] of words.entries()) {
      await page.getByRole('textbox', { name: 'Find solids' }).fill(word);
      const all = list.getByRole('button', { name: /^Choose \d+$/ });
      await hand.press(all, i > 0 ? { modifiers: ['Shift'] } : {});
    }
    await hand.press(chosen.getByRole('button', { name: body === null ? 'Ground' : 'Make a body', exact: true }));
    if (body !== null) await hand.type(chosen.getByLabel('Name of the body'), body);
  }
  await page.getByRole('textbox', { name: 'Find solids' }).fill('');
  await expect(page.getByText('28 solids, 0 not assigned')).toBeVisible();
  const face = page.getByRole('region', { name: 'Chosen face' });
  // Seen in parallel lines nothing shows but the side that is looked at.
  await hand.button('Parallel');
  for (const [side, solid, kind, joint, other] of JOINTS) {
    const across = side === 'Left';
    const from = page.getByRole('button', { name: across ? 'Right' : side, exact: true });
    await hand.press(from, across ? { modifiers: ['Shift'] } : {});
    await expect(async () => {
      const at = await findBody(page, solid);
      await page.mouse.click(at.x, at.y);
      await expect(face.getByRole('heading', { name: kind })).toBeVisible({ timeout: 2000 });
    }).toPass();
    hand.actions++;
    await hand.choose('Joined to', other);
    await hand.press(face.getByRole('button', { name: joint, exact: true }));
    await hand.press(face.getByRole('button', { name: 'Drive this joint' }));
    await page.keyboard.press('Escape');
  }
  await allSaved(page);
  const joined = await saved(page, id);
  expect(joined.axes).toHaveLength(6);
  // The bridge goes along the line and the carriage across it, to where the holder of the labels reaches in.
  await hand.stage('Move');
  for (const [axis, to] of [
    ['Drive of Slide 1', '260 mm'],
    ['Drive of Slide 2', '102 mm'],
  ] as const) {
    await hand.press(page.getByRole('region', { name: 'Cycle diagram' }).getByText(axis, { exact: true }));
    await hand.type('Position after segment 1', to);
  }
  await hand.stage('Run');
  await hand.button('Clearances');
  await pick(hand, 'Bodies', 'Lift');
  await pick(hand, 'against', 'Ground');
  await hand.button('Watch them');
  const watched = page.getByRole('region', { name: 'Watched: Clearance 1' });
  await expect(watched.getByRole('button', { name: /^collide at/ })).toBeVisible();
  for (const name of ['Run', 'Size', 'Deliver'])
    await expect(stage(page, new RegExp(`^${name} , Clearance 1: “Lift” and the ground collide at .* The run ends there`))).toBeVisible(); // prettier-ignore
  // Its curve: far apart at the start, none where they touch.
  await expect(watched.getByRole('img', { name: /^Clearance 1 over the run: from 0/ })).toBeVisible();
  await hand.press(watched.getByRole('button', { name: /^collide at/ }));
  await hand.button('Depth');
  await expect(page.getByText('they touch', { exact: true })).toBeVisible();
  // The mended file takes its place: one solid changed, bodies, joints and drives are as they were.
  await hand.stage('Build');
  await hand.button('Solids');
  await file(page, 1).setInputFiles(demo('plug-gantry-mended.step'));
  const changes = page.getByRole('group', { name: 'What the newer file changes' });
  await expect(changes.getByText('Changed: Label holder (ground).')).toBeVisible();
  await hand.press(changes.getByRole('button', { name: 'Take it' }));
  await expect(page.getByText('plug-gantry-mended.step has taken its place.')).toBeVisible();
  await hand.stage('Run');
  await hand.button('Clearances');
  await expect(watched.getByText(/^33\s*mm|33\smm/).first()).toBeVisible();
  await expect(stage(page, /^Deliver , Ready to be taken away/)).toBeVisible();
  // What is taken away: the space that the lift sweeps, and the machine moving.
  await hand.stage('Deliver');
  const shapes = page.getByRole('region', { name: 'Shapes', exact: true });
  await hand.choose('Space swept by', 'Lift');
  await hand.key('Escape');
  await hand.press(shapes.getByRole('button', { name: 'Find the space' }));
  const said = shapes.getByText(/Lift stays within this space over the whole cycle/);
  await expect(said).toBeVisible();
  const beyond = Number((await said.innerText()).split(/swept by\s/)[1]!.split(/\s/)[0]);
  const taken = async (name: string) => {
    const [download] = await Promise.all([page.waitForEvent('download'), hand.press(shapes.getByRole('button', { name, exact: true }))]); // prettier-ignore
    return new Uint8Array(readFileSync(await download.path()));
  };
  const none = () => Promise.reject(new Error('no STEP here'));
  const [space] = (await readGeometry(await taken('Save the space as STL'), 'space.stl', none)).solids;
  expect(soundnessOf(space!.mesh).closed).toBe(true);
  const { low, high } = boundsOf(space!.mesh)!;
  // A beam of 30 by 50 mm, moved 260 mm along the line and 102 mm across: all of it, and no more than is said beyond.
  for (const [k, wide] of [
    [0, 290],
    [2, 152],
  ] as const) {
    const over = high[k] - low[k] - wide;
    expect(over).toBeGreaterThanOrEqual(-0.01);
    expect(over).toBeLessThanOrEqual(2 * beyond);
  }
  const cycle = await new WebIO().readBinary(await taken('GLB of the cycle, moving'));
  const [animation] = cycle.getRoot().listAnimations();
  const moved = animation!.listChannels().map((channel) => channel.getTargetNode()!.getName());
  expect(new Set(moved)).toEqual(new Set(['Bridge', 'Carriage', 'Lift', 'Head', 'Left finger', 'Right finger']));
  await hand.done('an assembly from a file, to its clearances and its swept space', 130);
});
