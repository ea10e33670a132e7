import { spawn, type ChildProcess } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { newMachine, Scatter } from '@yoke/core';

const root = fileURLToPath(new URL('../../', import.meta.url));
/** What is killed: the server, the database, both, or the script that started them. */
const VICTIMS = ['server', 'database', 'both', 'parent'] as const;
/** Editors that save all the time. */
const EDITORS = 4;

/** What a row of kills came to. */
export interface KillReport {
  kills: number;
  /** Saves that were acknowledged. */
  saves: number;
  /** Of those, saves that were not there afterwards. */
  lost: string[];
  /** Machines more or fewer than there must be. */
  miscounted: string[];
}

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Processes of the machine that were started for a data folder, by what their command line holds. */
function processesOf(folder: string, text: string): number[] {
  return readdirSync('/proc').filter((name) => /^\d+$/.test(name)).flatMap((name) => {
    try {
      const own = readFileSync(`/proc/${name}/environ`, 'utf8').includes(`YOKE_VAR=${folder}`);
      return own && readFileSync(`/proc/${name}/cmdline`, 'utf8').includes(text) ? [Number(name)] : [];
    } catch {
      return [];
    }
  }); // prettier-ignore
}

function kill(pids: readonly number[]): void {
  for (const pid of pids)
    try {
      process.kill(pid, 'SIGKILL');
    } catch {
      // It had ended by itself.
    }
}

/** The application on a folder of its own, started again and again. */
export class Application {
  child: ChildProcess | null = null;
  /** What the last start complained of. */
  complaint = '';

  constructor(
    readonly folder: string,
    readonly port: number,
  ) {}

