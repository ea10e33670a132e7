// In the browser: from an edit of a segment to the drawn curves at 2,000 samples, and what the first load costs.
import { chromium, request, type Page } from '@playwright/test';
import {
  addBar,
  addJoint,
  addPlane,
  bodyPoint,
  groundPoint,
  newAxis,
  newDrive,
  newMachine,
  turnOf,
  type Machine,
} from '@yoke/core';
import config from '../playwright.config';
import { benchShapesInBrowser } from './browser-shapes';

const url = process.env.YOKE_URL!;
const browser = await chromium.launch(config.use!.launchOptions);
/** Pages as a returning user has them, whose requests beside the page carry the token of the server. */
const context = await browser.newContext({
  viewport: { width: 1280, height: 800 },
  storageState: config.use!.storageState!,
});
/** As the command line asks. */
const api = await request.newContext({
  baseURL: url,
  extraHTTPHeaders: { Authorization: `Bearer ${process.env.YOKE_TOKEN}` },
});
/** Edits whose time is taken. */
const EDITS = 100;

interface Load {
  kilobytes: number;
  requests: number;
  milliseconds: number;
}

/** Loads a page in a fresh context and adds up what its scripts and styles transfer. */
async function firstLoad(path: string, ready: string): Promise<Load> {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const started = Date.now();
  await page.goto(url + path);
  await page.locator(ready).first().waitFor();
  const milliseconds = Date.now() - started;
  const assets = await page.evaluate(() =>
    performance
      .getEntriesByType('resource')
      .filter(({ name }) => /\.(js|css)$/.test(name))
      .map((entry) => (entry as PerformanceResourceTiming).encodedBodySize),
  );
  await page.close();
  return { kilobytes: assets.reduce((a, b) => a + b, 0) / 1024, requests: assets.length, milliseconds };
}

/** Time of a frame of a page that has nothing to do, ms: the median of some. As text, see {@link playback}. */
const emptyFrame = (page: Page) =>
  page.evaluate<number>(`new Promise((resolve) => {
    const times = [];
    requestAnimationFrame(function tick(now) {
      times.push(now);
      if (times.length < 41) requestAnimationFrame(tick);
      else resolve(times.slice(1).map((time, i) => time - times[i]).sort((a, b) => a - b)[20]);
    });
  })`);

/** Types values into a box one after the other; gives the times from edit to a mark in ms, rising. */
async function edits(page: Page, label: string, value: (i: number) => string, mark: string): Promise<number[]> {
  const box = page.getByLabel(label, { exact: true });
  const times: number[] = [];
  for (let i = 0; i < EDITS; i++) {
    await page.evaluate(() => performance.clearMarks());
    await box.fill(value(i));
    await box.press('Enter');
    await page.waitForFunction((name) => performance.getEntriesByName(name).length > 0, mark);
    times.push(
      await page.evaluate(
        (name) =>
          performance.getEntriesByName(name).at(-1)!.startTime -
          performance.getEntriesByName('yoke-edit')[0]!.startTime,
        mark,
      ),
    );
  }
  return times.sort((a, b) => a - b);
}

/** Tells times (ms, rising) beside 50 ms and an empty frame. */
function tell(what: string, times: readonly number[], frame: number): void {
  const at = (share: number) => times[Math.ceil(share * times.length) - 1]!;
  const within = times.filter((time) => time <= 50).length;
  const figures = `median ${at(0.5).toFixed(1)} ms, 95th of ${times.length} ${at(0.95).toFixed(1)} ms, slowest ${at(1).toFixed(1)} ms`;
  console.log(
    `${what}: ${figures}; ${within} of ${times.length} within 50 ms (wanted: 95 of 100); ratio of the median to an empty frame of ${frame.toFixed(1)} ms ${(at(0.5) / frame).toFixed(2)}`,
  );
}

const machine = newMachine('Bench');
machine.axes = [newAxis('linear', [], 2)];
machine.step = 1e-3;
const setup = await context.newPage();
const { id } = (await (await api.post('/api/machines', { data: machine })).json()) as { id: string };

await setup.goto(`${url}/machine/${id}/move`);
await setup.locator('canvas').first().waitFor();
await setup.waitForTimeout(1000);
const frame = await emptyFrame(setup);
tell(
  'edit of a segment to all four curves drawn, 2,000 samples',
  await edits(setup, 'Time of segment 1', (i) => String(0.71 + (i % 2) * 0.01 + i * 0.0001), 'yoke-curves'),
  frame,
);

/** Opens a copy of a demonstration machine at a stage; gives the page and the copy's identifier. */
async function openDemo(name: string, at: string): Promise<{ page: Page; copy: string }> {
  const page = await context.newPage();
  const list = (await (await api.get('/api/machines?limit=50')).json()) as { id: string; name: string }[];
  const demo = list.find((entry) => entry.name === name)!;
  const headers = { 'Content-Type': 'application/json' };
  const { id: copy } = (await (await api.post(`/api/machines/${demo.id}/duplicate`, { headers })).json()) as {
    id: string;
  };
  await page.goto(`${url}/machine/${copy}/${at}`);
  await page.waitForTimeout(1500);
  return { page, copy };
}

