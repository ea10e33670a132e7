import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { packGeometry } from '@yoke/core/geometry-file';
import { ownMesh, type Mesh, type OwnSolid } from '@yoke/core/solid';
import { dragBy, findBody, inDepth } from './depth';
import { allSaved, choose, copyOfDemo, openNew, saved, type } from './helpers';

const kernel = dirname(createRequire(import.meta.url).resolve('occt-import-js/package.json'));
/** An assembly of a plate, two brackets, a rod, bolts and nuts, that comes with the kernel that reads STEP files. */
const ASSEMBLY = join(kernel, 'test/testfiles/cax-if/as1-oc-214.stp');

const solid = (own: OwnSolid, at: readonly [number, number, number], turned = false): Mesh => {
  const mesh = ownMesh(own, 1e-4);
  const points = mesh.points.slice();
  for (let i = 0; i < points.length; i += 3) {
    const [x, y, z] = [mesh.points[i]!, mesh.points[i + 1]!, mesh.points[i + 2]!];
    // A third turn about the diagonal brings z to x.
    points.set(turned ? [z + at[0], x + at[1], y + at[2]] : [x + at[0], y + at[1], z + at[2]], i);
  }
  return { points, triangles: mesh.triangles };
};
const glb = async (name: string, solids: Record<string, Mesh>) => ({
  name,
  mimeType: 'model/gltf-binary',
  buffer: Buffer.from(await packGeometry(Object.entries(solids).map(([key, mesh]) => ({ key, mesh })))),
});
/** A binary STL file of some triangles of a mesh. */
function stl(name: string, { points, triangles }: Mesh, leaveOut = 0) {
  const count = triangles.length / 3 - leaveOut;
  const buffer = Buffer.alloc(84 + 50 * count);
  buffer.writeUInt32LE(count, 80);
  for (let t = 0; t < count; t++)
    for (let c = 0; c < 3; c++)
      for (let k = 0; k < 3; k++)
        buffer.writeFloatLE(1000 * points[3 * triangles[3 * t + c]! + k]!, 84 + 50 * t + 12 + 12 * c + 4 * k);
  return { name, mimeType: 'model/stl', buffer };
}

async function openSolids(page: Page, name: string): Promise<string> {
  const id = await openNew(page, name, { change: (machine) => void (machine.axes = []) });
  await page.goto(`/machine/${id}/build`);
  await page.getByRole('button', { name: 'Solids', exact: true }).click();
  return id;
}
const list = (page: Page) => page.getByRole('region', { name: 'Solids', exact: true });
const files = (page: Page) => page.getByRole('region', { name: 'Files of geometry' });
const panel = (page: Page) => page.getByRole('region', { name: 'Chosen solids' });
const file = (page: Page, nth = 0) => files(page).locator('input[type=file]').nth(nth);

