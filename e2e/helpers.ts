import { expect, type APIResponse, type Locator, type Page } from '@playwright/test';
import { newAxis, newMachine, type Axis, type Machine } from '@yoke/core';

/** Posts to the API as the application's own page would: from elsewhere nothing is taken. */
export const post = (page: Page, path: string, data?: unknown): Promise<APIResponse> =>
  page.request.post(path, {
    data,
    headers: { Origin: new URL(process.env.YOKE_URL ?? 'http://127.0.0.1:4600').origin },
  });

/** Makes a machine over the API and opens it at a stage. */
export async function openNew(
  page: Page,
  name: string,
  options: { stage?: string; kind?: Axis['kind']; change?: (machine: Machine) => void } = {},
): Promise<string> {
  const machine = newMachine(name);
  machine.axes.push(newAxis(options.kind ?? 'linear', [], 2));
  options.change?.(machine);
  const response = await post(page, '/api/machines', machine);
  expect(response.status()).toBe(201);
  const { id } = (await response.json()) as { id: string };
  await page.goto(`/machine/${id}/${options.stage ?? 'build'}`);
  await expect(page.getByRole('region', { name: 'Cycle diagram' })).toBeVisible();
  return id;
}

/** Waits until a machine is listed, however many stand before it. */
export async function listed(page: Page, name: string): Promise<void> {
  const link = page.getByRole('link', { name, exact: true }).first();
  const more = page.getByRole('button', { name: 'Show more machines' });
  await expect(link.or(more).first()).toBeVisible();
  await expect(async () => {
    if (!(await link.isVisible())) await more.click();
    await expect(link).toBeVisible({ timeout: 2000 });
  }).toPass();
}

/** The document as the server has it. */
export async function saved(page: Page, id: string): Promise<Machine> {
  return (await page.request.get(`/api/machines/${id}`)).json() as Promise<Machine>;
}

/** Waits until everything is saved. */
export async function allSaved(page: Page): Promise<void> {
  await expect(page.getByRole('status').filter({ hasText: /^Saved$/ })).toBeVisible();
}

/** Types a quantity into a box and leaves it with Enter. */
export async function type(box: Locator, text: string): Promise<void> {
  await box.fill(text);
  await box.press('Enter');
}

/** Waits until nothing is computed or moves on the page: three frames alike, no transition under way. */
export async function still(page: Page): Promise<void> {
  await expect(page.locator('[aria-busy="true"]')).toHaveCount(0);
  await page.evaluate(async () => {
    await document.fonts.ready;
    for (let before = '', alike = 0; alike < 3;) {
      await new Promise(requestAnimationFrame);
      const now = document.body.innerHTML;
      const moving = document.getAnimations().some(({ playState }) => playState === 'running');
      alike = now === before && !moving ? alike + 1 : 0;
      before = now;
    }
  });
}

export const stage = (page: Page, name: string | RegExp): Locator =>
  page.getByRole('navigation').getByRole('link', { name });

/** Chooses an entry of a drop-down. */
export async function choose(page: Page, label: string, entry: string): Promise<void> {
  await page.getByRole('combobox', { name: label, exact: true }).click({ force: true });
  await page.getByRole('listbox', { name: label, exact: true }).getByRole('option', { name: entry }).first().click();
}

/** Makes a copy of a demonstration machine, so that tests beside this one are not disturbed; gives its identifier. */
export async function copyOfDemo(page: Page, name: string, change?: (machine: Machine) => void): Promise<string> {
  const machines = (await (await page.request.get('/api/machines?limit=500')).json()) as { id: string; name: string }[];
  const demo = machines.find((machine) => machine.name === name)!;
  const copy = (await (await post(page, `/api/machines/${demo.id}/duplicate`)).json()) as { id: string };
  if (change) {
    const read = await page.request.get(`/api/machines/${copy.id}`);
    const machine = (await read.json()) as Machine;
    change(machine);
    const headers = { 'If-Match': read.headers().etag!, Origin: new URL(read.url()).origin };
    expect((await page.request.put(`/api/machines/${copy.id}`, { data: machine, headers })).status()).toBe(200);
  }
  return copy.id;
}

/** An empty machine on its drawing board, and a way to press at places given in steps of the board. */
export async function emptyBoard(page: Page, name: string) {
  const machine = newMachine(name);
  machine.cycle = { given: 'time', time: 1 };
  const response = await post(page, '/api/machines', machine);
  const { id } = (await response.json()) as { id: string };
  await page.goto(`/machine/${id}/build`);
  await page.getByRole('button', { name: 'Mechanism', exact: true }).click();
  const board = page.getByRole('application', { name: 'Drawing board' });
  await expect(board).toBeVisible();
  // What stands above may still be growing: a hand, too, waits until the board stands still.
  await still(page);
  const box = (await board.boundingBox())!;
  const at = (x: number, y: number) => ({ x: box.x + 120 + x, y: box.y + box.height - 130 - y });
  const tool = (label: string) =>
    page.getByRole('toolbar', { name: 'Drawing tools' }).getByRole('button', { name: label, exact: true }).click();
  const drag = async (from: [number, number], to: [number, number]) => {
    const [a, b] = [at(...from), at(...to)];
    await page.mouse.move(a.x, a.y);
    await page.mouse.down();
    await page.mouse.move((a.x + b.x) / 2, (a.y + b.y) / 2);
    await page.mouse.move(b.x, b.y);
    await page.mouse.up();
  };
  const click = async (x: number, y: number) => {
    const p = at(x, y);
    await page.mouse.click(p.x, p.y);
  };
  return { id, tool, drag, click, at };
}

/** A board with a bar from here to the right that turns on the ground. */
export async function groundedBar(page: Page, name: string, length: number) {
  const board = await emptyBoard(page, name);
  await board.tool('Bar');
  await board.drag([0, 0], [length, 0]);
  await board.tool('Ground pin');
  await board.click(0, 0);
  return board;
}

/** Makes a plate of an SVG drawing in millimetres on the board that is open; what is read of it is told before. */
export async function plateOf(page: Page, svg: string, told: readonly string[] = []): Promise<void> {
  await choose(page, 'Panel', 'Outline from a drawing');
  const panel = page.getByLabel('Outline from a drawing');
  await panel
    .locator('input[type=file]')
    .setInputFiles({ name: 'cheek.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(svg) });
  for (const text of told) await expect(panel).toContainText(text);
  await choose(page, 'Unit of the file', 'Millimetre');
  await panel.getByRole('button', { name: 'Make a plate of it' }).click();
}
