import { spawn, spawnSync } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import {
  chmodSync,
  chownSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  realpathSync,
  renameSync,
  rmSync,
  statfsSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir, userInfo } from 'node:os';
import { dirname } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { Stop } from './fail.mjs';
import { freePort, greets } from './ports.mjs';

const NAME = 'yoke';
/** The account of the operating system that the database runs as when it is started by root. */
const SERVER_USER = 'mysql';
const MEGABYTE = 2 ** 20;
/** Least room in MB for the database's own files when they are made, and to go on with them. */
const ROOM_TO_BEGIN = 300;
const ROOM_TO_GO_ON = 20;
/** Times a database that ended by itself is started again; one that then ran this long (ms) has them all anew. */
const MOST_RESTARTS = 3;
const STEADY = 10 * 60_000;
/** Longest wait for a clean end, ms; after it the database is killed, and recovers on its next start. */
const END_WAIT = 5000;

/**
 * MariaDB on a free port of loopback with its files in a folder, which is made on the first start. A server left over
 * from a crash is ended first; one that ends by itself is started again on the same port, three times.
 */
export class Database {
  /** What the server needs to find and open it. */
  /** @type {Record<string, string>} */
  env = {};
  /** Told why, once it has ended for good without being asked to. */
  /** @type {Promise<string>} */
  givenUp;

  #folder;
  #data;
  #port = 0;
  #restarts = 0;
  #stopping = false;
  /** @type {import('node:child_process').ChildProcess | undefined} */
  #child;
  /** @type {(reason: string) => void} */
  #giveUp = () => undefined;

