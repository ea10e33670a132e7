import { expect, test, type Page } from '@playwright/test';
import { choose, openNew, type } from './helpers';

const part = (page: Page, name: string) =>
  page.getByRole('navigation', { name: 'Parts of Cue' }).getByRole('button', { name }).click();
const side = (page: Page, name: string | RegExp) =>
  page.getByRole('navigation', { name: 'Beside' }).getByRole('button', { name }).click();
const add = (page: Page, list: string) => page.getByRole('button', { name: `Add: ${list}` }).click();
const pick = (page: Page, name: string) => page.getByRole('button', { name, exact: true }).click();
const facts = (page: Page) => page.locator('.chain .facts');

test('parts in space from an empty machine: a belt too narrow loses them sideways, a wider one carries them home', async ({
  page,
}) => {
  await openNew(page, 'In space', { stage: 'cue' });
  await part(page, 'Loose parts');
  await page.getByLabel('Parts move').selectOption('space');
  // Bottles that stand on a belt, and a box at its end that they fall into.
  await add(page, 'Kinds of part');
  await choose(page, 'Shape', 'Cylinder');
  await expect(page.getByLabel('Radius')).toBeVisible();
  await add(page, 'Belts');
  await add(page, 'Sinks');
  await type(page.getByLabel('From x'), '600 mm');
  await add(page, 'Sources');
  await type(page.getByLabel('How many'), '1');
  await expect(facts(page)).toContainText(/Done\s*1/);
  // Beside the middle by more than half the width of the belt it falls past it.
  await type(page.getByLabel('Height over the plane'), '60 mm');
  await side(page, /Findings/);
  await expect(page.getByRole('list', { name: 'Findings' })).toContainText('fell out of the machine');
  // A belt that is wide enough, and a box that is.
  await pick(page, 'Belt');
  await expect(page.getByLabel('Width across')).toHaveAttribute('placeholder', '100');
  await type(page.getByLabel('Width across'), '250 mm');
  await pick(page, 'Sink');
  await type(page.getByLabel('Width across'), '250 mm');
  await side(page, 'Cycle');
  await expect(facts(page)).toContainText(/Done\s*1/);
  // Seen in depth; and what has no flat shape keeps the machine in space until it has one.
  await page.getByRole('button', { name: 'Depth', exact: true }).click();
  await expect(page.locator('canvas').first()).toBeVisible();
  await page.getByLabel('Parts move').selectOption('plane');
  await expect(page.getByRole('alert').first()).toContainText('is a part in space');
  await expect(page.getByLabel('Parts move')).toHaveValue('space');
});
