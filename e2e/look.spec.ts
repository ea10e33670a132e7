import { createRequire } from 'node:module';
import { expect, test, type Page } from '@playwright/test';
import { copyOfDemo, openNew, still } from './helpers';

const axe = createRequire(import.meta.url).resolve('axe-core');
const STAGES = ['build', 'move', 'cue', 'run', 'size', 'deliver'];

const overflowing = (page: Page) =>
  page.evaluate(() =>
    [...document.querySelectorAll('html, .stage, .panel')]
      .filter((element) => element.scrollWidth > element.clientWidth + 1)
      .map((element) => element.className || element.tagName),
  );

/** What axe-core finds against WCAG 2.1 A and AA; the page must have been given its script. */
async function violations(page: Page): Promise<string[]> {
  // A colour half-way through a transition is no colour of the application.
  await page.addStyleTag({ content: '*, ::before, ::after { transition: none !important }' });
  await still(page);
  return page.evaluate(async () => {
    const { axe: checker } = window as typeof window & {
      axe: { run: (options: object) => Promise<{ violations: { id: string; nodes: { html: string }[] }[] }> };
    };
    const found = await checker.run({ runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa'] });
    return found.violations.map(({ id: rule, nodes }) => `${rule}: ${nodes[0]!.html.slice(0, 160)}`);
  });
}

for (const [width, height] of [
  [1280, 800],
  [1920, 1080],
] as const)
  test(`at ${width} × ${height} no stage scrolls sideways or cuts its panels off`, async ({ page }) => {
    await page.setViewportSize({ width, height });
    const id = await openNew(page, `Seen at ${width}`);
    const drawn = await copyOfDemo(page, 'Label dabber');
    const stages = [...STAGES.map((stage) => `${id}/${stage}`), `${drawn}/build`, `${drawn}/move`, `${drawn}/run`];
    for (const stage of stages) {
      await page.goto(`/machine/${stage}`);
      await expect(page.locator('.stage .panel, .stage .stack').first()).toBeVisible();
      await still(page);
      expect(await overflowing(page), stage).toEqual([]);
    }
  });

for (const theme of ['light', 'dark'])
  test(`contrast, names and roles hold in the ${theme} theme (WCAG 2.1 AA, by axe-core)`, async ({ page }) => {
    await page.addInitScript({ path: axe });
    await page.addInitScript((value) => localStorage.setItem('yoke-theme', value), theme);
    const id = await openNew(page, `Accessible ${theme}`);
    const drawn = await copyOfDemo(page, 'Dosing rocker');
    const stages = [...STAGES.map((stage) => `${id}/${stage}`), `${drawn}/build`, `${drawn}/run`];
    for (const path of ['/', ...stages.map((stage) => `/machine/${stage}`)]) {
      await page.goto(path);
      expect(await violations(page), path).toEqual([]);
    }
  });

for (const theme of ['light', 'dark'])
  test(`every part of Move fits at 1280 × 800 and passes axe-core in the ${theme} theme`, async ({ page }) => {
    await page.addInitScript({ path: axe });
    await page.addInitScript((value) => localStorage.setItem('yoke-theme', value), theme);
    const line = await copyOfDemo(page, 'Sowing line');
    const arm = await copyOfDemo(page, 'Watering arm');
    const looked = [
      ...['motion Shaker', 'motion Seed hopper', 'laws Tray belt', 'master Shaker'].map(
        (part) => [line, part] as const,
      ),
      ...['motion Elbow drive', 'paths Elbow drive'].map((part) => [arm, part] as const),
    ];
    for (const [id, place] of looked) {
      const [part, ...axis] = place.split(' ');
      await page.goto(`/machine/${id}/move?part=${part}`);
      await page.locator('.lane-name', { hasText: axis.join(' ') }).click();
      await expect(page.locator('.stage .panel').first()).toBeVisible();
      await still(page);
      expect(await overflowing(page), place).toEqual([]);
      expect(await violations(page), place).toEqual([]);
    }
  });

for (const theme of ['light', 'dark'])
  test(`every part of Cue fits at 1280 × 800 and passes axe-core in the ${theme} theme`, async ({ page }) => {
    await page.addInitScript({ path: axe });
    await page.addInitScript((value) => localStorage.setItem('yoke-theme', value), theme);
    const id = await copyOfDemo(page, 'Seedling transplanter');
    for (const part of ['sheet', 'time', 'graph', 'sensors', 'parts', 'rules', 'many']) {
      await page.goto(`/machine/${id}/cue?part=${part}`);
      await expect(page.locator('.stage .panel').first()).toBeVisible();
      await expect(page.getByText('A cue stopped the cycle.')).toBeVisible();
      expect(await overflowing(page), part).toEqual([]);
      expect(await violations(page), part).toEqual([]);
    }
  });

test('keys lead to the stages, and the sheet shows them', async ({ page }) => {
  await openNew(page, 'Keyed');
  await page.locator('body').press('5');
  await expect(page).toHaveURL(/\/size$/);
  await page.locator('body').press('?');
  await expect(page.getByLabel('Keys', { exact: true }).last()).toContainText('Play and pause');
  await page.locator('body').press('Escape');
  await expect(page.getByText('Play and pause')).toBeHidden();
});
