import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { closeSync, existsSync, openSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { Stop } from './fail.mjs';
import { root } from './paths.mjs';
import { resultsOf } from './results-of.mjs';

/** Packages that server and command line find among the installed ones: those that load files of their own. */
const LEFT_OUT = ['express', 'helmet', 'mariadb', 'pino', 'piscina', 'sequelize', 'umzug'];

/** What the page is made of; results of demonstration machines come with it. */
const PAGE = ['packages/web', 'packages/core/src', 'demo', 'scripts/write-results.ts', 'package-lock.json'];

/** Builds the web application unless the last build still matches its sources. */
export async function buildWeb() {
  await buildOnce('packages/web/dist', PAGE, () => {
    console.log('Building the web application …');
    const { status, stderr, stdout } = spawnSync('npx', ['vite', 'build', '--logLevel', 'error'], {
      cwd: `${root}packages/web`,
      encoding: 'utf8',
    });
    if (status !== 0) throw new Stop(`The web application could not be built:\n${stdout}${stderr}`);
    const results = spawnSync(
      process.execPath,
      ['--import', 'tsx', 'scripts/write-results.ts', 'packages/web/dist/results'],
      { cwd: root, encoding: 'utf8' },
    );
    if (results.status !== 0) throw new Stop(`The demonstration could not be computed:\n${results.stderr}`);
  });
}

/**
 * Builds server, its threads and the command line unless the last build still matches their sources: translated at
 * every start they would take some seconds each time.
 */
export async function buildPrograms() {
  const sources = ['core', 'server', 'cli'].map((name) => `packages/${name}/src`);
  await buildOnce('packages/server/dist', [...sources, 'package-lock.json'], async () => {
    // Not before everything is installed.
    const { buildSync } = await import('esbuild');
    for (const name of ['server', 'cli']) rmSync(`${root}packages/${name}/dist`, { recursive: true, force: true });
    buildSync({
      absWorkingDir: root,
      entryPoints: {
        'server/dist/main': 'packages/server/src/main.ts',
        'server/dist/study-worker': 'packages/server/src/study-worker.ts',
        'server/dist/result-worker': 'packages/server/src/result-worker.ts',
        'server/dist/document-worker': 'packages/server/src/document-worker.ts',
        'cli/dist/main': 'packages/cli/src/main.ts',
      },
      outdir: 'packages',
      chunkNames: 'server/dist/[name]-[hash]',
      bundle: true,
      splitting: true,
      format: 'esm',
      platform: 'node',
      target: 'node20',
      sourcemap: true,
      external: LEFT_OUT,
      define: { RESULTS_OF: JSON.stringify(resultsOf()) },
      logLevel: 'silent',
      // Libraries of the older kind ask for what belongs to Node by require.
      banner: {
        js: "import { createRequire as nodeCreateRequire } from 'node:module'; const require = nodeCreateRequire(import.meta.url);",
      },
    });
  });
}

/**
 * Builds something unless the sources are those that it was built from last.
 * @param {string} folder where it goes, relative to the project
 * @param {string[]} sources files and folders, relative to the project
 * @param {() => void | Promise<void>} build
 */
async function buildOnce(folder, sources, build) {
  const state = createHash('sha256');
  for (const source of sources) addToHash(state, source);
  const digest = state.digest('hex');
  const stamp = `${root}${folder}/.stamp`;
  const built = () => existsSync(stamp) && readFileSync(stamp, 'utf8') === digest;
  if (built()) return;
  // Two starts of one checkout, on data of their own, build one after the other; the second finds it built.
  const lock = openSync(`${root}node_modules/.yoke-build`, 'a');
  spawnSync('flock', ['3'], { stdio: ['ignore', 'ignore', 'ignore', lock] });
  try {
    if (built()) return;
    await build();
    writeFileSync(stamp, digest);
  } finally {
    closeSync(lock);
  }
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
