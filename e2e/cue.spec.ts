import { expect, test, type Page } from '@playwright/test';
import { allSaved, choose, copyOfDemo, listed, openNew, saved, stage, type } from './helpers';

const part = (page: Page, name: string) =>
  page.getByRole('navigation', { name: 'Parts of Cue' }).getByRole('button', { name }).click();
const side = (page: Page, name: string | RegExp) =>
  page.getByRole('navigation', { name: 'Beside' }).getByRole('button', { name }).click();
const row = (page: Page, name: string) =>
  page
    .getByRole('region', { name: 'Cue sheet' })
    .getByRole('row')
    .filter({ has: page.getByRole('button', { name, exact: true }) });
const pick = (page: Page, name: string) => row(page, name).getByRole('button', { name, exact: true }).click();
/** What stands behind a word of the cycle's facts, in s. */
const fact = async (page: Page, name: string): Promise<number> => {
  const text = await page.locator('.chain .facts div').filter({ hasText: name }).locator('dd').textContent();
  return parseFloat(text ?? 'NaN');
};

/** Adds a cue for an axis: its name, where to, in what time. */
async function addMove(page: Page, axis: string, name: string, to: string, time: string): Promise<void> {
  await page.getByRole('button', { name: 'Add a cue' }).click();
  await side(page, 'Cue');
  await type(page.getByLabel('Cue', { exact: true }), name);
  await choose(page, 'Axis', axis);
  const lead = page.getByRole('button', { name: 'Let cues lead it' });
  if (await lead.first().isVisible()) await lead.first().click();
  await type(page.getByLabel('Moves to'), to);
  await type(page.getByLabel('In', { exact: true }), time);
}

