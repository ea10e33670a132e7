import { motionAt, planMotion } from '../motion';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  cycleTime,
  describeProblems,
  machineJsonSchema,
  machineText,
  newAxis,
  newMachine,
  readMachine,
  readMachineText,
  type Machine,
} from './index';

function sample(): Machine {
  const machine = newMachine('Sample');
  machine.axes = [newAxis('linear', [], 2)];
  machine.axes.push(newAxis('rotary', machine.axes, 2));
  return machine;
}

/** The sample with one value changed: `path` as in `axes.0.load.slope`. */
function changed(path: string, value: unknown): unknown {
  const document = structuredClone(sample()) as unknown as Record<string, unknown>;
  const keys = path.split('.');
  const last = keys.pop()!;
  const owner = keys.reduce((object, key) => object[key] as Record<string, unknown>, document);
  owner[last] = value;
  return document;
}

const refusal = (document: unknown) => {
  const result = readMachine(document);
  return result.ok ? 'was accepted' : describeProblems(result.problems);
};

test('a new machine with new axes is valid and survives writing and reading', () => {
  const result = readMachineText(machineText(sample()));
  expect(result).toEqual({ ok: true, machine: sample() });
});

test.each<[string, unknown, string]>([
  ['name', undefined, 'name is missing: a string is expected'],
  ['name', '  ', 'name must not be empty'],
  ['format', 'other', 'format must be “yoke-machine”'],
  ['version', 9, 'version is 9, but this release reads up to 5'],
  ['cycle', { given: 'time', time: 0 }, 'cycle.time must be at least 0.001'],
  ['cycle', { given: 'moon' }, 'cycle.given must be “time” or “rate”'],
  ['units', 'cubits', 'units must be “metric” or “inch”, not “cubits”'],
  ['axes.0.load.slope', 3, 'axes[0].load.slope must be at most'],
  ['axes.0.load.mass', 3, 'axes[0].load.mass is not known to the format'],
  ['axes.0.transmission', { kind: 'direct' }, 'axes[0].transmission.kind must be screw, belt or rack'],
  ['axes.0.transmission.kind', 'rope', 'axes[0].transmission.kind must be “direct” or “screw” or “belt” or “rack”'],
  ['axes.0.travel', { min: 1, max: 0 }, 'axes[0].travel.max must lie above the lower end of the travel'],
  ['axes.0.home', 9, 'axes[0].home must lie within'],
  ['axes.1.id', 'AXIS1', 'axes[1].id must be unique'],
  ['axes.0.plan.segments.0.duration', '0.2', 'axes[0].plan.segments[0].duration must be a number, not “0.2”'],
  [
    'axes.0.plan.segments.0.law',
    { id: 'poly345', parameters: { acceleration: 0.2 } },
    'parameters.acceleration is no parameter of the law',
  ],
  [
    'axes.0.plan.segments.0.law',
    { id: 'trapezoidal', parameters: { acceleration: 0.7, deceleration: 0.7 } },
    'must not exceed 1',
  ],
  ['axes.0.load.forceTable', [[0, 1], [-1, 2]], 'axes[0].load.forceTable[1][0] must not'], // prettier-ignore
])('%s = %j is refused with the path of the culprit', (path, value, expected) => {
  expect(refusal(changed(path, value))).toContain(expected);
});

test.each([
  ['no JSON', '{"format":', '(file) is no JSON'],
  ['a list', '[]', '(document) must be an object'],
])('%s is refused', (_name, text, expected) => {
  const result = readMachineText(text);
  expect(result.ok ? '' : describeProblems(result.problems)).toContain(expected);
});

test('the cycle may be given as a time or as a rate', () => {
  expect(cycleTime({ cycle: { given: 'rate', rate: 0.5 } })).toBe(2);
  expect(cycleTime({ cycle: { given: 'time', time: 1.5 } })).toBe(1.5);
});

test('new axes get a free identifier, name and colour', () => {
  const machine = newMachine('Many');
  for (let i = 0; i < 9; i++) machine.axes.push(newAxis('linear', machine.axes, 1));
  expect(readMachine(machine).ok).toBe(true);
  expect(new Set(machine.axes.slice(0, 8).map((axis) => axis.colour)).size).toBe(8);
});