test('a STEP assembly is taken apart by clicks, whatever its tree says, weighed, and given back by undo', async ({
  page,
}) => {
  const id = await openSolids(page, 'Rod');
  await file(page).setInputFiles(ASSEMBLY);
  await expect(page.getByText('18 solids of as1-oc-214.stp came in, not assigned yet.')).toBeVisible();
  await expect(page.getByText('18 solids, 18 not assigned')).toBeVisible();
  // A whole branch, by its name.
  await list(page).getByRole('button', { name: 'rod-assembly', exact: true }).click();
  await panel(page).getByRole('button', { name: 'Make a body' }).click();
  await expect(page.getByText('“rod-assembly” made.')).toBeVisible();
  // By name: one body of each of what is found.
  await page.getByRole('textbox', { name: 'Find solids' }).fill('l-bracket');
  await list(page).getByRole('button', { name: 'l-bracket', exact: true }).first().click();
  await list(page).getByRole('button', { name: /^l-bracket( 2)?$/ }).last().click({ modifiers: ['Shift'] }); // prettier-ignore
  await panel(page).getByRole('button', { name: 'A body of each' }).click();
  await page.getByRole('textbox', { name: 'Find solids' }).fill('plate');
  await list(page).getByRole('button', { name: 'plate', exact: true }).click();
  await panel(page).getByRole('button', { name: 'Ground', exact: true }).click();
  await expect(page.getByText('“plate” is ground now.')).toBeVisible();
  await allSaved(page);
  const { mechanism } = await saved(page, id);
  expect(mechanism.bodies.map(({ name, solids }) => [name, solids!.length])).toEqual([['rod-assembly', 3], ['l-bracket', 1], ['l-bracket 2', 1]]); // prettier-ignore
  expect(mechanism.shapes!.ground.map(({ name }) => name)).toEqual(['plate']);
  expect(mechanism.shapes!.unassigned).toHaveLength(12);
  expect(mechanism.shapes!.files).toHaveLength(1);
  // The rod is 200 mm long, of 10 mm: by its volume and the density of steel (textbook), within the chords of its mesh.
  const rod = mechanism.bodies[0]!.solids!.find(({ name }) => name === 'rod')!;
  const wanted = Math.PI * 0.005 ** 2 * 0.2;
  expect(rod.shape.kind === 'file' && Math.abs(rod.shape.holds!.volume / wanted - 1)).toBeLessThan(0.02);
  // Solids move to another body, and back by undo.
  await page.getByRole('textbox', { name: 'Find solids' }).fill('rod');
  await list(page).getByRole('button', { name: 'rod', exact: true }).click();
  await choose(page, 'Moves with', 'l-bracket');
  await expect(page.getByText('“rod” moves with “l-bracket” now.')).toBeVisible();
  await page.getByRole('button', { name: /^Undo/ }).click();
  await allSaved(page);
  expect((await saved(page, id)).mechanism.bodies.map(({ solids }) => solids!.length)).toEqual([3, 1, 1]);
  // It is there again after a reload, drawn from what the server keeps.
  await page.reload();
  await expect(page.getByText('18 solids, 12 not assigned')).toBeVisible();
  await expect(page.getByText('Loading shapes')).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'Try again' })).toHaveCount(0);
});

test('a slide is placed by pressing a shaft in the picture, driven, and seen to move', async ({ page }) => {
  const id = await openSolids(page, 'Pressed shaft');
  await file(page).setInputFiles(
    await glb('press.glb', {
      Rod: solid({ kind: 'cylinder', radius: 0.03, length: 0.3 }, [0, 0, 0.1], true),
      Base: solid({ kind: 'box', size: [0.2, 0.2, 0.02] }, [0, 0, 0]),
    }),
  );
  await expect(page.getByText('2 solids of press.glb came in')).toBeVisible();
  await list(page).getByRole('button', { name: 'Base', exact: true }).click();
  await panel(page).getByRole('button', { name: 'Ground', exact: true }).click();
  const picture = page.getByRole('img', { name: /in depth/ });
  await page.getByRole('button', { name: 'Front', exact: true }).click();
  const middle = async () => {
    const { x, y, width, height } = (await picture.boundingBox())!;
    return [x + width / 2, y + height / 2] as const;
  };
  const face = page.getByRole('region', { name: 'Chosen face' });
  // The eye may still be on its way to the front: one looks, and presses again.
  await expect(async () => {
    await page.mouse.click(...(await middle()));
    await expect(face.getByText(/^Shaft Ø\s60\smm, 300\smm long/)).toBeVisible({ timeout: 3000 });
  }).toPass();
  await expect(face.getByText(/Say first what this solid moves with/)).toBeVisible();
  await panel(page).getByRole('button', { name: 'Make a body' }).click();
  await expect(page.getByText('“Rod” made.')).toBeVisible();
  await page.mouse.click(...(await middle()));
  await expect(face.getByText('of Rod (Rod)')).toBeVisible();
  await face.getByRole('button', { name: 'Slide along it' }).click();
  await expect(page.getByText('Slide 1 placed.')).toBeVisible();
  await face.getByRole('button', { name: 'Drive this joint' }).click();
  await allSaved(page);
  const { mechanism, axes } = await saved(page, id);
  expect(mechanism.joints).toMatchObject([{ kind: 'slide', a: { body: 'ground' }, angle: 0 }]);
  expect(axes.map(({ joint }) => joint)).toEqual([mechanism.joints[0]!.id]);
  // Its mass is that of its solid: the drive feels it.
  expect(mechanism.bodies[0]!.mass).toEqual({ given: 'solids' });
  await face.getByRole('button', { name: 'Edit it on the board' }).click();
  await expect(page.getByRole('region', { name: 'Properties' }).getByText('Slide 1').first()).toBeVisible();
  await page
    .getByRole('navigation', { name: 'Stages' })
    .getByRole('link', { name: /^Run\b/ })
    .click();
  await expect(page.getByRole('img', { name: /^Pressed shaft at/ })).toBeVisible();
});

