import fc from 'fast-check';
import { newAxis, newMachine, type Machine } from '@yoke/core';
import { createPinia, setActivePinia } from 'pinia';
import { isReactive, reactive } from 'vue';
import { api, ApiProblem } from '@/api/client';
import { useMachine } from './machine';

const start = (): Machine => {
  const machine = newMachine('Test');
  machine.axes = [newAxis('linear', [], 2)];
  return machine;
};

/** A stand-in for the server: one document with its revision, and a switch that makes it fail. */
const server = { document: start(), revision: 1, saves: 0, failure: null as ApiProblem | null };

// An open channel would keep the test runner alive.
Reflect.deleteProperty(globalThis, 'BroadcastChannel');

beforeEach(() => {
  jest.useFakeTimers();
  setActivePinia(createPinia());
  Object.assign(server, { document: start(), revision: 1, saves: 0, failure: null });
  jest.spyOn(api, 'readMachine').mockImplementation(async () => ({
    machine: structuredClone(server.document),
    revision: server.revision,
  }));
  jest.spyOn(api, 'saveMachine').mockImplementation(async (_id, machine, revision) => {
    if (server.failure) throw server.failure;
    if (revision !== server.revision) throw new ApiProblem(412, 'Changed elsewhere', [], server.revision);
    server.document = structuredClone(machine);
    server.saves++;
    return ++server.revision;
  });
});
afterEach(() => {
  jest.useRealTimers();
  jest.restoreAllMocks();
});

async function opened() {
  const machine = useMachine();
  await machine.open('one');
  return machine;
}
const settle = () => jest.advanceTimersByTimeAsync(600);
const setMass = (machine: ReturnType<typeof useMachine>, mass: number, key?: string) =>
  machine.editAxis('mass', (draft) => void (draft.load.inertia = mass), key);

describe('editing', () => {
  test('an edit changes the document, and undo and redo go back and forth', async () => {
    const machine = await opened();
    expect(setMass(machine, 9)).toBeNull();
    expect(machine.axis?.load.inertia).toBe(9);
    expect(machine.undoLabel).toBe('mass');
    machine.undo();
    expect(machine.document).toEqual(start());
    expect(machine.redoLabel).toBe('mass');
    machine.redo();
    expect(machine.axis?.load.inertia).toBe(9);
  });

  test('what Vue watches never reaches the document: a worker can take it, and nobody changes it from outside', async () => {
    const machine = await opened();
    const watched = reactive({ rows: [[0, 1] as [number, number], [1, 2] as [number, number]] });
    machine.editAxis('table', (draft) => void (draft.load.forceTable = watched.rows));
    expect(isReactive(machine.document!.axes[0]!.load.forceTable)).toBe(false);
    expect(structuredClone(machine.document)).toEqual(machine.document);
    watched.rows[0]![1] = 9;
    expect(machine.axis!.load.forceTable).toEqual([[0, 1], [1, 2]]); // prettier-ignore
  });

  test('an edit that would make the document invalid is not made, and says what is wrong', async () => {
    const machine = await opened();
    expect(setMass(machine, -1)).toMatch(/^“.+”, inertia must be at least 0\.$/);
    expect(machine.document).toEqual(start());
    expect(machine.undoLabel).toBeNull();
    await settle();
    expect(server.saves).toBe(0);
  });

  test('edits of one gesture are one step', async () => {
    const machine = await opened();
    for (const mass of [6, 7, 8]) setMass(machine, mass, 'drag 1');
    setMass(machine, 9, 'drag 2');
    machine.undo();
    expect(machine.axis?.load.inertia).toBe(8);
    machine.undo();
    expect(machine.document).toEqual(start());
  });

  test('a new edit ends what could be redone', async () => {
    const machine = await opened();
    setMass(machine, 6);
    machine.undo();
    setMass(machine, 7);
    expect(machine.redoLabel).toBeNull();
  });

  test('whatever is edited, undoing all of it gives the document back, and redoing all of it the last one', async () => {
    const machine = await opened();
    type Step = { mass: number } | { name: string } | { add: boolean };
    const step: fc.Arbitrary<Step> = fc.oneof(
      fc.record({ mass: fc.double({ min: 0, max: 100, noNaN: true }) }),
      fc.record({ name: fc.string({ minLength: 1, maxLength: 10 }) }),
      fc.record({ add: fc.boolean() }),
    );
    fc.assert(
      fc.property(fc.array(step, { maxLength: 12 }), (steps) => {
        const before = machine.document;
        let made = 0;
        for (const one of steps) {
          const was = machine.document;
          if ('mass' in one) setMass(machine, one.mass);
          else if ('name' in one) machine.edit('name', (draft) => void (draft.name = one.name));
          else if (one.add)
            machine.edit('add', (draft) => void draft.axes.push(structuredClone(newAxis('rotary', machine.axes, 2))));
          else machine.edit('drop', (draft) => void (draft.axes.length > 1 && draft.axes.pop()));
          if (machine.document !== was) made++;
        }
        const after = machine.document;
        for (let i = 0; i < made; i++) machine.undo();
        expect(machine.document).toEqual(before);
        for (let i = 0; i < made; i++) machine.redo();
        expect(machine.document).toEqual(after);
        for (let i = 0; i < made; i++) machine.undo();
      }),
      { numRuns: 40 },
    );
  });
});

