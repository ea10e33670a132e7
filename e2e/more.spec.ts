import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { newAxis } from '@yoke/core';
import { allSaved, choose, openNew, saved, stage, type } from './helpers';

test('the cycle is given as a time or a rate, and both mean the same', async ({ page }) => {
  const id = await openNew(page, 'Paced');
  await choose(page, 'Given as', 'Rate');
  await expect(page.getByLabel('Cycles a minute')).toHaveValue('30');
  await type(page.getByLabel('Cycles a minute'), '40 cpm');
  await allSaved(page);
  expect((await saved(page, id)).cycle).toEqual({ given: 'rate', rate: 40 / 60 });
  await stage(page, 'Move').click();
  await expect(page.getByRole('list', { name: 'Findings' })).toContainText('The plan lasts 2 s, the cycle 1.5 s');
  await page.getByRole('button', { name: 'Lengthen the cycle' }).click();
  await expect(page.getByRole('list', { name: 'Findings' })).toContainText('keeps all limits');
});

test('inch units go through every stage, and out into the CSV', async ({ page }) => {
  await openNew(page, 'Inches', { stage: 'run', change: (machine) => (machine.units = 'inch') });
  await expect(page.getByRole('row').filter({ hasText: 'Velocity' })).toContainText('21.09 in/s');
  await expect(page.getByRole('row').filter({ hasText: 'Torque at the motor shaft' })).toContainText('lbf·in');
  await stage(page, 'Deliver').click();
  await expect(page.getByLabel('First rows of the CSV')).toContainText('Slide.position [in]');
  await page.getByRole('button', { name: 'none' }).click();
  await expect(page.getByText('Tick at least one channel')).toBeVisible();
  await page.getByText('Position', { exact: true }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: /Save 1 channel/ }).click(),
  ]);
  expect(readFileSync(await download.path(), 'utf8').split('\n')[0]).toBe('t [s],Slide.position [in]');
});

test('a point table has the points asked for', async ({ page }) => {
  await openNew(page, 'Points', { stage: 'deliver' });
  await choose(page, 'Spaced by', 'Equal steps');
  await type(page.getByLabel('Step'), '0.01 s');
  await expect(page.getByRole('region', { name: 'Motion for the controller' })).toContainText('201 points, a quintic');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save Point table, CSV' }).click(),
  ]);
  const lines = readFileSync(await download.path(), 'utf8')
    .trim()
    .split('\n');
  expect(lines).toHaveLength(202);
  expect(lines[0]).toBe('t [s],position [mm],velocity [mm/s],acceleration [mm/s²]');
  expect(lines.at(-1)).toMatch(/^2,0,0,0$/);
});

test('a gearbox, another transmission and another kind of motion bring their own fields', async ({ page }) => {
  const id = await openNew(page, 'Driven');
  await page.getByRole('region', { name: 'Drive train' }).locator('.el-switch').click();
  await type(page.getByLabel('Ratio (motor : output)'), '28/3');
  await choose(page, 'By', 'Rack');
  await type(page.getByLabel('Pinion pitch radius'), '25 mm');
  await allSaved(page);
  let axis = (await saved(page, id)).axes[0]!;
  expect(axis.gearbox!.ratio).toBeCloseTo(28 / 3, 12);
  expect(axis.transmission).toMatchObject({ kind: 'rack', radius: 0.025 });
  await choose(page, 'Motion', 'Turns');
  await expect(page.getByLabel('Imbalance (mass × distance)')).toBeVisible();
  await expect(page.getByText('The gearbox output turns the table')).toBeVisible();
  await type(page.getByLabel('Imbalance (mass × distance)'), '40 kg mm');
  await allSaved(page);
  axis = (await saved(page, id)).axes[0]!;
  expect([axis.kind, axis.load.imbalance, axis.transmission.kind]).toEqual(['rotary', 0.04, 'direct']);
});