test('the rim of a slot on a flat face becomes a path of lines and arcs that a guide can take', async ({ page }) => {
  const id = await openSolids(page, 'Slotted');
  const end = (x: number, from: number): [number, number][] =>
    Array.from({ length: 13 }, (_, i) => {
      const angle = from + (Math.PI * i) / 12;
      return [x + 0.03 * Math.cos(angle), 0.03 * Math.sin(angle)];
    });
  const outline = [...end(0.06, -Math.PI / 2), ...end(-0.06, Math.PI / 2)];
  await file(page).setInputFiles(
    await glb('cam.glb', { Cam: ownMesh({ kind: 'plate', outline, holes: [], thickness: 0.01 }, 1e-4) }),
  );
  await expect(page.getByText('One solid of cam.glb came in')).toBeVisible();
  await list(page).getByRole('button', { name: 'Cam', exact: true }).click();
  await panel(page).getByRole('button', { name: 'Make a body' }).click();
  await page.getByRole('button', { name: 'Front', exact: true }).click();
  const face = page.getByRole('region', { name: 'Chosen face' });
  await expect(async () => {
    const at = await findBody(page, 'Cam');
    await page.mouse.click(at.x, at.y);
    await expect(face.getByRole('heading', { name: /^Flat face/ })).toBeVisible({ timeout: 3000 });
  }).toPass();
  await face.getByRole('button', { name: 'Rim as path' }).click();
  await expect(page.getByText('Path 1 placed.')).toBeVisible();
  await allSaved(page);
  const [path] = (await saved(page, id)).mechanism.paths;
  expect(path!.body).not.toBe('ground');
  if (path!.shape.kind !== 'chain') throw new Error('a chain was to come');
  expect(path!.shape.pieces.map(({ kind }) => kind).sort()).toEqual(['arc', 'arc', 'line', 'line']);
});

test('two faces are measured against each other, and a rectangle chooses what lies in it', async ({ page }) => {
  await openSolids(page, 'Measured');
  await file(page).setInputFiles(
    await glb('blocks.glb', {
      Left: solid({ kind: 'box', size: [0.1, 0.1, 0.1] }, [-0.1, 0, 0]),
      Right: solid({ kind: 'box', size: [0.1, 0.1, 0.06] }, [0.1, 0, 0]),
    }),
  );
  await expect(page.getByText('2 solids of blocks.glb came in')).toBeVisible();
  await page.getByRole('button', { name: 'Front', exact: true }).click();
  const picture = page.getByRole('img', { name: /in depth/ });
  const face = page.getByRole('region', { name: 'Chosen face' });
  await expect(async () => {
    const { x, y, width, height } = (await picture.boundingBox())!;
    const side = 0.16 * Math.min(width, height);
    await page.mouse.click(x + width / 2 - side, y + height / 2);
    await expect(face.getByText(/of Left/)).toBeVisible({ timeout: 3000 });
    await page.keyboard.down('Shift');
    await page.mouse.click(x + width / 2 + side, y + height / 2);
    await page.keyboard.up('Shift');
    await expect(face.getByLabel('Measured').getByText(/^20\smm$/)).toBeVisible({ timeout: 3000 });
  }).toPass();
  await expect(panel(page).getByRole('heading', { name: '2 solids' })).toBeVisible();
  await page.keyboard.press('Escape');
  await page.getByText('Rectangle', { exact: true }).click();
  const { x, y, width, height } = (await picture.boundingBox())!;
  await page.mouse.move(x + 20, y + 40);
  await page.mouse.down();
  await page.mouse.move(x + width / 2, y + height / 2, { steps: 4 });
  await page.mouse.move(x + width / 2, y + height - 60, { steps: 4 });
  await page.mouse.up();
  await expect(panel(page).getByRole('heading', { name: 'Left', exact: true })).toBeVisible();
});

