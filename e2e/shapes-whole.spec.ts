import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { newMachine } from '@yoke/core';
import { findBody } from './depth';
import { Hand } from './hand';
import { allSaved, post, saved } from './helpers';

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

test('an assembly from a file is taken apart by hand, joined by its faces, and driven', async ({ page }) => {
  const machine = newMachine('From a file');
  machine.cycle = { given: 'time', time: 2 };
  const { id } = (await (await post(page, '/api/machines', machine)).json()) as { id: string };
  await page.goto(`/machine/${id}/build`);
  const hand = new Hand(page);
  await hand.button('Solids');
  await file(page, 0).setInputFiles(demo('plug-gantry.step'));
  await expect(page.getByText('28 solids of plug-gantry.step came in, not assigned yet.')).toBeVisible();
  const list = page.getByRole('region', { name: 'Solids', exact: true });
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
  await hand.done('an assembly from a file, taken apart and joined', 90);
});