test('the lanes fold to a strip and come back; the theme is remembered', async ({ page }) => {
  await openNew(page, 'Folded');
  await page.getByRole('button', { name: 'Fold the lanes' }).click();
  await expect(page.getByRole('slider')).toHaveCount(0);
  await page.getByRole('button', { name: 'Dark theme' }).click();
  await page.reload();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark');
  await page.getByRole('button', { name: 'Show the lanes' }).click();
  await expect(page.getByRole('slider')).toHaveCount(5);
});

test('knees snap to the knees of another axis', async ({ page }) => {
  const id = await openNew(page, 'Aligned', {
    stage: 'move',
    change: (machine) => {
      const other = newAxis('rotary', machine.axes, 2);
      other.plan.segments[0]!.duration = 0.8133;
      machine.axes.push(other);
    },
  });
  const knee = page.getByRole('slider', { name: 'Knee 1 of Slide' });
  const box = (await knee.boundingBox())!;
  const lane = (await page.locator('svg.lane').first().boundingBox())!;
  const target = lane.x + 6 + (0.8133 / 2) * (lane.width - 12);
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(target + 3, box.y + box.height / 2, { steps: 8 });
  await page.mouse.up();
  await allSaved(page);
  expect((await saved(page, id)).axes[0]!.plan.segments[0]!.duration).toBeCloseTo(0.8133, 9);
});

test('segments are dragged into another order in the table', async ({ page }) => {
  const id = await openNew(page, 'Reordered', { stage: 'move' });
  const rows = page.getByRole('region', { name: 'Motion plan' }).getByRole('row');
  await rows.nth(2).getByTitle('Drag to another place').dragTo(rows.nth(3));
  await allSaved(page);
  const { plan } = (await saved(page, id)).axes[0]!;
  expect(plan.segments.map((segment) => segment.id)).toEqual(['s2', 's1', 's3', 's4']);
});

test('in a conflict, theirs can be taken or replaced', async ({ page, browser }) => {
  const id = await openNew(page, 'Settled');
  const elsewhere = await browser.newContext();
  const other = await elsewhere.newPage();
  await other.goto(new URL(`/machine/${id}/build`, page.url()).href);
  const clash = async (theirs: string, ours: string) => {
    await type(other.getByLabel('Moving mass'), theirs);
    await allSaved(other);
    await type(page.getByLabel('Moving mass'), ours);
    await expect(page.getByRole('alert')).toContainText('changed in another window');
  };
  await clash('7', '8');
  await page.getByRole('button', { name: 'Take theirs' }).click();
  await expect(page.getByLabel('Moving mass')).toHaveValue('7');
  await clash('6', '9');
  await page.getByRole('button', { name: 'Replace theirs with mine' }).click();
  await allSaved(page);
  expect((await saved(page, id)).axes[0]!.load.inertia).toBe(9);
  await elsewhere.close();
});

test('back and forward go through the stages; undo to an empty machine leaves every stage standing', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('button', { name: '… empty' }).click();
  await page.getByRole('button', { name: 'Add a table' }).click();
  const failures: string[] = [];
  page.on('pageerror', (error) => failures.push(error.message));
  for (const name of ['Move', 'Run', 'Size', 'Deliver']) {
    await stage(page, name).click();
    await expect(page.locator('.stage .panel').first()).toBeVisible();
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await expect(page.getByRole('heading', { name: 'There is no axis yet' })).toBeVisible();
    await page.getByRole('button', { name: 'Redo', exact: true }).click();
    await expect(page.getByRole('heading', { name: 'There is no axis yet' })).toBeHidden();
  }
  await page.goBack();
  await expect(page).toHaveURL(/\/size$/);
  await page.goForward();
  await expect(page).toHaveURL(/\/deliver$/);
  await page.getByRole('link', { name: 'Yoke' }).click();
  await page.goBack();
  await expect(page.getByRole('button', { name: /^Table/ }).first()).toBeVisible();
  expect(failures).toEqual([]);
});