  /** @param {string} folder with a final slash */
  constructor(folder) {
    this.#folder = folder;
    this.#data = `${folder}mariadb/`;
    this.givenUp = new Promise((resolve) => (this.#giveUp = resolve));
  }

  /** Starts it and waits until it serves. */
  async start() {
    checkFolder(this.#folder);
    await endLeftOver(`${placeOf(this.#folder)}mariadb/`);
    if (!existsSync(`${this.#data}mysql`)) initialise(this.#folder, this.#data);
    giveToServer(this.#data);
    const password = passwordOf(this.#folder);
    this.#port = await freePort();
    await this.#launch(password);
    this.env = {
      YOKE_DB_PORT: String(this.#port),
      YOKE_DB_NAME: NAME,
      YOKE_DB_USER: NAME,
      YOKE_DB_PASSWORD: password,
    };
  }

  /** Shuts it down: cleanly, or by force where that takes too long. */
  async stop() {
    this.#stopping = true;
    const child = this.#child;
    if (!child || hasEnded(child)) return;
    child.kill('SIGTERM');
    for (let waited = 0; waited < END_WAIT && !hasEnded(child); waited += 50) await sleep(50);
    if (!hasEnded(child)) child.kill('SIGKILL');
  }

  /** @param {string} password */
  async #launch(password) {
    if (this.#stopping) return;
    // Its own account may not write over what another one has left.
    rmSync(`${placeOf(this.#folder)}mariadb/yoke.pid`, { force: true });
    const setup = writeSetup(this.#folder, password);
    const started = Date.now();
    const child = spawn('/usr/sbin/mariadbd', serverArguments(this.#folder, this.#port, setup), {
      stdio: ['ignore', 'ignore', 'ignore'],
      // A process group of its own: Ctrl-C reaches only the script, which ends the server first.
      detached: true,
    });
    this.#child = child;
    for (let i = 0; i < 600 && !(await greets(this.#port)); i++) {
      if (hasEnded(child)) throw new Stop(`MariaDB ended while starting (${lastError(this.#folder)}).`);
      await sleep(100);
    }
    if (!(await greets(this.#port))) {
      child.kill('SIGKILL');
      throw new Stop(`MariaDB did not answer within a minute (${lastError(this.#folder)}).`);
    }
    rmSync(setup, { force: true });
    child.once('exit', () => void this.#again(password, started));
    if (hasEnded(child)) void this.#again(password, started);
  }

  /**
   * The database has ended: starts it again unless that was wanted, or has been tried often enough.
   * @param {string} password
   * @param {number} started
   */
  async #again(password, started) {
    if (this.#stopping || this.#child === undefined) return;
    this.#child = undefined;
    if (Date.now() - started > STEADY) this.#restarts = 0;
    // One that ends while it is being started again counts as another end.
    let reason = '';
    while (++this.#restarts <= MOST_RESTARTS) {
      console.error(
        `yoke: The database ended unexpectedly; it is started again (${this.#restarts} of ${MOST_RESTARTS}).`,
      );
      try {
        return await this.#launch(password);
      } catch (error) {
        if (this.#stopping) return;
        this.#child = undefined;
        reason = ` ${/** @type {Error} */ (error).message}`;
      }
    }
    this.#giveUp(
      `The database ended ${this.#restarts} times by itself (${lastError(this.#folder)}): what was saved is kept; see ${logOf(this.#folder)} and start again.${reason}`,
    );
  }
}

/**
 * Starts a database, as {@link Database}.
 * @param {string} folder with a final slash
 */
export async function startDatabase(folder) {
  const database = new Database(folder);
  await database.start();
  return database;
}

/** @param {import('node:child_process').ChildProcess} child */
const hasEnded = (child) => child.exitCode !== null || child.signalCode !== null;

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
  const home = homeOf(folder);
  // A start that was killed may have left one behind that goes on preparing: this one has a folder of its own.
  for (const name of readdirSync(home).filter((entry) => entry.startsWith('mariadb-new'))) removeOrLeave(home + name);
  const fresh = `${home}mariadb-new-${randomBytes(4).toString('hex')}`;
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
  chmodSync(fresh, 0o700);
  rmSync(data, { recursive: true, force: true });
  if (home === folder) return renameSync(fresh, data);
  rmSync(`${home}mariadb`, { recursive: true, force: true });
  renameSync(fresh, `${home}mariadb`);
  rmSync(data.slice(0, -1), { force: true });
  symlinkSync(`${home}mariadb`, data.slice(0, -1));
}

/** Removes a folder, or leaves it where something is written into it just now. @param {string} path */
function removeOrLeave(path) {
  try {
    rmSync(path, { recursive: true, force: true });
  } catch {
    // Whoever writes into it fails by itself.
  }
}

/**
 * Where the files go: into the folder, or, where root keeps it in a place that the database's own account may not
 * enter (as below /root), into one that it may; the folder then holds a link.
 * @param {string} folder
 */
function homeOf(folder) {
  if (!isRoot()) return folder;
  const probe = `${folder}.probe-dir`;
  mkdirSync(probe, { recursive: true });
  const account = serverAccount();
  chownSync(probe, account.uid, account.gid);
  const { status } = spawnSync('setpriv', [
    `--reuid=${account.uid}`,
    `--regid=${account.gid}`,
    '--clear-groups',
    'test',
    '-w',
    probe,
  ]);
  rmSync(probe, { recursive: true, force: true });
  if (status === 0) return folder;
  const home = `/var/lib/yoke/${createHash('sha256').update(folder).digest('hex').slice(0, 16)}/`;
  mkdirSync(home, { recursive: true, mode: 0o755 });
  return home;
}

/** @returns {{ uid: number, gid: number }} */
function serverAccount() {
  const line = readFileSync('/etc/passwd', 'utf8')
    .split('\n')
    .find((text) => text.startsWith(`${SERVER_USER}:`));
  if (!line)
    throw new Stop(`The account “${SERVER_USER}” is missing: install Debian's mariadb-server, which makes it.`);
  const [, , uid, gid] = line.split(':');
  return { uid: Number(uid), gid: Number(gid) };
}

/**
 * Files of an earlier release, or of another account, are given to the account that the database runs as.
 * @param {string} data
 */
function giveToServer(data) {
  if (!isRoot()) return;
  const { uid, gid } = serverAccount();
  if (statSync(data).uid !== uid) spawnSync('chown', ['-R', `${uid}:${gid}`, data]);
}

/**
 * The database password; made on the first start and readable by its owner alone.
 * @param {string} folder
 */
function passwordOf(folder) {
  const file = `${folder}database-password`;
  if (!existsSync(file)) writeFileSync(file, randomBytes(24).toString('hex'), { mode: 0o600 });
  return readFileSync(file, 'utf8').trim();
}

/**
 * Statements carried out at every start, before anyone is served: of all accounts only the application's is left
 * (and the locked one that owns MariaDB's own views), with the rights on its own database alone.
 * @param {string} folder
 * @param {string} password
 * @returns {string} the file, to be removed once the database serves
 */
function writeSetup(folder, password) {
  // The password's hash as MariaDB keeps it, so that the password itself stands in no file but its own.
  const once = createHash('sha1').update(password).digest();
  const hash = `*${createHash('sha1').update(once).digest('hex').toUpperCase()}`;
  const account = `'${NAME}'@'127.0.0.1'`;
  const setup = [
    `DELETE FROM mysql.global_priv WHERE NOT (User = '${NAME}' AND Host = '127.0.0.1') AND User <> 'mariadb.sys';`,
    'DELETE FROM mysql.proxies_priv;',
    `DELETE FROM mysql.db WHERE User <> 'mariadb.sys';`,
    'FLUSH PRIVILEGES;',
    `CREATE DATABASE IF NOT EXISTS ${NAME} CHARACTER SET utf8mb4;`,
    `CREATE USER IF NOT EXISTS ${account};`,
    `ALTER USER ${account} IDENTIFIED BY PASSWORD '${hash}';`,
    `REVOKE ALL PRIVILEGES, GRANT OPTION FROM ${account};`,
    `GRANT ALL ON ${NAME}.* TO ${account};`,
  ];
  const file = `${isRoot() ? `${placeOf(folder)}mariadb/` : folder}setup.sql`;
  rmSync(file, { force: true });
  writeFileSync(file, `${setup.join('\n')}\n`, { mode: 0o600 });
  if (isRoot()) chownSync(file, serverAccount().uid, serverAccount().gid);
  return file;
}

const isRoot = () => process.getuid?.() === 0;

function asUser() {
  return isRoot() ? [`--user=${SERVER_USER}`] : [];
}

/**
 * @param {string} folder
 * @param {number} port
 * @param {string} setup
 */
function serverArguments(folder, port, setup) {
  const data = `${placeOf(folder)}mariadb/`;
  // A socket path may have 107 characters at most, so it does not go into a folder that may be deep.
  const socket = `${tmpdir()}/yoke-${createHash('sha256').update(data).digest('hex').slice(0, 16)}.sock`;
  const log = logOf(folder);
  if (!existsSync(log)) writeFileSync(log, '', { mode: 0o600 });
  // Files that statements could read or write would have to lie in here: it is empty, and nobody may write it.
  const noFiles = `${placeOf(folder)}no-files`;
  mkdirSync(noFiles, { recursive: true });
  chmodSync(noFiles, 0o500);
  if (isRoot()) {
    const { uid, gid } = serverAccount();
    chownSync(log, uid, gid);
    chownSync(noFiles, 0, 0);
  }
  return [
    '--no-defaults',
    `--datadir=${data}`,
    `--port=${port}`,
    '--bind-address=127.0.0.1',
    `--socket=${socket}`,
    `--pid-file=${data}yoke.pid`,
    `--log-error=${log}`,
    `--init-file=${setup}`,
    `--secure-file-priv=${noFiles}`,
    '--local-infile=0',
    '--skip-name-resolve',
    '--character-set-server=utf8mb4',
    '--max-allowed-packet=64M',
    '--innodb-buffer-pool-size=64M',
    '--innodb-log-file-size=32M',
    ...asUser(),
  ];
}

/**
 * Where the files really are, with a final slash: the folder itself unless it holds a link (see homeOf).
 * @param {string} folder
 */
function placeOf(folder) {
  const data = `${folder}mariadb`;
  return existsSync(data) ? `${dirname(realpathSync(data))}/` : folder;
}

/** @param {string} folder */
const logOf = (folder) => `${placeOf(folder)}mariadb.log`;

/** @param {string} folder */
function lastError(folder) {
  const log = existsSync(logOf(folder)) ? readFileSync(logOf(folder), 'utf8') : '';
  if (/errno: 28|No space left/i.test(log.slice(-20_000))) return 'the disk is full: make room and start again';
  const line = log.split('\n').findLast((text) => text.includes('[ERROR]'));
  return line ? line.replace(/^.*\[ERROR\]\s*/, '').slice(0, 200) : `see ${logOf(folder)}`;
}

/**
 * Ends a database server that a crash left running on the same files. Only called under the lock of the folder, so it
 * is never the server of another start.
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
  for (let i = 0; i < 100 && isOurs(); i++) await sleep(100);
  if (isOurs()) process.kill(pid, 'SIGKILL');
  for (let i = 0; i < 100 && isOurs(); i++) await sleep(100);
  if (isOurs()) throw new Stop(`A database left over from a crash (process ${pid}) does not end: end it by hand.`);
}
