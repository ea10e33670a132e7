import { newAxis, newMachine, simulate } from '@yoke/core';
import { bytesIn, KeptResults, type ResultStorage } from './kept-results';

/** A storage in memory that copies as a database does. */
function memory(): ResultStorage & { keys(): string[] } {
  const values = new Map<string, unknown>();
  return {
    get: async (key) => structuredClone(values.get(key)),
    set: async (key, value) => void values.set(key, structuredClone(value)),
    del: async (key) => void values.delete(key),
    update: async (key, change) => void values.set(key, structuredClone(change(structuredClone(values.get(key))))),
    keys: () => [...values.keys()].filter((key) => key !== 'index').sort(),
  };
}
function result() {
  const machine = newMachine('Kept');
  machine.axes.push(newAxis('linear', [], 2));
  return { run: simulate(machine), record: null };
}

test('a result that was kept is found again as it was, another is not', async () => {
  const kept = new KeptResults(memory());
  const one = result();
  await kept.keep('one', one);
  expect(await kept.find('one')).toEqual(one);
  expect(await kept.find('two')).toBeNull();
});

test('where room runs short, those not asked for longest go', async () => {
  const storage = memory();
  const one = result();
  let clock = 0;
  const kept = new KeptResults(storage, 3.5 * bytesIn(one), () => ++clock);
  for (const key of ['a', 'b', 'c']) await kept.keep(key, one);
  await kept.find('a');
  await kept.keep('d', one);
  expect(storage.keys()).toEqual(['run:a', 'run:c', 'run:d']);
  // One that would take more than half of the room is not kept at all.
  await new KeptResults(storage, 1.5 * bytesIn(one)).keep('e', one);
  expect(storage.keys()).not.toContain('run:e');
});

test('a storage that fails is no failure: nothing is kept, and everything computed', async () => {
  const broken = () => Promise.reject(new Error('no room'));
  const kept = new KeptResults({ get: broken, set: broken, del: broken, update: broken });
  await kept.keep('one', result());
  expect(await kept.find('one')).toBeNull();
  expect(await new KeptResults(null).find('one')).toBeNull();
});
