import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { planKnees } from '@yoke/core';
import { allSaved, choose, openNew, saved, stage, still, type } from './helpers';

test('a knee is dragged in the lane, the table follows, and undo takes the whole drag back', async ({ page }) => {
  const id = await openNew(page, 'Dragged', { stage: 'move' });
  const knee = page.getByRole('slider', { name: 'Knee 1 of Slide' });
  const box = (await knee.boundingBox())!;
  const at = { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  await page.mouse.move(at.x, at.y);
  await page.mouse.down();
  await page.mouse.move(at.x + 60, at.y + 1, { steps: 6 });
  await page.mouse.move(at.x + 110, at.y + 1, { steps: 6 });
  await page.mouse.up();
  const time = page.getByLabel('Time of segment 1');
  await expect(time).not.toHaveValue('0.7');
  // It moves between its neighbours, snaps to a round time, and keeps its position as the drag stayed level.
  await allSaved(page);
  const knees = planKnees((await saved(page, id)).axes[0]!.plan);
  expect(knees[1]!.position).toBe(0.2);
  expect(knees[1]!.time).toBeGreaterThan(0.8);
  expect(Math.abs(knees[1]!.time * 200 - Math.round(knees[1]!.time * 200))).toBeLessThan(1e-6);
  expect(knees[2]!.time).toBeCloseTo(1.1, 9);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(time).toHaveValue('0.7');
  await knee.focus();
  await knee.press('ArrowRight');
  await expect(time).not.toHaveValue('0.7');
});

test('insert, split, mirror, reorder', async ({ page }) => {
  const id = await openNew(page, 'Shuffled', { stage: 'move' });
  await page.getByRole('button', { name: 'Split segment 1' }).click();
  await expect(page.getByLabel('Position after segment 1')).toHaveValue('100');
  await page.getByRole('button', { name: 'Insert a dwell' }).click();
  await page.getByRole('button', { name: 'Segment 1 down' }).click();
  await page.getByRole('button', { name: 'Mirror segment 2' }).click();
  await allSaved(page);
  const { plan } = (await saved(page, id)).axes[0]!;
  expect(plan.segments.map(({ kind }) => kind)).toEqual(['dwell', 'move', 'move', 'move', 'dwell', 'move', 'dwell']);
  expect(planKnees(plan).map(({ position }) => Number(position.toFixed(6)))).toEqual([0, 0, 0.1, 0, 0.2, 0.2, 0, 0]);
});

test('a breach of a limit is named with its time and mended in one click', async ({ page }) => {
  await openNew(page, 'Limited', {
    stage: 'move',
    change: (machine) => (machine.axes[0]!.limits.velocity = 0.4),
  });
  const findings = page.getByRole('list', { name: 'Findings' });
  // 0.2 m · 1.875 / 0.7 s = 0.5357 m/s; at 0.4 m/s it takes 0.9375 s.
  await expect(findings).toContainText('segment 1 (rise) reaches 535.7 mm/s at 0.35 s; the velocity limit is 400 mm/s');
  await expect(findings).toContainText('at least 0.9375 s instead of 0.7 s');
  await findings.getByRole('button', { name: 'Lengthen' }).first().click();
  await expect(findings).not.toContainText('segment 1 (rise) reaches');
  await expect(findings).toContainText('segment 3 (return) reaches');
});

test('jumps and an open cycle are named; the law offers its own parameters', async ({ page }) => {
  await openNew(page, 'Jumpy', { stage: 'move' });
  const findings = page.getByRole('list', { name: 'Findings' });
  await choose(page, 'Law of segment 1', 'Simple harmonic');
  await expect(findings).toContainText('acceleration jumps by 2.014 m/s² at 0 s, where segment 1 (rise) begins');
  await choose(page, 'Law of segment 1', 'Trapezoidal velocity');
  await type(page.getByLabel('Share accelerating'), '0.2');
  await expect(page.getByRole('alert')).toContainText('At least 1 % is needed');
  await type(page.getByLabel('Share accelerating'), '20 %');
  await expect(page.getByLabel('Share braking')).toHaveValue('33.33333333');
  await type(page.getByLabel('Position after segment 3'), '12 mm');
  await expect(page.getByLabel('Start position')).toHaveValue('12');
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Delete segment 3' }).click();
  await expect(findings).toContainText('does not close: it ends 200 mm above its start');
});

test('a motion that need not come back: one click says so, it stays said, and can be taken back', async ({ page }) => {
  const id = await openNew(page, 'Once', { stage: 'move' });
  const findings = page.getByRole('list', { name: 'Findings' });
  await page.getByRole('button', { name: 'Delete segment 3' }).click();
  await expect(findings).toContainText('does not close');
  await expect(stage(page, 'Move')).toHaveClass(/attention/);
  await page.getByRole('button', { name: 'It runs once' }).click();
  await expect(findings).not.toContainText('does not close');
  await expect(stage(page, 'Move')).not.toHaveClass(/attention/);
  await allSaved(page);
  expect((await saved(page, id)).oneOff).toBe(true);
  await page.reload();
  await expect(page.getByLabel('Time of segment 1')).toBeVisible();
  await expect(findings).not.toContainText('does not close');
  await stage(page, 'Build').click();
  const once = page.getByRole('switch', { name: 'Runs once' });
  await expect(once).toBeChecked();
  await page.locator('.toggle').filter({ has: once }).locator('.el-switch__core').click();
  await expect(once).not.toBeChecked();
  await page.goBack();
  await expect(findings).toContainText('does not close');
});

test('the cursor is one: lane, chart and keys move it, and a chart zooms and fits', async ({ page }) => {
  await openNew(page, 'Cursor', { stage: 'move' });
  const readout = page.locator('.diagram .cursor');
  // Keys are heard once the stage is there.
  await expect(async () => {
    await page.locator('body').press('End');
    await expect(readout).toContainText('2 s · 360°', { timeout: 1000 });
  }).toPass();
  await still(page);
  const chart = page.getByRole('img', { name: /^Velocity/ });
  const box = (await chart.boundingBox())!;
  await page.mouse.click(box.x + 76 + (box.width - 90) / 4, box.y + 40);
  await expect(readout).toContainText(/^\s*0\.(49|50|5)\d* s · (89|90)/);
  await page.locator('body').press('.');
  await page.locator('body').press('p');
  await expect(readout).not.toContainText('0.5 s');
  await page.mouse.move(box.x + 200, box.y + 30);
  await page.mouse.down();
  await page.mouse.move(box.x + 300, box.y + 60, { steps: 5 });
  await page.mouse.up();
  await page.getByRole('button', { name: 'Whole cycle' }).click();
  await expect(page.getByRole('button', { name: 'Whole cycle' })).toBeHidden();
});

test('a curve goes out as CSV or as a picture in one action', async ({ page }) => {
  await openNew(page, 'Curves out', { stage: 'move' });
  const take = async (name: string) => {
    await page.getByRole('img', { name: /^Velocity/ }).hover();
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name }).click()]);
    return readFileSync(await download.path());
  };
  const csv = (await take('Velocity as CSV')).toString();
  expect(csv.split('\n')[0]).toBe('t [s],Velocity [mm/s]');
  expect(csv.trim().split('\n').length).toBeGreaterThan(900);
  expect((await take('Velocity as a picture')).subarray(1, 4).toString()).toBe('PNG');
});
