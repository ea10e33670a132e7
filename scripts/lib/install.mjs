import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { Stop } from './fail.mjs';
import { root } from './paths.mjs';

/** Debian packages by the program that shows they are there. */
const PACKAGES = {
  'mariadb-server': ['/usr/sbin/mariadbd'],
  chromium: ['/usr/bin/chromium'],
};

/**
 * Installs Debian packages that are missing, as root or through sudo.
 * @param {(keyof typeof PACKAGES)[]} names
 */
export function installSystemPackages(names) {
  const missing = names.filter((name) => !PACKAGES[name].every((file) => existsSync(file)));
  if (missing.length === 0) return;
  const list = missing.join(' ');
  if (!existsSync('/usr/bin/apt-get'))
    throw new Stop(`${list} is needed and this is no Debian machine: install it by hand and start again.`);
  const isRoot = process.getuid?.() === 0;
  if (!isRoot && spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status !== 0 && !process.stdin.isTTY)
    throw new Stop(`${list} is needed, and there are no rights to install it: run “sudo apt-get install ${list}”.`);
  console.log(`Installing ${list} …`);
  const apt = (/** @type {string[]} */ args) => {
    const command = ['apt-get', '-qq', '-o', 'DPkg::Lock::Timeout=120', ...args];
    const environment = ['env', 'DEBIAN_FRONTEND=noninteractive'];
    const [program, ...rest] = isRoot ? [...environment, ...command] : ['sudo', ...environment, ...command];
    return spawnSync(/** @type {string} */ (program), rest, { stdio: ['inherit', 'ignore', 'pipe'], encoding: 'utf8' });
  };
  apt(['update']);
  const { status, stderr } = apt(['install', '-y', '--no-install-recommends', ...missing]);
  if (status !== 0)
    throw new Stop(
      `${list} could not be installed (${lastLine(stderr)}): run “sudo apt-get install ${list}” and start again.`,
    );
}

/** Installs the node modules where they are missing or no longer match the lock file. */
export function installNodeModules() {
  const lock = createHash('sha256')
    .update(readFileSync(`${root}package-lock.json`))
    .digest('hex');
  const stamp = `${root}node_modules/.yoke-lock`;
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  console.log('Installing node modules …');
  const { status, stderr } = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: ['ignore', 'ignore', 'pipe'],
    encoding: 'utf8',
  });
  if (status !== 0) throw new Stop(`npm ci failed (${lastLine(stderr)}): check the network and the rights on ${root}.`);
  writeFileSync(stamp, lock);
}

/** @param {string | null} text */
function lastLine(text) {
  return (text ?? '').trim().split('\n').at(-1) || 'no reason given';
}