test('a pick-and-place from an empty machine: cues, sensors, mirror, split, deadlock, chain, motor', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('button', { name: '… empty' }).click();
  await page.getByRole('button', { name: 'Cycle, axes and drive trains' }).click();
  for (const [i, name] of ['Traverse', 'Lift', 'Stop'].entries()) {
    await page.getByRole('button', { name: 'Add a slide' }).click();
    await expect(page.getByRole('region', { name: 'Machine', exact: true }).getByRole('listitem')).toHaveCount(i + 1);
    await type(page.getByRole('region', { name: 'Axis', exact: true }).getByLabel('Name'), name);
  }
  const id = /machine\/([^/]+)/.exec(page.url())![1]!;

  // A belt that brings parts past an eye.
  await stage(page, 'Cue').click();
  await part(page, 'Loose parts');
  for (const list of ['Belts', 'Kinds of part', 'Sources'])
    await page.getByRole('button', { name: `Add: ${list}` }).click();
  await part(page, 'Sensors');
  await page.getByRole('button', { name: 'Add the sensor' }).click();
  await type(page.getByLabel('Sensor', { exact: true }), 'Part eye');
  await choose(page, 'Kind of sensor', 'Axis past a value');
  await page.getByRole('button', { name: 'Add the sensor' }).click();
  await type(page.getByLabel('Sensor', { exact: true }), 'Lift low');
  await choose(page, 'Axis', 'Lift');
  await type(page.getByLabel('Value'), '75 mm');

  // Down, across when the lift is low enough, and the stop out.
  await part(page, 'Sheet');
  await addMove(page, 'Lift', 'Lift down', '80 mm', '0.3 s');
  await type(page.getByLabel('When', { exact: true }), 'Part eye comes on');
  await addMove(page, 'Traverse', 'Traverse out', '200 mm', '0.5 s');
  await addMove(page, 'Stop', 'Stop out', '50 mm', '0.2 s');
  await expect(row(page, 'Stop out')).toContainText('Traverse out');
  await expect(row(page, 'Stop out')).toContainText(/\d×/);

  // The way back by mirroring.
  await pick(page, 'Lift down');
  await row(page, 'Traverse out').click({ modifiers: ['Shift'] });
  await row(page, 'Stop out').click({ modifiers: ['Shift'] });
  await page.getByRole('button', { name: 'Mirror' }).click();
  await expect(row(page, 'Lift down back')).toContainText(/\d×/);
  await allSaved(page);
  const machine = await saved(page, id);
  expect(machine.sequence.cues.map(({ name }) => name)).toEqual([
    'Lift down',
    'Traverse out',
    'Stop out',
    'Stop out back',
    'Traverse out back',
    'Lift down back',
  ]);
  const back = machine.sequence.cues.at(-1)!.action;
  expect(back).toMatchObject({ do: 'move', value: 0, time: 0.3 });

  // The eye moved on by 100 mm at 200 mm/s: all that follows comes half a second later.
  await side(page, 'Events');
  const firstMove = async () =>
    parseFloat(
      (await page
        .getByRole('list', { name: 'Event log' })
        .getByRole('listitem')
        .filter({ hasText: 'Lift moves' })
        .first()
        .locator('.figures')
        .textContent())!,
    );
  await expect.poll(firstMove).toBeGreaterThan(0.5);
  const before = await firstMove();
  await part(page, 'Sensors');
  await page.getByRole('button', { name: 'Part eye', exact: true }).click();
  for (const end of ['From x', 'To x']) {
    const box = page.getByLabel(end);
    await type(box, `${Number(await box.inputValue()) + 100} mm`);
  }
  await side(page, 'Events');
  await expect.poll(async () => (await firstMove()) - before).toBeGreaterThan(0.45);
  expect((await firstMove()) - before).toBeCloseTo(0.5, 2);

  // A wait put in by splitting.
  await part(page, 'Sheet');
  await pick(page, 'Traverse out');
  await page.getByRole('button', { name: 'Split' }).click();
  await expect(row(page, 'Traverse out waits')).toContainText('wait 0.2');
  await expect(row(page, 'Traverse out goes on')).toContainText('200');

  // A deadlock made on purpose, explained, and taken back.
  await pick(page, 'Lift down');
  await side(page, 'Cue');
  await page.getByRole('combobox', { name: 'After', exact: true }).click({ force: true });
  await page.getByRole('option', { name: 'Lift down back', exact: true }).click();
  await page.keyboard.press('Escape');
  await side(page, /Findings/);
  await expect(page.getByRole('list', { name: 'Findings' })).toContainText(
    'Deadlock: “Lift down” waits for “Lift down back”',
  );
  await expect(page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name: 'Cue' })).toContainText(
    'Deadlock',
  );
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('list', { name: 'Findings' })).not.toContainText('Deadlock');

  // One cycle, shortened along its chain.
  await part(page, 'Rules');
  await type(page.getByLabel('Ends after cycles'), '1');
  await choose(page, 'Begins with the cue', 'Lift down');
  await side(page, 'Cycle');
  const chain = page.getByRole('table', { name: 'Critical chain' });
  await expect.poll(() => fact(page, 'Mean cycle')).toBeGreaterThan(0);
  // Parts come every 2 s, and nothing else holds the cycle up.
  await expect.poll(() => fact(page, 'Mean cycle')).toBeCloseTo(2, 2);
  await expect(chain).toContainText(/releases part \d+ … Part eye on/);
  // The chain names the parts: let them come sooner.
  await part(page, 'Loose parts');
  await page.getByRole('button', { name: 'Source', exact: true }).click();
  await type(page.getByLabel('Then every'), '1.9 s');
  await expect.poll(() => fact(page, 'Mean cycle')).toBeCloseTo(1.9, 2);

  // The motor of the lift is ranked from that cycle.
  await stage(page, 'Size').click();
  await page.getByRole('region', { name: 'Cycle diagram' }).getByRole('button', { name: /^Lift/ }).click();
  await expect(page.getByLabel('Ranking').locator('.why')).toContainText('is the lightest of the');
});

