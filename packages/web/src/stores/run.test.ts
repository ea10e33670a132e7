import {
  dutyOf,
  newAxis,
  newMachine,
  rankMotors,
  readCatalogue,
  rotorInput,
  runInput,
  simulate,
  type Candidate,
  type CycleOptions,
  type Machine,
  type MachineRun,
  type Motor,
  type ToldFinding,
} from '@yoke/core';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { createPinia, setActivePinia } from 'pinia';
import { nextTick } from 'vue';
import { api, ApiProblem } from '@/api/client';
import type { KeyedRun, RunHooks } from '@/worker/compute';
import { useCatalogue } from './catalogue';
import { useCursor } from './cursor';
import { useMachine } from './machine';
import { useRun } from './run';

const motors = readCatalogue(readFileSync(join(__dirname, '../../../../demo/motors.csv'), 'utf8'));

/** A worker that answers when it is let: what a slow machine would do. */
const worker = {
  runs: 0,
  ranks: 0,
  catalogue: [] as Motor[],
  waiting: [] as (() => void)[],
  slow: false,
  findings: [] as ToldFinding[],
  /** What is told of a cycle before all of it is computed. */
  beginning: null as MachineRun | null,
  /** Results that were sent to the page. */
  given: 0,
};

jest.mock('comlink', () => ({
  proxy: <T>(callback: T): T => callback,
  wrap: () => ({
    setCatalogue: async (catalogue: Motor[]) => void (worker.catalogue = catalogue),
    run: async (machine: Machine, hooks: RunHooks, _draw: CycleOptions, have: string | null): Promise<KeyedRun> => {
      worker.runs++;
      if (worker.beginning) hooks.begun?.(worker.beginning);
      if (worker.slow) await new Promise<void>((resolve) => worker.waiting.push(resolve));
      if (machine.name === 'Broken') throw new Error('the worker fell over');
      const key = rotorInput(machine, worker.catalogue) + runInput(machine);
      worker.given += key === have ? 0 : 1;
      return {
        key,
        from: 'computed',
        findings: worker.findings,
        result: key === have ? null : { run: simulate(machine), record: null },
      };
    },
    rank: async (machine: Machine): Promise<Record<string, Candidate[]>> => {
      worker.ranks++;
      const run = simulate(machine);
      return Object.fromEntries(
        machine.axes.map((axis, i) => [
          axis.id,
          rankMotors(worker.catalogue, dutyOf(axis, run.axes[i]!, run.times), axis.sizing),
        ]),
      );
    },
  }),
}));

Reflect.deleteProperty(globalThis, 'BroadcastChannel');
Object.assign(globalThis, { Worker: jest.fn(() => ({ terminate: () => undefined })) });

beforeEach(() => {
  jest.useFakeTimers();
  setActivePinia(createPinia());
  Object.assign(worker, {
    runs: 0,
    ranks: 0,
    catalogue: [],
    waiting: [],
    slow: false,
    findings: [],
    beginning: null,
    given: 0,
  });
  const document = newMachine('Test');
  document.axes = [newAxis('linear', [], 2)];
  document.axes.push(newAxis('rotary', document.axes, 2));
  jest.spyOn(api, 'readMachine').mockResolvedValue({ machine: document, revision: 1 });
  jest.spyOn(api, 'saveMachine').mockResolvedValue(2);
  jest.spyOn(api, 'listMotors').mockResolvedValue({ motors, former: null });
});
afterEach(() => {
  jest.useRealTimers();
  jest.restoreAllMocks();
});

/** Lets everything that waits for nothing but its turn happen. */
async function settle(): Promise<void> {
  for (let i = 0; i < 12; i++) await nextTick();
}

async function opened() {
  const machine = useMachine();
  const results = useRun();
  await useCatalogue().load();
  await machine.open('one');
  await settle();
  return { machine, results };
}
const setMass = (machine: ReturnType<typeof useMachine>, mass: number) =>
  machine.editAxis('mass', (draft) => void (draft.load.inertia = mass));

