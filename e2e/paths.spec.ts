import { pathCurve, type MechanismPath } from '@yoke/core';
import { expect, test, type Page } from '@playwright/test';
import { allSaved, choose, emptyBoard, saved, type } from './helpers';

const pathOf = async (page: Page, id: string): Promise<MechanismPath> => {
  await allSaved(page);
  return (await saved(page, id)).mechanism.paths[0]!;
};
const chainOf = async (page: Page, id: string) => {
  const { shape } = await pathOf(page, id);
  if (shape.kind !== 'chain') throw new Error(`The path is a ${shape.kind}.`);
  return shape;
};
/** Draws an open path through some places, in mm, by the pointer, and chooses it. */
async function drawn(page: Page, name: string, places: readonly (readonly [number, number])[]) {
  const board = await emptyBoard(page, name);
  await board.tool('Path');
  // A pixel is not a millimetre: drawn first, then typed.
  for (const [x, y] of places) await board.click(x, y);
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await expect(page.locator('.handles circle')).toHaveCount(places.length);
  for (const [i, [x, y]] of places.entries()) {
    await type(page.getByLabel(`Point ${i + 1} x`), `${x} mm`);
    await type(page.getByLabel(`Point ${i + 1} y`), `${y} mm`);
  }
  const canvas = (await page.getByRole('application', { name: 'Drawing board' }).boundingBox())!;
  const circle = async (i: number) => {
    const one = page.locator('.handles circle').nth(i);
    return [Number(await one.getAttribute('cx')), Number(await one.getAttribute('cy'))] as const;
  };
  const [first, last] = [await circle(0), await circle(places.length - 1)];
  const [from, to] = [places[0]!, places.at(-1)!];
  const scale = Math.hypot(last[0] - first[0], last[1] - first[1]) / Math.hypot(to[0] - from[0], to[1] - from[1]);
  /** Where a place in mm is on the page. */
  const at = (x: number, y: number) =>
    [canvas.x + first[0] + scale * (x - from[0]), canvas.y + first[1] - scale * (y - from[1])] as const;
  const click = (x: number, y: number) => page.mouse.click(...at(x, y));
  const drag = async (here: readonly [number, number], there: readonly [number, number]) => {
    await page.mouse.move(...at(...here));
    await page.mouse.down();
    await page.mouse.move(...at((here[0] + there[0]) / 2, (here[1] + there[1]) / 2));
    await page.mouse.move(...at(...there));
    await page.mouse.up();
  };
  return { id: board.id, at, click, drag };
}

test('a path is drawn elsewhere point by point, gets points and loses them, all by the pointer', async ({ page }) => {
  const { id, drag, click, at } = await drawn(page, 'By hand', [[0, 0], [200, 0], [200, 150]]); // prettier-ignore
  await drag([200, 0], [160, -40]);
  expect((await chainOf(page, id)).pieces[0]).toEqual({ kind: 'line', to: [0.16, -0.04] });
  // A double click on the line puts a point there; it can be dragged at once.
  await page.mouse.dblclick(...at(80, -20));
  await expect(page.locator('.handles circle')).toHaveCount(4);
  await drag([80, -20], [80, 60]);
  const four = await chainOf(page, id);
  expect(four.pieces.map((piece) => ('to' in piece ? piece.to : []))).toEqual([[0.08, 0.06], [0.16, -0.04], [0.2, 0.15]]); // prettier-ignore
  // Twice on a point itself makes no second one there.
  await page.mouse.dblclick(...at(80, 60));
  await expect(page.locator('.hint')).toContainText('There is a point already');
  await expect(page.locator('.handles circle')).toHaveCount(4);
  // Taken hold of and deleted: the point goes, not the path.
  await click(160, -40);
  await page.keyboard.press('Delete');
  await expect(page.locator('.handles circle')).toHaveCount(3);
  expect((await chainOf(page, id)).pieces).toHaveLength(2);
  await page.keyboard.press('Control+z');
  await expect(page.locator('.handles circle')).toHaveCount(4);
  // Escape lets go of the point first, then of the path.
  await click(80, 60);
  await expect(page.locator('.handles .chosen')).toHaveCount(1);
  await page.keyboard.press('Escape');
  await expect(page.locator('.handles .chosen')).toHaveCount(0);
  await page.keyboard.press('Escape');
  await expect(page.locator('.handles')).toHaveCount(0);
});

