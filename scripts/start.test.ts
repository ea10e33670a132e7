import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
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

/** A start under way: what it has said so far, and whether it came to be ready before it ended. */
interface Started {
  child: ChildProcess;
  said: { text: string };
  ready: Promise<boolean>;
}

function begin(command = [process.execPath, 'scripts/start.mjs']): Started {
  const child = spawn(command[0]!, command.slice(1), { cwd: root, env: environment() });
  const said = { text: '' };
  const ready = new Promise<boolean>((resolve) => {
    child.stdout.on('data', (text: Buffer) => {
      if (text.toString().includes(`ready at http://127.0.0.1:${port}/`)) resolve(true);
    });
    child.stderr.on('data', (text: Buffer) => (said.text += text.toString()));
    child.once('close', () => resolve(false));
  });
  return { child, said, ready };
}

/** Starts the application and waits until it says that it is ready. */
async function start(command?: string[]): Promise<Started> {
  const started = begin(command);
  if (!(await started.ready)) throw new Error(`The start ended: ${started.said.text}`);
  return started;
}

const exited = (child: ChildProcess) =>
  new Promise<number | null>((resolve) =>
    child.exitCode !== null || child.signalCode !== null
      ? resolve(child.exitCode)
      : child.once('exit', (code) => resolve(code)),
  );
/** The data as the database knows them: the folder holds a link where its own account may not enter it. */
const databaseProcess = () => Number(readFileSync(join(folder, 'mariadb/yoke.pid'), 'utf8'));
const alive = (pid: number) => {
  try {
    return !readFileSync(`/proc/${pid}/stat`, 'utf8').includes(') Z ');
  } catch {
    return false;
  }
};
/** Something of /proc about a process; empty where it has ended. */
function about(pid: number, what: 'cmdline' | 'environ' | 'status'): string {
  try {
    return alive(pid) ? readFileSync(`/proc/${pid}/${what}`, 'utf8') : '';
  } catch {
    return '';
  }
}
/** Processes of this test: those of Yoke's server, or databases on its files. */
const all = () => readdirSync('/proc').filter((name) => /^\d+$/.test(name)).map(Number); // prettier-ignore
const servers = () =>
  all().filter(
    (pid) => about(pid, 'cmdline').includes('server/dist/main.js') && about(pid, 'environ').includes(folder),
  );
const databases = () =>
  all().filter((pid) => about(pid, 'cmdline').includes('mariadbd\0') && about(pid, 'environ').includes(folder));
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
async function until(what: () => boolean | Promise<boolean>): Promise<void> {
  while (!(await what())) await pause(100);
}
const status = async () => {
  try {
    return (await fetch(`http://127.0.0.1:${port}/api/health`)).status;
  } catch {
    return 0;
  }
};
async function names(): Promise<string[]> {
  const answer = await fetch(`http://127.0.0.1:${port}/api/machines?limit=500`);
  return ((await answer.json()) as { name: string }[]).map(({ name }) => name);
}
const save = (name: string) =>
  fetch(`http://127.0.0.1:${port}/api/machines`, {
    method: 'POST',
    headers: {
      'Content-Type': 'application/json',
      Authorization: `Bearer ${readFileSync(join(folder, 'token'), 'utf8').trim()}`,
    },
    body: JSON.stringify(newMachine(name)),
  });
async function end({ child }: Started): Promise<number | null> {
  const code = exited(child);
  child.kill('SIGTERM');
  return code;
}

test('a start killed while it prepares the database leaves one behind that goes on preparing: the next one starts', async () => {
  const preparing = () =>
    all().some((pid) => about(pid, 'cmdline').includes('mariadb-install-db') && about(pid, 'environ').includes(folder));
  const killed = begin();
  await until(preparing);
  killed.child.kill('SIGKILL');
  await exited(killed.child);
  const { child } = await start();
  expect(preparing()).toBe(false);
  child.kill('SIGTERM');
  expect(await exited(child)).toBe(0);
});

