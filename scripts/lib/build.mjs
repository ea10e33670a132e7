import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { closeSync, existsSync, openSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { Stop } from './fail.mjs';
import { root } from './paths.mjs';

/** Builds the web application unless the last build still matches its sources. */
export function buildWeb() {
  const sources = ['packages/web', 'packages/core/src', 'package-lock.json'];
  const state = createHash('sha256');
  for (const source of sources) addToHash(state, source);
  const digest = state.digest('hex');
  const stamp = `${root}packages/web/dist/.stamp`;
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === digest) return;
  // Two starts of one checkout, on data of their own, build one after the other; the second finds it built.
  const lock = openSync(`${root}node_modules/.yoke-build`, 'a');
  spawnSync('flock', ['3'], { stdio: ['ignore', 'ignore', 'ignore', lock] });
  try {
    build(stamp, digest);
  } finally {
    closeSync(lock);
  }
}

/**
 * @param {string} stamp file that says which sources were built
 * @param {string} digest of the sources as they are
 */
function build(stamp, digest) {
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === digest) return;
  console.log('Building the web application …');
  const { status, stderr, stdout } = spawnSync('npx', ['vite', 'build', '--logLevel', 'error'], {
    cwd: `${root}packages/web`,
    encoding: 'utf8',
  });
  if (status !== 0) throw new Stop(`The web application could not be built:\n${stdout}${stderr}`);
  writeFileSync(stamp, digest);
}

/**
 * @param {import('node:crypto').Hash} hash
 * @param {string} path relative to the project
 */
function addToHash(hash, path) {
  if (/(^|\/)(dist|node_modules)$/.test(path)) return;
  if (!statSync(root + path).isDirectory()) {
    hash.update(path).update(readFileSync(root + path));
    return;
  }
  for (const name of readdirSync(root + path).sort()) addToHash(hash, `${path}/${name}`);
}
