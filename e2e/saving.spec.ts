import { expect, test } from '@playwright/test';
import { allSaved, openNew, saved, type } from './helpers';

test('two windows: a clean one follows the other at once', async ({ page, context }) => {
  const id = await openNew(page, 'Followed');
  const other = await context.newPage();
  await other.goto(`/machine/${id}/build`);
  await type(other.getByLabel('Moving mass'), '7');
  await expect(page.getByLabel('Moving mass')).toHaveValue('7');
});

test('two windows on two computers: the later one is told, and nothing is overwritten unseen', async ({
  page,
  browser,
}) => {
  const id = await openNew(page, 'Contested');
  const elsewhere = await browser.newContext();
  const other = await elsewhere.newPage();
  await other.goto(new URL(`/machine/${id}/build`, page.url()).href);
  await type(other.getByLabel('Moving mass'), '7');
  await allSaved(other);
  await expect.poll(async () => (await saved(page, id)).axes[0]!.load.inertia).toBe(7);
  await type(page.getByLabel('Moving mass'), '8');
  await expect(page.getByRole('alert')).toContainText('changed in another window');
  await expect(page.getByLabel('Moving mass')).toHaveValue('8');
  expect((await saved(page, id)).axes[0]!.load.inertia).toBe(7);
  await page.getByRole('button', { name: 'Keep mine as a copy' }).click();
  await expect(page.getByLabel('Name of the machine')).toHaveValue('Contested (from this window)');
  await expect(page.getByLabel('Moving mass')).toHaveValue('8');
  expect((await saved(page, id)).axes[0]!.load.inertia).toBe(7);
  await elsewhere.close();
});

test('while the server is away edits are kept, and saved when it answers again', async ({ page }) => {
  const id = await openNew(page, 'Patient');
  await page.route('**/api/machines/*', (route) => route.abort());
  await type(page.getByLabel('Moving mass'), '6');
  await expect(page.getByRole('alert')).toContainText('Your changes are kept here');
  await page.unroute('**/api/machines/*');
  await allSaved(page);
  expect((await saved(page, id)).axes[0]!.load.inertia).toBe(6);
});
