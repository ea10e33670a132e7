import { expect, test } from '@playwright/test';
import { allSaved, choose, emptyBoard, groundedBar, plateOf, saved, stage, type } from './helpers';

test('every tool of the palette leaves what it says on the board', async ({ page }) => {
  const { id, tool, drag, click } = await emptyBoard(page, 'Tools');
  await tool('Bar');
  await drag([0, 0], [150, 0]);
  await tool('Disc');
  await drag([150, 0], [150, 40]);
  await tool('Plate');
  for (const [x, y] of [[250, 0], [330, 0], [330, 60], [250, 60]] as const) await click(x, y); // prettier-ignore
  await page.keyboard.press('Enter');
  await tool('Slide');
  await drag([290, 30], [350, 30]);
  await tool('Ground pin');
  await click(0, 0);
  await tool('Weld');
  await click(250, 60);
  await tool('Path');
  await click(0, 150);
  await click(100, 200);
  await click(200, 150);
  await page.keyboard.press('Enter');
  await tool('Guide or cam');
  await click(75, 0);
  await tool('Cylinder');
  await drag([40, -60], [40, 0]);
  await tool('Damper');
  await drag([110, -60], [110, 0]);
  await tool('Torque');
  await click(60, 0);
  await tool('Slot');
  await drag([20, 0], [20, 60]);
  await allSaved(page);
  const { mechanism } = await saved(page, id);
  expect(mechanism.bodies.map(({ shape }) => shape.kind)).toEqual(['bar', 'disc', 'plate']);
  expect(mechanism.joints.map(({ kind }) => kind)).toEqual([
    'pin',
    'slide',
    'pin',
    'weld',
    'guide',
    'cylinder',
    'slot',
  ]);
  expect(mechanism.elements.map(({ kind }) => kind)).toEqual(['damper', 'torque']);
  expect(mechanism.paths).toHaveLength(1);
  // Points put on a bar lie on its middle line, so that its shape stays.
  expect(mechanism.bodies[0]!.points.every(({ at }) => Math.abs(at[1]) < 1e-9)).toBe(true);
});

test('a tool says what it needs where it is used wrongly, and nothing is drawn', async ({ page }) => {
  const { id, tool, drag, click } = await emptyBoard(page, 'Wrong');
  const hint = page.locator('.hint');
  await tool('Ground pin');
  await click(100, 100);
  await expect(hint).toContainText('There is no body to pin yet');
  await tool('Force');
  await drag([0, 0], [60, 0]);
  await expect(hint).toContainText('Begin at a point of a body');
  await tool('Spring');
  await drag([0, 0], [60, 0]);
  await expect(hint).toContainText('One end at least must be on a body');
  await tool('Bar');
  await drag([0, 0], [100, 0]);
  await tool('Pin');
  await click(0, 0);
  await expect(hint).toContainText('Only one body lies here');
  await tool('Ground pin');
  await click(0, 60);
  await expect(hint).toContainText('No body lies here');
  await tool('Guide or cam');
  await click(50, 0);
  await expect(hint).toContainText('draw one first');
  await allSaved(page);
  expect((await saved(page, id)).mechanism).toMatchObject({ joints: [], elements: [] });
});

test('the centre of a hole is a place for a ground pin and for measuring; a second pin there is none', async ({
  page,
}) => {
  const { id, tool } = await emptyBoard(page, 'Holes');
  await plateOf(page, '<svg><rect width="160" height="80"/><circle cx="41" cy="40" r="13"/></svg>');
  const plate = (await page.locator('[data-body]').first().boundingBox())!;
  const [x, y] = [plate.x + (plate.width * 41) / 160, plate.y + plate.height / 2];
  await tool('Ground pin');
  // A little beside it: it snaps.
  await page.mouse.click(x + 3, y - 3);
  await page.mouse.click(x, y);
  await expect(page.locator('.hint')).toContainText('is tied to the ground here already, by Pin 1');
  await allSaved(page);
  const { mechanism } = await saved(page, id);
  expect(mechanism.joints.map(({ kind }) => kind)).toEqual(['pin']);
  const [body] = mechanism.bodies;
  if (body?.shape.kind !== 'plate') throw new Error('no plate');
  const middle = ([0, 1] as const).map((k) => body.shape.kind === 'plate' ? body.shape.holes[0]!.reduce((sum, p, _, all) => sum + p[k] / all.length, 0) : NaN); // prettier-ignore
  expect(mechanism.ground[0]!.at[0]).toBeCloseTo(body.pose.x + middle[0]!, 6);
  expect(mechanism.ground[0]!.at[1]).toBeCloseTo(body.pose.y + middle[1]!, 6);
});

