import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { choose, stage, type } from './helpers';

test('from an empty start to a ranked motor, by mouse and keyboard alone', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'New machine with a slide' }).click();
  await page.getByLabel('Name of the machine').fill('Hand-made lift');
  await page.getByLabel('Name of the machine').press('Enter');

  // Build: an upright slide on a screw with 8 kg.
  await type(page.getByLabel('Moving mass'), '8 kg');
  await type(page.getByLabel('Slope of the rail'), '90 deg');
  await choose(page, 'By', 'Screw');
  await type(page.getByLabel('Lead per turn'), '0.5 in');
  await expect(page.getByLabel('Lead per turn')).toHaveValue('12.7');
  await type(page.getByLabel('Cycle time'), '3 s');
  await expect(page.getByLabel('What follows')).toContainText('78.45 N in + direction');

  // Move: quicker up, and the plan made to fill the cycle.
  await stage(page, 'Move').click();
  await type(page.getByLabel('Time of segment 1'), '400 ms');
  await choose(page, 'Law of segment 1', 'Modified sine');
  await page.getByRole('button', { name: 'Fit to the cycle' }).click();
  await expect(page.getByRole('list', { name: 'Findings' })).toContainText('keeps all limits');

  // Run: the weight and the inertia at the peak, by hand: m (g + Ca h / T²).
  await stage(page, 'Run').click();
  const rise = (0.4 * 3) / 1.7;
  const force = 8 * (9.80665 + (5.528 * 0.2) / rise ** 2);
  const row = page.getByRole('row').filter({ hasText: 'Force at the axis' });
  await expect(row).toContainText(force.toFixed(1));
  await expect(page.getByText('The balance closes')).toBeVisible();

  // Size: a motor that fits, with its brake, and a reason for one that does not.
  await stage(page, 'Size').click();
  const ranking = page.getByLabel('Ranking');
  await expect(ranking).toContainText(/is the lightest of the \d+ that fit \(out of \d+\)/);
  await expect(page.getByLabel('Motor', { exact: true })).toContainText('Fits, with brake');
  await ranking.getByRole('button', { name: 'Thyme 0.08' }).click();
  await expect(page.getByLabel('Motor', { exact: true })).toContainText(/Fails because .*comes without a brake/);
  await ranking.getByRole('row').nth(1).click();
  await page.getByRole('button', { name: 'Choose this motor' }).click();
  await expect(ranking.getByText('chosen')).toBeVisible();

  // Deliver: the channels as CSV, with the chosen rotor.
  await stage(page, 'Deliver').click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: /Save 10 channels/ }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('hand-made-lift-channels.csv');
  const [header, ...rows] = readFileSync(await download.path(), 'utf8')
    .trim()
    .split('\n');
  expect(header).toMatch(/^t \[s\],Slide\.position \[mm\],Slide\.velocity \[mm\/s\]/);
  expect(rows.length).toBeGreaterThan(900);

  // Tomorrow: everything is still there.
  await page.reload();
  await expect(page.getByLabel('Name of the machine')).toHaveValue('Hand-made lift');
  await page.getByRole('link', { name: 'Yoke' }).click();
  await expect(page.getByRole('link', { name: 'Hand-made lift' })).toBeVisible();
});
