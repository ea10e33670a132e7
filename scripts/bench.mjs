// `npm run bench`: speed, each figure beside what it is compared with, as a ratio in one run.
import { spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildPrograms, buildWeb } from './lib/build.mjs';
import { runScript, Stop } from './lib/fail.mjs';
import { installNodeModules, installSystemPackages } from './lib/install.mjs';
import { startDatabase } from './lib/mariadb.mjs';
import { root } from './lib/paths.mjs';
import { freePort } from './lib/ports.mjs';
import { startServer } from './lib/server.mjs';

/**
 * Runs a file of the bench with the computation built as it is shipped: translated line by line it would be slower.
 * @param {string} name
 * @param {Record<string, string>} env
 */
async function run(name, env = {}) {
  // Not before everything is installed.
  const { buildSync } = await import('esbuild');
  // Beside its source, so that it finds what that finds.
  const outfile = `${root}bench/${name}.built.mjs`;
  buildSync({
    absWorkingDir: root,
    entryPoints: [`bench/${name}.ts`],
    outfile,
    bundle: true,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    packages: 'external',
    alias: Object.fromEntries(
      ['/geometry-file', '/geometry', '/solid', ''].map((folder) => [
        `@yoke/core${folder}`,
        `${root}packages/core/src${folder}/index.ts`,
      ]),
    ),
  });
  const { status } = spawnSync(process.execPath, ['--expose-gc', outfile], {
    stdio: 'inherit',
    env: { ...process.env, ...env },
  });
  rmSync(outfile);
  if (status !== 0) throw new Stop(`The bench of ${name} failed.`);
}

await runScript(async () => {
  installSystemPackages(['mariadb-server', 'chromium']);
  installNodeModules();
  await buildPrograms();
  await run('core');
  await buildWeb();
  const work = mkdtempSync(join(tmpdir(), 'yoke-bench-'));
  const database = await startDatabase(`${work}/`);
  const port = await freePort();
  const YOKE_TOKEN = randomBytes(32).toString('hex');
  const server = await startServer({ ...database.env, YOKE_HOST: '127.0.0.1', YOKE_PORT: String(port), YOKE_TOKEN });
  try {
    await run('browser', { YOKE_URL: `http://127.0.0.1:${port}`, YOKE_TOKEN });
  } finally {
    await server.stop();
    await database.stop();
    rmSync(work, { recursive: true, force: true });
  }
});
