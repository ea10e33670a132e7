import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { readCatalogue, readMachineText, readResult, resultInput, runMachine } from '@yoke/core';

const root = join(__dirname, '..');
const folder = mkdtempSync(join(tmpdir(), 'yoke-results-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('results that come with the page are those that are computed, by the name that the page looks for', async () => {
  const made = spawnSync(process.execPath, ['--import', 'tsx', 'scripts/write-results.ts', folder], { cwd: root });
  expect(made.stderr.toString()).not.toContain('Error');
  const release = spawnSync(
    process.execPath,
    ['-e', "import('./scripts/lib/results-of.mjs').then(({ resultsOf }) => process.stdout.write(resultsOf()))"],
    { cwd: root },
  ).stdout.toString();
  const read = readMachineText(readFileSync(join(root, 'demo/seedling-transplanter.yoke.json'), 'utf8'));
  if (!read.ok) throw new Error('the transplanter does not open');
  const motors = readCatalogue(readFileSync(join(root, 'demo/motors.csv'), 'utf8'));
  const key = createHash('sha256')
    .update(resultInput(release, read.machine, motors))
    .digest('hex');
  expect(JSON.parse(readFileSync(join(folder, 'index.json'), 'utf8'))).toContain(key);
  expect(readdirSync(folder)).toContain(`${key}.cbor.gz`);
  const shipped = readResult(gunzipSync(readFileSync(join(folder, `${key}.cbor.gz`))));
  const { run, record } = await runMachine(read.machine, { motors });
  // Bit by bit: a comparison of a million numbers one by one would take a minute.
  const digest = (value: unknown) => createHash('sha256').update(JSON.stringify(value, plain)).digest('hex');
  expect(digest(shipped)).toBe(digest({ run, record }));
});

/** Arrays of numbers as their bits. */
function plain(_: string, value: unknown): unknown {
  return ArrayBuffer.isView(value)
    ? createHash('sha256')
        .update(new Uint8Array(value.buffer, value.byteOffset, value.byteLength))
        .digest('hex')
    : value;
}
