import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { formatNumber, simulate, type Machine } from '@yoke/core';
import { allSaved, choose, copyOfDemo, openNew, saved, stage, type } from './helpers';

/** A lift of 10 kg that may go 400 mm, in a cycle of one second. */
function lift(machine: Machine): void {
  const axis = machine.axes[0]!;
  machine.cycle = { given: 'time', time: 1 };
  axis.name = 'Lift';
  axis.load = { ...axis.load, inertia: 10, slope: Math.PI / 2 };
  axis.travel = { min: 0, max: 0.4 };
  axis.limits = { velocity: 3, acceleration: 30, jerk: null };
}
const part = (page: Page, name: string) =>
  page.getByRole('navigation', { name: 'Parts of Move' }).getByRole('button', { name, exact: true }).click();
const findings = (page: Page) => page.getByRole('list', { name: 'Findings' });
async function write(page: Page, text: string): Promise<void> {
  const editor = page.locator('.cm-content');
  await editor.click();
  await page.keyboard.press('Control+a');
  await page.keyboard.insertText(text);
}

test('the same lift as plan, servo move, formula and table: compared, the gentlest taken, delivered and read back', async ({
  page,
}) => {
  const id = await openNew(page, 'Four ways', { stage: 'move', change: lift });
  await type(page.getByLabel('Position after segment 1'), '300 mm');
  await type(page.getByLabel('Time of segment 1'), '0.4 s');
  await type(page.getByLabel('Time of segment 2'), '0.1 s');
  await type(page.getByLabel('Time of segment 3'), '0.4 s');
  await type(page.getByLabel('Time of segment 4'), '0.1 s');
  const aside = page.getByRole('button', { name: 'Put this motion aside' });
  await aside.click();
  await choose(page, 'Led by', 'Servo moves');
  await expect(page.getByLabel('Way of block 1')).toHaveValue('300');
  await expect(page.getByLabel('Wanted time of block 1')).toHaveValue('0.4');
  await aside.click();
  await choose(page, 'Led by', 'Motion plan');
  await choose(page, 'Led by', 'Formula');
  await expect(page.locator('.cm-content')).toContainText('300 mm * rise(t, 0 s, 0.4 s, poly345)');
  await write(page, '300 mm * (rise(t, 0 s, 0.4 s, modifiedSine) - rise(t, 0.5 s, 0.9 s, modifiedSine))');
  await aside.click();
  await choose(page, 'Led by', 'Table of points');
  await expect(page.getByLabel('Position of point 1', { exact: true })).toHaveValue('0');
  await aside.click();

  await part(page, 'Laws and comparison');
  const comparison = page.getByRole('region', { name: 'Comparison on this axis' });
  for (const name of ['As it is', 'Plan', 'Servo moves', 'Formula', 'Table'])
    await expect(comparison.getByRole('rowheader', { name })).toBeVisible();
  // Upright, 10 kg on a pulley of 25 mm: the weight asks 2.45 N·m; a parabola adds least to it.
  const best = comparison.locator('tr', { has: page.locator('td:nth-of-type(4).least') });
  await expect(best).toContainText('Servo moves');
  await comparison.getByRole('button', { name: 'Take Servo moves' }).click();
  await allSaved(page);
  expect((await saved(page, id)).axes[0]!.motion.source.kind).toBe('moves');

  await stage(page, 'Deliver').click();
  const deliver = page.getByRole('region', { name: 'Motion for the controller' });
  for (const [as, ending] of [
    ['Point table, CSV', 'csv'],
    ['Structured Text', 'st'],
    ['XML for controllers', 'xml'],
  ] as const) {
    await choose(page, 'Written as', as);
    await expect(deliver).toContainText(
      /Read back, from the motion at most (nothing but rounding|\S+\smm in position \(at \S+\ss\))/,
    );
    const [file] = await Promise.all([
      page.waitForEvent('download'),
      deliver.getByRole('button', { name: `Save ${as}` }).click(),
    ]);
    expect(file.suggestedFilename()).toContain(`.${ending}`);
    const path = await file.path();
    await deliver
      .locator('input[type=file]')
      .setInputFiles({ name: `back.${ending}`, mimeType: 'text/plain', buffer: readFileSync(path) });
    await expect(deliver).toContainText(
      new RegExp(`back.${ending}: \\d+ points read; from the motion of Lift at most .*`),
    );
  }
  await deliver
    .locator('input[type=file]')
    .setInputFiles({ name: 'wrong.xml', mimeType: 'text/plain', buffer: Buffer.from('<a/>') });
  await expect(deliver).toContainText('wrong.xml: The structure is not that of IEC 61131-10');
});