test('a file without a unit asks for it; an open skin says what can be done, and its hull weighs', async ({ page }) => {
  const id = await openSolids(page, 'Open');
  const box = ownMesh({ kind: 'box', size: [0.1, 0.2, 0.3] }, 1e-4);
  await file(page).setInputFiles(stl('open.stl', box, 1));
  const unit = page.getByRole('group', { name: 'Unit of the file' });
  await expect(unit.getByText(/374 across, so\s374\smm as this/)).toBeVisible();
  await unit.getByRole('button', { name: 'Take it so' }).click();
  await expect(page.getByText('One solid of open.stl came in')).toBeVisible();
  await list(page).getByRole('button', { name: /^open/ }).click();
  await expect(panel(page).getByText(/It is open at 3 edges/)).toBeVisible();
  await panel(page).getByRole('button', { name: 'Make a body' }).click();
  await expect(panel(page).getByText(/without open/)).toBeVisible();
  await choose(page, 'What counts as its mass', 'The hull about it');
  await choose(page, 'Material', 'Aluminium');
  await expect(panel(page).getByText(/^16\.2\skg$/)).toBeVisible();
  // A density of one's own becomes a material of the machine.
  await type(panel(page).getByLabel('Density'), '3000');
  await type(panel(page).getByLabel('Keep it as'), 'Heavy stuff');
  await panel(page).getByRole('button', { name: 'Keep as a material' }).click();
  await allSaved(page);
  const machine = await saved(page, id);
  expect(machine.loose.materials).toMatchObject([{ name: 'Heavy stuff', density: 3000 }]);
  const [own] = machine.mechanism.bodies[0]!.solids!;
  expect(own!.shape.kind === 'file' && own!.shape.holds!.volume).toBeCloseTo(0.006, 9);
});

test('a newer file: what is new, gone or changed is told before it is taken; bodies keep what they have', async ({
  page,
}) => {
  const id = await openSolids(page, 'Newer');
  const block = (size: number, at: number) => solid({ kind: 'box', size: [size, 0.1, 0.1] }, [at, 0, 0]);
  await file(page).setInputFiles(await glb('one.glb', { Plate: block(0.1, 0), Cover: block(0.05, 0.3), Foot: block(0.05, 0.5) })); // prettier-ignore
  await list(page).getByRole('button', { name: 'Plate', exact: true }).click();
  await panel(page).getByRole('button', { name: 'Make a body' }).click();
  await expect(page.getByText('“Plate” made.')).toBeVisible();
  await file(page, 1).setInputFiles(await glb('two.glb', { Plate: block(0.2, 0), Foot: block(0.05, 0.5), Lid: block(0.05, 0.7) })); // prettier-ignore
  const changes = page.getByRole('group', { name: 'What the newer file changes' });
  await expect(changes.getByText('Changed: Plate (Plate).')).toBeVisible();
  await expect(changes.getByText('New, not assigned: Lid.')).toBeVisible();
  await expect(changes.getByText('Gone: Cover (unassigned).')).toBeVisible();
  await changes.getByRole('button', { name: 'Leave as it is' }).click();
  await expect(changes).toHaveCount(0);
  await file(page, 1).setInputFiles(await glb('two.glb', { Plate: block(0.2, 0), Foot: block(0.05, 0.5), Lid: block(0.05, 0.7) })); // prettier-ignore
  await changes.getByRole('button', { name: 'Take it' }).click();
  await expect(page.getByText('two.glb has taken its place.')).toBeVisible();
  await allSaved(page);
  const { mechanism } = await saved(page, id);
  const [plate] = mechanism.bodies[0]!.solids!;
  expect(plate!.shape.kind === 'file' && plate!.shape.holds!.volume).toBeCloseTo(0.002, 9);
  expect(mechanism.shapes!.unassigned.map(({ name }) => name).sort()).toEqual(['Foot', 'Lid']);
  expect(mechanism.shapes!.files.map(({ name }) => name)).toEqual(['two.glb']);
});

