import { spawnSync } from 'node:child_process';
import { closeSync, ftruncateSync, openSync, readFileSync, writeSync } from 'node:fs';
import { Stop } from './fail.mjs';

/**
 * Takes the lock of a data folder for this process. The operating system holds it (flock on an open file) and lets it
 * go when the process ends, however it ends; no process number is trusted. The file is never removed.
 * @param {string} file
 * @returns {{ note: (text: string) => void, release: () => void } | { heldBy: string }} `heldBy` is what its holder noted
 */
export function takeLock(file) {
  const handle = openSync(file, 'a+', 0o644);
  // The lock belongs to the open file, which this process shares with the command for a moment and then keeps.
  const { status, error } = spawnSync('flock', ['--nonblock', '3'], { stdio: ['ignore', 'ignore', 'ignore', handle] });
  if (error) throw new Stop(`“flock” is needed and cannot be run (${error.message}): install Debian's util-linux.`);
  if (status !== 0) {
    closeSync(handle);
    return { heldBy: readFileSync(file, 'utf8').trim() };
  }
  const note = (/** @type {string} */ text) => {
    ftruncateSync(handle);
    writeSync(handle, `${text}\n`);
  };
  note('starting');
  return { note, release: () => closeSync(handle) };
}
