// `npm start`: installs what is missing, starts MariaDB and the server, and prints the address.
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { buildWeb } from './lib/build.mjs';
import { runScript, Stop } from './lib/fail.mjs';
import { installNodeModules, installSystemPackages } from './lib/install.mjs';
import { startDatabase } from './lib/mariadb.mjs';
import { varFolder } from './lib/paths.mjs';
import { portTrouble } from './lib/ports.mjs';
import { startServer } from './lib/server.mjs';

const host = process.env.YOKE_HOST ?? '127.0.0.1';
const port = Number(process.env.YOKE_PORT ?? 4600);
const address = `http://${host.includes(':') ? `[${host}]` : host}:${port}/`;
const runningFile = `${varFolder}yoke.running`;

/** Refuses a second start on the same data. */
function checkNotRunning() {
  if (!existsSync(runningFile)) return;
  const [pid, where] = readFileSync(runningFile, 'utf8').split(' ');
  try {
    if (readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('start.mjs'))
      throw new Stop(`Yoke is running already, at ${where?.trim()} (process ${pid}).`);
  } catch (error) {
    if (error instanceof Stop) throw error;
  }
}

async function checkPort() {
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new Stop(`YOKE_PORT is “${process.env.YOKE_PORT}”: a port from 1 to 65535 is needed.`);
  const trouble = await portTrouble(port, host);
  const other = 'choose another with YOKE_PORT=4700 npm start';
  if (trouble === 'EADDRINUSE') throw new Stop(`Port ${port} on ${host} is taken by another program: ${other}.`);
  if (trouble === 'EACCES') throw new Stop(`Port ${port} may not be opened without more rights: ${other}.`);
  if (trouble) throw new Stop(`${host} cannot be listened on (${trouble}): check YOKE_HOST.`);
}

await runScript(async () => {
  checkNotRunning();
  await checkPort();
  installSystemPackages(['mariadb-server']);
  installNodeModules();
  buildWeb();
  const database = await startDatabase(varFolder);
  /** @type {Awaited<ReturnType<typeof startServer>> | undefined} */
  let server;
  let stopping = false;
  const stop = async (/** @type {number} */ code) => {
    if (stopping) return;
    stopping = true;
    await server?.stop();
    await database.stop();
    rmSync(runningFile, { force: true });
    process.exit(code);
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
    process.on(signal, () => {
      if (!stopping) console.log('\nStopping …');
      void stop(0);
    });
  try {
    server = await startServer({ ...database.env, YOKE_HOST: host, YOKE_PORT: String(port) });
  } catch (error) {
    await database.stop();
    throw error;
  }
  writeFileSync(runningFile, `${process.pid} ${address}\n`);
  console.log(`Yoke is ready at ${address}  (Ctrl-C stops it)`);
  if (host !== '127.0.0.1' && host !== 'localhost' && host !== '::1')
    console.log('It can be reached from other machines, and asks nobody for a password.');
  await server.ended;
  if (!stopping) {
    console.error('yoke: The server ended unexpectedly.');
    await stop(1);
  }
});