test('the transplanter: rows, moves over time, graph; a late plug is waited for and told', async ({ page }) => {
  const id = await copyOfDemo(page, 'Seedling transplanter');
  await page.goto(`/machine/${id}/cue`);
  await expect(row(page, 'Plug taken')).toContainText('12×');
  await side(page, /Findings/);
  await expect(page.getByRole('list', { name: 'Findings' })).toContainText('A plug is late');
  await side(page, 'Cycle');
  expect(await fact(page, 'Cycles')).toBe(12);
  await part(page, 'Graph');
  await expect(page.locator('.vue-flow__node')).toHaveCount(33);
  // It can be read, fits its width, and stays where it is put when a cue is chosen.
  const shownAs = () => page.locator('.vue-flow__transformationpane').evaluate(({ style }) => style.transform);
  await expect.poll(async () => Number(/scale\(([\d.]+)\)/.exec(await shownAs())?.[1])).toBeGreaterThan(0.7);
  const node = page.locator('.vue-flow__node').first();
  await page.mouse.move(300, 500);
  await page.mouse.wheel(0, 300);
  const moved = await shownAs();
  await node.dispatchEvent('click');
  await expect(node.locator('.cue')).toHaveClass(/chosen/);
  expect(await shownAs()).toBe(moved);
  await part(page, 'Over time');
  await choose(page, 'Stretch shown', 'Cycle 3');
  const diagram = page.getByRole('region', { name: 'Cues over time' });
  const move = diagram.getByRole('button', { name: /^Arm to tray/ });
  await expect(move).toBeVisible();
  // Shifted by keys, the cue starts later and all behind it.
  await move.focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await allSaved(page);
  expect((await saved(page, id)).sequence.cues.find(({ name }) => name === 'Arm to tray')!.delay).toBeCloseTo(0.02, 9);
  await page.getByRole('button', { name: 'Undo' }).click();
  // Several are chosen by a box drawn on the ground, and one more by Ctrl.
  const chosen = diagram.locator('g.move.chosen');
  const lanes = (await diagram.locator('.area svg').boundingBox())!;
  const bar = (await move.boundingBox())!;
  await page.mouse.move(lanes.x + 20, bar.y - 2);
  await page.mouse.down();
  await page.mouse.move(lanes.x + 200, bar.y + 20, { steps: 3 });
  await page.mouse.move(lanes.x + lanes.width - 4, bar.y + bar.height + 50, { steps: 3 });
  await page.mouse.up();
  const many = await chosen.count();
  expect(many).toBeGreaterThan(1);
  await move.click({ modifiers: ['Control'], position: { x: 4, y: 8 } });
  await expect(chosen).toHaveCount(many - 1);
  // Closer, and back.
  const wide = (await move.boundingBox())!.width;
  await diagram.getByRole('button', { name: 'Zoom in' }).click();
  await expect.poll(async () => (await move.boundingBox())!.width).toBeGreaterThan(wide * 1.3);
  await diagram.getByRole('button', { name: 'All of it' }).click();
  await expect.poll(async () => (await move.boundingBox())!.width).toBeLessThan(wide * 1.1);
  // Dragged before the one it comes after, it asks; nothing is done without an answer.
  const pull = async (name: RegExp) => {
    const at = (await diagram.getByRole('button', { name }).first().boundingBox())!;
    await page.mouse.move(at.x + at.width / 3, at.y + at.height / 2);
    await page.mouse.down();
    await page.mouse.move(at.x + at.width / 3 - 40, at.y + at.height / 2, { steps: 4 });
    await page.mouse.up();
  };
  const asks = page.getByRole('alertdialog', { name: 'Before it' });
  await pull(/^Arm to tray/);
  await expect(asks).toContainText('cannot start earlier: it waits for its condition');
  await pull(/^Jaw closes/);
  await expect(asks).toContainText('would start before that has ended');
  const earlier = await saved(page, id);
  await asks.getByRole('button', { name: 'Start along with it' }).click();
  await expect(asks).toBeHidden();
  await allSaved(page);
  const own = ({ sequence }: typeof earlier) => sequence.cues.find(({ name }) => name === 'Jaw closes')!;
  expect(own(await saved(page, id)).after).not.toEqual(own(earlier).after);
});

test('a condition that cannot be read says where and what, and is not lost', async ({ page }) => {
  await openNew(page, 'Conditions', { stage: 'cue' });
  await page.getByRole('button', { name: 'Add a cue' }).click();
  await side(page, 'Cue');
  const when = page.getByLabel('When', { exact: true });
  await type(when, 'Slide at rest and Sldie at rest');
  await expect(page.getByRole('alert')).toContainText('“Sldie” is no sensor, flag, cue, axis or gripper');
  await expect(when).toHaveValue('Slide at rest and Sldie at rest');
  await type(when, 'Slide at rest and time 0.5 s');
  await expect(page.getByRole('alert')).toBeHidden();
  await expect(row(page, 'Slide moves')).toContainText('Slide at rest and time 0.5');
});

test('two friction variants of the seed chute stand side by side', async ({ page }) => {
  const id = await copyOfDemo(page, 'Seed chute');
  await page.goto(`/machine/${id}/cue`);
  await page.getByLabel('Variant beside it').selectOption({ label: 'beside: Dusty chute' });
  await expect(page.getByRole('img', { name: 'As it is' })).toBeVisible();
  await expect(page.getByRole('img', { name: 'Dusty chute' })).toBeVisible();
});