test('an axis follows the virtual master by a sine formula; the jump of engaging is refused, then bridged', async ({
  page,
}) => {
  const id = await openNew(page, 'Follower', {
    stage: 'move',
    change: (machine) => {
      lift(machine);
      machine.axes[0]!.travel = { min: -0.1, max: 0.1 };
      machine.axes[0]!.plan = { start: 0, segments: [] };
    },
  });
  await choose(page, 'Led by', 'Formula');
  await choose(page, 'Runs over', 'The master');
  await write(page, '30 mm * sin(master)');
  await choose(page, 'Engaged', 'At a position');
  await type(page.getByLabel('Engages at'), '90°');
  await expect(page.getByText('it would jump by 30 mm and 0 mm/s')).toBeVisible();
  await expect(findings(page)).toContainText('Engaging here would make the axis jump');
  await findings(page).getByRole('button', { name: 'Bridge it' }).click();
  await expect(findings(page)).not.toContainText('Engaging here');
  await type(page.getByLabel('Leaves at'), '290°');
  await type(page.getByLabel('Then rests at'), '0 mm');
  await expect(findings(page)).toContainText('runs without jumps');
  await expect(page.getByText(/a jump of 30.mm and 0.mm\/s is bridged/)).toBeVisible();
  await part(page, 'Master and constants');
  await choose(page, 'Runs', 'With ramps');
  await expect(page.getByRole('region', { name: 'Virtual master' })).toContainText('by a formula, engaging on the way');
  await type(page.getByLabel('Stops at'), '10°');
  await expect(page.getByRole('alert')).toContainText('two ramps alone carry it further');
  await type(page.getByLabel('Stops at'), '360°');
  await expect(page.getByRole('alert')).toHaveCount(0);
  await allSaved(page);
  expect((await saved(page, id)).axes[0]!.motion.engage).toMatchObject({ lead: { how: 'bridge' } });
});

test('a formula in the making: coloured, completed, its error under its place, nothing lost', async ({ page }) => {
  const id = await openNew(page, 'Formula', { stage: 'move', change: lift });
  await choose(page, 'Led by', 'Formula');
  await write(page, '80 mm * sim(t)');
  await expect(page.getByRole('alert')).toContainText('did you mean sin?');
  await expect(page.locator('.cm-lintRange-error')).toHaveText('sim(t)');
  await expect(findings(page)).toContainText('“sim” is not known');
  await allSaved(page);
  await page.reload();
  await expect(page.locator('.cm-content')).toContainText('80 mm * sim(t)');
  await write(page, '100 mm * ri');
  await page.keyboard.press('Control+Space');
  await page.locator('.cm-tooltip-autocomplete li', { hasText: 'rise' }).click();
  await page.keyboard.type('t, 0 s, 1 s');
  await expect(page.locator('.hint')).toContainText('Goes smoothly from 0 to 1');
  await expect(page.getByRole('alert')).toHaveCount(0);
  await page.getByRole('button', { name: 'Add a constant' }).click();
  await page.getByLabel('Name of constant 1').fill('T');
  await page.getByLabel('Name of constant 1').press('Enter');
  await expect(page.getByRole('alert')).toContainText('has a meaning in formulas already');
  expect((await saved(page, id)).axes[0]!.motion.source).toMatchObject({ kind: 'formula' });
});

test('servo moves: blocks are added, tell what they reach, are put elsewhere; a wish that cannot be met is named', async ({
  page,
}) => {
  const id = await openNew(page, 'Blocks', {
    stage: 'move',
    change: (machine) => {
      lift(machine);
      machine.axes[0]!.plan = { start: 0, segments: [] };
    },
  });
  await choose(page, 'Led by', 'Servo moves');
  await page.getByRole('button', { name: 'Travel', exact: true }).click();
  await expect(page.getByText(/of 3000.mm\/s: too short for more/)).toBeVisible();
  await page.getByRole('button', { name: 'Wait', exact: true }).click();
  await page.getByRole('button', { name: 'Return home' }).click();
  await expect(findings(page)).not.toContainText('does not close');
  await page.getByRole('button', { name: 'Block 2 up' }).click();
  await type(page.getByLabel('Wanted time of block 2'), '0.01 s');
  await expect(findings(page)).toContainText('Block 2 is to take 0.01 s, but its limits allow 0.115');
  await type(page.getByLabel('Wanted time of block 2'), '0.3 s');
  await expect(findings(page)).not.toContainText('Block 2');
  await allSaved(page);
  const { source } = (await saved(page, id)).axes[0]!.motion;
  expect(source.kind === 'moves' && source.blocks.map(({ kind }) => kind)).toEqual(['wait', 'travel', 'home']);
});

