import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { newMachine } from '@yoke/core';

const root = join(__dirname, '..');
const folder = mkdtempSync(join(tmpdir(), 'yoke-start-'));
let port = 0;

beforeAll(async () => {
  const server = createServer().listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  port = (server.address() as AddressInfo).port;
  await new Promise((resolve) => server.close(resolve));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const environment = (extra: Record<string, string> = {}) => ({
  ...process.env,
  YOKE_VAR: folder,
  YOKE_PORT: String(port),
  ...extra,
});

/** A start that must refuse: gives its exit code and what it said. */
function refusal(extra: Record<string, string>): { status: number | null; said: string } {
  const { status, stderr } = spawnSync(process.execPath, ['scripts/start.mjs'], {
    cwd: root,
    encoding: 'utf8',
    env: environment(extra),
  });
  return { status, said: stderr.trim() };
}

/** Starts the application and waits until it says that it is ready. */
function start(): Promise<ChildProcess> {
  const child = spawn(process.execPath, ['scripts/start.mjs'], { cwd: root, env: environment() });
  return new Promise((resolve, reject) => {
    child.stdout.on('data', (text: Buffer) => {
      if (text.toString().includes(`ready at http://127.0.0.1:${port}/`)) resolve(child);
    });
    child.stderr.on('data', (text: Buffer) => reject(new Error(text.toString())));
  });
}

const exited = (child: ChildProcess) =>
  new Promise<number | null>((resolve) => child.once('exit', (code) => resolve(code)));
const databaseProcess = () => Number(readFileSync(join(folder, 'mariadb/yoke.pid'), 'utf8'));
const alive = (pid: number) => {
  try {
    return !readFileSync(`/proc/${pid}/stat`, 'utf8').includes(') Z ');
  } catch {
    return false;
  }
};
async function names(): Promise<string[]> {
  const answer = await fetch(`http://127.0.0.1:${port}/api/machines`);
  return ((await answer.json()) as { name: string }[]).map(({ name }) => name);
}

test('a start, a crash, a second start and a clean end: nothing saved is lost', async () => {
  const first = await start();
  await fetch(`http://127.0.0.1:${port}/api/machines`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(newMachine('Survivor')),
  });
  expect(refusal({ YOKE_PORT: String(port) }).said).toMatch(/^yoke: Yoke is running already, at http/);

  // A crash: the start script is killed, its database stays behind and holds the files.
  const orphan = databaseProcess();
  first.kill('SIGKILL');
  await exited(first);
  expect(alive(orphan)).toBe(true);

  const second = await start();
  expect(alive(orphan)).toBe(false);
  expect(await names()).toContain('Survivor');
  // The database itself is killed as by a power cut, and recovers on the next start.
  process.kill(databaseProcess(), 'SIGKILL');
  const ended = exited(second);
  second.kill('SIGINT');
  await ended;

  const third = await start();
  expect((await names()).filter((name) => name === 'Survivor')).toEqual(['Survivor']);
  const database = databaseProcess();
  const code = exited(third);
  third.kill('SIGINT');
  expect(await code).toBe(0);
  expect(alive(database)).toBe(false);
  await expect(fetch(`http://127.0.0.1:${port}/`)).rejects.toThrow();
}, 240_000);

test('a taken port, a wrong port and an unwritable folder each give one sentence', async () => {
  const server = createServer().listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  const taken = String((server.address() as AddressInfo).port);
  expect(refusal({ YOKE_PORT: taken })).toEqual({
    status: 1,
    said: `yoke: Port ${taken} on 127.0.0.1 is taken by another program: choose another with YOKE_PORT=4700 npm start.`,
  });
  server.close();
  expect(refusal({ YOKE_PORT: 'abc' }).said).toBe('yoke: YOKE_PORT is “abc”: a port from 1 to 65535 is needed.');
  const file = join(folder, 'a-file');
  writeFileSync(file, '');
  expect(refusal({ YOKE_VAR: file }).said).toMatch(
    /^yoke: .*a-file\/ cannot be written \((ENOTDIR|EEXIST)\): make it writable for \w+\.$/,
  );
}, 60_000);
