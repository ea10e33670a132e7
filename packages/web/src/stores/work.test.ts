import {
  confirmProposals,
  judgeCandidate,
  newAxis,
  newMachine,
  planCandidates,
  type JudgedCandidate,
  type Machine,
  type ProposalTask,
} from '@yoke/core';
import { createPinia, setActivePinia } from 'pinia';
import { api } from '@/api/client';
import { useMachine } from './machine';
import { useWork } from './work';

/** Workers that judge every fourth candidate of their share, and wait where they are told to. */
const worker = { started: 0, ended: 0, hold: false };

jest.mock('comlink', () => ({
  proxy: <T>(callback: T): T => callback,
  wrap: () => ({
    setCatalogue: async () => undefined,
    propose: async (
      machine: Machine,
      task: ProposalTask,
      first: number,
      every: number,
      progress: (done: number) => void,
    ): Promise<JudgedCandidate[]> => {
      if (worker.hold) await new Promise(() => undefined);
      const share = planCandidates(machine.axes[0]!, task.goal).filter((_, i) => i % every === first);
      progress(share.length / 2);
      return share
        .filter((_, i) => i % 40 === 0)
        .flatMap((candidate) => judgeCandidate(machine, task, candidate) ?? []);
    },
    confirm: confirmProposals,
  }),
}));
Reflect.deleteProperty(globalThis, 'BroadcastChannel');
Object.assign(globalThis, {
  navigator: { hardwareConcurrency: 4 },
  Worker: class {
    constructor() {
      worker.started++;
    }
    terminate(): void {
      worker.ended++;
    }
  },
});

const task: ProposalTask = { axisId: 'axis1', goal: 'peak', oscillator: null, motor: null };

beforeEach(async () => {
  setActivePinia(createPinia());
  Object.assign(worker, { started: 0, ended: 0, hold: false });
  const document = newMachine('Test');
  document.axes = [newAxis('linear', [], 2)];
  jest.spyOn(api, 'readMachine').mockResolvedValue({ machine: document, revision: 1 });
  await useMachine().open('m1');
});

test('candidates are shared out among the workers, whose answers come together; all workers end', async () => {
  const work = useWork();
  const found = (await work.propose(task))!;
  expect(found.judged).toBeGreaterThan(15);
  expect(found.list.length).toBeGreaterThan(1);
  expect(new Set(found.list.map(({ plan }) => JSON.stringify(plan))).size).toBe(found.list.length);
  const peaks = found.list.map(({ price }) => price.peakTorque);
  expect(peaks).toEqual([...peaks].sort((a, b) => a - b));
  expect(found.now.peakTorque).toBeGreaterThan(0);
  expect(worker.started).toBeGreaterThan(0);
  expect(worker.ended).toBe(worker.started);
  expect(work.progress).toBeNull();
});

test('given up, even while workers are still being started, it answers with nothing and ends them', async () => {
  worker.hold = true;
  const work = useWork();
  const asked = work.propose(task);
  expect(work.progress).toBe(0);
  expect(work.candidates).toBeGreaterThan(1000);
  work.cancel();
  expect(await asked).toBeNull();
  expect(worker.ended).toBe(worker.started);
  expect(work.progress).toBeNull();
});
