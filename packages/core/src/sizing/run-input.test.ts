import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readCatalogue } from '../format';
import { readMachineText, type Machine } from '../machine';
import { finishRun, isKeepable, rotorInput, runBase, runInput, runMachine } from './index';

const folder = join(__dirname, '../../../../demo');
const demos = readdirSync(folder).filter((file) => file.endsWith('.yoke.json'));
function demo(file: string): Machine {
  const read = readMachineText(readFileSync(join(folder, file), 'utf8'));
  if (!read.ok) throw new Error(file);
  // Two seconds of a cycle tell as much as thirty.
  read.machine.sequence.cycle.most = Math.min(2, read.machine.sequence.cycle.most);
  return read.machine;
}
const motors = readCatalogue(readFileSync(join(folder, 'motors.csv'), 'utf8'));

/** Everything that has a name but axes and constants gets another one. */
function renamed(machine: Machine): Machine {
  const rename = (value: unknown): void => {
    if (typeof value !== 'object' || value === null) return;
    if (Array.isArray(value)) return value.forEach(rename);
    const thing = value as Record<string, unknown>;
    if (typeof thing.name === 'string') thing.name = `Another ${thing.name}`.slice(0, 60);
    Object.values(thing).forEach(rename);
  };
  const other = structuredClone(machine);
  other.name = 'Another machine';
  other.notes = 'Other notes';
  other.clearances = { watches: [], byDesign: [['body1', 'body2']] };
  other.mechanism.shapes = { files: [], ground: [], unassigned: [] };
  other.poses = [{ id: 'pose1', name: 'Start', tool: null, at: [{ axis: other.axes[0]?.id ?? 'none', position: 0 }] }];
  for (const part of [other.mechanism, other.loose, other.sequence, other.variants]) rename(part);
  for (const axis of other.axes) axis.colour = (axis.colour + 1) % 8;
  return other;
}

describe.each(demos)('%s', (file) => {
  test('other names, notes and colours are one input and one run, to the bit', async () => {
    const machine = demo(file);
    const other = renamed(machine);
    expect(runInput(other)).toBe(runInput(machine));
    const [one, two] = [await runBase(machine), await runBase(other)];
    expect(two.run).toEqual(one.run);
    expect(two.record).toEqual(one.record);
    expect(isKeepable(one)).toBe(true);
  });
});

test('whatever number of a machine is changed is another input, but for what is left out', () => {
  const machine = demo('seedling-transplanter.yoke.json');
  const before = runInput(machine);
  let changed = 0;
  const visit = (value: unknown, left: boolean): void => {
    if (typeof value !== 'object' || value === null) return;
    for (const [key, inner] of Object.entries(value)) {
      const out =
        left ||
        ['variants', 'leads', 'poses', 'clearances', 'shapes', 'sizing', 'alternatives'].includes(key) ||
        (key === 'colour' && 'plan' in value);
      if (typeof inner !== 'number') {
        visit(inner, out);
        continue;
      }
      (value as Record<string, unknown>)[key] = inner + 1;
      expect([key, runInput(machine) === before]).toEqual([key, out]);
      (value as Record<string, unknown>)[key] = inner;
      changed++;
    }
  };
  visit(machine, false);
  expect(changed).toBeGreaterThan(500);
  expect(runInput(machine)).toBe(before);
  expect(runInput(machine, { seed: 7 })).not.toBe(before);
});

test('a motor chosen is no other input; its rotor is added to the run that is there', async () => {
  const machine = demo('dibber.yoke.json');
  const base = await runBase(machine);
  const sized = structuredClone(machine);
  sized.axes[0]!.sizing.motor = 'Alder 1.3';
  expect(runInput(sized)).toBe(runInput(machine));
  expect(rotorInput(sized, motors)).not.toBe(rotorInput(machine, motors));
  const finished = finishRun(sized, base, motors);
  expect(finished).toEqual(await runMachine(sized, { motors }));
  const [plain, heavy] = [base.run.axes[0]!.channels, finished.run.axes[0]!.channels];
  expect(heavy.shaftTorque).toEqual(plain.shaftTorque);
  expect(heavy.motorTorque).not.toEqual(plain.motorTorque);
});
