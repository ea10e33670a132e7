/** @jest-environment jsdom */
import { newMachine } from '@yoke/core';
import type * as Drafts from './drafts';

/** What the browser keeps, for all windows. */
const kept = new Map<string, unknown>();
let broken = false;
const guard = <T>(act: () => T): Promise<T> => (broken ? Promise.reject(new Error('no room')) : Promise.resolve(act()));
jest.mock('idb-keyval', () => ({
  createStore: () => 'store',
  set: (key: string, value: unknown) => guard(() => void kept.set(key, JSON.parse(JSON.stringify(value)))),
  get: (key: string) => guard(() => kept.get(key)),
  del: (key: string) => guard(() => void kept.delete(key)),
  entries: () => guard(() => [...kept]),
}));

/** Locks that open windows hold, by name. */
const held = new Set<string>();
const locks = {
  request: (name: string, _: unknown, run: (lock: object | null) => unknown) => {
    if (held.has(name)) return Promise.resolve(run(null));
    held.add(name);
    return Promise.resolve(run({ name }));
  },
  query: () => Promise.resolve({ held: [...held].map((name) => ({ name })) }),
};

/** A window of its own: with its own session, and the module loaded anew. */
function newWindow(session: Record<string, string> = {}): typeof Drafts {
  sessionStorage.clear();
  for (const [key, value] of Object.entries(session)) sessionStorage.setItem(key, value);
  let drafts: typeof Drafts | null = null;
  jest.isolateModules(() => {
    drafts = jest.requireActual<typeof Drafts>('./drafts');
  });
  return drafts!;
}
const draft = (name: string, at = Date.now()) => ({ machineId: 'm1', document: newMachine(name), revision: 3, at });

beforeEach(() => {
  Object.defineProperty(globalThis, 'indexedDB', { value: {}, configurable: true });
  Object.defineProperty(navigator, 'locks', { value: locks, configurable: true });
  kept.clear();
  held.clear();
  broken = false;
});

describe('drafts of windows', () => {
  test('a window that was loaded anew finds its own', async () => {
    const first = newWindow();
    await first.keepDraft(draft('Mine'));
    const name = sessionStorage.getItem('yoke-window')!;
    held.clear();
    const again = newWindow({ 'yoke-window': name });
    expect((await again.findDraft('m1'))?.document.name).toBe('Mine');
    expect(await again.findDraft('m2')).toBeNull();
    await again.dropDraft('m1');
    expect(await again.findDraft('m1')).toBeNull();
  });

  test('what another open window works on is not offered; when it has crashed it is', async () => {
    await newWindow().keepDraft(draft('Theirs'));
    const theirs = [...held];
    const other = newWindow();
    expect(await other.findDraft('m1')).toBeNull();
    for (const name of theirs) held.delete(name);
    const found = await other.findDraft('m1');
    expect(found?.document.name).toBe('Theirs');
    await other.dropDraft('m1', found!.key);
    expect(kept.size).toBe(0);
  });

  test('a duplicated window takes a name of its own, so that neither writes over the other', async () => {
    await newWindow().keepDraft(draft('First'));
    const name = sessionStorage.getItem('yoke-window')!;
    const copy = newWindow({ 'yoke-window': name });
    await copy.keepDraft(draft('Second'));
    expect(kept.size).toBe(2);
    expect(sessionStorage.getItem('yoke-window')).not.toBe(name);
  });

  test('of several left behind the newest is offered; those older than thirty days go', async () => {
    const now = Date.now();
    for (const [name, ago] of [
      ['old', 40],
      ['newer', 1],
      ['new', 2],
    ] as const)
      // prettier-ignore
      await newWindow().keepDraft(draft(name, now - ago * 86_400_000));
    held.clear();
    expect((await newWindow().findDraft('m1'))?.document.name).toBe('newer');
    expect(kept.size).toBe(2);
  });

  test('a browser that keeps nothing is no reason to fail', async () => {
    const drafts = newWindow();
    broken = true;
    await expect(drafts.keepDraft(draft('x'))).resolves.toBeUndefined();
    await expect(drafts.findDraft('m1')).resolves.toBeNull();
    await expect(drafts.dropDraft('m1')).resolves.toBeUndefined();
  });
});
