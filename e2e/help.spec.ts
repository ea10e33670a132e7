import { expect, test } from '@playwright/test';
import { allSaved, choose, copyOfDemo, emptyBoard, openNew, saved, stage } from './helpers';

test('one search finds things, channels, settings, words and what to do, by keys alone', async ({ page }) => {
  const id = await copyOfDemo(page, 'Watering arm');
  await page.goto(`/machine/${id}/move`);
  await expect(page.getByRole('region', { name: 'Cycle diagram' })).toBeVisible();
  const find = async (text: string) => {
    await page.keyboard.press('/');
    await page.getByRole('combobox', { name: 'Find in this machine' }).fill(text);
    // Channels come with the run.
    await expect(page.getByRole('listbox', { name: 'Found' })).toContainText(text.split(' ').at(-1)!, {
      ignoreCase: true,
    });
    await page.keyboard.press('Enter');
  };
  await find('forearm');
  await expect(page).toHaveURL(/\/build/);
  await expect(page.getByRole('region', { name: 'Properties' }).getByRole('heading', { level: 2 })).toHaveText('Forearm'); // prettier-ignore
  await find('elbow drive: power at');
  await expect(page).toHaveURL(/\/run$/);
  await expect(page.getByText('Elbow drive: power at the axis').first()).toBeVisible();
  await find('emergency');
  await expect(page).toHaveURL(/\/cue\?part=rules/);
  await find('word self-locking');
  await expect(page.getByRole('complementary', { name: 'Words' })).toContainText('A drive train that the load cannot move'); // prettier-ignore
  await page.keyboard.press('Escape');
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find in this machine' }).fill('no such thing at all');
  await expect(page.getByRole('listbox', { name: 'Found' })).toContainText('Nothing of this machine has all of these words.'); // prettier-ignore
  await page.keyboard.press('Escape');
  await expect(page.getByRole('search')).toHaveCount(0);
});

test('a bar is added, tied and driven by keys, each with less than ten', async ({ page }) => {
  const { id } = await emptyBoard(page, 'By keys');
  const keys = async (...list: string[]) => {
    expect(list.length).toBeLessThan(10);
    for (const key of list) await page.keyboard.press(key);
  };
  await keys('/', 'a', ' ', 'b', 'a', 'r', 'Enter');
  await expect(page.getByRole('complementary', { name: 'Drawn' }).or(page.locator('.workspace')).first()).toContainText('Bar 1'); // prettier-ignore
  await keys('/', 'p', 'i', 'n', ' ', 'g', 'r', 'Enter');
  await expect(page.getByRole('region', { name: 'Properties' }).getByRole('heading', { level: 2 })).toHaveText('Pin 1');
  await keys('/', 'd', 'r', 'i', 'v', 'e', 'Enter');
  await allSaved(page);
  const { mechanism, axes } = await saved(page, id);
  expect([mechanism.bodies.length, mechanism.joints.length]).toEqual([1, 1]);
  expect(axes[0]!.joint).toBe(mechanism.joints[0]!.id);
});

test('what is typed at once behind / is found, however slow the line is', async ({ page }) => {
  await emptyBoard(page, 'Typed at once');
  // From here on nothing more is loaded: what takes the keys must be there.
  await page.route(/\.(js|css)$/, () => {});
  for (const key of ['/', 'a', ' ', 'b', 'a', 'r', 'Enter']) await page.keyboard.press(key);
  await expect(page.locator('.workspace')).toContainText('Bar 1');
});

test('words are explained by hover and by a key, those of the screen first', async ({ page }) => {
  const id = await copyOfDemo(page, 'Six-station dial');
  await page.goto(`/machine/${id}/size`);
  await page.getByText('Inertia ratio to').hover();
  await expect(page.getByRole('tooltip')).toContainText('up to about 10 is common practice');
  await page.mouse.move(5, 500);
  await expect(page.getByRole('tooltip')).toHaveCount(0);
  await page.keyboard.press('w');
  const words = page.getByRole('complementary', { name: 'Words' });
  await expect(words.getByRole('heading', { name: 'On this screen' })).toBeVisible();
  await expect(words.locator('dl').first()).toContainText('Inertia ratio');
  await page.keyboard.press('Escape');
  await expect(words).toHaveCount(0);
});

