// `npm run bench`: speed, each figure beside what it is compared with, as a ratio in one run.
import { spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildWeb } from './lib/build.mjs';
import { runScript } from './lib/fail.mjs';
import { installNodeModules, installSystemPackages } from './lib/install.mjs';
import { startDatabase } from './lib/mariadb.mjs';
import { root } from './lib/paths.mjs';
import { freePort } from './lib/ports.mjs';
import { startServer } from './lib/server.mjs';

/**
 * @param {string} file
 * @param {Record<string, string>} env
 */
const tsx = (file, env = {}) =>
  spawnSync(process.execPath, ['--import', 'tsx', `${root}bench/${file}`], {
    stdio: 'inherit',
    env: { ...process.env, ...env },
  });

await runScript(async () => {
  installSystemPackages(['mariadb-server', 'chromium']);
  installNodeModules();
  tsx('core.ts');
  await buildWeb();
  const work = mkdtempSync(join(tmpdir(), 'yoke-bench-'));
  const database = await startDatabase(`${work}/`);
  const port = await freePort();
  const YOKE_TOKEN = randomBytes(32).toString('hex');
  const server = await startServer({ ...database.env, YOKE_HOST: '127.0.0.1', YOKE_PORT: String(port), YOKE_TOKEN });
  tsx('browser.ts', { YOKE_URL: `http://127.0.0.1:${port}`, YOKE_TOKEN });
  await server.stop();
  await database.stop();
  rmSync(work, { recursive: true, force: true });
});
