import { spawn } from 'node:child_process';
import { buildPrograms } from './build.mjs';
import { Stop } from './fail.mjs';
import { root } from './paths.mjs';

/** Longest wait for the server's own end, ms; after it the server is killed. */
const END_WAIT = 4000;

/**
 * Starts the Yoke server as a child process and waits until it takes requests.
 * @param {Record<string, string>} env settings of the server, the database's among them
 * @returns {Promise<{ stop: () => Promise<void>, ended: Promise<void>, pid: number }>}
 */
export async function startServer(env) {
  await buildPrograms();
  const child = spawn(process.execPath, ['--enable-source-maps', `${root}packages/server/dist/main.js`], {
    cwd: root,
    env: { ...process.env, ...env },
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    detached: true,
  });
  const ended = new Promise((resolve) => child.once('exit', () => resolve(undefined)));
  await new Promise((resolve, reject) => {
    child.once('message', (/** @type {{ type: string, message?: string }} */ message) =>
      message.type === 'ready' ? resolve(undefined) : reject(new Stop(`The server did not start: ${message.message}.`)),
    );
    child.once('exit', (code) => reject(new Stop(`The server ended while starting (exit code ${code}).`)));
  });
  return {
    pid: /** @type {number} */ (child.pid),
    ended: /** @type {Promise<void>} */ (ended),
    async stop() {
      child.kill('SIGTERM');
      // Whatever it is doing: what was acknowledged is in the database.
      const force = setTimeout(() => child.kill('SIGKILL'), END_WAIT);
      await ended;
      clearTimeout(force);
    },
  };
}
