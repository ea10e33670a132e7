import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { channelSums, type Sum } from '../../test/sums';
import { loadContact } from '../contact';
import { describeProblems, FORMAT_VERSION, machineText, readMachineText } from '../machine';
import { runBudgetOf, hasCycle, runCycle, simulateCycle } from './index';
import { simulate } from '../run';

/** One document of every shape that was ever written, from the first version on. */
const folder = join(__dirname, '../machine/testdata/history');
const files = readdirSync(folder);

beforeAll(() => loadContact());

test('there are documents of every version', () => {
  const versions = new Set(files.map((file) => Number(file.split('-')[0])));
  expect([...versions].sort()).toEqual(Array.from({ length: FORMAT_VERSION }, (_, i) => i + 1));
});

test.each(files)('%s opens, runs and is saved as the present version', (file) => {
  const read = readMachineText(readFileSync(join(folder, file), 'utf8'));
  if (!read.ok) throw new Error(describeProblems(read.problems));
  const { machine } = read;
  expect(machine.version).toBe(FORMAT_VERSION);
  expect(runBudgetOf(machine).beyond).toEqual([]);
  if (machine.sequence.cues.length > 0) {
    // One cycle tells as much as three.
    machine.sequence.cycle.most = 2;
    expect(simulateCycle(machine).record.events.length).toBeGreaterThan(10);
  } else {
    const run = hasCycle(machine) ? runCycle(machine).run : simulate(machine);
    for (const { channels } of run.axes)
      for (const values of Object.values(channels)) expect(values.every(Number.isFinite)).toBe(true);
    if (machine.mechanism.bodies.length > 0) expect(run.mechanism!.mode).not.toBe('none');
  }
  expect(readMachineText(machineText(machine))).toEqual({ ok: true, machine });
});

/** Sums of every channel as the release computed them that wrote version 4, before planes stood in space. */
const before = JSON.parse(readFileSync(join(folder, '../numbers-4.json'), 'utf8')) as Record<
  string,
  Record<string, Sum>
>;

test.each(Object.keys(before))('%s gives the numbers that it gave in its own version', (file) => {
  const read = readMachineText(readFileSync(join(folder, file), 'utf8'));
  if (!read.ok) throw new Error(describeProblems(read.problems));
  const now = channelSums(read.machine);
  const apart = Object.entries(before[file]!).flatMap(([id, [peak, sum]]) => {
    const [nowPeak, nowSum] = now[id] ?? [NaN, NaN];
    const room = 1e-12 * peak;
    return Math.abs(nowPeak - peak) <= room && Math.abs(nowSum - sum) <= room ? [] : [`${id}: ${peak}, now ${nowPeak}`];
  });
  expect(apart).toEqual([]);
});
