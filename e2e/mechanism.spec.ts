import { expect, test, type Page } from '@playwright/test';
import { allSaved, choose, copyOfDemo, emptyBoard, groundedBar, plateOf, saved, stage, type } from './helpers';

test('a four-bar from nothing: drawn, driven, traced, loaded, its peak found, held against ten times the speed, a motor ranked', async ({
  page,
}) => {
  const { id, tool, drag, click } = await emptyBoard(page, 'Drawn by hand');
  await tool('Bar');
  await drag([0, 0], [0, 60]);
  await drag([0, 60], [180, 150]);
  await drag([180, 150], [220, 0]);
  await tool('Ground pin');
  await click(0, 0);
  await click(220, 0);
  const properties = page.getByLabel('Properties');
  await tool('Choose and redraw');
  await page.keyboard.press('Escape');
  await page.getByLabel('On the board').getByRole('button', { name: 'Pin 3' }).click();
  await properties.getByRole('button', { name: 'Drive this joint' }).click();
  await expect(properties).toContainText('Driven by the axis');
  await tool('Trace a point');
  await click(180, 150);
  await tool('Force');
  await drag([180, 150], [180, 100]);
  await allSaved(page);
  const document = await saved(page, id);
  expect(document.mechanism.bodies).toHaveLength(3);
  expect(document.mechanism.joints.map(({ kind }) => kind)).toEqual(['pin', 'pin', 'pin', 'pin']);
  expect(document.mechanism.traces).toHaveLength(1);
  expect(document.mechanism.elements[0]).toMatchObject({ kind: 'force' });

  await stage(page, 'Run').click();
  await expect(page.getByRole('img', { name: /^Drawn by hand at/ }).locator('path.trace')).toHaveCount(1);
  await page.getByRole('button', { name: 'largest' }).click();
  await expect(page.getByRole('status').filter({ hasText: 'torque into the mechanism' })).toContainText(
    'The pose there is shown',
  );
  await page.getByRole('button', { name: 'Add a variant' }).click();
  await type(page.getByLabel('Times as fast'), '10');
  await page.locator('.variant .toggle').filter({ hasText: 'Gravity' }).locator('.el-switch').click();
  await page.getByRole('checkbox', { name: 'Variant 1' }).check();
  await expect(page.getByRole('row').filter({ hasText: 'torque into the mechanism' })).toContainText(/× \d|%/);

  await stage(page, 'Size').click();
  await expect(page.getByLabel('Ranking').locator('.why')).toContainText(/is the lightest of|None of/);
});

test('a body is dragged by hand within its freedoms, and the start pose comes back', async ({ page }) => {
  const { tool, drag } = await groundedBar(page, 'By hand', 120);
  await expect(page.getByRole('button', { name: 'Mobility' })).toContainText('1 freedom, 0 drives, 1 left free');
  await page.keyboard.press('Escape');
  await tool('Move by hand');
  await drag([100, 0], [20, 90]);
  await expect(page.getByText('Moved by hand.')).toBeVisible();
  await page.getByRole('button', { name: 'Back to the start pose' }).click();
  await expect(page.getByText('Moved by hand.')).toBeHidden();
});

test('what is free is named and shown as a ghost; deleting says what goes too, and undo brings it back', async ({
  page,
}) => {
  const { tool, drag, click } = await emptyBoard(page, 'Free');
  await tool('Bar');
  await drag([0, 0], [120, 0]);
  await tool('Choose and redraw');
  await click(300, 250);
  const properties = page.getByLabel('Properties');
  await expect(properties).toContainText('Bar 1 is not tied to the ground by any joint');
  await tool('Ground pin');
  await click(0, 0);
  await tool('Choose and redraw');
  await click(300, 250);
  await expect(properties).toContainText('One freedom is not driven (Bar 1)');
  await properties.getByRole('button', { name: 'Show how Bar 1 can move' }).click();
  await expect(page.locator('g.mechanism.faint')).toHaveCount(2);
  await page.getByLabel('On the board').getByRole('button', { name: 'Bar 1' }).click();
  await expect(properties).toContainText('Deleting it takes Pin 1 too');
  await properties.getByRole('button', { name: 'Delete', exact: true }).click();
  await expect(page.getByLabel('On the board')).toContainText('Nothing is drawn yet');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(page.getByLabel('On the board')).toContainText('Pin 1');
});

async function openDemo(page: Page, name: string, at: string): Promise<void> {
  await page.goto(`/machine/${await copyOfDemo(page, name)}/${at.toLowerCase()}`);
}

test('editing a dimension of the dosing rocker changes its torque; both closures of its loop are there', async ({
  page,
}) => {
  await openDemo(page, 'Dosing rocker', 'Build');
  const list = page.getByLabel('On the board');
  await list.getByRole('button', { name: 'Crank', exact: true }).click();
  await expect(page.getByLabel('Length', { exact: true })).toHaveValue('60');
  await type(page.getByLabel('Length', { exact: true }), '45 mm');
  await expect(page.getByLabel('Length', { exact: true })).toHaveValue('45');
  await list.getByRole('button', { name: 'Rocker pin' }).click();
  const before = await page.locator('[data-body="body3"]').first().getAttribute('transform');
  await page.getByRole('button', { name: 'Other closure' }).click();
  await expect(page.locator('[data-body="body3"]').first()).not.toHaveAttribute('transform', before!);
  await page.getByRole('button', { name: /^Undo/ }).click();
  await page.getByRole('button', { name: /^Undo/ }).click();
});

