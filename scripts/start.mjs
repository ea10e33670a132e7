// `npm start`: installs what is missing, starts MariaDB and the server, and prints the address.
import { randomBytes } from 'node:crypto';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { userInfo } from 'node:os';
import { setTimeout as sleep } from 'node:timers/promises';
import { buildWeb } from './lib/build.mjs';
import { runScript, Stop } from './lib/fail.mjs';
import { installNodeModules, installSystemPackages } from './lib/install.mjs';
import { takeLock } from './lib/lock.mjs';
import { Database } from './lib/mariadb.mjs';
import { varFolder } from './lib/paths.mjs';
import { portTrouble } from './lib/ports.mjs';
import { startServer } from './lib/server.mjs';

const host = process.env.YOKE_HOST ?? '127.0.0.1';
const port = Number(process.env.YOKE_PORT ?? 4600);
const address = `http://${host.includes(':') ? `[${host}]` : host}:${port}/`;
const isLoopback = /^(localhost|127\.\d+\.\d+\.\d+|::1)$/.test(host);
/** How long a server that a crash left behind may take to let go of its port, and to answer, ms: long on a busy machine. */
const LEFT_OVER_WAIT = 60_000;
const LEFT_OVER_ANSWER = 10_000;

/** Takes the lock of the data, or says who has it. */
function lockData() {
  try {
    mkdirSync(varFolder, { recursive: true });
  } catch (error) {
    const { code } = /** @type {NodeJS.ErrnoException} */ (error);
    throw new Stop(`${varFolder} cannot be written (${code}): make it writable for ${userInfo().username}.`);
  }
  try {
    return takeLock(`${varFolder}yoke.lock`);
  } catch (error) {
    if (error instanceof Stop) throw error;
    const { code } = /** @type {NodeJS.ErrnoException} */ (error);
    if (code === 'ENOSPC' || code === 'EDQUOT')
      throw new Stop(`The disk that holds ${varFolder} is full: make room and start again.`);
    throw new Stop(`${varFolder} cannot be written (${code}): make it writable for ${userInfo().username}.`);
  }
}

async function checkPort() {
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new Stop(`YOKE_PORT is “${process.env.YOKE_PORT}”: a port from 1 to 65535 is needed.`);
  if (!isLoopback && !process.env.YOKE_NAMES)
    throw new Stop(
      `${host} can be reached from other machines: say under which names Yoke shall answer, as YOKE_NAMES=yoke.example.com,192.0.2.7 npm start.`,
    );
  const other = 'choose another with YOKE_PORT=4700 npm start';
  let trouble = await portTrouble(port, host);
  // The server of a start that was killed lets go of its port by itself, a little later.
  const until = Date.now() + LEFT_OVER_WAIT;
  while (trouble === 'EADDRINUSE' && Date.now() < until && (await isYoke())) {
    await sleep(200);
    trouble = await portTrouble(port, host);
  }
  if (trouble === 'EADDRINUSE') throw new Stop(`Port ${port} on ${host} is taken by another program: ${other}.`);
  if (trouble === 'EACCES') throw new Stop(`Port ${port} may not be opened without more rights: ${other}.`);
  if (trouble) throw new Stop(`${host} cannot be listened on (${trouble}): check YOKE_HOST.`);
}

/** Whether what listens on the port says that it is Yoke, on its way out. */
async function isYoke() {
  try {
    const answer = await fetch(`${address}api/health`, { signal: AbortSignal.timeout(LEFT_OVER_ANSWER) });
    return (await answer.text()).includes('"ok"') || answer.status === 503;
  } catch (error) {
    // It takes connections no more, or not yet: looked at again.
    return /** @type {Error} */ (error).name !== 'TimeoutError';
  }
}

/** What a command-line tool shows to be let in; made anew at every start, readable by its owner alone. */
function makeToken() {
  const token = randomBytes(32).toString('hex');
  const file = `${varFolder}token`;
  rmSync(file, { force: true });
  writeFileSync(file, `${token}\n`, { mode: 0o600 });
  return token;
}

await runScript(async () => {
  const lock = lockData();
  if ('heldBy' in lock) throw new Stop(`Yoke is running already, ${lock.heldBy || 'in another process'}.`);
  await checkPort();
  const database = new Database(varFolder);
  /** @type {Awaited<ReturnType<typeof startServer>> | undefined} */
  let server;
  let stopping = false;
  const stop = async (/** @type {number} */ code) => {
    if (stopping) return;
    stopping = true;
    await server?.stop();
    await database.stop();
    process.exit(code);
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
    process.on(signal, () => {
      if (!stopping) console.log('\nStopping …');
      void stop(0);
    });
  endWithNpm(() => void stop(0));
  try {
    installSystemPackages(['mariadb-server']);
    installNodeModules();
    await buildWeb();
    await database.start();
    if (stopping) return;
    server = await startServer({
      ...database.env,
      YOKE_HOST: host,
      YOKE_PORT: String(port),
      YOKE_TOKEN: makeToken(),
    });
  } catch (error) {
    if (stopping) return;
    await database.stop();
    throw error;
  }
  lock.note(`at ${address} (process ${process.pid})`);
  console.log(`Yoke is ready at ${address}  (Ctrl-C stops it)`);
  if (!isLoopback) console.log('It can be reached from other machines, and asks nobody for a password.');
  const reason = await Promise.race([server.ended.then(() => 'The server ended unexpectedly.'), database.givenUp]);
  if (!stopping) {
    console.error(`yoke: ${reason}`);
    await stop(1);
  }
});

/**
 * npm passes a signal on to its shell, which may not pass it on to this script: where npm has started it, its end is
 * seen by the change of parent.
 * @param {() => void} stop
 */
function endWithNpm(stop) {
  if (process.env.npm_lifecycle_event !== 'start') return;
  const parent = process.ppid;
  setInterval(() => process.ppid !== parent && stop(), 250).unref();
}
