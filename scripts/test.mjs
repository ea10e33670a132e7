// `npm test`: installs what is missing and runs everything; the last line is `N passed, N failed`.
// `npm test -- unit browser` runs only the steps named.
import { spawn } from 'node:child_process';
import { chmodSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildPrograms, buildWeb } from './lib/build.mjs';
import { runScript } from './lib/fail.mjs';
import { installNodeModules, installSystemPackages } from './lib/install.mjs';
import { startDatabase } from './lib/mariadb.mjs';
import { root } from './lib/paths.mjs';
import { freePort } from './lib/ports.mjs';
import { startServer } from './lib/server.mjs';

/** @typedef {{ passed: number, failed: number }} Count */

const work = mkdtempSync(join(tmpdir(), 'yoke-test-'));
// The database runs as its own user where this runs as root, and must get into its folder.
chmodSync(work, 0o711);
/** @type {Record<string, string>} */
let databaseEnv = {};

/**
 * Runs a program with its output shown.
 * @param {string[]} command
 * @param {Record<string, string>} [env]
 * @returns {Promise<number>} its exit code
 */
function run(command, env = {}) {
  const [program, ...args] = command;
  const child = spawn(/** @type {string} */ (program), args, {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, FORCE_COLOR: '0', NODE_NO_WARNINGS: '1', npm_config_loglevel: 'error', ...env },
  });
  return new Promise((resolve) => child.once('exit', (code) => resolve(code ?? 1)));
}

/**
 * A program that only passes or fails counts as one.
 * @param {string[]} command
 * @returns {() => Promise<Count>}
 */
const single = (command) => async () => {
  const ok = (await run(command)) === 0;
  return { passed: Number(ok), failed: Number(!ok) };
};

/**
 * @typedef {{ numPassedTests: number, numFailedTests: number, numRuntimeErrorTestSuites: number }} UnitReport
 * @typedef {{ stats: { expected: number, flaky: number, unexpected: number } }} BrowserReport
 */

/**
 * @template Report
 * @param {string} file
 * @param {number} exitCode
 * @param {(report: Report) => Count} read
 * @returns {Count}
 */
function fromReport(file, exitCode, read) {
  if (!existsSync(file)) return { passed: 0, failed: 1 };
  const count = read(/** @type {Report} */ (JSON.parse(readFileSync(file, 'utf8'))));
  return exitCode !== 0 && count.failed === 0 ? { ...count, failed: 1 } : count;
}

/** What goes beside the tests that share one database: the computation, the page, and attacks on a database of their own. */
const BESIDE = ['packages/core/', 'packages/web/', 'scripts/attack\\.test'];

async function unit() {
  // Tests that start the application would build it otherwise, and wait for each other.
  await buildWeb();
  await buildPrograms();
  const folder = join(work, 'beside');
  mkdirSync(folder);
  chmodSync(folder, 0o711);
  const database = await startDatabase(`${folder}/`);
  const jest = async (
    /** @type {string} */ name,
    /** @type {string[]} */ which,
    /** @type {Record<string, string>} */ env,
  ) => {
    const file = join(work, `${name}.json`);
    const exitCode = await run(['npx', 'jest', ...which, '--json', `--outputFile=${file}`], env);
    return fromReport(file, exitCode, (/** @type {UnitReport} */ report) => ({
      passed: report.numPassedTests,
      failed: report.numFailedTests + report.numRuntimeErrorTestSuites,
    }));
  };
  const counts = await Promise.all([
    jest('beside', BESIDE, database.env),
    jest('application', ['--testPathIgnorePatterns', '/node_modules/', ...BESIDE], databaseEnv),
  ]);
  await database.stop();
  return counts.reduce((sum, { passed, failed }) => ({ passed: sum.passed + passed, failed: sum.failed + failed }));
}

async function browser() {
  await buildWeb();
  const port = await freePort();
  const server = await startServer({ ...databaseEnv, YOKE_HOST: '127.0.0.1', YOKE_PORT: String(port) });
  const file = join(work, 'playwright.json');
  const exitCode = await run(['npx', 'playwright', 'test'], {
    YOKE_URL: `http://127.0.0.1:${port}`,
    PLAYWRIGHT_JSON_OUTPUT_NAME: file,
  });
  await server.stop();
  return fromReport(file, exitCode, (/** @type {BrowserReport} */ { stats }) => ({
    passed: stats.expected + stats.flaky,
    failed: stats.unexpected,
  }));
}

/**
 * @typedef {[string, () => Promise<Count>]} Step
 * @type {Step[]}
 */
const checks = [
  ['format', single(['npx', 'prettier', '--check', '--log-level', 'warn', '.'])],
  ['lint', single(['npx', 'eslint', '.', '--max-warnings', '0'])],
  ['types-core', single(['npx', 'tsc', '-p', 'packages/core'])],
  ['types-server', single(['npx', 'tsc', '-p', 'packages/server'])],
  ['types-cli', single(['npx', 'tsc', '-p', 'packages/cli'])],
  ['types-web', single(['npx', 'vue-tsc', '-p', 'packages/web'])],
  ['types-tests', single(['npx', 'vue-tsc', '-p', '.', '--noEmit'])],
];
/** @type {Step[]} */
const runs = [
  ['unit', unit],
  ['browser', browser],
];

await runScript(async () => {
  const wanted = process.argv.slice(2);
  const chosen = (/** @type {Step[]} */ steps) =>
    steps.filter(([name]) => wanted.length === 0 || wanted.some((word) => name.startsWith(word)));
  installSystemPackages(['mariadb-server', 'chromium']);
  installNodeModules();
  const database = await startDatabase(`${work}/`);
  databaseEnv = database.env;
  const total = { passed: 0, failed: 0 };
  const take = async (/** @type {Step} */ [name, step]) => {
    const started = Date.now();
    console.log(`\n── ${name}`);
    const { passed, failed } = await step();
    total.passed += passed;
    total.failed += failed;
    console.log(`── ${name}: ${passed} passed, ${failed} failed (${Math.round((Date.now() - started) / 1000)} s)`);
  };
  try {
    const left = chosen(checks);
    const one = async () => {
      for (let step = left.shift(); step; step = left.shift()) await take(step);
    };
    // Checks use one thread each: two at a time.
    await Promise.all([one(), one()]);
    for (const step of chosen(runs)) await take(step);
  } finally {
    await database.stop();
    rmSync(work, { recursive: true, force: true });
  }
  console.log(`\n${total.passed} passed, ${total.failed} failed`);
  process.exit(total.failed === 0 ? 0 : 1);
});
