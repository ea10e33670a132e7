import { expect, test, type Page } from '@playwright/test';
import {
  addJoint,
  addPlate,
  assignSolids,
  bodyPoint,
  GROUND,
  groundPoint,
  newDrive,
  takeFile,
  UNASSIGNED,
  type Machine,
} from '@yoke/core';
import { allSaved, openNew, saved, stage, type } from './helpers';

const square = (x: number, y: number, side: number): [number, number][] => [[x, y], [x + side, y], [x + side, y + side], [x, y + side]]; // prettier-ignore
/** A block driven 100 mm along a rail, past one wall at 2 mm and into another. */
function blocks(machine: Machine, stands = 0.0625): void {
  const m = machine.mechanism;
  machine.axes = [];
  const block = addPlate(m, square(0, 0, 0.05), 'Block');
  const slide = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, block.id, [0, 0]), { direction: 0 });
  machine.axes.push(newDrive(machine, slide, 0, 0.1));
  const walls: [string, number, number][] = [['Wall', 0.05 + stands, 0], ['Shelf', 0.06, 0.052]]; // prettier-ignore
  for (const [name, x, y] of walls) {
    const wall = addPlate(m, square(x, y, 0.05), name);
    addJoint(m, 'weld', groundPoint(m, [x, y]), bodyPoint(m, wall.id, [x, y]));
  }
}
const openClearances = async (page: Page) => {
  await page.getByRole('button', { name: 'Clearances', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Search all pairs' })).toBeEnabled();
};
async function pick(page: Page, label: string, entry: string): Promise<void> {
  const box = page.getByRole('combobox', { name: label, exact: true });
  await box.click({ force: true });
  await page.getByRole('listbox').last().getByRole('option', { name: entry, exact: true }).click();
  await page.keyboard.press('Escape');
}

test('a collision ends the run: red on every stage behind it, sizing and delivery ask first; mended it is good again', async ({
  page,
}) => {
  const id = await openNew(page, 'Collision', { stage: 'run', change: (machine) => blocks(machine) });
  await openClearances(page);
  await pick(page, 'Bodies', 'Block');
  await pick(page, 'against', 'Wall');
  await page.getByRole('button', { name: 'Watch them' }).click();
  const watched = page.getByRole('region', { name: 'Watched: Clearance 1' });
  await expect(watched.getByRole('button', { name: /^collide at/ })).toBeVisible();
  for (const name of ['Run', 'Size', 'Deliver'])
    await expect(stage(page, new RegExp(`^${name} , Clearance 1: “Block” and “Wall” collide at .* The run ends there`))).toBeVisible(); // prettier-ignore
  // The jump: the cursor stands where they touch, and both light up.
  await watched.getByRole('button', { name: /^collide at/ }).click();
  await page.getByRole('button', { name: 'Depth', exact: true }).click();
  await expect(page.getByText('they touch', { exact: true })).toBeVisible();
  await stage(page, /^Size\b/).click();
  await expect(page.getByText(/Nothing is ranked of this run: Clearance 1/)).toBeVisible();
  await page.getByRole('button', { name: 'Rank by what was run' }).click();
  await expect(page.getByText(/Goes by a broken run: Clearance 1/)).toBeVisible();
  await stage(page, /^Deliver\b/).click();
  await stage(page, /^Run\b/).click();
  await openClearances(page);
  // Noted only, the run goes on: Run says so, what stands behind it is not held up.
  await watched.locator('.el-switch').click();
  await expect(stage(page, new RegExp('^Run , Clearance 1: .* the run goes on as if they did not'))).toBeVisible(); // prettier-ignore
  await expect(stage(page, new RegExp('^Deliver , Ready to be taken away'))).toBeVisible();
  await allSaved(page);
  expect((await saved(page, id)).clearances!.watches).toMatchObject([{ least: 0.002, stop: false }]);
});

test('all pairs are searched in one action; what touches by design is left out, and looked at again', async ({
  page,
}) => {
  const id = await openNew(page, 'Pairs', { stage: 'run', change: (machine) => blocks(machine, 0.2) });
  await openClearances(page);
  await page.getByRole('button', { name: 'Search all pairs' }).click();
  const table = page.getByRole('table', { name: 'All pairs' });
  // Wall and Shelf do not meet: they are 2 mm and more apart, as Block and Shelf are where they pass.
  await expect(table.getByRole('row')).toHaveCount(4);
  const passing = table.getByRole('row').filter({ hasText: 'Block – Shelf' });
  await expect(passing.getByText(/^2\smm$/)).toBeVisible();
  await passing.getByRole('button', { name: 'Block – Shelf' }).click();
  // Both light up, and a line joins their nearest places: seen flat, in Cue, and in depth.
  const flat = page.locator('svg .gap');
  await expect(flat.getByText(/^2\smm$/)).toBeVisible();
  await expect(page.locator('svg .body.close')).toHaveCount(2);
  await stage(page, /^Cue\b/).click();
  await expect(flat.getByText(/^2\smm$/)).toBeVisible();
  await stage(page, /^Run\b/).click();
  await openClearances(page);
  await page.getByRole('button', { name: 'Depth', exact: true }).click();
  await expect(page.locator('.gap').getByText(/^2\smm$/)).toBeVisible();
  await passing.getByRole('button', { name: 'Watch' }).click();
  const watched = page.getByRole('region', { name: 'Watched: Clearance 1' });
  await expect(watched.getByRole('button', { name: /^least 2\smm at/ })).toBeVisible();
  // More is wanted than there is.
  await type(watched.getByLabel('At least'), '3');
  await expect(stage(page, new RegExp('^Run , Clearance 1: .* come as near as 2\\smm'))).toBeVisible();
  await allSaved(page);
  expect((await saved(page, id)).clearances!.watches[0]).toMatchObject({ least: 0.003, stop: true });
});

test('what touches by design stays left out in the document', async ({ page }) => {
  const id = await openNew(page, 'Design', { stage: 'run', change: (machine) => blocks(machine, 0) });
  await openClearances(page);
  await page.getByRole('button', { name: 'Search all pairs' }).click();
  const row = page.getByRole('table', { name: 'All pairs' }).getByRole('row').filter({ hasText: 'Block – Wall' });
  await expect(row.getByText('touch', { exact: true })).toBeVisible();
  await row.getByRole('button', { name: 'By design' }).click();
  await expect(row).toHaveCount(0);
  await expect(page.getByText('Touch by design, left out:')).toBeVisible();
  await allSaved(page);
  expect((await saved(page, id)).clearances!.byDesign).toHaveLength(1);
  await page.getByRole('button', { name: 'Look at Block and Wall again' }).click();
  await expect(row).toHaveCount(1);
});

test('where the shapes are not to be had, nothing that a collision could have spoilt shows as good', async ({
  page,
}) => {
  await openNew(page, 'Without shapes', {
    stage: 'run',
    change: (machine) => {
      blocks(machine);
      const m = machine.mechanism;
      takeFile(m, { name: 'wall.step', hash: '0'.repeat(64), solids: [{ key: 'wall', name: 'Wall', colour: null, digest: 'a', holds: null, problem: null }] }); // prettier-ignore
      assignSolids(m, [{ carrier: UNASSIGNED, id: m.shapes!.unassigned[0]!.id }], GROUND);
      machine.clearances = { watches: [{ id: 'w1', name: 'Block and wall', a: [m.bodies[0]!.id], b: [GROUND], least: 0.002, stop: true }], byDesign: [] }; // prettier-ignore
    },
  });
  for (const name of ['Run', 'Size', 'Deliver'])
    await expect(stage(page, new RegExp(`^${name} , Clearances are not known: wall.step: `))).toBeVisible();
  await stage(page, /^Size\b/).click();
  await expect(page.getByText(/Nothing is ranked of this run: Clearances are not known/)).toBeVisible();
  await page.reload();
  await expect(page.getByText(/Nothing is ranked of this run: Clearances are not known/)).toBeVisible();
});