test('the guide walks beside the work and follows what is done, over a reload too', async ({ page }) => {
  const { id, tool, drag, click } = await emptyBoard(page, 'Walked');
  await page.getByRole('button', { name: 'Guide', exact: true }).click();
  const guide = page.getByRole('region', { name: 'Guide' });
  for (const walk of ['An axis', 'A mechanism', 'A motion', 'A waiting machine', 'A motor'])
    await expect(guide.getByRole('button', { name: walk })).toBeVisible();
  await guide.getByRole('button', { name: 'A mechanism' }).click();
  await expect(guide).toContainText('Draw a bar');
  await tool('Bar');
  await drag([0, 0], [150, 0]);
  await expect(guide).toContainText('Tie one of its points to the ground');
  await tool('Ground pin');
  await click(0, 0);
  await expect(guide).toContainText('Draw a second bar');
  await allSaved(page);
  await page.reload();
  await expect(guide).toContainText('Draw a second bar');
  await page.goto(`/machine/${id}/size`);
  await guide.getByRole('link', { name: 'Go there' }).click();
  await expect(page).toHaveURL(/\/build\?part=board/);
  await guide.getByRole('button', { name: 'Close the guide' }).click();
  await expect(guide).toHaveCount(0);
});

test('what was done is undone and done again after a reload', async ({ page }) => {
  const id = await openNew(page, 'History');
  await page.getByLabel('Name of the machine').fill('Another name');
  await page.getByLabel('Name of the machine').press('Enter');
  await page.getByRole('button', { name: 'in', exact: true }).click();
  await allSaved(page);
  await page.reload();
  const undo = page.getByRole('button', { name: 'Undo' });
  await expect(undo).toBeEnabled();
  await undo.click();
  await undo.click();
  await allSaved(page);
  expect(await saved(page, id)).toMatchObject({ name: 'History', units: 'metric' });
  await page.reload();
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(page.getByLabel('Name of the machine')).toHaveValue('Another name');
  await stage(page, 'Run').click();
  await expect(page).toHaveURL(/\/run$/);
  await page.goBack();
  await expect(page).toHaveURL(/\/build/);
  await expect(page.getByLabel('Name of the machine')).toHaveValue('Another name');
});

test('after a drop-down, Space and Home are the machine’s again', async ({ page }) => {
  const id = await copyOfDemo(page, 'Watering arm');
  await page.goto(`/machine/${id}/run`);
  await choose(page, 'Playback', 'Once');
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Pause' })).toBeVisible();
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
  await page.keyboard.press('End');
  await page.getByLabel('Playback speed').selectOption('1');
  await page.keyboard.press('Home');
  await expect(page.getByRole('region', { name: 'Cycle diagram' })).toContainText('0 s · 0°');
});

test('the lanes of many axes fold by themselves where they are not worked in, and stay as they are wished', async ({
  page,
}) => {
  const id = await copyOfDemo(page, 'Seedling transplanter');
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto(`/machine/${id}/size`);
  const strip = page.getByRole('group', { name: 'Axes' });
  await expect(strip.getByRole('button')).toHaveCount(7);
  await strip.getByRole('button', { name: 'Tray belt' }).click();
  await expect(strip.getByRole('button', { name: 'Tray belt' })).toHaveAttribute('aria-pressed', 'true');
  await stage(page, 'Move').click();
  await expect(strip).toHaveCount(0);
  await stage(page, 'Size').click();
  await page.getByRole('button', { name: 'Show the lanes' }).click();
  await page.reload();
  await expect(page.getByRole('button', { name: 'Fold the lanes' })).toBeVisible();
});

test('two bodies that are chosen are watched, and light up where they come too near', async ({ page }) => {
  const { id, tool, drag, click } = await emptyBoard(page, 'Near');
  await tool('Bar');
  await drag([0, 0], [150, 0]);
  await drag([60, 90], [200, 90]);
  await tool('Ground pin');
  await click(0, 0);
  await click(60, 90);
  await tool('Choose and redraw');
  const list = page.getByLabel('On the board');
  await list.getByRole('button', { name: 'Bar 1', exact: true }).click();
  await list.getByRole('button', { name: 'Bar 2', exact: true }).click({ modifiers: ['Shift'] });
  await page.getByRole('button', { name: 'Watch Bar 1 and Bar 2 for their clearance' }).click();
  await expect(page.getByText('Clearance 1 watches Bar 1 and Bar 2 over the run')).toBeVisible();
  await page.getByLabel('At least (0: no touch)').fill('400 mm');
  await page.getByLabel('At least (0: no touch)').press('Enter');
  await allSaved(page);
  expect((await saved(page, id)).sequence.monitors).toMatchObject([{ least: 0.4 }]);
  await stage(page, 'Run').click();
  await expect(page.getByText(/Clearance 1: .* apart/)).toBeVisible();
  await expect(page.locator('.body.close')).toHaveCount(2);
});