test('own solids, without a file: sizes, place, turn and a section on the board; a file that is none says so', async ({
  page,
}) => {
  const id = await openSolids(page, 'Own');
  await file(page).setInputFiles({ name: 'broken.step', mimeType: 'text/plain', buffer: readFileSync(join(kernel, 'package.json')) }); // prettier-ignore
  await expect(page.getByText(/This is no STEP file/)).toBeVisible();
  await choose(page, 'Without a file', 'Tube');
  await files(page).getByRole('button', { name: 'Add' }).click();
  await type(panel(page).getByLabel('Outer radius'), '40');
  await type(panel(page).getByLabel('Inner radius'), '50');
  await expect(panel(page).getByText(/Make the hole of a tube smaller/)).toBeVisible();
  await type(panel(page).getByLabel('Inner radius'), '30');
  await type(panel(page).getByLabel('x', { exact: true }), '100');
  await panel(page).getByRole('button', { name: 'about y' }).click();
  await panel(page).getByRole('button', { name: 'Make a body' }).click();
  await expect(page.getByText('“Tube” made.')).toBeVisible();
  await panel(page).getByRole('button', { name: 'Take the section' }).click();
  await expect(page.getByText(/The board draws “Tube” as this section now/)).toBeVisible();
  await allSaved(page);
  const { mechanism } = await saved(page, id);
  const [body] = mechanism.bodies;
  expect(body!.pose.x).toBeCloseTo(0.1, 9);
  // Cut along its axis a tube is two bars, 10 mm by 100 mm: one is taken, and it is said that one is left out.
  const { shape } = body!;
  const area = shape.kind === 'plate' ? shape.outline.reduce((sum, [x, y], i) => sum + (x * shape.outline[(i + 1) % shape.outline.length]![1] - y * shape.outline[(i + 1) % shape.outline.length]![0]) / 2, 0) : 0; // prettier-ignore
  expect(Math.abs(area)).toBeCloseTo(0.001, 5);
  await expect(page.getByText(/One smaller area of the cut left out/)).toBeVisible();
});

test('a side that was chosen while shapes were on their way stays chosen when they come', async ({ page }) => {
  const id = await copyOfDemo(page, 'Plug gantry');
  let letIn = () => {};
  const waits = new Promise<void>((resolve) => (letIn = resolve));
  await page.route('**/api/geometry/*', async (route) => {
    await waits;
    await route.continue();
  });
  await page.goto(`/machine/${id}/build`);
  await page.getByRole('button', { name: 'Solids', exact: true }).click();
  await expect(page.getByText('Loading shapes')).toBeVisible();
  await page.getByRole('button', { name: 'Parallel', exact: true }).click();
  await page.getByRole('button', { name: 'Top', exact: true }).click();
  letIn();
  await expect(page.getByText('Loading shapes')).toHaveCount(0);
  // From above nothing of the lift shows but its top, 680 mm up.
  const face = page.getByRole('region', { name: 'Chosen face' });
  await expect(async () => {
    const at = await findBody(page, 'Lift beam');
    await page.mouse.click(at.x, at.y);
    await expect(face.getByText(/middle at 140\smm, 680\smm, 0\smm/)).toBeVisible({ timeout: 3000 });
  }).toPass();
});

test('a file of very many triangles is turned by hand, and what is pressed then is its true skin', async ({ page }) => {
  await openSolids(page, 'Many');
  const ball = ownMesh({ kind: 'ball', radius: 0.05 }, 5e-5);
  const places = Array.from({ length: 12 }, (_, i) => [`Ball ${i + 1}`, [0.12 * (i % 4), 0.12 * Math.floor(i / 4), 0]] as const); // prettier-ignore
  const moved = ([x, y, z]: readonly number[]) => ({ ...ball, points: ball.points.map((own, k) => own + [x!, y!, z!][k % 3]!) }); // prettier-ignore
  // More than is drawn while the picture moves.
  expect((12 * ball.triangles.length) / 3).toBeGreaterThan(40_000);
  await file(page).setInputFiles(await glb('many.glb', Object.fromEntries(places.map(([name, at]) => [name, moved(at)])))); // prettier-ignore
  await expect(page.getByText('12 solids of many.glb came in')).toBeVisible();
  const box = (await inDepth(page).boundingBox())!;
  await dragBy(page, { x: box.x + 60, y: box.y + box.height - 60 }, 90, -30);
  const at = await findBody(page, 'Ball 6');
  await page.mouse.click(at.x, at.y);
  await expect(panel(page).getByText('Ball 6')).toBeVisible();
  await expect(page.getByRole('region', { name: 'Chosen face' }).getByText(/^Ball Ø\s100\smm/)).toBeVisible();
});