  get address(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  /** Starts it; true once it is ready, false where it ended before. */
  start(): Promise<boolean> {
    const env = { ...process.env, YOKE_VAR: this.folder, YOKE_PORT: String(this.port) };
    const child = spawn(process.execPath, ['scripts/start.mjs'], {
      cwd: root,
      env,
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    this.child = child;
    this.complaint = '';
    child.stderr.on('data', (text: Buffer) => (this.complaint += text.toString()));
    return new Promise((resolve) => {
      child.stdout.on('data', (text: Buffer) => text.toString().includes('ready at') && resolve(true));
      child.once('close', () => resolve(false));
    });
  }

  get ended(): boolean {
    return !this.child || this.child.exitCode !== null || this.child.signalCode !== null;
  }

  kill(victim: (typeof VICTIMS)[number]): void {
    if (victim !== 'database')
      kill(processesOf(this.folder, victim === 'parent' ? 'scripts/start.mjs' : 'server/dist/main.js'));
    if (victim === 'database' || victim === 'both') kill(processesOf(this.folder, 'mariadbd\0'));
  }

  async stop(): Promise<void> {
    this.child?.kill('SIGTERM');
    while (!this.ended) await pause(50);
  }

  token(): string {
    return readFileSync(`${this.folder}/token`, 'utf8').trim();
  }

  /** A request with the token; null where there is no answer. */
  async ask(path: string, init: RequestInit = {}): Promise<Response | null> {
    try {
      const headers = { 'Content-Type': 'application/json', Authorization: `Bearer ${this.token()}`, ...init.headers };
      return await fetch(`${this.address}${path}`, { ...init, headers });
    } catch {
      return null;
    }
  }
}

/** An editor that saves one machine again and again, and knows what was acknowledged. */
class Editor {
  id = '';
  acknowledged = 0;
  private sent = 0;
  private revision = 1;
  private going = false;

  constructor(
    private readonly application: Application,
    readonly name: string,
  ) {}

  async create(): Promise<void> {
    const init = { method: 'POST', body: JSON.stringify(newMachine(this.name)) };
    this.id = ((await (await this.application.ask('/api/machines', init))!.json()) as { id: string }).id;
  }

  async edit(): Promise<number> {
    this.going = true;
    let saves = 0;
    let refused = 0;
    while (this.going) {
      const document = { ...newMachine(this.name), notes: String(++this.sent) };
      const headers = { 'If-Match': `"${this.revision}"` };
      const answer = await this.application.ask(`/api/machines/${this.id}`, {
        method: 'PUT',
        headers,
        body: JSON.stringify(document),
      });
      if (answer?.ok) {
        this.revision = ((await answer.json()) as { revision: number }).revision;
        this.acknowledged = this.sent;
        saves++;
        refused = 0;
      } else if (answer === null || answer.status >= 500 || (answer.status === 403 && ++refused < 50)) {
        // Not known whether it was made: sent again it must be answered as done, or be made. A server on its way out
        // does not know the token of its successor.
        this.sent--;
        await pause(100);
      } else throw new Error(`${this.name}: saving was refused with ${answer.status}: ${await answer.text()}`);
    }
    return saves;
  }

  stop(): void {
    this.going = false;
  }

  /** What the server has of it: the number of the last save. */
  async seen(): Promise<number> {
    const answer = await this.application.ask(`/api/machines/${this.id}`);
    if (!answer?.ok) return -1;
    return Number(((await answer.json()) as { notes: string }).notes || 0);
  }
}

/** Kills parts of the running application at seeded moments while editors save; looks each time whether all is there. */
export async function killAndLook(
  { folder, port, seed, kills }: { folder: string; port: number; seed: number; kills: number },
  told?: (done: number, report: KillReport) => void,
): Promise<KillReport> {
  const scatter = new Scatter(seed);
  const application = new Application(folder, port);
  const report: KillReport = { kills: 0, saves: 0, lost: [], miscounted: [] };
  if (!(await application.start())) throw new Error('The application does not start.');
  const count = async () => ((await (await application.ask('/api/machines?limit=500'))!.json()) as unknown[]).length;
  const editors = Array.from({ length: EDITORS }, (_, i) => new Editor(application, `Editor ${i + 1}`));
  for (const editor of editors) await editor.create();
  const expected = await count();
  let restarts = 0;
  while (report.kills < kills) {
    const edits = editors.map((editor) => editor.edit());
    await pause(100 + scatter.uniform() * 900);
    const victim = VICTIMS[Math.floor(scatter.uniform() * VICTIMS.length)]!;
    application.kill(victim);
    report.kills++;
    if (victim !== 'database') {
      while (!application.ended) await pause(50);
      if (!(await application.start()))
        throw new Error(`It does not start again after kill ${report.kills} (${victim}).`);
    } else while ((await application.ask('/api/health'))?.status !== 200) await pause(50);
    editors.forEach((editor) => editor.stop());
    for (const saves of await Promise.all(edits)) report.saves += saves;
    for (const editor of editors) {
      const seen = await editor.seen();
      if (seen < editor.acknowledged)
        report.lost.push(
          `kill ${report.kills} (${victim}): ${editor.name} saved ${editor.acknowledged}, there is ${seen}`,
        );
    }
    const now = await count();
    if (now !== expected)
      report.miscounted.push(`kill ${report.kills} (${victim}): ${now} machines instead of ${expected}`);
    // The database is given up on after three ends by itself, so that a new start is wanted before the fourth.
    restarts = victim === 'database' ? restarts + 1 : 0;
    if (restarts === 3) {
      restarts = 0;
      await application.stop();
      if (!(await application.start()))
        throw new Error(`It does not start again after kill ${report.kills}. ${application.complaint}`);
    }
    told?.(report.kills, report);
  }
  await application.stop();
  return report;
}

/** Kills first starts at seeded moments, while they make the database and load the demo: nothing may be doubled. */
export async function killFirstStarts({
  folder,
  port,
  seed,
  kills,
}: {
  folder: string;
  port: number;
  seed: number;
  kills: number;
}): Promise<KillReport> {
  const scatter = new Scatter(seed);
  const report: KillReport = { kills: 0, saves: 0, lost: [], miscounted: [] };
  const demos = readdirSync(`${root}demo`).filter((file) => file.endsWith('.yoke.json')).length;
  const application = new Application(folder, port);
  for (; report.kills < kills; report.kills++) {
    void application.start();
    await pause(500 + scatter.uniform() * 5000);
    application.kill('parent');
    while (!application.ended) await pause(50);
  }
  if (!(await application.start()))
    throw new Error(`It does not start after its first starts were killed. ${application.complaint}`);
  const now = ((await (await application.ask('/api/machines?limit=500'))!.json()) as unknown[]).length;
  if (now !== demos) report.miscounted.push(`after killed first starts: ${now} machines instead of ${demos}`);
  await application.stop();
  return report;
}
