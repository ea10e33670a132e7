import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  CONDITION_DEPTH,
  describeProblems,
  FORMAT_VERSION,
  machineJsonSchema,
  newMachine,
  readMachine,
  readMachineText,
  type Condition,
  type Machine,
} from './index';

const refusal = (document: unknown) => {
  const result = readMachine(document);
  return result.ok ? 'was accepted' : describeProblems(result.problems);
};

/** A machine with one cue, started by a condition nested so deep. */
function nested(depth: number): Machine {
  const machine = newMachine('Nested');
  let when: Condition = { op: 'time', at: 1 };
  for (let i = 1; i < depth; i++) when = { op: 'not', of: when };
  machine.sequence.cues.push({
    id: 'c',
    name: 'Cue',
    on: true,
    after: [],
    join: 'all',
    choice: null,
    priority: 0,
    when,
    delay: 0,
    times: null,
    action: { do: 'wait', time: 1 },
    timeOut: null,
  });
  return machine;
}

test('conditions may be nested up to a depth that is said, and not beyond it', () => {
  expect(refusal(nested(CONDITION_DEPTH))).toBe('was accepted');
  expect(refusal(nested(CONDITION_DEPTH + 1))).toBe(
    'sequence.cues[0].when is nested more than 16 deep: let a cue set a flag for the inner part, and name the flag here.',
  );
});

test.each([100, 10_000, 300_000])('nesting %i deep is refused in words, and overflows nothing', (depth) => {
  const text = JSON.stringify(nested(1)).replace(
    '{"op":"time","at":1}',
    `${'{"op":"not","of":'.repeat(depth)}1${'}'.repeat(depth)}`,
  );
  const result = readMachineText(text);
  expect(result.ok ? '' : describeProblems(result.problems)).toMatch(
    /^sequence\.cues\[0\]\.when.* is nested more than 64 levels deep/,
  );
});

test('a condition of too many terms is refused in words', () => {
  const machine = nested(1);
  const terms = (n: number): Condition => ({ op: 'or', of: Array.from({ length: n }, () => ({ op: 'time', at: 1 })) });
  machine.sequence.cues[0]!.when = { op: 'and', of: Array.from({ length: 8 }, () => terms(28)) };
  expect(refusal(machine)).toContain('sequence.cues[0].when has more than 200 terms');
});

test.each<[string, (m: Machine) => void, string]>([
  ['time = 5e-324', (m) => (m.cycle = { given: 'time', time: 5e-324 }), 'cycle.time must be at least 0.001'],
  ['a step of 1e-300', (m) => (m.step = 1e-300), 'step must be at least 0.000001'],
  ['a contact step of 1e-300', (m) => (m.loose.step = 1e-300), 'loose.step must be at least 0.00001'],
  ['a force of 1e300', (m) => (m.mechanism.gravity.vector[2] = 1e300), 'gravity.vector[2] must be at most 10000'],
  [
    'a point at 1e308',
    (m) => m.mechanism.ground.push({ id: 'p', plane: 'front', at: [1e308, 0] }),
    'mechanism.ground[0].at[0] must be at most 1000000',
  ],
  [
    'a belt 1e20 m thick',
    (m) => {
      m.loose.materials.push({ id: 'rubber', name: 'Rubber' });
      m.loose.belts.push({
        id: 'b',
        name: 'Belt',
        material: 'rubber',
        from: [0, 0],
        to: [1, 0],
        thickness: 1e20,
        drive: { by: 'speed', speed: 1, running: true },
      });
    },
    'loose.belts[0].thickness must be at most 1000000',
  ],
])('%s is refused with the bound', (_, change, words) => {
  const machine = newMachine('Bounds');
  change(machine);
  expect(refusal(machine)).toContain(words);
});

/** Paths of everything that a JSON Schema requires, with the kinds of variants. */
function required(schema: unknown, path = '', found = new Set<string>()): Set<string> {
  if (typeof schema !== 'object' || schema === null) return found;
  const node = schema as Record<string, unknown>;
  const properties = (node.properties ?? {}) as Record<string, { const?: unknown }>;
  const kinds = Object.entries(properties).flatMap(([key, { const: value }]) =>
    value === undefined || key === 'version' ? [] : [`<${key}=${String(value)}>`],
  );
  const here = path + kinds.join('');
  for (const key of (node.required ?? []) as string[]) found.add(`${here}.${key}`);
  for (const [key, inner] of Object.entries(properties)) required(inner, `${here}.${key}`, found);
  for (const key of ['items', 'additionalProperties']) required(node[key], `${path}[]`, found);
  for (const key of ['anyOf', 'oneOf', 'allOf', 'prefixItems', '$defs'])
    for (const inner of Object.values((node[key] ?? {}) as Record<string, unknown>)) required(inner, path, found);
  return found;
}

test('what a document of this version must have is frozen: more of it is a new version with an upgrade', () => {
  const frozen = readFileSync(join(__dirname, `testdata/required-${FORMAT_VERSION}.txt`), 'utf8')
    .trim()
    .split('\n');
  const now = [...required(machineJsonSchema())].sort();
  // Where this fails: raise FORMAT_VERSION, write its step in upgrade.ts, add documents of the old version to
  // testdata/history, and write testdata/required-N.txt for the new one. What is optional may be added freely, and so
  // may a new kind of something: no document has it yet.
  const isNewKind = (path: string) => {
    const end = path.lastIndexOf('>') + 1;
    return end > 0 && !frozen.some((old) => old.startsWith(path.slice(0, end)));
  };
  // What stands in a new list or part is asked of no document either, as long as that itself may be left out.
  const isInNewPart = (path: string) =>
    [...path.matchAll(/\[\]|\./g)]
      .map(({ index }) => path.slice(0, index))
      .some((part) => part !== '' && !now.includes(part) && !frozen.some((old) => old.startsWith(part)));
  expect(now.filter((path) => !frozen.includes(path) && !isNewKind(path) && !isInNewPart(path))).toEqual([]);
});
