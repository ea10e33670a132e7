// Computes the demonstration machines that take a while, so that the page shows their results at once: run at the build
// of the page, with the folder where they go.
import { createHash } from 'node:crypto';
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { hasCycle, isKeepable, readCatalogue, readMachineText, resultInput, runMachine, writeResult } from '@yoke/core';
import { root } from './lib/paths.mjs';
import { resultsOf } from './lib/results-of.mjs';

const [folder] = process.argv.slice(2);
if (folder === undefined) throw new Error('Say where the results go.');
mkdirSync(folder, { recursive: true });

const demo = join(root, 'demo');
const motors = readCatalogue(readFileSync(join(demo, 'motors.csv'), 'utf8'));
const release = resultsOf();
const keys: string[] = [];
for (const file of readdirSync(demo).filter((name) => name.endsWith('.yoke.json'))) {
  const read = readMachineText(readFileSync(join(demo, file), 'utf8'));
  if (!read.ok) throw new Error(`${file} is no machine.`);
  if (!hasCycle(read.machine)) continue;
  const result = await runMachine(read.machine, { motors });
  if (!isKeepable(result)) continue;
  const key = createHash('sha256')
    .update(resultInput(release, read.machine, motors))
    .digest('hex');
  writeFileSync(join(folder, `${key}.cbor.gz`), gzipSync(writeResult(result)));
  keys.push(key);
}
writeFileSync(join(folder, 'index.json'), JSON.stringify(keys));
