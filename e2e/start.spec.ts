import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { newMachine } from '@yoke/core';
import { listed, post } from './helpers';

test('the demo is there, and says that it is invented', async ({ page }) => {
  await page.goto('/');
  for (const name of ['Tray belt', 'Dibber', 'Potting table']) await listed(page, name);
  await expect(page.getByText('Demonstration with invented data').first()).toBeVisible();
});

test('rename, duplicate, and delete with undo', async ({ page }) => {
  await post(page, '/api/machines', newMachine('Shelf one'));
  await page.goto('/');
  await page.getByRole('button', { name: 'Rename Shelf one' }).click();
  await page.getByLabel('New name').fill('Shelf two');
  await page.getByLabel('New name').press('Enter');
  await expect(page.getByRole('link', { name: 'Shelf two', exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Duplicate Shelf two' }).click();
  await expect(page.getByRole('link', { name: 'Shelf two (copy)' })).toBeVisible();
  await page.getByRole('button', { name: 'Delete Shelf two (copy)' }).click();
  await expect(page.getByRole('link', { name: 'Shelf two (copy)' })).toBeHidden();
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.getByRole('link', { name: 'Shelf two (copy)' })).toBeVisible();
});

test('a file goes out and comes back in; a broken one is refused by the path of the culprit', async ({ page }) => {
  await post(page, '/api/machines', newMachine('Traveller'));
  await page.goto('/');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Export Traveller' }).click(),
  ]);
  const text = readFileSync(await download.path(), 'utf8');
  expect(JSON.parse(text)).toEqual(newMachine('Traveller'));
  const input = page.locator('input[type=file]');
  const file = (content: string) => ({
    name: 'traveller.yoke.json',
    mimeType: 'application/json',
    buffer: Buffer.from(content),
  });
  await input.setInputFiles(file(text.replace('"metric"', '"cubits"')));
  await expect(page.getByRole('alert')).toContainText('units must be “metric” or “inch”, not “cubits”');
  await input.setInputFiles(file(text.replace('Traveller', 'Returned')));
  await expect(page.getByLabel('Name of the machine')).toHaveValue('Returned');
  await expect(page.getByText('Begin with what moves')).toBeVisible();
});

test('a machine that is not there says so and leads back', async ({ page }) => {
  await page.goto('/machine/00000000-0000-4000-8000-000000000000/build');
  await expect(page.getByText('There is no such machine')).toBeVisible();
  await page.getByRole('link', { name: 'All machines' }).last().click();
  await expect(page.getByRole('heading', { name: 'From what must move' })).toBeVisible();
});

test('a server out of reach is said, and trying again helps', async ({ page }) => {
  await page.route('**/api/machines?*', (route) => route.abort());
  await page.goto('/');
  await expect(page.getByRole('alert')).toContainText('cannot be reached');
  await page.unroute('**/api/machines?*');
  await page.getByRole('button', { name: 'Try again' }).click();
  await listed(page, 'Dibber');
});

test('the start page comes in less than 350 kB, and from the second time on out of the cache', async ({ page }) => {
  const received = async () => {
    await page.waitForLoadState('networkidle');
    return page.evaluate(() =>
      [...performance.getEntriesByType('navigation'), ...performance.getEntriesByType('resource')]
        .map((entry) => (entry as PerformanceResourceTiming).transferSize)
        .reduce((sum, size) => sum + size, 0),
    );
  };
  await page.goto('/');
  await expect(page.getByRole('heading', { level: 1 }).first()).toBeVisible();
  const first = await received();
  expect(first).toBeGreaterThan(20_000);
  expect(first).toBeLessThan(350_000);
  await page.goto('/');
  expect(await received()).toBeLessThan(first / 3);
});
