import { expect, test } from '@playwright/test';
import { dragBy, findBody, inDepth } from './depth';
import { allSaved, choose, copyOfDemo, saved, stage } from './helpers';

test('a pick-and-place is made by dragging to start and target, and written as plans and as cues', async ({ page }) => {
  const id = await copyOfDemo(page, 'Plug gantry');
  await page.goto(`/machine/${id}/move?part=poses`);
  await expect(inDepth(page)).toBeVisible();
  await dragBy(page, await findBody(page, 'Head'), -80, 40);
  await page.getByRole('button', { name: 'Mark as start' }).click();
  await dragBy(page, await findBody(page, 'Head'), 180, 20);
  await page.getByRole('button', { name: 'Mark as target' }).click();
  await allSaved(page);
  const { axes, poses } = await saved(page, id);
  const at = (name: string, i: number) => {
    const axis = axes.find((own) => own.name === name)!;
    return poses![i]!.at.find((own) => own.axis === axis.id)!.position;
  };
  expect(poses!.map(({ name }) => name)).toEqual(['Start', 'Target']);
  expect(at('Bridge', 1) - at('Bridge', 0)).toBeGreaterThan(0.1);
  // Each axis within its travel, however far the hand went.
  for (const { travel, id: axis } of axes)
    for (const pose of poses!) {
      const { position } = pose.at.find((own) => own.axis === axis)!;
      expect(position).toBeGreaterThanOrEqual(travel!.min - 1e-6);
      expect(position).toBeLessThanOrEqual(travel!.max + 1e-6);
    }

  // Deeper by numbers: the axes find the place, and what is out of reach says why and changes nothing.
  await page.getByRole('button', { name: 'Its numbers' }).click();
  const y = page.getByRole('textbox', { name: 'Tool at y', exact: true });
  const lower = Number(await y.inputValue()) - 30;
  await y.fill(String(lower));
  await y.press('Enter');
  await expect(y).toHaveValue(String(Number(lower.toFixed(4))));
  await y.fill('-900');
  await y.press('Enter');
  await expect(page.getByText(/“Lift” stands at an end of its travel/)).toBeVisible();
  await y.press('Escape');
  await allSaved(page);
  const after = (await saved(page, id)).poses![1]!.at;
  const lift = axes.find(({ name }) => name === 'Lift')!.id;
  expect(after.find(({ axis }) => axis === lift)!.position - at('Lift', 1)).toBeCloseTo(-0.03, 4);

  await page.getByRole('textbox', { name: 'Raised by', exact: true }).fill('20');
  await page.keyboard.press('Enter');
  const table = page.getByRole('region', { name: 'From pose to pose' }).getByRole('row');
  await expect(table.nth(1)).toContainText('Lift');
  await expect(table.last()).toContainText('Lift');
  await expect(page.getByText(/cues move these axes already/)).toBeVisible();
  await page.getByRole('button', { name: 'Write as plans' }).click();
  await expect(page.getByText(/have it in their plans/)).toBeVisible();
  await allSaved(page);
  const planned = await saved(page, id);
  const bridge = planned.axes.find(({ name }) => name === 'Bridge')!;
  expect(bridge.motion.source.kind).toBe('plan');
  expect(bridge.plan.start).toBeCloseTo(at('Bridge', 0), 9);
  const reached = bridge.plan.segments.flatMap((own) => (own.kind === 'move' ? [own.to] : []));
  expect(reached).toHaveLength(2);
  [1, 0].forEach((i, k) => expect(reached[k]).toBeCloseTo(at('Bridge', i), 9));
  expect(planned.sequence.cues.filter(({ on, action }) => on && action.do === 'move')).toEqual([]);

  // Begun by a sensor.
  const when = page.getByLabel('Cues begin when', { exact: true });
  await when.fill('Start button comes on');
  await when.press('Enter');
  await page.getByRole('button', { name: 'Write as cues' }).click();
  await expect(page.getByText(/cues are written, from “Transfer begins” on/)).toBeVisible();
  await allSaved(page);
  const cued = await saved(page, id);
  expect(cued.axes.find(({ name }) => name === 'Bridge')!.motion.source.kind).toBe('cues');
  expect(cued.sequence.cues.find(({ name }) => name === 'Transfer begins')!.when).toMatchObject({ op: 'rises' });
  await stage(page, 'Cue').click();
  await expect(page.getByText('Transfer begins').first()).toBeVisible();
  expect(cued.sequence.cues.filter(({ on, action }) => on && action.do === 'move').length).toBeGreaterThan(5);
});

