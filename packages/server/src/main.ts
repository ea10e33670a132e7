import { createServer } from 'node:http';
import { fileURLToPath } from 'node:url';
import { pino } from 'pino';
import { createApp } from './app';
import { openDatabase } from './database';
import { loadDemoOnce } from './demo';
import { closeStudies } from './studies';

/** Folder of the project, seen from here. */
const root = fileURLToPath(new URL('../../../', import.meta.url));
const log = pino({ level: process.env.YOKE_LOG ?? 'warn' });

function wanted(name: string): string {
  const value = process.env[name];
  if (value === undefined) throw new Error(`${name} is not set; start the application with “npm start”.`);
  return value;
}

const LOOPBACK = ['localhost', '127.0.0.1', '[::1]', '::1'];

/** Starts the server and tells the parent process `ready`, or `failed` with one sentence. */
async function start(): Promise<void> {
  const host = process.env.YOKE_HOST ?? '127.0.0.1';
  const port = Number(process.env.YOKE_PORT ?? 4600);
  const database = await openDatabase({
    host: '127.0.0.1',
    port: Number(wanted('YOKE_DB_PORT')),
    database: wanted('YOKE_DB_NAME'),
    user: wanted('YOKE_DB_USER'),
    password: wanted('YOKE_DB_PASSWORD'),
  });
  await loadDemoOnce(database, `${root}demo`);
  const app = createApp({
    database,
    log,
    demoFolder: `${root}demo`,
    webFolder: `${root}packages/web/dist`,
    hosts: LOOPBACK.includes(host) ? LOOPBACK : undefined,
  });
  const server = createServer(app);
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, host, resolve);
  });
  process.send?.({ type: 'ready' });
  let stopping = false;
  const stop = () => {
    if (stopping) return;
    stopping = true;
    void closeStudies();
    server.close(() => void database.sequelize.close().finally(() => process.exit(0)));
    server.closeIdleConnections();
    setTimeout(() => server.closeAllConnections(), 2000).unref();
  };
  process.on('SIGTERM', stop);
  process.on('disconnect', stop);
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