test('a disc drawn on the corner of a plate is pinned to it once', async ({ page }) => {
  const { id, tool, drag, click } = await emptyBoard(page, 'Corner');
  await tool('Plate');
  for (const [x, y] of [[0, 0], [80, 0], [80, 60], [0, 60]] as const) await click(x, y); // prettier-ignore
  await page.keyboard.press('Enter');
  await tool('Disc');
  await drag([80, 60], [100, 60]);
  await allSaved(page);
  expect((await saved(page, id)).mechanism.joints).toHaveLength(1);
  await tool('Pin');
  await click(80, 60);
  await expect(page.locator('.hint')).toContainText('tied here already');
  await allSaved(page);
  expect((await saved(page, id)).mechanism.joints).toHaveLength(1);
});

test('the first axis, whose diagram takes room, does not shift the board', async ({ page }) => {
  await groundedBar(page, 'Still', 150);
  const bar = page.locator('[data-body]').first();
  const before = (await bar.boundingBox())!;
  await page.getByRole('button', { name: 'Drive this joint' }).click();
  await expect(page.getByText('Driven by the axis')).toBeVisible();
  const after = (await bar.boundingBox())!;
  expect(Math.hypot(after.x - before.x, after.y - before.y)).toBeLessThan(1.5);
});

test('measuring: distance of two points, angle at the second of three', async ({ page }) => {
  const { tool, click } = await emptyBoard(page, 'Measured');
  await tool('Measure');
  await click(0, 0);
  await click(100, 0);
  await expect(page.locator('.readout').last()).toContainText('Distance');
  await click(100, 100);
  await expect(page.locator('.readout').last()).toContainText(/angle at the second point 90/);
});

test('a gear pair: two discs, two ground pins, coupled, one driven – the other turns at half the speed', async ({
  page,
}) => {
  const { id, tool, drag, click } = await emptyBoard(page, 'Geared');
  await tool('Disc');
  await drag([50, 50], [50, 80]);
  await drag([200, 50], [200, 110]);
  await tool('Ground pin');
  await click(50, 50);
  await click(200, 50);
  const list = page.getByLabel('On the board');
  await tool('Choose and redraw');
  await list.getByRole('button', { name: /^Pin 1/ }).click();
  await list.getByRole('button', { name: /^Pin 2/ }).click({ modifiers: ['Shift'] });
  await page.getByRole('button', { name: 'Gears' }).click();
  await expect(page.getByLabel('Properties')).toContainText('turns two pins against each other');
  await list.getByRole('button', { name: /^Pin 1/ }).click();
  await page.getByRole('button', { name: 'Drive this joint' }).click();
  await stage(page, 'Run').click();
  await page.getByRole('combobox', { name: 'Show a channel' }).click();
  await page.keyboard.type('Pin 2: angular velocity');
  await page.getByRole('option', { name: 'Pin 2: angular velocity' }).click();
  await expect(page.getByRole('row').filter({ hasText: 'Pin 2: angular velocity' })).toContainText('180');
  await allSaved(page);
  expect((await saved(page, id)).mechanism.couplings[0]).toMatchObject({ kind: 'gear', radius1: 0.02, radius2: 0.04 });
});

test('a spring’s preload is typed, a stop and a torsion spring are hung on a pin, and switched off', async ({
  page,
}) => {
  const { id, tool, drag, click } = await emptyBoard(page, 'Springs');
  await tool('Bar');
  await drag([0, 0], [150, 0]);
  await tool('Ground pin');
  await click(0, 0);
  await tool('Spring');
  await drag([150, 0], [150, 100]);
  await type(page.getByLabel('Force as drawn'), '25 N');
  await page.getByLabel('On the board').getByRole('button', { name: 'Pin 1' }).click();
  await page.getByRole('button', { name: 'Add a stop' }).click();
  await type(page.getByLabel('Not above'), '20 deg');
  await page.getByLabel('On the board').getByRole('button', { name: 'Pin 1', exact: true }).click();
  await page.getByRole('button', { name: 'Add a torsion spring' }).click();
  await page.locator('.toggle').filter({ hasText: 'On' }).locator('.el-switch').first().click();
  await allSaved(page);
  const [spring, stop, torsion] = (await saved(page, id)).mechanism.elements;
  expect(stop).toMatchObject({ kind: 'stop', max: expect.closeTo(Math.PI / 9, 6) });
  expect(torsion).toMatchObject({ kind: 'torsion', on: false });
  if (spring!.kind !== 'spring') throw new Error('no spring');
  expect(spring!.rate).toBe(1000);
  // Longer by 25 mm than when it is slack.
  await stage(page, 'Run').click();
  await page.getByRole('combobox', { name: 'Show a channel' }).click();
  await page.keyboard.type('Spring 1: force');
  await page.getByRole('option', { name: 'Spring 1: force' }).click();
  await page.locator('body').press('Home');
  await expect(page.locator('.readout').filter({ hasText: 'N' }).last()).toContainText('25');
});