test('the label dabber lifts off at three times its speed and says so; a run is kept, and forgotten again', async ({
  page,
}) => {
  await openDemo(page, 'Label dabber', 'Run');
  const compare = page.getByLabel('Compare and traces');
  await compare.getByLabel('Name of this run').fill('As drawn');
  await compare.getByRole('button', { name: 'Keep this run' }).click();
  await expect(compare).toContainText('Kept “As drawn”');
  await compare.getByRole('checkbox', { name: /As drawn/ }).check();
  await expect(compare.getByRole('columnheader', { name: 'As drawn' })).toBeVisible();
  const highest = compare.getByRole('row').filter({ hasText: 'maximum' }).first();
  await expect(highest).toContainText('0.0 %');
  await expect(highest).toContainText(/at \S+\sm?s.*at \S+\sm?s/);
  await page.reload();
  await compare.getByRole('button', { name: 'Forget As drawn' }).click();
  await expect(compare.getByRole('checkbox', { name: /As drawn/ })).toBeHidden();
  // What a variant finds is told beside its numbers.
  await compare.getByRole('button', { name: 'Add a variant' }).click();
  await type(compare.getByRole('textbox', { name: 'Times as fast' }), '3');
  await compare.getByRole('button', { name: 'Done' }).click();
  await compare.getByRole('checkbox', { name: 'Variant 1' }).check();
  await expect(compare.getByRole('region', { name: 'Findings of Variant 1' })).toContainText(
    'Cam roller loses contact from',
  );
  await page.getByRole('button', { name: /^Undo/ }).click();
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(compare.getByRole('checkbox', { name: 'Variant 1' })).toBeHidden();
  await stage(page, 'Build').click();
  await page.getByRole('button', { name: 'Cycle, axes and drive trains' }).click();
  // What the motor has behind it is the mechanism: in the picture, and in figures.
  const follows = page.getByRole('region', { name: 'What follows' });
  await expect(follows).toContainText(/Mechanism asks at rest, at most0\.\d+\sN·m/);
  await expect(page.getByRole('region', { name: 'Drawing' }).locator('[data-body]').first()).toBeVisible();
  if (process.env.SHOT) await page.screenshot({ path: process.env.SHOT });
  await type(page.getByLabel('Cycle time', { exact: true }), '0.16 s');
  await stage(page, 'Move').click();
  await page.getByRole('button', { name: 'One turn a cycle' }).click();
  await stage(page, 'Run').click();
  await expect(page.locator('.worst')).toContainText('Cam roller loses contact from');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await page.getByRole('button', { name: /^Undo/ }).click();
});

test('a trace goes to the board as a path, and a slide’s motion becomes a cam', async ({ page }) => {
  await openDemo(page, 'Dosing rocker', 'Run');
  await page.getByRole('button', { name: 'Traces and cams' }).click();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'DXF' }).first().click(),
  ]);
  expect(file.suggestedFilename()).toBe('spout-plate-p3.dxf');
  await page.getByRole('button', { name: 'As a path' }).click();
  await expect(page.getByText('is on the board now as a path')).toBeVisible();
  await page.getByRole('button', { name: /^Undo/ }).click();
  await openDemo(page, 'Label dabber', 'Run');
  await page.getByRole('button', { name: 'Traces and cams' }).click();
  await choose(page, 'Motion of', 'Dabber.p2, as it goes');
  await page.getByRole('button', { name: 'Make the outline' }).click();
  await expect(page.getByText('Largest pressure angle')).toBeVisible();
  await expect(page.getByText('Smallest radius of curvature')).toBeVisible();
});

test('stroke finder: two poses of the cover and two points give a stroke and a force', async ({ page }) => {
  await openDemo(page, 'Lifted cover', 'Build');
  await choose(page, 'Panel', 'Stroke finder');
  const finder = page.getByLabel('Stroke finder');
  await finder.getByRole('button', { name: 'Keep first pose' }).click();
  await page.getByRole('button', { name: 'Move by hand' }).click();
  const cover = (await page.locator('[data-body="body1"]').first().boundingBox())!;
  await page.mouse.move(cover.x + cover.width * 0.7, cover.y + cover.height * 0.7);
  await page.mouse.down();
  await page.mouse.move(cover.x + cover.width * 0.6, cover.y - 60, { steps: 4 });
  await page.mouse.up();
  await finder.getByRole('button', { name: 'Keep second pose' }).click();
  // Another panel in between loses nothing.
  await choose(page, 'Panel', 'What is chosen');
  await choose(page, 'Panel', 'Stroke finder');
  await expect(finder.getByRole('button', { name: 'Second pose kept' })).toBeVisible();
  await page.getByRole('button', { name: 'Mobility' }).click();
  await expect(page.getByLabel('Properties').getByText('Freedoms')).toBeVisible();
  await choose(page, 'Panel', 'Stroke finder');
  await choose(page, 'From the point', 'Ground g2');
  await finder.getByRole('button', { name: 'Pick in the picture: to the point' }).click();
  const again = (await page.locator('[data-body="body1"]').first().boundingBox())!;
  await page.mouse.click(again.x + again.width * 0.5, again.y + again.height * 0.5);
  await finder.getByRole('button', { name: 'Find the stroke' }).click();
  await expect(finder).toContainText(/Stroke[\d.\s]+mm/);
  await expect(finder).toContainText(/Largest force[\d.\s]+N/);
});

test('an outline from SVG becomes a plate with its holes; what was not understood is listed', async ({ page }) => {
  await emptyBoard(page, 'Outline');
  const svg = '<svg><rect width="80" height="40"/><circle cx="20" cy="20" r="5"/><text>a</text></svg>';
  await plateOf(page, svg, ['2 closed lines', 'Not understood: 1 × text']);
  await choose(page, 'Panel', 'What is chosen');
  await expect(page.getByLabel('Properties')).toContainText('Plate of 4 corners, 1 hole.');
});