test('many runs on the server: progress, spread, and the worst case in one click', async ({ page }) => {
  const id = await copyOfDemo(page, 'Seed chute');
  await page.goto(`/machine/${id}/cue?part=many`);
  await type(page.getByLabel('Runs', { exact: true }), '6');
  await page.getByRole('button', { name: 'Run 6 times' }).click();
  await expect(page.getByRole('img', { name: 'Distribution of Missed parts' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Run 6 times' })).toBeVisible();
  await page.reload();
  await expect(page.getByRole('img', { name: 'Distribution of Missed parts' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Run 6 times' })).toBeVisible();
  await page.getByRole('button', { name: 'Open the worst case' }).click();
  await expect(page.getByText('One of many scattered runs is shown')).toBeVisible();
  await page.getByRole('button', { name: 'Back to the machine’s own' }).click();
  await expect(page.getByText('One of many scattered runs is shown')).toBeHidden();
});

/** Where every run came from, since the page was loaded. */
const runsOf = (page: Page) =>
  page.evaluate(() =>
    (performance.getEntriesByName('yoke-run') as PerformanceMark[]).map(
      ({ detail }) => (detail as { from: string }).from,
    ),
  );

test('on the first start of a browser the transplanter opens by itself, once, with its result', async ({
  browser,
  baseURL,
}) => {
  const context = await browser.newContext({ storageState: { cookies: [], origins: [] } });
  const page = await context.newPage();
  await page.goto(baseURL!);
  await expect(page).toHaveURL(/\/cue/);
  await expect(page.getByRole('region', { name: 'Cues over time' })).toBeVisible();
  // It came with the page: nothing was computed.
  await expect.poll(() => runsOf(page)).toEqual(['kept']);
  await page.goto(baseURL!);
  await listed(page, 'Seedling transplanter');
  await context.close();
});

test('a cycle is computed once: its first second plays meanwhile, other parts, a name and a reload find it there', async ({
  page,
}) => {
  // The result of the machine as it is comes with the page; this one is another.
  const id = await copyOfDemo(page, 'Seedling transplanter', ({ sequence }) => void (sequence.seed += 1));
  await page.goto(`/machine/${id}/cue`);
  const runs = () => runsOf(page);
  await expect(
    page.getByRole('status').filter({ hasText: /what is shown and can be played is its first 1\ss/ }),
  ).toBeVisible();
  await expect.poll(runs).toEqual(['computed']);
  for (const name of ['Over time', 'Sensors', 'Rules', 'Sheet']) await part(page, name);
  await stage(page, 'Run').click();
  await stage(page, 'Cue').click();
  expect(await runs()).toEqual(['computed']);
  await pick(page, 'Dibber down');
  await side(page, 'Cue');
  await type(page.getByLabel('Cue', { exact: true }), 'Dibber down again');
  await allSaved(page);
  await expect.poll(runs).toEqual(['computed', 'kept']);
  await page.waitForFunction(
    () =>
      new Promise((resolve) => {
        const open = indexedDB.open('yoke-results');
        open.onsuccess = () => {
          const asked = open.result.transaction('results').objectStore('results').getAllKeys();
          asked.onsuccess = () => (
            open.result.close(),
            resolve(asked.result.some((key) => String(key).startsWith('run:')))
          );
        };
      }),
  );
  await page.reload();
  await expect.poll(runs).toEqual(['kept']);
  await expect(page.getByRole('region', { name: 'Cue sheet' })).toBeVisible();
});

test('the result of a kept run is on the server: another browser computes nothing', async ({
  page,
  browser,
  baseURL,
}) => {
  const id = await copyOfDemo(page, 'Seedling transplanter', ({ sequence }) => void (sequence.seed += 2));
  const asked = page.waitForRequest((request) => request.url().includes('/api/results/'));
  await page.goto(`/machine/${id}/run`);
  const result = (await asked).url();
  await expect.poll(() => runsOf(page)).toEqual(['computed']);
  const compare = page.getByLabel('Compare and traces');
  await compare.getByLabel('Name of this run').fill('To be kept');
  await compare.getByRole('button', { name: 'Keep this run' }).click();
  await expect(compare).toContainText('Kept “To be kept”');
  await expect.poll(async () => (await page.request.get(result)).status()).toBe(200);
  const context = await browser.newContext({ storageState: { cookies: [], origins: [] }, baseURL: baseURL! });
  const other = await context.newPage();
  await other.goto(`/machine/${id}/run`);
  await expect.poll(() => runsOf(other)).toEqual(['kept']);
  await context.close();
});
