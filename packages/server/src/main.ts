import { createServer } from 'node:http';
import { fileURLToPath } from 'node:url';
import { pino } from 'pino';
import { createApp } from './app';
import { openDatabase } from './database';
import { loadDemoOnce } from './demo';
import { closeReaders, warmReaders } from './documents';
import { purgeGeometry } from './geometry';
import { LOOPBACK_NAMES } from './guard';
import { purgeDeleted } from './machines';
import { RunResults } from './results';
import { Studies } from './studies';

/** Folder of the project, seen from here. */
const root = fileURLToPath(new URL('../../../', import.meta.url));
const logRequests = process.env.YOKE_ACCESS_LOG === '1';
const log = pino({ level: process.env.YOKE_LOG ?? (logRequests ? 'info' : 'warn') });

/** Between two looks for what is to be purged, ms. */
const PURGE_EVERY = 6 * 3_600_000;
/** Longest time that requests under way have to end, and all of the end, ms. */
const LAST_REQUESTS = 1500;
const LAST_OF_ALL = 3000;

function wanted(name: string): string {
  const value = process.env[name];
  if (value === undefined) throw new Error(`${name} is not set; start the application with “npm start”.`);
  return value;
}

/** Names this server answers to: those of loopback, its own where it is one, and those it was told. */
function names(host: string): string[] {
  const own = host === '0.0.0.0' || host === '::' ? [] : [host.includes(':') ? `[${host}]` : host];
  const told = (process.env.YOKE_NAMES ?? '').split(',').map((name) => name.trim());
  return [...LOOPBACK_NAMES, ...own, ...told.filter((name) => name !== '')];
}

/** Starts the server and tells the parent process `ready`, or `failed` with one sentence. */
async function start(): Promise<void> {
  const host = process.env.YOKE_HOST ?? '127.0.0.1';
  const port = Number(process.env.YOKE_PORT ?? 4600);
  // The parent may be gone before everything is up.
  let stop: () => void = () => process.exit(0);
  process.on('SIGTERM', () => stop());
  process.on('disconnect', () => stop());
  const database = await openDatabase({
    host: '127.0.0.1',
    port: Number(wanted('YOKE_DB_PORT')),
    database: wanted('YOKE_DB_NAME'),
    user: wanted('YOKE_DB_USER'),
    password: wanted('YOKE_DB_PASSWORD'),
  });
  await loadDemoOnce(database, `${root}demo`);
  const purge = () =>
    purgeDeleted(database)
      .then(() => purgeGeometry(database))
      .catch((error: unknown) => log.warn({ reason: (error as Error).message }, 'purging failed'));
  await purge();
  setInterval(() => void purge(), PURGE_EVERY).unref();
  const studies = new Studies(database);
  const results = new RunResults(database);
  const app = createApp({
    database,
    studies,
    results,
    log,
    demoFolder: `${root}demo`,
    webFolder: `${root}packages/web/dist`,
    hosts: names(host),
    token: process.env.YOKE_TOKEN,
    logRequests,
  });
  const server = createServer(app);
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, host, resolve);
  });
  warmReaders();
  await studies.resume();
  process.send?.({ type: 'ready' });
  let stopping = false;
  stop = () => {
    if (stopping) return;
    stopping = true;
    setTimeout(() => server.closeAllConnections(), LAST_REQUESTS).unref();
    // Whatever still runs then, in a thread or here, is given up: what was acknowledged is in the database.
    setTimeout(() => process.exit(0), LAST_OF_ALL).unref();
    // Connections that are kept open would bring more and more requests to a server on its way out.
    server.prependListener('request', (_, response) => response.setHeader('Connection', 'close'));
    const closed = new Promise<void>((resolve) => server.close(() => resolve()));
    server.closeIdleConnections();
    void Promise.allSettled([studies.close(), results.close(), closeReaders(), closed])
      .then(() => database.sequelize.close())
      .finally(() => process.exit(0));
  };
}

start().catch((error: unknown) => {
  const { code, message } = error as NodeJS.ErrnoException;
  const sentence = code === 'EADDRINUSE' ? 'the port was taken by another program meanwhile' : message;
  if (process.send) process.send({ type: 'failed', message: sentence }, () => process.exit(1));
  else {
    console.error(`yoke: ${sentence}`);
    process.exit(1);
  }
});
