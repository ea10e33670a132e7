import { expect, test, type Page } from '@playwright/test';
import { dragBy, findBody, inDepth } from './depth';
import { allSaved, choose, copyOfDemo, emptyBoard, saved, stage } from './helpers';

const thing = (page: Page, name: string) =>
  page.getByRole('region', { name: 'On the board' }).getByRole('button', { name, exact: true });
const properties = (page: Page) => page.getByRole('region', { name: 'Properties' });
test('a machine is drawn in two planes, seen in depth, dragged by hand, run, and its rail’s load read', async ({
  page,
}) => {
  const { id, tool, drag } = await emptyBoard(page, 'Two planes');
  await tool('Bar');
  await drag([0, 0], [200, 0]);
  await tool('Slide');
  await drag([0, 0], [100, 0]);
  await thing(page, 'Slide 1').click();
  await properties(page).getByRole('button', { name: 'Drive this joint' }).click();
  await thing(page, 'Bar 1').click();
  await properties(page).getByRole('button', { name: 'Plane on it', exact: true }).click();
  // It is chosen, and drawn in from here on.
  await expect(properties(page).getByRole('heading', { level: 2 })).toHaveText('On Bar 1');
  await expect(thing(page, 'On Bar 1 drawn in')).toBeVisible();
  await tool('Bar');
  await drag([150, 0], [150, 140]);
  await tool('Slide');
  await drag([150, 0], [150, 90]);
  await properties(page).getByRole('button', { name: 'Drive this joint' }).click();
  await allSaved(page);
  const { mechanism, axes } = await saved(page, id);
  const [, second] = mechanism.planes;
  expect(second).toMatchObject({ on: mechanism.bodies[0]!.id });
  expect(mechanism.bodies.map(({ plane }) => plane)).toEqual(['front', second!.id]);
  expect(mechanism.joints.map(({ kind }) => kind)).toEqual(['slide', 'slide']);
  expect(axes).toHaveLength(2);

  await page.getByRole('button', { name: 'Depth', exact: true }).click();
  await expect(inDepth(page)).toBeVisible();
  const at = await findBody(page, 'Bar 2');
  await page.mouse.click(at.x, at.y);
  await expect(properties(page).getByRole('heading', { level: 2 })).toHaveText('Bar 2');
  await tool('Move by hand');
  await page.mouse.move(at.x, at.y);
  await page.mouse.down();
  for (let i = 1; i <= 8; i++) await page.mouse.move(at.x, at.y - 8 * i);
  await page.mouse.up();
  await page.getByRole('button', { name: 'Start from here' }).click();
  await allSaved(page);
  const before = mechanism.bodies[1]!.pose;
  const after = (await saved(page, id)).mechanism.bodies[1]!.pose;
  // Up along its slide, and nowhere else.
  expect(after.y - before.y).toBeGreaterThan(0.01);
  expect(after.x).toBeCloseTo(before.x, 9);
  expect(after.angle).toBeCloseTo(before.angle, 9);

  await stage(page, 'Run').click();
  await expect(inDepth(page)).toBeVisible();
  await page.getByRole('combobox', { name: 'Show a channel' }).click();
  await page.keyboard.type('Slide 1: load square');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Slide 1: load square to the plane').first()).toBeVisible();
  // What the arrows stand for is told as soon as they are asked for.
  await page.getByLabel('Moments', { exact: true }).check();
  await expect(page.getByText(/longest .* of rails and shafts/)).toBeVisible();
});

test('a plane tells what hangs on it before it goes, and all of it comes back', async ({ page }) => {
  const id = await copyOfDemo(page, 'Plug gantry');
  await page.goto(`/machine/${id}/build?part=board`);
  await page.getByRole('region', { name: 'On the board' }).getByRole('button', { name: 'Head plane on Lift' }).click();
  // On what hangs on it a plane is not to be put.
  const before = (await saved(page, id)).mechanism;
  await page.getByRole('combobox', { name: 'Stands on', exact: true }).click({ force: true });
  const carriers = page.getByRole('listbox', { name: 'Stands on', exact: true });
  await expect(carriers.getByRole('option', { name: 'Carriage' })).toBeVisible();
  await expect(carriers.getByRole('option', { name: 'Left finger' })).toHaveCount(0);
  await page.keyboard.press('Escape');
  await expect(properties(page)).toContainText('Deleting it takes Head');
  await properties(page).getByRole('button', { name: 'Delete' }).click();
  // The cues go by the axes that would go: they must be changed first, and nothing is lost.
  await expect(page.getByText(/^Not deleted: /).first()).toBeVisible();
  expect((await saved(page, id)).mechanism).toEqual(before);
});