test('a start, a crash, a second start and a clean end: nothing saved is lost', async () => {
  const first = await start();
  expect((await save('Survivor')).status).toBe(201);
  expect(refusal({}).said).toMatch(/^yoke: Yoke is running already, at http/);

  // A crash: the start script is killed, its database stays behind and holds the files.
  const orphan = databaseProcess();
  first.child.kill('SIGKILL');
  await exited(first.child);
  expect(alive(orphan)).toBe(true);

  const second = await start();
  expect(alive(orphan)).toBe(false);
  expect(await names()).toContain('Survivor');
  // The database is killed as by a power cut while everything is stopped, and recovers on the next start.
  second.child.kill('SIGINT');
  process.kill(databaseProcess(), 'SIGKILL');
  await exited(second.child);

  const third = await start();
  expect((await names()).filter((name) => name === 'Survivor')).toEqual(['Survivor']);
  const database = databaseProcess();
  expect(await end(third)).toBe(0);
  expect(alive(database)).toBe(false);
  expect(await status()).toBe(0);
});

test('of two starts at once one serves and the other says so; neither ends the other’s database', async () => {
  const both = [begin(), begin()];
  const ready = await Promise.all(both.map((one) => one.ready));
  expect([...ready].sort()).toEqual([false, true]);
  const winner = both[ready.indexOf(true)]!;
  const loser = both[ready.indexOf(false)]!;
  expect(loser.said.text).toMatch(/^yoke: Yoke is running already, /);
  expect(await names()).toContain('Dibber');
  expect(databases()).toHaveLength(1);
  expect(await end(winner)).toBe(0);
});

test('the number of a killed start may belong to another program by then: nothing is taken for Yoke', async () => {
  // What an earlier release, or a start in another container, may have left: numbers of programs that live.
  writeFileSync(join(folder, 'yoke.running'), `${process.pid} http://127.0.0.1:${port}/\n`);
  writeFileSync(join(folder, 'yoke.lock'), `at http://127.0.0.1:${port}/ (process ${process.pid})\n`);
  writeFileSync(join(folder, 'mariadb/yoke.pid'), `${process.pid}\n`);
  const started = await start();
  expect(await names()).toContain('Dibber');
  expect(await end(started)).toBe(0);
});

const namespaces = spawnSync('unshare', ['--pid', '--fork', '--mount-proc', 'true']).status === 0;
(namespaces ? test : test.skip)(
  'killed in a container and started in a new one, where process numbers come again',
  async () => {
    const inside = [
      'unshare',
      '--pid',
      '--fork',
      '--mount-proc',
      '--kill-child',
      process.execPath,
      'scripts/start.mjs',
    ];
    const first = await start(inside);
    expect((await save('Contained')).status).toBe(201);
    // A container is killed whole: with the first process of its namespace everything in it ends.
    first.child.kill('SIGKILL');
    await exited(first.child);
    await until(async () => (await status()) === 0 && databases().length === 0);
    const second = await start(inside);
    expect(await names()).toContain('Contained');
    second.child.kill('SIGKILL');
    await exited(second.child);
    await until(() => databases().length === 0);
  },
);

test('SIGTERM to npm ends everything under it', async () => {
  const started = await start(['npm', 'start']);
  expect([servers().length, databases().length]).toEqual([1, 1]);
  started.child.kill('SIGTERM');
  await until(() => servers().length === 0 && databases().length === 0);
  expect(await status()).toBe(0);
});

test('a killed database is started again: meanwhile requests are told to come again; the fourth time it is said', async () => {
  const started = await start();
  expect((await save('Before')).status).toBe(201);
  for (let kill = 1; kill <= 3; kill++) {
    const before = databaseProcess();
    process.kill(before, 'SIGKILL');
    await until(() => !alive(before));
    // Between the two it is 503 and nothing else: never a 500, never a hang.
    const seen = new Set<number>();
    await until(async () => {
      if (started.child.exitCode !== null) throw new Error(`It ended: ${started.said.text}`);
      const now = await status();
      seen.add(now);
      return now === 200 && databases().length === 1 && databaseProcess() !== before;
    });
    expect([...seen].filter((code) => code !== 200 && code !== 503)).toEqual([]);
    expect(await names()).toContain('Before');
  }
  const code = exited(started.child);
  process.kill(databaseProcess(), 'SIGKILL');
  expect(await code).toBe(1);
  const lines = started.said.text.trim().split('\n');
  expect(lines.slice(0, 3).every((line) => line.includes('it is started again'))).toBe(true);
  expect(lines.at(-1)).toMatch(/^yoke: The database ended 4 times by itself .* what was saved is kept/);
  const again = await start();
  expect(await names()).toContain('Before');
  expect(await end(again)).toBe(0);
});

test('a server that hangs does not keep the application from ending', async () => {
  const started = await start();
  const [server] = servers();
  process.kill(server!, 'SIGSTOP');
  expect(await end(started)).toBe(0);
  expect(alive(server!)).toBe(false);
});

