import { spawn, spawnSync } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import { tmpdir, userInfo } from 'node:os';
import { setTimeout as sleep } from 'node:timers/promises';
import { Stop } from './fail.mjs';
import { freePort, greets } from './ports.mjs';

const NAME = 'yoke';
const MEGABYTE = 2 ** 20;
/** Least room in MB for the database's own files when they are made, and to go on with them. */
const ROOM_TO_BEGIN = 300;
const ROOM_TO_GO_ON = 20;

/**
 * @typedef {object} RunningDatabase
 * @property {Record<string, string>} env what the server needs to find and open it
 * @property {() => Promise<void>} stop shuts it down cleanly
 */

/**
 * Starts MariaDB on a free port of loopback with its files in `folder`, which is made on the first start.
 * A server left over from a crash is ended first; the database recovers by itself.
 * @param {string} folder with a final slash
 * @returns {Promise<RunningDatabase>}
 */
export async function startDatabase(folder) {
  checkFolder(folder);
  const data = `${folder}mariadb/`;
  await endLeftOver(data);
  if (!existsSync(`${data}mysql`)) initialise(folder, data);
  const password = passwordOf(folder);
  const port = await freePort();
  const child = spawn('/usr/sbin/mariadbd', serverArguments(folder, data, port), {
    stdio: ['ignore', 'ignore', 'ignore'],
    // A process group of its own: Ctrl-C reaches only the script, which ends the server first.
    detached: true,
  });
  let ended = false;
  child.once('exit', () => {
    ended = true;
  });
  for (let i = 0; i < 600 && !(await greets(port)); i++) {
    if (ended) throw new Stop(`MariaDB ended while starting (${lastError(folder)}).`);
    await sleep(100);
  }
  if (!(await greets(port))) {
    child.kill('SIGKILL');
    throw new Stop(`MariaDB did not answer within a minute (${lastError(folder)}).`);
  }
  rmSync(`${folder}setup.sql`, { force: true });
  return {
    env: {
      YOKE_DB_PORT: String(port),
      YOKE_DB_NAME: NAME,
      YOKE_DB_USER: NAME,
      YOKE_DB_PASSWORD: password,
    },
    async stop() {
      if (ended) return;
      child.kill('SIGTERM');
      for (let i = 0; i < 300 && !ended; i++) await sleep(100);
      if (!ended) child.kill('SIGKILL');
    },
  };
}

/** @param {string} folder */
function checkFolder(folder) {
  try {
    mkdirSync(folder, { recursive: true });
    writeFileSync(`${folder}.probe`, '');
    rmSync(`${folder}.probe`);
  } catch (error) {
    const { code } = /** @type {NodeJS.ErrnoException} */ (error);
    if (code === 'ENOSPC' || code === 'EDQUOT')
      throw new Stop(`The disk that holds ${folder} is full: make room and start again.`);
    throw new Stop(`${folder} cannot be written (${code}): make it writable for ${userInfo().username}.`);
  }
  const { bavail, bsize } = statfsSync(folder);
  const left = Math.round((bavail * bsize) / MEGABYTE);
  const needed = existsSync(`${folder}mariadb/mysql`) ? ROOM_TO_GO_ON : ROOM_TO_BEGIN;
  if (left < needed)
    throw new Stop(
      `The disk that holds ${folder} is full or nearly so (${left} MB left, ${needed} MB are needed): make room and start again.`,
    );
}

/**
 * Makes the data folder under another name and moves it into place when it is whole.
 * @param {string} folder
 * @param {string} data
 */
function initialise(folder, data) {
  console.log('Preparing the database …');
  const fresh = `${folder}mariadb-new`;
  rmSync(fresh, { recursive: true, force: true });
  const { status, stderr, stdout } = spawnSync(
    '/usr/bin/mariadb-install-db',
    ['--no-defaults', `--datadir=${fresh}`, '--auth-root-authentication-method=normal', '--skip-test-db', ...asUser()],
    { encoding: 'utf8' },
  );
  if (status !== 0) {
    const reason = `${stderr}${stdout}`
      .trim()
      .split('\n')
      .findLast((line) => /error|fatal/i.test(line));
    throw new Stop(`The database could not be prepared in ${folder} (${reason ?? 'no reason given'}).`);
  }
  rmSync(data, { recursive: true, force: true });
  renameSync(fresh, data);
}

/**
 * The database password; made on the first start and readable by its owner alone.
 * @param {string} folder
 */
function passwordOf(folder) {
  const file = `${folder}database-password`;
  if (!existsSync(file)) writeFileSync(file, randomBytes(24).toString('hex'), { mode: 0o600 });
  const password = readFileSync(file, 'utf8').trim();
  const account = `'${NAME}'@'127.0.0.1'`;
  const setup = [
    `CREATE DATABASE IF NOT EXISTS ${NAME} CHARACTER SET utf8mb4;`,
    `CREATE USER IF NOT EXISTS ${account};`,
    `ALTER USER ${account} IDENTIFIED BY '${password}';`,
    `GRANT ALL ON ${NAME}.* TO ${account};`,
    `ALTER USER 'root'@'localhost' IDENTIFIED BY '${password}';`,
  ];
  writeFileSync(`${folder}setup.sql`, `${setup.join('\n')}\n`, { mode: 0o600 });
  return password;
}

function asUser() {
  return process.getuid?.() === 0 ? [`--user=${userInfo().username}`] : [];
}

/**
 * @param {string} folder
 * @param {string} data
 * @param {number} port
 */
function serverArguments(folder, data, port) {
  // A socket path may have 107 characters at most, so it does not go into a folder that may be deep.
  const socket = `${tmpdir()}/yoke-${createHash('sha256').update(data).digest('hex').slice(0, 16)}.sock`;
  return [
    '--no-defaults',
    `--datadir=${data}`,
    `--port=${port}`,
    '--bind-address=127.0.0.1',
    `--socket=${socket}`,
    `--pid-file=${data}yoke.pid`,
    `--log-error=${folder}mariadb.log`,
    `--init-file=${folder}setup.sql`,
    '--character-set-server=utf8mb4',
    '--innodb-buffer-pool-size=64M',
    '--innodb-log-file-size=32M',
    ...asUser(),
  ];
}

/** @param {string} folder */
function lastError(folder) {
  const log = existsSync(`${folder}mariadb.log`) ? readFileSync(`${folder}mariadb.log`, 'utf8') : '';
  if (/errno: 28|No space left/i.test(log.slice(-20_000))) return 'the disk is full: make room and start again';
  const line = log.split('\n').findLast((text) => text.includes('[ERROR]'));
  return line ? line.replace(/^.*\[ERROR\]\s*/, '').slice(0, 200) : `see ${folder}mariadb.log`;
}

/**
 * Ends a database server that a crash left running on the same files.
 * @param {string} data
 */
async function endLeftOver(data) {
  const file = `${data}yoke.pid`;
  if (!existsSync(file)) return;
  const pid = Number(readFileSync(file, 'utf8'));
  const isOurs = () => {
    try {
      return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(`--datadir=${data}`);
    } catch {
      return false;
    }
  };
  if (!isOurs()) return;
  process.kill(pid, 'SIGTERM');
  for (let i = 0; i < 300 && isOurs(); i++) await sleep(100);
  if (isOurs()) throw new Stop(`A database left over from a crash (process ${pid}) does not end: end it by hand.`);
}
