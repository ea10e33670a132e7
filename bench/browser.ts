// In the browser: from an edit of a segment to the drawn curves at 2,000 samples, and what the first load costs.
import { chromium, type Page } from '@playwright/test';
import { newAxis, newMachine } from '@yoke/core';
import config from '../playwright.config';

const url = process.env.YOKE_URL!;
const browser = await chromium.launch(config.use!.launchOptions);

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

async function editToCurves(page: Page): Promise<number[]> {
  const box = page.getByLabel('Time of segment 1');
  const times: number[] = [];
  for (let i = 0; i < 25; i++) {
    await page.evaluate(() => performance.clearMarks());
    await box.fill(String(0.71 + (i % 2) * 0.01 + i * 0.0001));
    await box.press('Enter');
    await page.waitForFunction(() => performance.getEntriesByName('yoke-curves').length > 0);
    times.push(
      await page.evaluate(
        () =>
          performance.getEntriesByName('yoke-curves').at(-1)!.startTime -
          performance.getEntriesByName('yoke-edit').at(-1)!.startTime,
      ),
    );
  }
  return times.sort((a, b) => a - b);
}

const machine = newMachine('Bench');
machine.axes = [newAxis('linear', [], 2)];
machine.step = 1e-3;
const setup = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const { id } = (await (await setup.request.post(`${url}/api/machines`, { data: machine })).json()) as { id: string };

await setup.goto(`${url}/machine/${id}/move`);
await setup.locator('canvas').first().waitFor();
await setup.waitForTimeout(1000);
const times = await editToCurves(setup);
console.log(
  `edit of a segment to all four curves drawn, 2,000 samples: median ${times[12]!.toFixed(1)} ms, slowest of 25 ${times.at(-1)!.toFixed(1)} ms; ratio to 50 ms ${(times[12]! / 50).toFixed(2)} (wanted: at most 1)`,
);

/** Opens a copy of a demonstration machine at a stage; gives the page and the copy's identifier. */
async function openDemo(name: string, at: string): Promise<{ page: Page; copy: string }> {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const list = (await (await page.request.get(`${url}/api/machines`)).json()) as { id: string; name: string }[];
  const demo = list.find((entry) => entry.name === name)!;
  const { id: copy } = (await (await page.request.post(`${url}/api/machines/${demo.id}/duplicate`)).json()) as {
    id: string;
  };
  await page.goto(`${url}/machine/${copy}/${at}`);
  await page.waitForTimeout(1500);
  return { page, copy };
}

async function dimensionToTorque(): Promise<void> {
  const { page, copy } = await openDemo('Dosing rocker', 'build');
  await page.getByLabel('On the board').getByRole('button', { name: 'Crank', exact: true }).click();
  const box = page.getByLabel('Length', { exact: true });
  const took: number[] = [];
  for (let i = 0; i < 25; i++) {
    await page.evaluate(() => performance.clearMarks());
    await box.fill(String(58 + (i % 2) + i * 0.01));
    await box.press('Enter');
    await page.waitForFunction(() => performance.getEntriesByName('yoke-run').length > 0);
    took.push(
      await page.evaluate(
        () =>
          performance.getEntriesByName('yoke-run').at(-1)!.startTime -
          performance.getEntriesByName('yoke-edit').at(0)!.startTime,
      ),
    );
    await page.waitForTimeout(120);
  }
  took.sort((a, b) => a - b);
  console.log(
    `edit of a dimension of the dosing rocker to its new torque, 1,001 poses: median ${took[12]!.toFixed(1)} ms, slowest of 25 ${took.at(-1)!.toFixed(1)} ms; ratio to 50 ms ${(took[12]! / 50).toFixed(2)} (wanted: at most 1)`,
  );
  await page.request.delete(`${url}/api/machines/${copy}`);
  await page.close();
}

/** Frames a second while the largest demonstration mechanism plays, against the same page standing still. */
async function playback(): Promise<void> {
  const { page, copy } = await openDemo('Plug arm, twin', 'run');
  // As text, because the loader of this file gives functions helpers that a page does not have.
  const counter = `new Promise((resolve) => {
    let count = 0;
    const started = performance.now();
    requestAnimationFrame(function tick() {
      count++;
      const passed = performance.now() - started;
      if (passed > 3000) resolve((count * 1000) / passed);
      else requestAnimationFrame(tick);
    });
  })`;
  const frames = () => page.evaluate<number>(counter);
  const still = await frames();
  await page.locator('body').press('Space');
  const playing = await frames();
  console.log(
    `playback of the largest demonstration mechanism: ${playing.toFixed(1)} frames a second, standing still ${still.toFixed(1)}; ratio ${(playing / still).toFixed(2)} (wanted: 60 a second)`,
  );
  await page.request.delete(`${url}/api/machines/${copy}`);
  await page.close();
}
await dimensionToTorque();
await playback();

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
await setup.request.delete(`${url}/api/machines/${id}`);
await browser.close();