test('a body shown faintly in depth stays whole in the list; a plane machine loads no picture in depth', async ({
  page,
}) => {
  const loaded: string[] = [];
  page.on('request', (request) => void loaded.push(request.url()));
  const flat = await copyOfDemo(page, 'Watering arm');
  await page.goto(`/machine/${flat}/run`);
  await expect(page.getByRole('button', { name: 'Depth', exact: true })).toBeVisible();
  await expect(page.getByRole('img', { name: /Watering arm.* at / })).toBeVisible();
  expect(loaded.filter((url) => /SpaceView|BoardDepth|scene-/.test(url))).toEqual([]);
  await page.getByRole('button', { name: 'Depth', exact: true }).click();
  await expect(inDepth(page)).toBeVisible();
  expect(loaded.some((url) => /SpaceView/.test(url))).toBe(true);

  await page.goto(`/machine/${flat}/build?part=board`);
  await page.getByRole('button', { name: 'Depth', exact: true }).click();
  await thing(page, 'Forearm').click();
  await choose(page, 'Shown in depth', 'Not at all');
  await expect(thing(page, 'Forearm')).toBeVisible();
  await expect(inDepth(page)).toBeVisible();
});

test('in depth keys choose and delete as on the board; a tool to draw with leads back to it, from an empty machine too', async ({
  page,
}) => {
  const errors: string[] = [];
  page.on('pageerror', (error) => void errors.push(error.message));
  const { id, tool, drag } = await emptyBoard(page, 'Keys in depth');
  const depth = page.getByRole('button', { name: 'Depth', exact: true });
  await depth.click();
  await expect(inDepth(page)).toBeVisible();
  await tool('Disc');
  await expect(inDepth(page)).toHaveCount(0);
  await drag([60, 60], [100, 60]);
  await page.keyboard.press('Escape');
  for (let i = 0; i < 3; i++) {
    await depth.click();
    await expect(inDepth(page)).toBeVisible();
    await page.getByRole('button', { name: 'Flat', exact: true }).click();
    await expect(inDepth(page)).toHaveCount(0);
  }
  await depth.click();
  const at = await findBody(page, 'Disc 1');
  await page.mouse.click(at.x, at.y);
  await expect(properties(page).getByRole('heading', { level: 2 })).toHaveText('Disc 1');
  for (const key of ['f', 'r', 't', 'd', 'o', 'a', 'o']) await page.keyboard.press(key);
  await page.keyboard.press('Delete');
  await allSaved(page);
  expect((await saved(page, id)).mechanism.bodies).toEqual([]);
  await page.keyboard.press('Control+z');
  await allSaved(page);
  expect((await saved(page, id)).mechanism.bodies).toHaveLength(1);
  await page.reload();
  await expect(thing(page, 'Disc 1')).toBeVisible();
  expect(errors).toEqual([]);
});

test('a browser without WebGL says so, and shows the machine flat', async ({ page }) => {
  await page.addInitScript(() => {
    const real = HTMLCanvasElement.prototype.getContext;
    HTMLCanvasElement.prototype.getContext = function (this: HTMLCanvasElement, kind: string, ...rest: unknown[]) {
      return kind.startsWith('webgl') ? null : Reflect.apply(real, this, [kind, ...rest]);
    } as typeof real;
  });
  const id = await copyOfDemo(page, 'Rod lift');
  await page.goto(`/machine/${id}/run`);
  await expect(page.getByText('This browser has no WebGL')).toBeVisible();
  await expect(page.getByRole('img', { name: /Rod lift.* at / })).toBeVisible();
  await page.goto(`/machine/${id}/build?part=board`);
  await page.getByRole('button', { name: 'Depth', exact: true }).click();
  await expect(page.getByText('This browser has no WebGL')).toBeVisible();
  await expect(page.getByRole('application', { name: 'Drawing board' })).toBeVisible();
});