test('a taken port, a wrong port, missing names and an unwritable folder each give one sentence', async () => {
  const server = createServer().listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  const taken = String((server.address() as AddressInfo).port);
  expect(refusal({ YOKE_PORT: taken })).toEqual({
    status: 1,
    said: `yoke: Port ${taken} on 127.0.0.1 is taken by another program: choose another with YOKE_PORT=4700 npm start.`,
  });
  server.close();
  expect(refusal({ YOKE_PORT: 'abc' }).said).toBe('yoke: YOKE_PORT is “abc”: a port from 1 to 65535 is needed.');
  expect(refusal({ YOKE_HOST: '0.0.0.0' }).said).toMatch(
    /^yoke: 0\.0\.0\.0 can be reached from other machines: say under which names Yoke shall answer, as YOKE_NAMES=/,
  );
  const file = join(folder, 'a-file');
  writeFileSync(file, '');
  expect(refusal({ YOKE_VAR: file }).said).toMatch(
    /^yoke: .*a-file\/ cannot be written \((ENOTDIR|EEXIST)\): make it writable for \w+\.$/,
  );
});

describe('accounts of the database', () => {
  const USERS = ['root', 'yoke', 'mysql', 'mariadb.sys', ''];
  const isRoot = process.getuid?.() === 0;
  let started: Started;
  let line: string[] = [];
  const argument = (name: string) => line.find((word) => word.startsWith(`--${name}=`))!.slice(name.length + 3);
  beforeAll(async () => {
    started = await start();
    line = about(databaseProcess(), 'cmdline').split('\0');
  });
  afterAll(() => end(started));

  /** Whether somebody gets in without a password; as another user of the machine too, where this runs as root. */
  function getsIn(args: string[]): boolean {
    const command = ['mariadb', '--no-defaults', '--connect-timeout=3', ...args, '-e', 'SELECT 1'];
    const nobody = ['setpriv', '--reuid=65534', '--regid=65534', '--clear-groups', ...command];
    return (isRoot ? [command, nobody] : [command]).some(
      ([program, ...rest]) => spawnSync(program!, rest).status === 0,
    );
  }
  const hostname = spawnSync('hostname', { encoding: 'utf8' }).stdout.trim();

  test.each(['127.0.0.1', 'localhost', '::1', '127.0.0.2', hostname])('nobody gets in at %s', (host) => {
    const port = argument('port');
    for (const user of USERS)
      expect([user, getsIn(['-h', host, '-P', port, '--protocol=tcp', '-u', user])]).toEqual([user, false]);
  });

  test('nobody gets in by the socket', () => {
    for (const user of USERS)
      expect([user, getsIn([`--socket=${argument('socket')}`, '-u', user])]).toEqual([user, false]);
  });

  test('the application’s account has its own database alone, and reads and writes no files', () => {
    const password = readFileSync(join(folder, 'database-password'), 'utf8').trim();
    const account = ['--no-defaults', '-h127.0.0.1', `-P${argument('port')}`, '-uyoke', `-p${password}`];
    const run = (statement: string) =>
      spawnSync('mariadb', [...account, '-N', '-e', statement, 'yoke'], { encoding: 'utf8' });
    const grants = run('SHOW GRANTS').stdout.trim().split('\n');
    expect(grants.map((grant) => grant.split(' IDENTIFIED')[0])).toEqual([
      'GRANT USAGE ON *.* TO `yoke`@`127.0.0.1`',
      'GRANT ALL PRIVILEGES ON `yoke`.* TO `yoke`@`127.0.0.1`',
    ]);
    const out = join(folder, 'stolen');
    expect(run(`SELECT 'x' INTO OUTFILE '${out}'`).status).not.toBe(0);
    expect(existsSync(out)).toBe(false);
    expect(run(`SELECT LOAD_FILE('/etc/passwd')`).stdout.trim()).toBe('NULL');
    expect(run('SELECT * FROM mysql.global_priv').status).not.toBe(0);
    expect(readdirSync(run('SELECT @@secure_file_priv').stdout.trim())).toEqual([]);
  });

  (isRoot ? test : test.skip)('as root it runs as a user of its own', () => {
    const uid = /^Uid:\s+(\d+)/m.exec(about(databaseProcess(), 'status'))![1];
    expect(uid).not.toBe('0');
  });
});
