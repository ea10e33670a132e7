import { expect, test } from '@playwright/test';
import { choose, openNew, stage, type } from './helpers';

test('playing moves the axis, stepping goes sample by sample', async ({ page }) => {
  await openNew(page, 'Played', { stage: 'run' });
  const drawing = page.getByRole('img', { name: /^Slide at/ });
  const before = await drawing.getAttribute('aria-label');
  await page.getByRole('combobox', { name: 'Playback speed' }).selectOption('1');
  await page.locator('body').press('Space');
  await expect(drawing).not.toHaveAttribute('aria-label', before!);
  await page.locator('body').press('Space');
  await page.locator('body').press('Home');
  await page.locator('body').press('.');
  await expect(page.locator('.diagram .cursor')).toContainText('0.002 s');
});

test('a turning table is drawn and its torque found: J α at the peak, by hand', async ({ page }) => {
  await openNew(page, 'Turned', { stage: 'run', kind: 'rotary' });
  const torque = 0.02 * ((5.7735 * Math.PI) / 2 / 0.7 ** 2);
  await expect(page.getByRole('row').filter({ hasText: 'Torque at the axis' })).toContainText(torque.toFixed(4));
  await expect(page.getByRole('img', { name: /^Table at/ })).toBeVisible();
});

test('a coarse step is warned of and the proposed one taken in one click', async ({ page }) => {
  await openNew(page, 'Coarse', { stage: 'run' });
  await type(page.getByLabel('Sampling step'), '0.1 s');
  const bar = page.getByRole('alert', { name: 'Coarse run' });
  await expect(bar).toContainText('The step of 0.1\u00a0s is coarse: efforts or accelerations bend by');
  // Every stage that stands on it says so, and so do its tables.
  for (const name of ['Run', 'Size', 'Deliver']) await expect(stage(page, name)).toContainText('is coarse');
  await expect(page.getByRole('columnheader', { name: /Peaks/ })).toContainText('step too coarse');
  await expect(page.getByText('Sampled too coarsely to be relied on')).toBeVisible();
  await bar.getByRole('button', { name: 'Use the proposed step' }).click();
  await expect(bar).toBeHidden();
  await expect(stage(page, 'Run')).not.toContainText('is coarse');
});

test('the ranking follows reserve, criterion and law at once', async ({ page }) => {
  await openNew(page, 'Ranked', {
    stage: 'size',
    change: ({ axes: [axis] }) => {
      axis!.load.inertia = 20;
      axis!.sizing.inertiaRatio = 500;
    },
  });
  const why = page.getByLabel('Ranking').locator('.why');
  await expect(why).toContainText('is the lightest of the');
  const count = async () => Number(/of the (\d+) that fit/.exec((await why.textContent()) ?? '')?.[1] ?? 0);
  const before = await count();
  await choose(page, 'Rank by', 'Least copper loss first');
  await expect(why).toContainText('is the coolest of');
  await type(page.getByLabel('Torque reserve'), '300 %');
  await expect.poll(count).toBeLessThan(before);
  await stage(page, 'Build').click();
  await type(page.getByLabel('Moving mass'), '20 t');
  await expect(page.getByRole('navigation').getByRole('link', { name: 'Size' })).toContainText(
    'No motor of the catalogue fits Slide',
  );
  await stage(page, 'Size').click();
  await expect(why).toContainText('None of 30 motors fits. Nearest is');
});

test('own motors are added from CSV, a wrong file changes nothing, the invented ones come back', async ({ page }) => {
  await openNew(page, 'Own motors', { stage: 'size' });
  const catalogue = page.getByLabel('Catalogue');
  await expect(catalogue).toContainText('30 motors');
  const text = await (await page.request.get('/api/motors/csv')).text();
  const [header, first] = text.split('\n');
  const file = (content: string) => ({ name: 'own.csv', mimeType: 'text/csv', buffer: Buffer.from(content) });
  const add = catalogue.locator('input[type=file]').first();
  await add.setInputFiles(file(`${header}\n${first!.replace('0.256', 'x')}`));
  await expect(catalogue).toContainText('Nothing was changed. Row 2, column “rated torque”');
  await add.setInputFiles(file(`${header}\n${first!.replace('Alder 0.32', 'Workshop 1')}`));
  await expect(catalogue).toContainText('31 motors');
  await expect(page.getByLabel('Ranking').getByRole('button', { name: 'Workshop 1' })).toBeVisible();
  await catalogue.getByRole('button', { name: 'Invented motors' }).click();
  await expect(catalogue).toContainText('30 motors');
});
