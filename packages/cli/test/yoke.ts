import { join } from 'node:path';
import { main } from '../src/main';

/** Where a demo document lies. */
export const demo = (name: string) => join(__dirname, '../../../demo', name);

/** Runs the command line as a shell would: its exit code and all that it printed. */
export async function yoke(...args: string[]) {
  let out = '';
  let err = '';
  const code = await main(['node', 'yoke', ...args], {
    out: (text) => (out += text),
    err: (text) => (err += text),
  });
  return { code, out, err };
}