test('the plate of a rod lift is put together the other ways round, from a rod of it, and back', async ({ page }) => {
  const id = await copyOfDemo(page, 'Rod lift');
  await page.goto(`/machine/${id}/build`);
  const rods = page.getByLabel('On the board').getByRole('button', { name: 'Rod 1a', exact: true });
  await rods.click();
  const height = async () => {
    await allSaved(page);
    return (await saved(page, id)).mechanism.bodies[0]!.pose.y;
  };
  expect(await height()).toBeCloseTo(0.3, 9);
  await page.getByRole('button', { name: 'Other closure' }).click();
  await expect(page.getByText(/This is closure 2 of \d+/)).toBeVisible();
  // Mirrored at the joints of the carriages.
  expect(await height()).toBeCloseTo(1.1, 9);
  await page.getByRole('button', { name: 'Other closure' }).click();
  await expect(page.getByText(/This is closure 3 of \d+/)).toBeVisible();
  for (let i = 0; i < 2; i++) await page.keyboard.press('Control+z');
  expect(await height()).toBeCloseTo(0.3, 9);
});

test('kinds of things are shown faintly or not at all in depth', async ({ page }) => {
  const id = await copyOfDemo(page, 'Plug gantry');
  await page.goto(`/machine/${id}/build`);
  await page.getByRole('button', { name: 'Depth', exact: true }).click();
  await expect(inDepth(page)).toBeVisible();
  const head = await findBody(page, 'Head');
  const names = page.locator('.space .sheet');
  await expect(names.first()).toBeVisible();
  await page.getByRole('button', { name: 'Shown', exact: true }).click();
  const shown = (kind: string, how: string) => page.getByRole('radiogroup', { name: kind }).getByText(how).click();
  await shown('Planes', 'Not');
  await expect(names).toHaveCount(0);
  await shown('Solids', 'Not');
  await page.getByRole('button', { name: 'Shown (2 less)' }).click();
  await page.mouse.move(head.x, head.y);
  // What is not shown is not met by the pointer either.
  await expect(page.locator('.space .name')).toHaveCount(0);
  await page.getByRole('button', { name: 'Shown (2 less)' }).click();
  await shown('Solids', 'Faint');
  await page.getByRole('button', { name: 'Shown (2 less)' }).click();
  await expect(page.getByRole('radiogroup', { name: 'Solids' })).toBeHidden();
  await page.mouse.move(head.x + 1, head.y);
  await expect(page.locator('.space .name')).toHaveText('Head');
});

test('a free body is added and hung on a rod: one freedom less, and it runs', async ({ page }) => {
  const { id, tool, drag, click } = await emptyBoard(page, 'Free body');
  await tool('Bar');
  await drag([0, 200], [120, 200]);
  await tool('Ground pin');
  await click(0, 200);
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await properties(page).getByRole('button', { name: 'Add a free body' }).click();
  await expect(properties(page).getByRole('heading', { level: 2 })).toHaveText('Free body 1');
  await expect(page.getByText(/7 freedoms, 0 drives/)).toBeVisible();
  await expect(page.getByText(/tie it with rods and ball joints/)).toBeVisible();
  await choose(page, 'By a', 'Rod with ball ends');
  await choose(page, 'To', 'Bar 1.p2');
  await properties(page).getByRole('button', { name: 'Tie', exact: true }).click();
  await expect(page.getByText(/6 freedoms, 0 drives/)).toBeVisible();
  await allSaved(page);
  const { mechanism } = await saved(page, id);
  expect(mechanism.joints.map(({ kind }) => kind)).toEqual(['pin', 'slot', 'pin', 'rod']);
  await page.getByRole('button', { name: 'Depth', exact: true }).click();
  await expect(inDepth(page)).toBeVisible();
  await stage(page, 'Run').click();
  await expect(page.getByText(/error|does not run/i)).toHaveCount(0);
});

test('dragged in depth in Build, an axis stays within its travel, and the end is told', async ({ page }) => {
  const id = await copyOfDemo(page, 'Plug gantry');
  await page.goto(`/machine/${id}/build`);
  await page.getByRole('button', { name: 'Depth', exact: true }).click();
  await expect(inDepth(page)).toBeVisible();
  const lift = await findBody(page, 'Lift');
  const tools = page.getByRole('toolbar', { name: 'Drawing tools' });
  await tools.getByRole('button', { name: 'Move by hand', exact: true }).click();
  const height = async () => (await saved(page, id)).mechanism.bodies.find(({ name }) => name === 'Lift')!.pose.y;
  const before = await height();
  await dragBy(page, lift, 10, 330);
  await expect(page.getByText(/“Lift”.* (is at an end|are at ends) of/)).toBeVisible();
  await page.getByRole('button', { name: 'Start from here' }).click();
  await allSaved(page);
  // It stands 250 mm over the lower end of its travel as it is drawn.
  expect(before - (await height())).toBeGreaterThan(0.245);
  expect(before - (await height())).toBeLessThan(0.25 + 1e-6);
});
