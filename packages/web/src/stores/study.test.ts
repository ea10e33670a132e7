import { newAxis, newMachine, type StudyWishes, type StudyState } from '@yoke/core';
import { createPinia, setActivePinia } from 'pinia';
import { nextTick } from 'vue';
import { api, ApiProblem } from '@/api/client';
import { useMachine } from './machine';
import { useStudy } from './study';

Reflect.deleteProperty(globalThis, 'BroadcastChannel');

/** A stand-in for the server: studies that do one run at each look. */
const server = { studies: new Map<string, StudyState>(), failure: null as ApiProblem | null };
const shelf = new Map<string, string>();

beforeEach(() => {
  jest.useFakeTimers();
  setActivePinia(createPinia());
  server.studies.clear();
  server.failure = null;
  shelf.clear();
  Object.defineProperty(globalThis, 'localStorage', {
    configurable: true,
    value: { getItem: (key: string) => shelf.get(key) ?? null, setItem: (key: string, text: string) => void shelf.set(key, text) }, // prettier-ignore
  });
  jest.spyOn(api, 'readMachine').mockImplementation(async (id) => {
    const machine = newMachine(id);
    machine.axes = [newAxis('linear', [], 2)];
    return { machine, revision: 1 };
  });
  jest.spyOn(api, 'beginStudy').mockImplementation(async (_, { runs }: StudyWishes) => {
    const study: StudyState = { id: `s${server.studies.size}`, total: runs, done: 0, state: 'running', problem: null, runs: [] }; // prettier-ignore
    server.studies.set(study.id, study);
    return study;
  });
  jest.spyOn(api, 'readStudy').mockImplementation(async (id) => {
    if (server.failure) throw server.failure;
    const study = server.studies.get(id);
    if (!study) throw new ApiProblem(404, 'There is no such study any more: begin it again.');
    const done = study.state === 'running' ? study.done + 1 : study.done;
    const next: StudyState = { ...study, done, state: done === study.total ? 'done' : study.state };
    server.studies.set(id, next);
    return next;
  });
  jest.spyOn(api, 'cancelStudy').mockImplementation(async (id) => {
    server.studies.set(id, { ...server.studies.get(id)!, state: 'cancelled' });
  });
});
afterEach(() => {
  jest.useRealTimers();
  jest.restoreAllMocks();
  Reflect.deleteProperty(globalThis, 'localStorage');
});

async function opened(id = 'one') {
  const machine = useMachine();
  await machine.open(id);
  const study = useStudy();
  await nextTick();
  await jest.advanceTimersByTimeAsync(0);
  return { machine, study };
}
/** A reload: all stores anew, the same browser. */
async function reloaded(id = 'one') {
  jest.clearAllTimers();
  setActivePinia(createPinia());
  return opened(id);
}

test('a study is looked at until it is done', async () => {
  const { study } = await opened();
  study.wishes = { ...study.wishes, runs: 3 };
  await study.begin();
  expect(study.study).toMatchObject({ state: 'running', done: 1 });
  await jest.advanceTimersByTimeAsync(5000);
  expect(study.study).toMatchObject({ state: 'done', done: 3 });
});

test('after a reload it is found again with its wishes, and gone on with', async () => {
  const { study } = await opened();
  study.wishes = { ...study.wishes, runs: 4, friction: 0.3 };
  await study.begin();
  const again = (await reloaded()).study;
  expect(again.study).toMatchObject({ state: 'running' });
  expect(again.wishes).toMatchObject({ runs: 4, friction: 0.3 });
  await jest.advanceTimersByTimeAsync(5000);
  expect(again.study).toMatchObject({ state: 'done', done: 4 });
  expect(again.overtaken).toBe(false);
});

test('each machine has its own; another one shows none', async () => {
  const { machine, study } = await opened();
  study.wishes = { ...study.wishes, runs: 2 };
  await study.begin();
  await machine.open('two');
  await nextTick();
  expect(study.study).toBeNull();
  await jest.advanceTimersByTimeAsync(5000);
  expect(study.study).toBeNull();
  await machine.open('one');
  await nextTick();
  await jest.advanceTimersByTimeAsync(5000);
  expect(study.study).toMatchObject({ state: 'done', done: 2 });
});

test('once the machine is changed the runs are said to be of what it was; a name changes nothing', async () => {
  const { machine, study } = await opened();
  await study.begin();
  machine.edit('name', (draft) => void (draft.name = 'Other'));
  expect(study.overtaken).toBe(false);
  machine.editAxis('mass', (draft) => void (draft.load.inertia = 77));
  expect(study.overtaken).toBe(true);
  machine.undo();
  expect(study.overtaken).toBe(false);
});

test('one that the server no longer has is none; while the server is away it is looked for again', async () => {
  const { study } = await opened();
  study.wishes = { ...study.wishes, runs: 2 };
  await study.begin();
  server.failure = new ApiProblem(0, 'The server cannot be reached.');
  const away = (await reloaded()).study;
  expect(away.message).toBe('The server cannot be reached.');
  server.failure = null;
  await jest.advanceTimersByTimeAsync(8000);
  expect(away.study).toMatchObject({ state: 'done' });
  expect(away.message).toBe('');
  server.studies.clear();
  const gone = (await reloaded()).study;
  expect([gone.study, gone.message]).toEqual([null, '']);
});

test('cancelled it stays as far as it came', async () => {
  const { study } = await opened();
  study.wishes = { ...study.wishes, runs: 50 };
  await study.begin();
  await study.cancel();
  expect(study.study).toMatchObject({ state: 'cancelled', done: 1 });
  await jest.advanceTimersByTimeAsync(5000);
  expect(study.study).toMatchObject({ state: 'cancelled', done: 1 });
});
