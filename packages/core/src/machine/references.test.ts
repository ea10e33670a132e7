import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  deleteThings,
  describeProblems,
  goesWith,
  machineParts,
  ownerOf,
  readMachine,
  readMachineText,
  referencesIn,
  stillUsedBy,
  type Machine,
} from './index';

const folder = join(__dirname, '../../../../demo');
const demo = (file: string): Machine => {
  const read = readMachineText(readFileSync(join(folder, file), 'utf8'));
  if (!read.ok) throw new Error(file);
  return read.machine;
};
const demos = readdirSync(folder).filter((file) => file.endsWith('.yoke.json'));

/** Identifiers of all things, wherever they stand. */
function allIds(value: unknown, found = new Set<string>()): Set<string> {
  if (typeof value !== 'object' || value === null) return found;
  if ('id' in value && typeof value.id === 'string') found.add(value.id);
  for (const inner of Object.values(value)) allIds(inner, found);
  return found;
}

test.each(demos)('%s: every text that is the identifier of another thing is said to be one', (file) => {
  const machine = demo(file);
  const ids = allIds(machine);
  const known = new Set(
    referencesIn(machineParts, machine).map(({ path, place }) => [...path, ...(place ? ['body'] : [])].join('.')),
  );
  // Points and pins are named within a body; the others are words of the format or of people.
  const words = new Set(['id', 'name', 'point', 'pin', 'kind', 'op', 'do', 'what', 'given', 'level', 'over', 'text', 'choice', 'notes', 'reason', 'motor', 'how', 'by', 'law', 'then']); // prettier-ignore
  const missed: string[] = [];
  const visit = (value: unknown, path: string[]): void => {
    if (typeof value === 'object' && value !== null)
      return Object.entries(value).forEach(([key, inner]) => visit(inner, [...path, key]));
    const at = path.join('.');
    if (
      typeof value === 'string' &&
      value !== 'in' &&
      value !== 'out' &&
      ids.has(value) &&
      !words.has(path.at(-1)!) &&
      !known.has(at)
    )
      missed.push(at);
  };
  visit(machine, []);
  expect(missed).toEqual([]);
});

test.each(['seedling-transplanter.yoke.json', 'six-station-dial.yoke.json', 'label-dabber.yoke.json'])(
  '%s: whatever field names what is not there is refused by its place, but where that is told elsewhere',
  (file) => {
    const { length } = referencesIn(machineParts, demo(file));
    expect(length).toBeGreaterThan(5);
    for (let i = 0; i < length; i += length > 100 ? 5 : 1) {
      const machine = demo(file);
      const { place, open, set, path } = referencesIn(machineParts, machine)[i]!;
      if (open) continue;
      set(place ? { ...place, point: 'nowhere' } : 'nowhere');
      const read = readMachine(machine);
      if (read.ok) throw new Error(`${path.join('.')} was accepted`);
      expect(describeProblems(read.problems)).toMatch(/“nowhere”, which (does not exist|“.*” does not have)/);
    }
  },
);

describe('what goes, what stands in the way, what is dropped', () => {
  const machine = demo('seedling-transplanter.yoke.json');

  test('what stands in the way is named, emergency stop and start of the cycle among it', () => {
    const [body] = machine.mechanism.bodies;
    const gripped = machine.loose.grippers.filter((gripper) => goesWith(machine, [body!.id]).has(gripper.body));
    const users = stillUsedBy(machine, [body!.id]);
    for (const { name } of gripped) expect(users).toContain(name);
    const [sensor] = machine.sequence.sensors;
    const alone = structuredClone(machine);
    alone.sequence.emergency.when = { op: 'on', sensor: sensor!.id };
    expect(stillUsedBy(alone, [sensor!.id])).toContain('Emergency stop');
    const named = referencesIn(machineParts, machine).filter(({ path }) =>
      path.join('.').startsWith('sequence.cues.0.'),
    );
    for (const { path } of named) expect(ownerOf(machine, path).name).toBe(machine.sequence.cues[0]!.name);
  });

  test('traces and what variants change go by themselves, others of the same list stay as they are', () => {
    const dabber = demo('label-dabber.yoke.json');
    const { elements, bodies } = dabber.mechanism;
    const [variant] = dabber.variants;
    variant!.off = elements.map(({ id }) => id);
    variant!.changes = elements.map(({ id }) => ({ element: id, rate: 1, free: null }));
    dabber.mechanism.traces = bodies.map(({ id, points }) => ({ body: id, point: points[0]!.id }));
    const gone = elements[0]!;
    deleteThings(dabber, [gone.id, bodies.at(-1)!.id]);
    expect(variant!.off).not.toContain(gone.id);
    expect(variant!.changes.map(({ element }) => element)).toEqual(variant!.off);
    expect(new Set(variant!.off)).toEqual(new Set(dabber.mechanism.elements.map(({ id }) => id)));
    expect(dabber.mechanism.traces.map(({ body }) => body)).toEqual(dabber.mechanism.bodies.map(({ id }) => id));
    expect(readMachine(dabber).ok).toBe(true);
  });
});