test('a tool is led along a typed path in space; the engineer says which axes stand still', async ({ page }) => {
  const id = await copyOfDemo(page, 'Hedge arm');
  await page.goto(`/machine/${id}/move?part=paths`);
  await page.getByRole('button', { name: 'Lead a tool point' }).click();
  await choose(page, 'Tool point on', 'Stick');
  await expect(page.getByText(/more than the path needs.*Say which stand still|does not move the tool point/)).toBeVisible(); // prettier-ignore
  await expect(page.getByRole('button', { name: /^Keep as motions/ })).toBeDisabled();
  await choose(page, 'Wrist', 'Stands still');
  await choose(page, 'Cutter', 'Stands still');
  await page.getByRole('button', { name: 'Arc', exact: true }).click();
  const z = page.getByRole('textbox', { name: 'z of place 3', exact: true });
  await z.fill('20');
  await z.press('Enter');
  await page.getByRole('button', { name: 'Keep as motions of the 3 axes' }).click();
  await expect(page.getByText(/now make these motions/)).toBeVisible();
  await allSaved(page);
  const { axes, leads } = await saved(page, id);
  expect(leads[0]!.space!.pieces.map(({ kind }) => kind)).toEqual(['line', 'arc']);
  expect(axes.slice(0, 3).map(({ motion }) => motion.source.kind)).toEqual(['points', 'points', 'points']);
  expect(axes[3]!.plan.segments.map(({ kind }) => kind)).toEqual(['dwell']);

  // Pasted places take the place of what was typed; what is no number is named.
  await page.getByRole('button', { name: 'Places from elsewhere …' }).click();
  const box = page.getByRole('textbox', { name: 'Pasted places' });
  await box.fill('x [mm];y [mm];z [mm]\n800;415;0\n780;here;40');
  await page.getByRole('button', { name: 'Take the places' }).click();
  await expect(page.getByText(/Row 3, column “y \[mm\]”: “here” is no number/)).toBeVisible();
  await box.fill('x [mm];y [mm];z [mm]\n800;415;0\n780;400;40\n760;415;60');
  await page.getByRole('button', { name: 'Take the places' }).click();
  await expect(page.getByRole('textbox', { name: 'z of place 3', exact: true })).toHaveValue('60');
  // Out of reach is told with the place, and nothing can be kept.
  const x = page.getByRole('textbox', { name: 'x of place 3', exact: true });
  await x.fill('2500');
  await x.press('Enter');
  await expect(page.getByText(/on the tool cannot follow the path/)).toBeVisible();
  await expect(page.getByRole('button', { name: /^Keep as motions/ })).toBeDisabled();
});

test('a unit is copied in a mirror, with its drive', async ({ page }) => {
  const id = await copyOfDemo(page, 'Dosing rocker');
  await page.goto(`/machine/${id}/build?part=board`);
  const before = await saved(page, id);
  await page.getByRole('region', { name: 'On the board' }).getByRole('button', { name: before.mechanism.bodies[0]!.name, exact: true }).click(); // prettier-ignore
  await page.locator('.toggle').filter({ hasText: 'Mirrored' }).locator('.el-switch').first().click();
  await page.getByRole('button', { name: 'Copy the unit' }).click();
  await allSaved(page);
  const { mechanism, axes } = await saved(page, id);
  expect(mechanism.bodies).toHaveLength(2 * before.mechanism.bodies.length);
  expect(axes).toHaveLength(2 * before.axes.length);
  expect(axes.at(-1)!.reversed).toBe(!before.axes[0]!.reversed);
});
