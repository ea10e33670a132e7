import { expect, test } from '@playwright/test';
import { allSaved, openNew, saved, stage, type } from './helpers';

test('numbers take units as typed, refuse what is wrong beside the box, and step with the arrows', async ({ page }) => {
  const id = await openNew(page, 'Numbers');
  const mass = page.getByLabel('Moving mass');
  await type(mass, '2 lb');
  await expect(mass).toHaveValue('0.90718474');
  await mass.fill('0,5');
  await mass.press('Tab');
  await expect(page.getByRole('alert')).toContainText('type “0.5” for a decimal point');
  await expect(mass).toHaveValue('0,5');
  await type(mass, '5 mm');
  await expect(page.getByRole('alert')).toContainText('is the unit of a length');
  await mass.press('Escape');
  await expect(page.getByRole('alert')).toBeHidden();
  await type(mass, '5');
  await mass.press('ArrowUp');
  await expect(mass).toHaveValue('5.1');
  await page.getByRole('button', { name: 'in', exact: true }).click();
  await expect(page.getByLabel('Upper end')).toHaveValue('9.842519685');
  await page.getByRole('button', { name: 'mm', exact: true }).click();
  await expect(page.getByLabel('Upper end')).toHaveValue('250');
  await allSaved(page);
  expect((await saved(page, id)).axes[0]!.travel!.max).toBe(0.25);
});

test('Ctrl+Z in a field takes back the typing first, and once that was taken the last step of the document', async ({
  page,
}) => {
  await openNew(page, 'Undone');
  const mass = page.getByLabel('Moving mass');
  const before = await mass.inputValue();
  await type(mass, '7');
  await expect(mass).toHaveValue('7');
  await mass.press('End');
  await mass.pressSequentially('5');
  await expect(mass).toHaveValue('75');
  await mass.press('Control+z');
  await expect(mass).toHaveValue('7');
  await mass.press('Enter');
  await mass.press('Control+z');
  await expect(mass).toHaveValue(before);
  await expect(mass).toBeFocused();
  await mass.press('Control+y');
  await expect(mass).toHaveValue('7');
});

test('an edit that would break the document is refused where it was typed', async ({ page }) => {
  await openNew(page, 'Guarded');
  const upper = page.getByLabel('Upper end');
  await type(upper, '-10 mm');
  await expect(page.getByRole('alert')).toContainText('must lie above the lower end of the travel');
  await expect(upper).toHaveValue('-10 mm');
});

test('undo and redo go through edits of every stage', async ({ page }) => {
  const id = await openNew(page, 'Undone');
  await type(page.getByLabel('Moving mass'), '9');
  await page.getByRole('button', { name: /Positive direction/ }).click();
  await stage(page, 'Move').click();
  await page.getByRole('button', { name: 'Delete segment 4' }).click();
  await expect(page.getByRole('button', { name: 'Delete segment 4' })).toBeHidden();
  const undo = page.getByRole('button', { name: 'Undo' });
  for (let i = 0; i < 3; i++) await undo.click();
  await expect(undo).toBeDisabled();
  await allSaved(page);
  let axis = (await saved(page, id)).axes[0]!;
  expect([axis.load.inertia, axis.reversed, axis.plan.segments.length]).toEqual([5, false, 4]);
  await page.locator('body').press('Control+y');
  await page.locator('body').press('Control+y');
  await allSaved(page);
  axis = (await saved(page, id)).axes[0]!;
  expect([axis.load.inertia, axis.reversed, axis.plan.segments.length]).toEqual([9, true, 4]);
});

test('a force table is read from CSV, and a wrong one refused with its row', async ({ page }) => {
  const id = await openNew(page, 'Pushed');
  const input = page.getByLabel('Load', { exact: true }).locator('input[type=file]');
  const csv = (text: string) => ({ name: 'soil.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
  await input.setInputFiles(csv('t [s],force [N]\n0,0\n1,x\n'));
  await expect(page.getByRole('alert')).toContainText('Row 3, column “force [N]”');
  await input.setInputFiles(csv('t [ms],force [kN]\n0,0\n500,-0.1\n1000,0\n'));
  await expect(page.getByText('3 rows, added to the constant force')).toBeVisible();
  await allSaved(page);
  expect((await saved(page, id)).axes[0]!.load.forceTable).toEqual([
    [0, 0],
    [0.5, -100],
    [1, 0],
  ]);
});

test('axes are added, copied, deleted; a machine without axes leads on', async ({ page }) => {
  await openNew(page, 'Crowd');
  await page.getByRole('button', { name: 'Add a table' }).click();
  await page.getByRole('button', { name: 'Copy Table' }).click();
  await expect(page.getByRole('button', { name: /^Table 1/ }).first()).toBeVisible();
  for (const name of ['Table 1', 'Table', 'Slide'])
    await page.getByRole('button', { name: `Delete ${name}`, exact: true }).click();
  await expect(page.getByText('Begin with what moves')).toBeVisible();
  await stage(page, 'Size').click();
  await page.getByRole('link', { name: 'Add a slide or a table in Build' }).click();
  await expect(page.getByRole('button', { name: 'Add a slide' })).toBeVisible();
});

test('what was refused for one axis is not said of the next one', async ({ page }) => {
  await openNew(page, 'Two alike', {
    change: (machine) => void machine.axes.push({ ...machine.axes[0]!, id: 'axis2', name: 'Second', colour: 1 }),
  });
  await type(page.getByLabel('Moving mass'), '-1');
  await expect(page.getByRole('alert')).toContainText('At least 0');
  await page.getByRole('button', { name: 'Second slides' }).click();
  await expect(page.getByLabel('Moving mass')).not.toHaveValue('-1');
  await expect(page.getByRole('alert')).toBeHidden();
});