describe('results', () => {
  test('are there for every axis once a machine is open, and follow the selected axis', async () => {
    const { machine, results } = await opened();
    expect([results.stale, results.rankingStale]).toEqual([false, false]);
    expect(results.axisRun?.axisId).toBe('axis1');
    expect(results.ranking).toHaveLength(30);
    machine.selectedAxisId = 'axis2';
    expect([results.axisRun?.axisId, results.axis?.kind]).toEqual(['axis2', 'rotary']);
  });

  test('a name changes nothing that was computed: the result stays, and is not sent again', async () => {
    const { machine, results } = await opened();
    const before = results.run;
    const given = worker.given;
    machine.edit('rename', (draft) => void (draft.notes = 'Another note'));
    expect(results.stale).toBe(true);
    await settle();
    expect([results.stale, results.run, worker.given]).toEqual([false, before, given]);
    expect(results.document!.notes).toBe('Another note');
  });

  test('the beginning of a cycle is shown while the rest is computed, and nothing stands on it', async () => {
    const { machine, results } = await opened();
    const whole = results.run!;
    worker.beginning = { run: { ...whole, cycleTime: 1 }, record: null, findings: [] };
    worker.slow = true;
    setMass(machine, 12);
    await settle();
    expect([results.run!.cycleTime, results.begun, results.stale, results.rankingStale]).toEqual([1, 1, true, true]);
    results.stop();
    await settle();
    expect([results.stale, results.failure]).toEqual([true, 'The run was stopped. Any edit starts it again.']);
    worker.slow = false;
    worker.beginning = null;
    setMass(machine, 11);
    await settle();
    expect([results.run!.cycleTime, results.begun, results.stale]).toEqual([whole.cycleTime, null, false]);
  });

  test('an edit ends a long run under way at once; its result is not waited for', async () => {
    const { machine, results } = await opened();
    const clock = jest.spyOn(performance, 'now').mockReturnValue(0);
    worker.slow = true;
    setMass(machine, 12);
    await settle();
    clock.mockReturnValue(5000);
    worker.slow = false;
    setMass(machine, 3);
    await settle();
    expect([results.stale, results.failure]).toEqual([false, null]);
    expect(results.document!.axes[0]!.load.inertia).toBe(3);
    expect(worker.waiting).toHaveLength(1);
  });

  test('follow an edit by themselves', async () => {
    const { machine, results } = await opened();
    const before = results.axisRun!.rms.effort;
    setMass(machine, 10);
    expect(results.stale).toBe(true);
    await settle();
    expect(results.stale).toBe(false);
    // Without friction, slope and force the effort is all inertia: twice the mass, twice the force.
    expect(results.axisRun!.rms.effort / before).toBeCloseTo(2, 9);
  });

  test('old results stay readable while new ones are computed, and of many edits only the last is', async () => {
    const { machine, results } = await opened();
    const { runs, ranks } = worker;
    worker.slow = true;
    const old = results.run;
    for (const mass of [6, 7, 8, 9, 10]) {
      setMass(machine, mass);
      await settle();
    }
    expect([results.stale, results.run === old]).toEqual([true, true]);
    while (worker.waiting.length > 0) {
      worker.waiting.shift()!();
      await settle();
    }
    expect([worker.runs - runs, worker.ranks - ranks]).toEqual([2, 1]);
    expect(results.axis?.load.inertia).toBe(10);
    expect([results.stale, results.rankingStale]).toEqual([false, false]);
  });

  test('a scattered run is said to be shown when it is, not when it was asked for; so is the way back', async () => {
    const { results } = await opened();
    worker.slow = true;
    const answer = async () => {
      worker.waiting.shift()!();
      await settle();
    };
    results.runDraw({ seed: 7 });
    await settle();
    expect([results.draw, results.stale, results.rankingStale]).toEqual([null, true, true]);
    await answer();
    expect([results.draw, results.stale, results.rankingStale]).toEqual([{ seed: 7 }, false, false]);
    results.runDraw(null);
    await settle();
    expect([results.draw, results.stale]).toEqual([{ seed: 7 }, true]);
    await answer();
    expect([results.draw, results.stale]).toEqual([null, false]);
  });

  test('who insists on a broken run is asked again where something else breaks it', async () => {
    const { machine, results } = await opened();
    const broken = (code: string, text: string): ToldFinding => ({
      severity: 'error', about: 'mechanism', code, axisId: null, time: null, breaks: true, text,
    }); // prettier-ignore
    worker.findings = [broken('stiff', 'too stiff')];
    setMass(machine, 6);
    await settle();
    expect([results.brokenFor()?.text, results.insisted]).toEqual(['too stiff', false]);
    results.insist();
    await settle();
    worker.findings = [broken('stiff', 'too stiff, a little later')];
    setMass(machine, 7);
    await settle();
    expect(results.insisted).toBe(true);
    worker.findings = [broken('singular', 'stuck')];
    setMass(machine, 8);
    await settle();
    expect([results.brokenFor()?.text, results.insisted]).toEqual(['stuck', false]);
  });

  test('a failure is said and does not end the computing', async () => {
    const { machine, results } = await opened();
    machine.edit('name', (draft) => void (draft.name = 'Broken'));
    await settle();
    expect(results.stale).toBe(true);
    expect(results.failure).toMatch(/^The computation broke down .*the worker fell over.*: undo the last edit/);
    machine.undo();
    await settle();
    expect([results.failure, results.stale]).toEqual([null, false]);
  });
});