describe('saving', () => {
  test('happens by itself, once for edits in quick succession', async () => {
    const machine = await opened();
    setMass(machine, 6);
    setMass(machine, 7);
    expect(machine.saveState.kind).toBe('waiting');
    await settle();
    expect([machine.saveState.kind, server.saves, server.document.axes[0]!.load.inertia]).toEqual(['saved', 1, 7]);
  });

  test('a change made elsewhere is not overwritten unseen', async () => {
    const machine = await opened();
    server.revision = 5;
    setMass(machine, 6);
    await settle();
    expect([machine.saveState.kind, server.saves]).toEqual(['conflict', 0]);
    setMass(machine, 7);
    await settle();
    expect([machine.saveState.kind, server.saves]).toEqual(['conflict', 0]);
    await machine.overwrite();
    expect([machine.saveState.kind, server.document.axes[0]!.load.inertia]).toEqual(['saved', 7]);
  });

  test('taking theirs gives up what was changed here', async () => {
    const machine = await opened();
    server.revision = 5;
    server.document.name = 'Theirs';
    setMass(machine, 6);
    await settle();
    await machine.reload();
    expect([machine.document?.name, machine.saveState.kind, machine.undoLabel]).toEqual(['Theirs', 'saved', null]);
  });

  test('while the server is away it is tried again until it answers', async () => {
    const machine = await opened();
    server.failure = new ApiProblem(0, 'away');
    setMass(machine, 6);
    await settle();
    expect(machine.saveState).toEqual({ kind: 'offline', message: 'away' });
    server.failure = null;
    await jest.advanceTimersByTimeAsync(3100);
    expect([machine.saveState.kind, server.document.axes[0]!.load.inertia]).toEqual(['saved', 6]);
  });

  test('a document deleted elsewhere stays here and says so', async () => {
    const machine = await opened();
    server.failure = new ApiProblem(404, 'gone');
    setMass(machine, 6);
    await settle();
    expect([machine.saveState.kind, machine.axis?.load.inertia]).toEqual(['gone', 6]);
  });

  test('closing saves what is not saved yet', async () => {
    const machine = await opened();
    setMass(machine, 6);
    await machine.close();
    expect(server.document.axes[0]!.load.inertia).toBe(6);
    expect(machine.document).toBeNull();
  });

  test.each(['one', 'two'])(
    'going to machine %s while the last one is still being saved and closed opens it',
    async (next) => {
      const machine = await opened();
      setMass(machine, 9);
      const save = jest.mocked(api.saveMachine).getMockImplementation()!;
      let answer = () => undefined as void;
      const asked = new Promise<void>((resolve) => (answer = resolve));
      jest.mocked(api.saveMachine).mockImplementation(async (...wanted) => {
        await asked;
        return save(...wanted);
      });
      const closing = machine.close();
      const opening = machine.open(next);
      answer();
      await Promise.all([closing, opening]);
      await settle();
      expect([machine.id, machine.load.kind]).toEqual([next, 'ready']);
      expect(machine.axis?.load.inertia).toBe(9);
      expect(server.saves).toBe(1);
    },
  );

  test('an edit while a save is under way is saved after it', async () => {
    const machine = await opened();
    setMass(machine, 6);
    const saving = machine.saveNow();
    setMass(machine, 7);
    await saving;
    await settle();
    expect([server.saves, server.document.axes[0]!.load.inertia, machine.saveState.kind]).toEqual([2, 7, 'saved']);
  });
});

test('a machine that cannot be read says why', async () => {
  jest.spyOn(api, 'readMachine').mockRejectedValue(new ApiProblem(404, 'There is no such machine.'));
  const machine = await opened();
  expect(machine.load).toEqual({ kind: 'failed', message: 'There is no such machine.' });
});

describe('history over a reload', () => {
  /** sessionStorage of a window, which its reload leaves as it is. */
  const storage = new Map<string, string>();
  beforeEach(() => {
    storage.clear();
    Object.defineProperty(globalThis, 'sessionStorage', {
      configurable: true,
      value: {
        getItem: (key: string) => storage.get(key) ?? null,
        setItem: (key: string, value: string) => void storage.set(key, value),
        removeItem: (key: string) => void storage.delete(key),
      },
    });
  });
  afterEach(() => Reflect.deleteProperty(globalThis, 'sessionStorage'));

  test('what was done can be undone, and what was undone done again, after the machine is opened anew', async () => {
    const machine = await opened();
    for (const mass of [3, 4, 5]) setMass(machine, mass);
    machine.undo();
    await settle();
    await machine.close();
    expect(machine.undoLabel).toBeNull();
    await machine.open('one');
    expect(machine.axis?.load.inertia).toBe(4);
    machine.redo();
    expect(machine.axis?.load.inertia).toBe(5);
    for (let i = 0; i < 3; i++) machine.undo();
    expect(JSON.parse(JSON.stringify(machine.document))).toEqual(JSON.parse(JSON.stringify(start())));
  });

  test('a document that was changed elsewhere meanwhile has no history here', async () => {
    const machine = await opened();
    setMass(machine, 3);
    await settle();
    await machine.close();
    server.document.axes[0]!.load.inertia = 11;
    await machine.open('one');
    expect(machine.undoLabel).toBeNull();
  });
});