async function dimensionToTorque(): Promise<void> {
  const { page, copy } = await openDemo('Dosing rocker', 'build');
  await page.getByLabel('On the board').getByRole('button', { name: 'Crank', exact: true }).click();
  const times = await edits(page, 'Length', (i) => String(58 + (i % 2) + i * 0.01), 'yoke-run');
  tell('edit of a dimension of the dosing rocker to its new torque, 1,001 poses', times, frame);
  await remove(copy);
  await page.close();
}

/** Frames a second of a page. As text, because the loader of this file gives functions helpers that a page does not have. */
const framesOf = (page: Page) =>
  page.evaluate<number>(`new Promise((resolve) => {
    let count = 0;
    const started = performance.now();
    requestAnimationFrame(function tick() {
      count++;
      const passed = performance.now() - started;
      if (passed > 3000) resolve((count * 1000) / passed);
      else requestAnimationFrame(tick);
    });
  })`);

/** Frames a second while the largest demonstration mechanism plays, against the same page standing still. */
async function playback(): Promise<void> {
  const { page, copy } = await openDemo('Plug arm, twin', 'run');
  const still = await framesOf(page);
  await page.locator('body').press('Space');
  const playing = await framesOf(page);
  console.log(
    `playback of the largest demonstration mechanism: ${playing.toFixed(1)} frames a second, standing still ${still.toFixed(1)}; ratio ${(playing / still).toFixed(2)} (wanted: 60 a second)`,
  );
  await remove(copy);
  await page.close();
}
/** A slide that carries a plane with so many bars less one. */
function manyBodies(count: number): Machine {
  const made = newMachine('Many bodies');
  made.cycle = { given: 'time', time: 2 };
  const { mechanism } = made;
  const bed = addBar(mechanism, [0, 0], [0.4, 0]);
  const slide = addJoint(mechanism, 'slide', groundPoint(mechanism, [0, 0]), bodyPoint(mechanism, bed.id, [0, 0]));
  made.axes.push(newDrive(made, slide, 0, 0.2));
  const plane = addPlane(mechanism, { on: bed.id, turn: turnOf('right') }).id;
  // Three on each place of the ground, so that these stay within what a document may have.
  for (let i = 0; i < count - 1; i++) {
    const at: [number, number] = [0.03 * (Math.floor(i / 3) % 10), 0.04 * Math.floor(i / 30)];
    const turn = (2 * Math.PI * (i % 3)) / 3;
    const to: [number, number] = [at[0] + 0.02 * Math.cos(turn), at[1] + 0.02 * Math.sin(turn)];
    const bar = addBar(mechanism, at, to, `Bar ${i + 2}`, 0.008, plane);
    addJoint(mechanism, 'weld', groundPoint(mechanism, at, plane), bodyPoint(mechanism, bar.id, at));
  }
  return made;
}

/** The picture in depth of 300 bodies: time of a frame while they play, and what is drawn while nothing changes. */
async function inDepth(): Promise<void> {
  const answer = await api.post('/api/machines', { data: manyBodies(300) });
  if (!answer.ok()) throw new Error(await answer.text());
  const { id: many } = (await answer.json()) as { id: string };
  const page = await context.newPage();
  // Each picture begins by clearing the canvas.
  await page.addInitScript(`
    window.pictures = 0;
    const { clear } = WebGL2RenderingContext.prototype;
    WebGL2RenderingContext.prototype.clear = function (...args) { window.pictures++; return clear.apply(this, args); };
  `);
  await page.goto(`${url}/machine/${many}/run`);
  await page.getByRole('img', { name: /in depth: / }).waitFor();
  await page.waitForTimeout(3000);
  const pictures = () => page.evaluate<number>('window.pictures');
  const before = await pictures();
  const still = await framesOf(page);
  const idle = (await pictures()) - before;
  await page.locator('body').press('Space');
  const playing = await framesOf(page);
  console.log(
    `300 bodies in depth, rendered by software: ${(1000 / playing).toFixed(1)} ms a frame while playing, ${(1000 / still).toFixed(1)} ms standing still; ratio ${(still / playing).toFixed(2)}; ${idle} pictures drawn in 3 s in which nothing changed (0 wanted)`,
  );
  await remove(many);
  await page.close();
}
await dimensionToTorque();
await playback();
await inDepth();
await benchShapesInBrowser(context, api, url);

async function remove(machineId: string): Promise<void> {
  const headers = (await api.get(`/api/machines/${machineId}`)).headers();
  await api.delete(`/api/machines/${machineId}`, { headers: { 'If-Match': headers.etag! } });
}

const pages: [string, string, string][] = [
  ['start page', '/', 'h1'],
  ...['build', 'move', 'run', 'size', 'deliver'].map((stage): [string, string, string] => [
    stage,
    `/machine/${id}/${stage}`,
    '.stage .panel',
  ]),
];
const loads: Record<string, Load> = {};
for (const [name, path, ready] of pages) loads[name] = await firstLoad(path, ready);
const base = loads['start page']!.kilobytes;
for (const [name, load] of Object.entries(loads))
  console.log(
    `first load, ${name}: ${load.kilobytes.toFixed(0)} KiB of scripts and styles in ${load.requests} files, ${load.milliseconds} ms; ratio to the start page ${(load.kilobytes / base).toFixed(2)}`,
  );
await remove(id);
await browser.close();