describe('the cursor', () => {
  test('stays inside the cycle', async () => {
    const { machine } = await opened();
    const cursor = useCursor();
    cursor.moveTo(5);
    expect(cursor.time).toBe(2);
    cursor.moveTo(-1);
    expect(cursor.time).toBe(0);
    cursor.moveTo(1.8);
    machine.edit('cycle', (draft) => void (draft.cycle = { given: 'time', time: 1.5 }));
    expect(cursor.time).toBe(1.5);
  });

  test('steps from sample to sample, and stops at both ends', async () => {
    const { results } = await opened();
    const cursor = useCursor();
    const { times } = results.run!;
    cursor.step(-1);
    expect(cursor.time).toBe(0);
    for (const k of [1, 2, 3]) {
      cursor.step(1);
      expect(cursor.time).toBe(times[k]);
    }
    cursor.step(-1);
    expect(cursor.time).toBe(times[2]);
    cursor.step(10);
    expect(cursor.time).toBe(times[12]);
    cursor.moveTo(2);
    cursor.step(1);
    expect(cursor.time).toBe(2);
  });

  test('between two samples it steps to the nearest on either side', async () => {
    const { results } = await opened();
    const cursor = useCursor();
    const { times } = results.run!;
    const between = (times[100]! + times[101]!) / 2;
    cursor.moveTo(between);
    cursor.step(1);
    expect(cursor.time).toBe(times[101]);
    cursor.moveTo(between);
    cursor.step(-1);
    expect(cursor.time).toBe(times[100]);
  });

  test('passes a time that stands twice in one step', async () => {
    const { machine, results } = await opened();
    machine.editAxis('law', (draft) => {
      const [first] = draft.plan.segments;
      if (first?.kind === 'move') first.law = { id: 'quadratic' };
    });
    await settle();
    const cursor = useCursor();
    const { times } = results.run!;
    const pair = times.findIndex((time, k) => time === times[k + 1]);
    expect(pair).toBeGreaterThan(0);
    cursor.moveTo(times[pair]!);
    cursor.step(1);
    expect(cursor.time).toBe(times[pair + 2]);
    cursor.step(-1);
    expect(cursor.time).toBe(times[pair]);
  });
});

describe('the catalogue', () => {
  test('is read once, and a refused import changes nothing', async () => {
    await opened();
    const catalogue = useCatalogue();
    await catalogue.load();
    expect(api.listMotors).toHaveBeenCalledTimes(1);
    jest.spyOn(api, 'importMotors').mockRejectedValue(new ApiProblem(422, 'Row 2 is wrong.'));
    expect(await catalogue.importCsv('x', 'replace')).toBe('Nothing was changed. Row 2 is wrong.');
    expect([catalogue.motors.length, catalogue.state]).toEqual([30, 'ready']);
  });

  test('a new catalogue is ranked at once', async () => {
    const { results } = await opened();
    jest.spyOn(api, 'importMotors').mockResolvedValue({ motors: motors.slice(0, 3), former: 30 });
    await useCatalogue().importCsv('x', 'replace');
    await settle();
    expect(results.ranking).toHaveLength(3);
  });
});
