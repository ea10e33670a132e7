import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { expect, test, type Page } from '@playwright/test';
import { newAxis, newMachine } from '@yoke/core';
import { allSaved, choose, copyOfDemo, openNew, post, saved, type } from './helpers';

/** What a stranger's page may try: every request that a page can send without asking. */
const ATTACK = (target: string, id: string) => `<!doctype html><title>Elsewhere</title><body><script>
  const tries = [
    ['POST', '/api/motors/import?mode=replace', 'text/plain', 'type\\nstolen'],
    ['POST', '/api/motors/reset', 'text/plain', ''],
    ['POST', '/api/machines/${id}/duplicate', 'text/plain', ''],
    ['POST', '/api/machines/${id}/restore', 'application/x-www-form-urlencoded', ''],
    ['POST', '/api/machines', 'text/plain', JSON.stringify(${JSON.stringify(newMachine('Planted'))})],
  ];
  const outcomes = [];
  Promise.all(tries.map(([method, path, type, body]) =>
    Promise.all(['no-cors', 'cors'].map((mode) =>
      fetch('${target}' + path, { method, mode, headers: { 'Content-Type': type }, body })
        .then((r) => outcomes.push(r.type), (e) => outcomes.push('refused')))
  ))).then(() => {
    const form = document.createElement('form');
    form.method = 'post'; form.enctype = 'text/plain'; form.action = '${target}/api/motors/import?mode=replace';
    form.innerHTML = '<input name="type" value="stolen">';
    const frame = document.createElement('iframe'); frame.name = 'sink'; form.target = 'sink';
    frame.onload = () => { document.title = 'done'; };
    document.body.append(frame, form); form.submit();
  });
</script>`;

