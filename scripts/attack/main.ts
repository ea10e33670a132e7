// `npm run attack`: the attacks of the tests in their long form, about half an hour; `-- --kills`, `-- --requests` or
// `-- --mutants` for a part of it. Exit code 1 where anything gave way.
import { spawn } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { newMachine } from '@yoke/core';
import { freePort } from '../lib/ports.mjs';
import { hostileImports } from './imports';
import { Application, killAndLook, killFirstStarts } from './kills';
import { tryMutants } from './mutants';
import { sendBadRequests } from './requests';

const KILLS = 100;
const FIRST_STARTS = 10;
const REQUESTS = 100_000;
const MUTANTS = 20_000;
const IMPORTS = 5000;
/** Seeds of the long form begin where those of the tests have ended. */
const FIRST_SEED = 100_000;

const say = (text: string) => console.log(`${new Date().toISOString().slice(11, 19)}  ${text}`);
const list = (things: readonly unknown[]) => things.slice(0, 20).map((thing) => `\n    ${JSON.stringify(thing)}`).join(''); // prettier-ignore
let wrong = 0;

/** Tells a result; what gave way is counted. */
function result(what: string, figures: string, failures: readonly unknown[]): void {
  wrong += failures.length;
  say(`${what}: ${figures}; ${failures.length} gave way${list(failures)}`);
}

function scratch(): string {
  const folder = mkdtempSync(join(tmpdir(), 'yoke-attack-'));
  chmodSync(folder, 0o711);
  return folder;
}

async function mutants(): Promise<void> {
  const report = await tryMutants(FIRST_SEED, MUTANTS, (done) => done % 2000 === 0 && say(`mutants: ${done} tried`));
  const { refused, asked, named, ran } = report.outcomes;
  const figures = `${MUTANTS} tried: ${refused} refused, ${asked} asked about, ${named} ended by name, ${ran} run`;
  result('mutants', figures, report.wrong);
  const imports = hostileImports(FIRST_SEED, IMPORTS);
  result('imports', `${IMPORTS} tried: ${imports.refused} refused, ${imports.read} read`, imports.wrong);
}

async function kills(): Promise<void> {
  const folder = scratch();
  const told = (done: number) => done % 20 === 0 && say(`kills: ${done}`);
  const report = await killAndLook({ folder, port: await freePort(), seed: FIRST_SEED, kills: KILLS }, told);
  result('kills', `${report.kills} kills, ${report.saves} acknowledged saves`, [...report.lost, ...report.miscounted]);
  rmSync(folder, { recursive: true, force: true });
  const fresh = scratch();
  const first = await killFirstStarts({ folder: fresh, port: await freePort(), seed: FIRST_SEED, kills: FIRST_STARTS });
  result('first starts', `${first.kills} killed`, first.miscounted);
  rmSync(fresh, { recursive: true, force: true });
}

async function requests(): Promise<void> {
  const application = new Application(scratch(), await freePort());
  if (!(await application.start())) throw new Error('The application does not start.');
  const body = JSON.stringify(newMachine('Target'));
  const made = await application.ask('/api/machines', { method: 'POST', body });
  const { id } = (await made!.json()) as { id: string };
  const target = { host: '127.0.0.1', port: application.port, token: application.token(), ids: [id] };
  for (let done = 0, batch = REQUESTS / 10; done < REQUESTS; done += batch) {
    const report = await sendBadRequests(target, FIRST_SEED + done, batch);
    const statuses = Object.entries(report.statuses).map(([status, count]) => `${count} × ${status}`);
    result('requests', `${done + batch} sent, of the last: ${statuses.join(', ')}`, report.wrong);
  }
  const health = (await application.ask('/api/health'))?.status;
  if (health !== 200) result('requests', 'afterwards', [`the server answers ${health}`]);
  await application.stop();
  rmSync(application.folder, { recursive: true, force: true });
}

const PARTS = { '--mutants': mutants, '--kills': kills, '--requests': requests };
const [part] = process.argv.slice(2) as (keyof typeof PARTS)[];
if (part !== undefined) await PARTS[part]();
else {
  // The mutants compute, the kills wait, the requests do a little of both: all at once.
  const self = fileURLToPath(import.meta.url);
  const codes = Object.keys(PARTS).map((name) => {
    const child = spawn(process.execPath, ['--import', 'tsx', self, name], { stdio: 'inherit' });
    return new Promise<number>((resolve) => child.once('exit', (code) => resolve(code ?? 1)));
  });
  wrong = (await Promise.all(codes)).filter((code) => code !== 0).length;
  say(wrong === 0 ? 'Nothing gave way.' : `${wrong} of ${codes.length} parts gave way.`);
}
process.exit(wrong === 0 ? 0 : 1);