test('the JSON Schema in docs/format is the one the code checks with', () => {
  const file = join(__dirname, '../../../../docs/format/machine.schema.json');
  expect(JSON.parse(readFileSync(file, 'utf8'))).toEqual(JSON.parse(JSON.stringify(machineJsonSchema())));
});

test('a document of version 1 opens for ever: its axes follow their plans, and there is no mechanism', () => {
  const text = readFileSync(join(__dirname, 'testdata/version-1.yoke.json'), 'utf8');
  const result = readMachineText(text);
  if (!result.ok) throw new Error(describeProblems(result.problems));
  expect(result.machine.version).toBe(5);
  expect(result.machine.axes.every(({ joint, motion }) => joint === null && motion.source.kind === 'plan')).toBe(true);
  expect(result.machine.mechanism.bodies).toEqual([]);
  const { axes } = JSON.parse(text) as { axes: { plan: unknown }[] };
  expect(result.machine.axes.map(({ plan }) => plan)).toEqual(axes.map(({ plan }) => plan));
});

test('a document of version 2 moves as it did: beside a straight line its curves still come to rest', () => {
  const text = readFileSync(join(__dirname, 'testdata/version-2.yoke.json'), 'utf8');
  const result = readMachineText(text);
  if (!result.ok) throw new Error(describeProblems(result.problems));
  const { plan, motion, load } = result.machine.axes[0]!;
  expect(motion).toMatchObject({ over: 'time', engage: null, source: { kind: 'plan' } });
  expect(load.formula).toBeNull();
  expect(plan.segments[0]).toMatchObject({ knee: { velocity: 0, acceleration: 0 } });
  const state = motionAt(planMotion(plan, 2), 0.5, 'before');
  expect(state.velocity).toBeCloseTo(0, 12);
});

test('a document of version 3 opens without cues and loose parts, and is otherwise the same', () => {
  const text = readFileSync(join(__dirname, 'testdata/version-3.yoke.json'), 'utf8');
  const result = readMachineText(text);
  if (!result.ok) throw new Error(describeProblems(result.problems));
  const { machine } = result;
  expect(machine.sequence.cues).toEqual([]);
  expect(machine.loose.kinds).toEqual([]);
  expect(machine.axes.every(({ cylinder }) => cylinder === null)).toBe(true);
  const before = JSON.parse(text) as { axes: { plan: unknown }[]; mechanism: Record<string, unknown> };
  expect(machine.axes.map(({ plan }) => plan)).toEqual(before.axes.map(({ plan }) => plan));
  expect(machine.mechanism.couplings).toEqual(before.mechanism.couplings);
  expect(machine.mechanism.joints).toEqual(before.mechanism.joints);
});

test('a document of version 4 stands in the front plane: thickness at its bodies, gravity as a vector', () => {
  const text = readFileSync(join(__dirname, 'testdata/history/4-lifted-cover.yoke.json'), 'utf8');
  const result = readMachineText(text);
  if (!result.ok) throw new Error(describeProblems(result.problems));
  const { mechanism } = result.machine;
  type Old = { id: string; mass: { given: string; thickness?: number; density?: number } };
  const before = (JSON.parse(text) as { mechanism: { bodies: Old[]; ground: object[] } }).mechanism;
  expect(mechanism.planes).toEqual([{ id: 'front', name: 'Front', on: 'ground', at: [0, 0, 0], turn: [1, 0, 0, 0] }]);
  expect(mechanism.gravity).toEqual({ on: true, vector: [0, -9.80665, 0] });
  expect(mechanism.ground).toEqual(before.ground.map((point) => ({ ...point, plane: 'front' })));
  mechanism.bodies.forEach(({ plane, level, thickness, mass }, i) => {
    const old = before.bodies[i]!.mass;
    expect({ plane, level, thickness }).toEqual({ plane: 'front', level: 0, thickness: old.thickness ?? 0.008 });
    expect('thickness' in mass).toBe(false);
  });
  for (const path of mechanism.paths) expect(path.plane).toBe(path.body === 'ground' ? 'front' : null);
});