test('a page on another port changes nothing', async ({ page, baseURL }) => {
  const id = ((await (await post(page, '/api/machines', newMachine('Attacked'))).json()) as { id: string }).id;
  const names = async () =>
    ((await (await page.request.get('/api/machines?limit=500')).json()) as { name: string }[]).map(({ name }) => name);
  const motors = await (await page.request.get('/api/motors')).text();
  const server = createServer((_request, response) => {
    response.setHeader('Content-Type', 'text/html');
    response.end(ATTACK(baseURL!, id));
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const sent: string[] = [];
  const answers: number[] = [];
  page.on('request', (request) => {
    if (request.url().startsWith(`${baseURL!}/api`) && request.method() === 'POST') sent.push(request.url());
  });
  page.on('response', (response) => {
    if (response.url().startsWith(`${baseURL!}/api`) && response.request().method() === 'POST')
      answers.push(response.status());
  });
  await page.goto(`http://127.0.0.1:${(server.address() as AddressInfo).port}/`);
  await expect(page).toHaveTitle('done');
  server.close();
  // Most answers are kept from the page by their own headers; that the requests went out is what counts.
  expect(sent.length).toBeGreaterThanOrEqual(6);
  expect(answers.filter((status) => status !== 403)).toEqual([]);
  expect(await (await page.request.get('/api/motors')).text()).toBe(motors);
  expect((await names()).filter((name) => /Planted|Attacked \(copy\)/.test(name))).toEqual([]);
});

/** Ends a window as a crash does: nothing of it gets a chance to save. */
async function crash(page: Page): Promise<void> {
  await page.close({ runBeforeUnload: false });
}

test('edits of a window that crashed are kept in the browser, offered and taken back', async ({ page, context }) => {
  const id = await openNew(page, 'Crashed');
  await page.route('**/api/machines/*', (route) =>
    route.request().method() === 'PUT' ? route.abort() : route.continue(),
  );
  await type(page.getByLabel('Moving mass'), '6');
  await expect(page.getByRole('alert')).toContainText('Your changes are kept here');
  await crash(page);
  expect((await saved(await context.newPage(), id)).axes[0]!.load.inertia).toBe(5);

  const again = await context.newPage();
  await again.goto(`/machine/${id}/build`);
  const offer = again.getByRole('status', { name: 'Unsaved changes' });
  await expect(offer).toContainText('had not been saved when their window ended');
  await expect(again.getByLabel('Moving mass')).toHaveValue('5');
  await offer.getByRole('button', { name: 'Take them back' }).click();
  await expect(again.getByLabel('Moving mass')).toHaveValue('6');
  await expect(offer).toBeHidden();
  await allSaved(again);
  expect((await saved(again, id)).axes[0]!.load.inertia).toBe(6);
  await again.keyboard.press('Control+z');
  await expect(again.getByLabel('Moving mass')).toHaveValue('5');
  await allSaved(again);
  await again.reload();
  await expect(again.getByLabel('Moving mass')).toHaveValue('5');
  await expect(offer).toBeHidden();
});

test('what was saved is not offered again, and an open window’s edits are not offered in another', async ({
  page,
  context,
}) => {
  const id = await openNew(page, 'Two windows');
  await type(page.getByLabel('Moving mass'), '6');
  await allSaved(page);
  await page.route('**/api/machines/*', (route) =>
    route.request().method() === 'PUT' ? route.abort() : route.continue(),
  );
  await type(page.getByLabel('Moving mass'), '9');
  await expect(page.getByRole('alert')).toContainText('Your changes are kept here');
  const other = await context.newPage();
  await other.goto(`/machine/${id}/build`);
  await expect(other.getByLabel('Moving mass')).toHaveValue('6');
  await expect(other.getByRole('status', { name: 'Unsaved changes' })).toBeHidden();
});

test('a save whose answer is lost is no conflict', async ({ page }) => {
  const id = await openNew(page, 'Lost answer');
  let lost = 0;
  await page.route('**/api/machines/*', async (route) => {
    if (route.request().method() !== 'PUT' || lost > 0) return route.continue();
    lost++;
    // The server saves it; the page never hears of that.
    await route.fetch();
    await route.abort();
  });
  await type(page.getByLabel('Moving mass'), '6');
  await allSaved(page);
  expect(lost).toBe(1);
  await type(page.getByLabel('Moving mass'), '7');
  await allSaved(page);
  await expect(page.getByRole('alert')).toBeHidden();
  expect((await saved(page, id)).axes[0]!.load.inertia).toBe(7);
});

test('deleted machines are listed with their last day, and restored', async ({ page }) => {
  await post(page, '/api/machines', newMachine('Old shelf'));
  await page.goto('/');
  await page.getByRole('button', { name: 'Delete Old shelf' }).click();
  await expect(page.getByRole('link', { name: 'Old shelf', exact: true })).toBeHidden();
  const deleted = page.getByRole('region', { name: 'Deleted machines' });
  await deleted.getByRole('button', { name: 'Deleted machines' }).click();
  await expect(deleted.getByRole('listitem').filter({ hasText: 'Old shelf' })).toContainText('goes for good');
  await deleted.getByRole('button', { name: 'Restore Old shelf' }).click();
  await expect(page.getByRole('link', { name: 'Old shelf', exact: true })).toBeVisible();
  await expect(deleted.getByRole('listitem').filter({ hasText: 'Old shelf' })).toBeHidden();
});

/** A DXF of lines that lie apart. */
const lines = (n: number) =>
  ['0', 'SECTION', '2', 'ENTITIES']
    .concat(
      Array.from({ length: n }, (_, i) =>
        ['0', 'LINE', '8', '0', '10', `${3 * i}`, '20', '0', '11', `${3 * i + 1}`, '21', '1'].join('\n'),
      ),
      ['0', 'ENDSEC', '0', 'EOF', ''],
    )
    .join('\n');
const file = (name: string, content: string) => ({ name, mimeType: 'text/plain', buffer: Buffer.from(content) });

test('a drawing of 50,000 lines is read beside the page, one too large is refused, reading can be cancelled', async ({
  page,
}) => {
  await openNew(page, 'Hostile drawings');
  await page.getByRole('button', { name: 'Mechanism', exact: true }).click();
  await choose(page, 'Panel', 'Outline from a drawing');
  const panel = page.getByRole('region', { name: 'Outline from a drawing' });
  const input = panel.locator('input[type=file]');
  await input.setInputFiles(file('lines.dxf', lines(50_000)));
  // The page answers meanwhile.
  await page.getByRole('button', { name: 'Mechanism', exact: true }).hover();
  await expect(panel).toContainText('0 closed lines, 50000 open');
  await input.setInputFiles(file('huge.dxf', ' '.repeat(31_000_000)));
  await expect(panel.getByRole('alert')).toContainText('huge.dxf has 31 MB; 30 MB are read at most');
  await input.setInputFiles(file('many.dxf', lines(150_000)));
  await panel.getByRole('button', { name: 'Cancel reading' }).click();
  await expect(panel.getByRole('alert')).toContainText('Reading was cancelled.');
  await input.setInputFiles(file('few.dxf', lines(3)));
  await expect(panel).toContainText('0 closed lines, 3 open');
});

test('a run beyond the budget asks first, and nothing that stands on it shows as good', async ({ page }) => {
  const id = await copyOfDemo(page, 'Seed chute');
  const document = await saved(page, id);
  document.axes.push(newAxis('linear', [], 2));
  document.sequence.cycle.most = 86_400;
  const made = (await (await post(page, '/api/machines', { ...document, name: 'A day of seeds' })).json()) as {
    id: string;
  };
  await page.goto(`/machine/${made.id}/cue`);
  const ask = page.getByRole('alert', { name: 'Large run' });
  await expect(ask).toContainText(/may take up to [\d,]+ steps of the contact computation/);
  await expect(ask).toContainText('shorten the longest run');
  for (const name of [/^Run/, /^Size/, /^Deliver/])
    await expect(page.getByRole('navigation').getByRole('link', { name })).toContainText(/may take up to/);
  // It is run because it is wanted, and can still be stopped.
  await ask.getByRole('button', { name: 'Run it anyway' }).click();
  await expect(ask).toBeHidden();
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await expect(page.getByText('The run was stopped.').first()).toBeVisible();
});

test('a motion with an infinite velocity is named, with what to write instead, and Size is not green', async ({
  page,
}) => {
  await openNew(page, 'Infinite', {
    stage: 'move',
    change: (machine) => (machine.axes[0]!.motion.source = { kind: 'formula', text: '0.1 m * sqrt(t/T)' }),
  });
  await expect(page.getByText(/velocity of this motion is infinite at t = 0/).first()).toBeVisible();
  for (const name of ['Run', 'Size', 'Deliver'])
    await expect(page.getByRole('navigation').getByRole('link', { name })).toContainText('infinite at t = 0');
});