test('a piece is chosen on the board and made an arc: by radius, side, tangent, and the diamond it bends by', async ({
  page,
}) => {
  const { id, click, drag } = await drawn(page, 'Arcs', [[0, 0], [100, 0], [200, 100], [200, 200]]); // prettier-ignore
  // Half way along the second piece.
  await click(150, 50);
  await expect(page.getByRole('list', { name: 'Pieces' }).locator('.chosen')).toHaveText(/2/);
  await choose(page, 'Piece 2', 'Arc');
  await page.getByRole('button', { name: 'Tangent to the piece before' }).click();
  const radius = page.getByLabel('Radius of the arc');
  // A quarter about (100, 100).
  await expect(radius).toHaveValue('100');
  await type(radius, '20 mm');
  await expect(page.getByText(/70\.7/).last()).toBeVisible();
  await type(radius, '120 mm');
  await choose(page, 'It turns', 'To the right');
  await expect.poll(async () => (await chainOf(page, id)).pieces[1]).toMatchObject({ kind: 'arc', to: [0.2, 0.1] });
  const turned = await chainOf(page, id);
  // Chord 141.42 mm at radius 120 mm: length 2 r asin(chord / 2 r).
  expect(pathCurve(turned).length).toBeCloseTo(0.2 + 2 * 0.12 * Math.asin(Math.SQRT2 / 20 / 0.12), 5);
  await page.getByRole('button', { name: 'Tangent to the piece behind' }).click();
  await expect(radius).toHaveValue('100');
  // The arc bends by its diamond: half way round the quarter at first.
  // However far down the panel was scrolled for that, the page itself has not moved.
  expect(await page.evaluate(() => document.scrollingElement!.scrollTop)).toBe(0);
  const middle = 100 * Math.SQRT1_2;
  await drag([100 + middle, 100 - middle], [150, 50]);
  await expect.poll(async () => pathCurve(await chainOf(page, id)).length).toBeCloseTo(0.2 + Math.SQRT2 / 10, 6);
});

test('corners are named with what they allow, rounded in one go, and refused where there is no room', async ({
  page,
}) => {
  const { id } = await drawn(page, 'Corners', [[0, 0], [200, 0], [200, 100], [0, 100]]); // prettier-ignore
  const panel = page.getByRole('region', { name: 'Chosen' }).or(page.locator('aside, section').filter({ hasText: 'Radius of all corners' })).last(); // prettier-ignore
  await expect(panel).toContainText('2 sharp corners, at 200 mm, 300 mm: a speed of 0 is all they allow');
  await page.locator('.toggle').filter({ hasText: 'Closed' }).locator('.el-switch').click();
  await expect(panel).toContainText('4 sharp corners');
  const corners = page.getByLabel('Radius of all corners');
  await type(corners, '80 mm');
  await expect(page.getByText('Corner 1 has no room for that: its largest radius is 50 mm.').first()).toBeVisible();
  await type(corners, '20 mm');
  await expect(panel).not.toContainText('sharp corner');
  await expect.poll(async () => pathCurve(await chainOf(page, id)).length).toBeCloseTo(0.6 - 0.16 + 0.04 * Math.PI, 9);
  // Once more with another radius; then without.
  await type(corners, '30 mm');
  await expect.poll(async () => pathCurve(await chainOf(page, id)).length).toBeCloseTo(0.6 - 0.24 + 0.06 * Math.PI, 9);
  await type(corners, '0');
  await expect(panel).toContainText('4 sharp corners');
  const sharp = await chainOf(page, id);
  expect(sharp.closed).toBe(true);
  expect(sharp.pieces.every(({ kind }) => kind === 'line')).toBe(true);
});