test('what is drawn is redrawn by its points, moved whole, chosen by a box, and undone', async ({ page }) => {
  const { id, tool, drag } = await emptyBoard(page, 'Redrawn');
  await tool('Bar');
  await drag([0, 0], [100, 0]);
  await drag([100, 0], [200, 50]);
  await tool('Choose and redraw');
  await drag([100, 0], [100, 60]);
  await allSaved(page);
  const angle = async (k: number) => (await saved(page, id)).mechanism.bodies[k]!.pose.angle;
  expect(await angle(0)).toBeGreaterThan(0.3);
  expect(await angle(1)).toBeLessThan(0.1);
  await drag([-60, 160], [260, -60]);
  await expect(page.getByLabel('Properties')).toContainText('2 chosen');
  await type(page.getByLabel('Across'), '120 mm');
  await page.getByRole('button', { name: /^Copy/ }).last().click();
  await expect(page.getByLabel('On the board')).toContainText('Bar 4');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await page.getByRole('button', { name: /^Undo/ }).click();
  await allSaved(page);
  expect(await angle(0)).toBeCloseTo(0, 6);
});

test('colours tell bodies, axes, or driven and free apart; a view can be zoomed and fitted', async ({ page }) => {
  const { tool, drag } = await emptyBoard(page, 'Colours');
  await tool('Bar');
  await drag([0, 0], [100, 0]);
  const body = page.locator('[data-body="body1"]').first();
  const tint = () => body.evaluate((element) => element.style.getPropertyValue('--tint'));
  expect(await tint()).toBe('var(--ink-soft)');
  await choose(page, 'Colour by', 'Driven or free');
  await expect.poll(tint).toBe('var(--attention)');
  await choose(page, 'Colour by', 'Colour by body');
  await expect.poll(tint).toBe('var(--axis-0)');
  const before = (await body.boundingBox())!.width;
  await page.mouse.move(600, 500);
  await page.mouse.wheel(0, -600);
  await expect.poll(async () => (await body.boundingBox())!.width).toBeGreaterThan(before * 1.3);
  await page.getByRole('button', { name: 'Fit' }).click();
  await expect.poll(async () => (await body.boundingBox())!.width).not.toBe(before);
});

test('playback: once stops at the end, there and back returns', async ({ page }) => {
  const { tool, drag, click } = await emptyBoard(page, 'Played');
  await tool('Bar');
  await drag([0, 0], [100, 0]);
  await tool('Ground pin');
  await click(0, 0);
  await stage(page, 'Run').click();
  const drawing = page.getByRole('img', { name: /^Played at/ });
  await page.getByRole('combobox', { name: 'Playback speed' }).selectOption('2');
  await choose(page, 'Playback', 'Once');
  await drawing.click();
  await page.locator('body').press('Space');
  await expect(page.locator('.diagram .cursor')).toContainText('1 s');
  await choose(page, 'Playback', 'There and back');
  await drawing.click();
  await page.locator('body').press('Space');
  await expect(page.locator('.diagram .cursor')).not.toContainText('1 s ·');
  await page.locator('body').press('Space');
});

test('by keyboard alone: a bar by numbers, tied to the ground, its length typed, driven', async ({ page }) => {
  const { id } = await emptyBoard(page, 'Typed');
  const press = async (name: string) => {
    await page.getByRole('button', { name, exact: true }).focus();
    await page.keyboard.press('Enter');
  };
  await press('Add a bar');
  await type(page.getByLabel('Length', { exact: true }), '180 mm');
  await press('Tie');
  await press('Drive this joint');
  await expect(page.getByLabel('Properties')).toContainText('Driven by the axis');
  await allSaved(page);
  const { mechanism, axes } = await saved(page, id);
  expect(mechanism.bodies[0]!.points[1]!.at[0]).toBeCloseTo(0.18, 9);
  expect(mechanism.joints[0]).toMatchObject({ kind: 'pin', a: { body: 'ground' } });
  expect(axes[0]!.joint).toBe(mechanism.joints[0]!.id);
});

test('a path that cannot be made: said in Run and Size, bodies stay where they were drawn, also after a reload', async ({
  page,
}) => {
  const { tool, click } = await groundedBar(page, 'Broken path', 120);
  await page.getByRole('button', { name: 'Drive this joint' }).click();
  await tool('Path');
  await click(0, 100);
  await click(120, 100);
  await page.keyboard.press('Enter');
  await tool('Guide or cam');
  await click(120, 0);
  await page.getByLabel('On the board').getByRole('button', { name: 'Path 1' }).click();
  await choose(page, 'Piece 1', 'Smooth transition');
  await allSaved(page);
  await stage(page, 'Run').click();
  await expect(page).toHaveURL(/\/run$/);
  await page.reload();
  await expect(page.getByLabel('Compare and traces')).toContainText('a transition with nothing to join');
  const body = page.locator('[data-body="body1"]').first();
  await expect(body).not.toHaveAttribute('transform', '');
  await stage(page, 'Size').click();
  await expect(page.getByText('Nothing is ranked of this run')).toBeVisible();
});
