// In the browser: a file of 200 solids and half a million triangles, and clearances of 20 pairs in their thread.
import type { APIRequestContext, BrowserContext, Page } from '@playwright/test';
import {
  addJoint,
  addPlate,
  addSolid,
  bodyPoint,
  groundPoint,
  newDrive,
  newMachine,
  STEEL,
  type Machine,
} from '@yoke/core';
import { packGeometry } from '@yoke/core/geometry-file';
import { ownMesh, triangleCount } from '@yoke/core/solid';

/** Times of pictures while the view is turned, ms. */
async function turning(page: Page): Promise<number> {
  const box = (await page.getByRole('img', { name: /in depth: / }).boundingBox())!;
  await page.evaluate(`
    window.pictures = [];
    window.turning = true;
    requestAnimationFrame(function tick(now) { window.pictures.push(now); if (window.turning) requestAnimationFrame(tick); });
  `);
  await page.mouse.move(box.x + 40, box.y + box.height - 40);
  await page.mouse.down();
  for (let i = 0; i < 30; i++) await page.mouse.move(box.x + 40 + 6 * i, box.y + box.height - 40);
  await page.mouse.up();
  return page.evaluate<number>(`
    window.turning = false;
    window.pictures.slice(1).map((time, i) => time - window.pictures[i]).sort((a, b) => a - b)[window.pictures.length >> 1];
  `);
}

async function manyTriangles(context: BrowserContext, api: APIRequestContext, url: string): Promise<void> {
  const measured: { triangles: number; importing: number; frame: number; heap: number }[] = [];
  for (const chord of [0.0014, 0.0019, 0.02]) {
    const mesh = ownMesh({ kind: 'ball', radius: 0.03 }, 0.03 * chord);
    const solids = Array.from({ length: 200 }, (_, i) => ({
      key: `Part ${i + 1}`,
      mesh: { ...mesh, points: mesh.points.map((own, k) => own + 0.08 * [i % 10, Math.floor(i / 10) % 5, Math.floor(i / 50)][k % 3]!) }, // prettier-ignore
    }));
    const answer = await api.post('/api/machines', { data: { ...newMachine('Many triangles'), axes: [] } });
    const { id } = (await answer.json()) as { id: string };
    const page = await context.newPage();
    await page.goto(`${url}/machine/${id}/build`);
    await page.getByRole('button', { name: 'Solids', exact: true }).click();
    const started = Date.now();
    await page
      .getByRole('region', { name: 'Files of geometry' })
      .locator('input[type=file]')
      .first()
      .setInputFiles({ name: 'many.glb', mimeType: 'model/gltf-binary', buffer: Buffer.from(await packGeometry(solids)) }); // prettier-ignore
    await page.getByText('200 solids of many.glb came in').waitFor({ timeout: 0 });
    const importing = Date.now() - started;
    await page.waitForTimeout(3000);
    // Once to find out how quick this machine is, and once to measure.
    await turning(page);
    const frame = await turning(page);
    const heap = await page.evaluate<number>('performance.memory.usedJSHeapSize');
    measured.push({ triangles: 200 * triangleCount(mesh), importing, frame, heap });
    await page.close();
    const { etag } = (await api.get(`/api/machines/${id}`)).headers();
    await api.delete(`/api/machines/${id}`, { headers: { 'If-Match': etag! } });
  }
  const few = measured.at(-1)!;
  for (const { triangles, importing, frame, heap } of measured.slice(0, 2))
    console.log(
      `200 solids of ${triangles.toLocaleString('en-GB')} triangles in the browser: imported in ${importing} ms, a picture while turning ${frame.toFixed(0)} ms (rendered by software), ${(heap / 1e6).toFixed(0)} MB of objects; ratio to the same of ${few.triangles.toLocaleString('en-GB')} triangles ${(importing / few.importing).toFixed(1)}, ${(frame / few.frame).toFixed(1)} and ${(heap / few.heap).toFixed(1)}`,
    );
}

/** Seven bodies with a ball each that slide past each other: 21 pairs. */
function sliders(): Machine {
  const machine = newMachine('Sliders');
  machine.axes = [];
  machine.step = 0.001;
  machine.cycle = { given: 'time', time: 1 };
  const m = machine.mechanism;
  for (let i = 0; i < 7; i++) {
    const y = 0.08 * i;
    const body = addPlate(m, [[0, y], [0.02, y], [0.02, y + 0.02], [0, y + 0.02]], `Block ${i + 1}`); // prettier-ignore
    const slide = addJoint(m, 'slide', groundPoint(m, [0, y]), bodyPoint(m, body.id, [0, y]), { direction: 0 });
    machine.axes.push(newDrive(machine, slide, 0, i % 2 === 0 ? 0.2 : -0.2));
    addSolid(m, body.id, { name: 'Ball', colour: null, shape: { kind: 'ball', radius: 0.035 }, at: [0, 0, 0], turn: [1, 0, 0, 0], density: STEEL }); // prettier-ignore
  }
  return machine;
}

async function pairs(context: BrowserContext, api: APIRequestContext, url: string): Promise<void> {
  const { id } = (await (await api.post('/api/machines', { data: sliders() })).json()) as { id: string };
  const page = await context.newPage();
  await page.goto(`${url}/machine/${id}/run`);
  await page.getByRole('button', { name: 'Clearances', exact: true }).click();
  const search = page.getByRole('button', { name: 'Search all pairs' });
  const taken = async (): Promise<number> => {
    const started = Date.now();
    await search.click();
    await page.getByText('Clearances are computed').waitFor({ timeout: 0 });
    await page.getByText('Clearances are computed').waitFor({ state: 'detached', timeout: 0 });
    return Date.now() - started;
  };
  await page.waitForTimeout(3000);
  const exact = await taken();
  const chosen = page.getByRole('combobox', { name: 'All pairs', exact: true });
  await chosen.click({ force: true });
  await page.getByRole('option', { name: /On hulls/ }).click();
  const quick = await taken();
  console.log(
    `21 pairs over 1,001 poses in their thread: ${exact} ms on true shapes, ${quick} ms on hulls; ratio ${(exact / quick).toFixed(2)}`,
  );
  await page.close();
  const { etag } = (await api.get(`/api/machines/${id}`)).headers();
  await api.delete(`/api/machines/${id}`, { headers: { 'If-Match': etag! } });
}

export async function benchShapesInBrowser(
  context: BrowserContext,
  api: APIRequestContext,
  url: string,
): Promise<void> {
  await manyTriangles(context, api, url);
  await pairs(context, api, url);
}