test('a table is pasted with its own separator and decimals, cleaned, smoothed and saved again', async ({ page }) => {
  const id = await openNew(page, 'Pasted', { stage: 'move', change: lift });
  await choose(page, 'Led by', 'Table of points');
  await page.getByRole('button', { name: 'Paste or read a file …' }).click();
  await page.getByLabel('Pasted table').fill('t [s];pos [mm]\n0;0\n0,4;100\n0,2;x\n1;0');
  await expect(page.getByRole('alert')).toContainText('Row 4, column “pos [mm]”: “x” is no number');
  await page.getByLabel('Pasted table').fill('t [s];pos [mm]\n0;0\n0,4;100\n0,2;50\n0,2;52\n1;0');
  await page.getByRole('button', { name: 'Take 5 rows' }).click();
  const notes = page.getByRole('list', { name: 'Notes on the table' });
  await expect(notes).toContainText('Row 3 out of order: sorted.');
  await expect(notes).toContainText('Rows 3, 4 at the same place (0.2 s): their mean taken.');
  await expect(page.getByLabel('Position of point 2')).toHaveValue('51');
  await type(page.getByLabel('Smoothing within'), '2 mm');
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save as CSV' }).click(),
  ]);
  expect(readFileSync(await file.path(), 'utf8')).toBe('t [s],position [mm]\n0,0\n0.2,51\n0.4,100\n1,0\n');
  await allSaved(page);
  expect((await saved(page, id)).axes[0]!.motion.source).toMatchObject({ kind: 'points', tolerance: 0.002 });
});

test('a knee in motion: given a speed it is met, left free it joins its neighbours', async ({ page }) => {
  const id = await openNew(page, 'Knees', { stage: 'move', change: lift });
  await page.getByRole('button', { name: 'Delete segment 2' }).click();
  await page.getByRole('button', { name: 'Velocity and acceleration at the end of segment 1' }).click();
  await choose(page, 'At the end of segment 1', 'Given or free');
  await type(page.getByLabel('Velocity', { exact: true }), '150 mm/s');
  await expect(page.getByText(/now 150.mm\/s/)).toBeVisible();
  await page.getByLabel('Velocity', { exact: true }).fill('');
  await page.getByLabel('Velocity', { exact: true }).press('Enter');
  await allSaved(page);
  const segment = (await saved(page, id)).axes[0]!.plan.segments[0]!;
  expect(segment).toMatchObject({ knee: { velocity: null, acceleration: null } });
  await page.getByRole('button', { name: 'Half a cycle' }).click();
  await page.getByLabel('Factor').fill('0.5');
  await page.getByRole('button', { name: 'Scale', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Undo' })).toHaveAttribute('title', /scale the stroke/i);
});

test('proposals: searched with progress, given up, searched again, taken; the price stands beside', async ({
  page,
}) => {
  const id = await openNew(page, 'Proposed', { stage: 'move', change: lift });
  await part(page, 'Proposals');
  // In one breath: the search is over before a pointer gets there.
  await page.evaluate(`new Promise((done) => {
    const button = (name) => [...document.querySelectorAll('button')].find((b) => b.textContent.trim() === name);
    button('Search').click();
    const look = () => { const found = button('Give up'); if (found) { found.click(); done(); } else requestAnimationFrame(look); };
    look();
  })`);
  await expect(page.getByRole('alert')).toContainText('Given up');
  await choose(page, 'Look for', 'Shortest time');
  await page.getByRole('button', { name: 'Search' }).click();
  const found = page.getByRole('table', { name: 'Proposals found' });
  await expect(found).toContainText('held back by the acceleration limit of the axis');
  await found.getByRole('button', { name: /^Take/ }).first().click();
  await allSaved(page);
  const { plan } = (await saved(page, id)).axes[0]!;
  expect(plan.segments[0]!.duration).toBeLessThan(0.3);
});

test('a tool led round a rounded rectangle: peak and its cause, the axes’ motions kept, the torques read', async ({
  page,
}) => {
  const id = await copyOfDemo(page, 'Watering arm');
  const before = await saved(page, id);
  await page.goto(`/machine/${id}/move?part=paths`);
  const outcome = page.getByRole('region', { name: 'What comes of it' });
  await expect(outcome).toContainText('it is set by the curvature of the path');
  await type(page.getByLabel('Blend corners from'), '0');
  await expect(outcome).toContainText('a sharp corner allows no speed but 0');
  await type(page.getByLabel('Blend corners from'), '25 mm');
  await expect(outcome).not.toContainText('a sharp corner');
  await page.getByRole('button', { name: 'Keep as motions of the 2 axes' }).click();
  await expect(outcome.getByRole('status')).toContainText('Shoulder drive and Elbow drive now make these motions');
  await allSaved(page);
  const kept = await saved(page, id);
  // The demo keeps motions for corners blended from 20 mm: these are others.
  kept.axes.forEach(({ motion }, i) => {
    expect(motion.source.kind).toBe('points');
    expect(motion.source).not.toEqual(before.axes[i]!.motion.source);
  });
  await part(page, 'Laws and comparison');
  const row = page.getByRole('region', { name: 'Comparison on this axis' }).locator('tr', { hasText: 'As it is' });
  // The torque read is that of a run of the whole arm, driven by these motions.
  const { motorTorque } = simulate(kept).axes[0]!.channels;
  const peak = motorTorque.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
  expect(peak).toBeGreaterThan(0.001);
  await expect(row.locator('td').nth(3)).toHaveText(formatNumber(peak, 4));
});
