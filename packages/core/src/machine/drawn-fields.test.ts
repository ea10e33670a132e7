import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { z } from 'zod';
import { changed, copy, named } from '../../test/fields';
import { ACTIONS, actionSchema, actionWords, type CueAction } from './action';
import { blockSchema } from './block';
import { newAxis, newMachine } from './defaults';
import { drawnFields, type DrawnField } from './drawn-fields';
import { looks } from './field';
import { addHandler, HANDLERS, handlerSchema, LOOSE_LISTS } from './handlers';
import { choicesOf } from './kinds';
import { bodySchema, couplingSchema, elementSchema, jointSchema, pathSchema } from './mechanism';
import { masterSchema } from './motion';
import { describeProblems, readMachine, readMachineText } from './read';
import { axisSchema, type Machine } from './schema';
import { SENSORS, sensingSchema, sensorSchema, sensorWords } from './sensor';
import { cueSchema } from './sequence';
import { variantSchema } from './variant-schema';

const folder = join(__dirname, '../../../../demo');
const demos = readdirSync(folder).filter((file) => file.endsWith('.yoke.json'));
function demo(file: string): Machine {
  const read = readMachineText(readFileSync(join(folder, file), 'utf8'));
  if (!read.ok) throw new Error(describeProblems(read.problems));
  return read.machine;
}
/** Everything of a machine whose fields are drawn, with a way to it in a copy. */
function drawn(machine: Machine): { schema: z.ZodType; thing: object; of: (copied: Machine) => object }[] {
  const each = (schema: z.ZodType, list: (m: Machine) => readonly object[]) =>
    list(machine).map((thing, i) => ({ schema, thing, of: (m: Machine) => list(m)[i]! }));
  return [
    ...each(cueSchema, (m) => m.sequence.cues),
    ...each(sensorSchema, (m) => m.sequence.sensors),
    ...LOOSE_LISTS.flatMap((list) => each(handlerSchema(list), (m) => m.loose[list])),
    ...each(jointSchema, (m) => m.mechanism.joints),
    ...each(couplingSchema, (m) => m.mechanism.couplings),
    ...each(elementSchema, (m) => m.mechanism.elements),
    ...each(axisSchema, (m) => m.axes),
    ...each(masterSchema, (m) => [m.master]),
    ...each(bodySchema, (m) => m.mechanism.bodies),
    ...each(pathSchema, (m) => m.mechanism.paths),
    ...each(variantSchema, (m) => m.variants),
    ...each(blockSchema, (m) =>
      m.axes.flatMap(({ motion: { source } }) => (source.kind === 'moves' ? source.blocks : [])),
    ),
  ];
}
describe('every demo', () => {
  test.each(demos)('%s: what a field shows, set again, changes nothing', (file) => {
    const machine = demo(file);
    for (const { schema, thing, of } of drawn(machine))
      for (const field of drawnFields(schema, thing, machine)) {
        // A kind chosen again begins anew; the interface does not ask for it.
        if (field.as === 'choice' && !field.choices.some(({ value }) => value === field.value))
          throw new Error(`${field.key} shows “${field.value}”, which it does not offer`);
        if (field.as === 'choice' && looksLikeKind(schema, thing, field)) continue;
        const next = changed(machine, of, field, field.value) as Machine;
        // Corners are shown to a thousandth of a micrometre: their text is the same then.
        const again = drawnFields(schema, of(next), next).find(({ key }) => key === field.key);
        expect(again?.value).toEqual(field.value);
        if (field.as !== 'text') expect(of(next)).toEqual(thing);
      }
  });

  test.each(demos)('%s: whatever is offered can be chosen, and makes a valid document', (file) => {
    const machine = demo(file);
    const refused: string[] = [];
    for (const { schema, thing, of } of oneOfEach(machine))
      for (const field of drawnFields(schema, thing, machine)) {
        const values =
          field.as === 'switch'
            ? [!field.value]
            : field.as === 'choice'
              ? field.choices
                  .filter(({ disabled }) => !disabled)
                  .map(({ value }) => value)
                  .slice(0, 4)
              : field.as === 'many'
                ? [field.choices.slice(0, 3).map(({ value }) => value)]
                : [];
        for (const value of values) {
          const next = changed(machine, of, field, value);
          const read = typeof next === 'string' ? null : readMachine(next);
          if (!read?.ok) refused.push(`${field.key} ${String(value)}: ${read ? describeProblems(read.problems) : next as string}`); // prettier-ignore
        }
      }
    expect(refused).toEqual([]);
  });
});

/** Whether a choice is that of the kind of a union. */
function looksLikeKind(_schema: z.ZodType, thing: object, { key }: DrawnField): boolean {
  let at: unknown = thing;
  for (const part of key.split('.')) at = (at as Record<string, unknown>)[part];
  return typeof at === 'object' && at !== null;
}

/** One of each kind: what holds of it holds of the next. */
function oneOfEach(machine: Machine): ReturnType<typeof drawn> {
  const seen = new Map<z.ZodType, Set<unknown>>();
  return drawn(machine).filter(({ schema, thing }) => {
    const known = seen.get(schema) ?? new Set();
    seen.set(schema, known);
    const kind = 'action' in thing ? (thing.action as CueAction).do : 'sensing' in thing ? (thing.sensing as { kind: string }).kind : 'points' in thing || !('kind' in thing) ? '' : thing.kind; // prettier-ignore
    return !known.has(kind) && known.add(kind);
  });
}

/** A machine that has one of everything. */
function rich(): Machine {
  const machine = demo('seedling-transplanter.yoke.json');
  machine.mechanism.elements.push({ kind: 'torque', id: 'tt', name: 'Torque', on: false, body: machine.mechanism.bodies[0]!.id, course: { kind: 'constant', value: 1 } }); // prettier-ignore
  machine.sequence.flags.push({ id: 'ff', name: 'Flag', set: false });
  machine.sequence.sensors.push({ id: 'cc', name: 'Count of cues', sensing: { kind: 'count', of: { what: 'cue', cue: machine.sequence.cues[0]!.id }, value: 3 }, hysteresis: 0, onDelay: 0, offDelay: 0, filter: 0, inverted: false }); // prettier-ignore
  return machine;
}
const before = (machine: Machine) => ({ machine, was: {} });

test('every action begins as what its schema takes, has words, and every field of it a look', () => {
  const machine = rich();
  machine.axes[0]!.cylinder ??= { bore: 0.02, rod: 0.01 } as never;
  for (const [kind, { first }] of Object.entries(ACTIONS)) {
    const begun = first(before(machine));
    expect([kind, typeof begun]).toEqual([kind, 'object']);
    expect(actionSchema.safeParse(begun).success).toBe(true);
    expect(actionWords(begun as CueAction, machine)).not.toMatch(/…|undefined/);
  }
  for (const union of [actionSchema, sensingSchema])
    for (const option of union.options)
      for (const [key, own] of Object.entries(option.shape))
        if (!['do', 'kind'].includes(key)) expect([key, looks.get(own as z.ZodType)?.label]).not.toContain(undefined);
});

test('every sensor begins as what its schema takes, with words', () => {
  const machine = rich();
  for (const [kind, { first }] of Object.entries(SENSORS)) {
    const begun = first(before(machine));
    expect([kind, typeof begun]).toEqual([kind, 'object']);
    expect(sensingSchema.safeParse(begun).success).toBe(true);
    const sensing = sensingSchema.parse(begun);
    expect(sensorWords({ ...machine.sequence.sensors[0]!, sensing }, machine)).not.toMatch(/…|undefined/);
  }
});

test('what an empty machine lacks is said in a sentence, and cannot be chosen', () => {
  const machine = newMachine('Empty');
  expect(ACTIONS.move.first(before(machine))).toBe('There is no axis yet: add one in Build.');
  expect(ACTIONS.take.first(before(machine))).toBe('There is no gripper yet.');
  expect(SENSORS.count.first(before(machine))).toBe('There is nothing to count yet: add a cue or another sensor.');
  const offered = choicesOf<string>(ACTIONS, before(machine));
  expect(offered.find(({ value }) => value === 'move')).toEqual({
    value: 'move',
    label: 'Move an axis (no axis yet)',
    hint: 'There is no axis yet: add one in Build.',
    disabled: true,
  });
  expect(offered.filter(({ disabled }) => !disabled).map(({ value }) => value)).toEqual(['wait', 'alarm', 'stop']);
});

describe('fields', () => {
  test('a move goes in the quantities of its axis, by limits where it has no time', () => {
    const machine = newMachine('Two axes');
    machine.axes = [newAxis('linear', [], 2), newAxis('rotary', [], 2)];
    machine.axes[1]!.id = 'turn';
    machine.axes[1]!.limits.velocity = 3;
    const move = { ...(ACTIONS.move.first({ machine, was: { axis: 'turn' } }) as object) };
    const fields = drawnFields(actionSchema, move, machine);
    expect(fields.map(({ label }) => label)).toEqual(['Axis', 'Given as', 'Moves to', 'In', 'Law']);
    expect(named(fields, 'Moves to')).toMatchObject({ quantity: 'angle', value: Math.PI / 2 });
    const free = drawnFields(actionSchema, { ...move, given: 'by', time: null, law: null }, machine);
    expect(named(free, 'Velocity at most')).toMatchObject({ quantity: 'angularVelocity', placeholder: 'as the axis' });
    expect(named(free, 'Acceleration at most').placeholder).toBe('none');
    expect(free.map(({ label }) => label)).toEqual(expect.arrayContaining(['Moves by', 'Jerk at most']));
  });

  test('numbers that a field cannot have are refused in words', () => {
    const machine = rich();
    const cue = machine.sequence.cues[0]!;
    const fields = drawnFields(cueSchema, { ...cue, action: { do: 'leave', axis: 'x', over: 1 } }, machine);
    const set = (label: string, value: unknown) => (named(fields, label).set as (value: unknown) => unknown)(value);
    expect(set('At rest in', 0)).toBe('Must be greater than zero.');
    expect(set('Priority', 1.5)).toBe('A whole number is needed.');
    expect(named(fields, 'Delay')).toMatchObject({ min: 0, max: 86_400 });
    expect(named(fields, 'Priority')).toMatchObject({ min: -99, max: 99 });
  });

  test('a sensor of a position goes back in what it senses; a timer does not wait for itself', () => {
    const machine = rich();
    const sensor = machine.sequence.sensors[0]!;
    const at = (sensing: unknown) => drawnFields(sensorSchema, { ...sensor, sensing } as object, machine);
    const axis = machine.axes.find(({ kind }) => kind === 'linear')!.id;
    const speed = at({ kind: 'position', axis, quantity: 'speed', side: 'above', value: 1 });
    expect([named(speed, 'Value'), named(speed, 'Hysteresis')]).toMatchObject([{ quantity: 'velocity' }, { quantity: 'velocity' }]); // prettier-ignore
    const timer = at({ kind: 'timer', of: 'cc', how: 'on', time: 1 });
    const of = named(timer, 'Of the sensor');
    expect(of.as === 'choice' && of.choices.map(({ value }) => value)).not.toContain(sensor.id);
    expect(timer.map(({ label }) => label)).not.toContain('Hysteresis');
  });

  test('what is named stays named, though an edit elsewhere has made it unfit since', () => {
    const machine = newMachine('Belts');
    for (let i = 0; i < 3; i++) addHandler(machine, 'belts');
    machine.axes = [newAxis('linear', [], 2)];
    for (const belt of machine.loose.belts.slice(0, 2))
      belt.drive = { by: 'axis', axis: machine.axes[0]!.id, radius: 1 };
    const [named0, , other] = machine.loose.belts.map(({ id }) => id);
    const field = named(drawnFields(actionSchema, { do: 'belt', belt: named0, speed: 1, ramp: 0 }, machine), 'Belt');
    expect(field.as === 'choice' && field.choices.map(({ value }) => value)).toEqual([named0, other]);
  });

  test('a circle with the mass of a ball that becomes a box is weighed', () => {
    const machine = newMachine('Parts');
    expect(addHandler(machine, 'kinds')).toEqual({ id: 'ki1' });
    const kind = machine.loose.kinds[0]!;
    kind.shape = { kind: 'circle', radius: 0.02 };
    kind.mass = { given: 'ball', density: 1000 };
    const shape = named(drawnFields(handlerSchema('kinds'), kind, machine), 'Shape');
    const next = changed(machine, (m) => m.loose.kinds[0]!, shape, 'box') as Machine;
    expect(next.loose.kinds[0]).toMatchObject({ shape: { kind: 'box' }, mass: { given: 'typed' } });
    expect(readMachine(next).ok).toBe(true);
    const mass = named(drawnFields(handlerSchema('kinds'), next.loose.kinds[0]!, next), 'Mass');
    expect(mass.as === 'choice' && mass.choices.find(({ value }) => value === 'ball')).toMatchObject({
      disabled: true,
    });
  });

  test('a load over a position takes a joint with it, and lets go of it', () => {
    const machine = demos
      .map(demo)
      .find(({ mechanism }) => mechanism.joints.length > 0 && mechanism.bodies.length > 1)!;
    machine.mechanism.elements = [{ kind: 'torque', id: 'e', name: 'Load', on: true, body: machine.mechanism.bodies[0]!.id, course: { kind: 'ramp', over: 'cycle', joint: null, from: [0, 0], to: [1, 5] } }]; // prettier-ignore
    const load = (m: Machine) => m.mechanism.elements[0]!;
    const over = named(drawnFields(elementSchema, load(machine), machine), 'Over');
    const by = changed(machine, load, over, 'position') as Machine;
    expect(readMachine(by).ok).toBe(true);
    expect(named(drawnFields(elementSchema, load(by), by), 'Begins at')).toMatchObject({ quantity: 'angle' });
    expect(named(drawnFields(elementSchema, load(by), by), 'Before')).toMatchObject({ quantity: 'torque' });
    const back = changed(by, load, named(drawnFields(elementSchema, load(by), by), 'Over'), 'time') as Machine;
    expect(load(back)).toMatchObject({ course: { over: 'time', joint: null } });
  });

  test('an axis is typed in its own quantities, a drive train by what it drives', () => {
    const machine = newMachine('Axes');
    machine.axes = [newAxis('linear', [], 2), newAxis('rotary', [], 2)];
    machine.axes[1]!.id = 'turn';
    machine.axes[0]!.gearbox = { ...machine.axes[1]!.gearbox! };
    const [slide, table] = machine.axes.map((axis) => drawnFields(axisSchema, axis, machine));
    expect(named(slide!, 'Moving mass')).toMatchObject({ key: 'load.inertia', quantity: 'mass', min: 0 });
    expect(named(table!, 'Moment of inertia')).toMatchObject({ quantity: 'inertia' });
    expect(slide!.filter(({ key }) => key.startsWith('gearbox')).map(({ label }) => label)).toEqual([
      'Ratio (motor : output)',
      'Efficiency',
      '… back-driven',
      'Inertia at its input',
      'Friction at its input',
    ]);
    expect(slide!.filter(({ key }) => key.startsWith('transmission')).map(({ label }) => label)).toContain('Inertia at the pulley'); // prettier-ignore
    const by = named(slide!, 'By');
    expect(by.as === 'choice' && by.choices.map(({ label }) => label)).toEqual(['Screw', 'Belt', 'Rack']);
    const screw = changed(machine, (m) => m.axes[0]!, by, 'screw') as Machine;
    expect(screw.axes[0]!.transmission).toMatchObject({ kind: 'screw', lead: 0.01 });
    expect(slide!.map(({ label }) => label)).not.toContain('Imbalance (mass × distance)');
    expect(named(table!, 'Imbalance (mass × distance)')).toMatchObject({ quantity: 'imbalance' });
  });

  test('a motion by its level, a shaft that turns evenly in turns a minute, a lead-in by the master', () => {
    const machine = newMachine('Motions');
    machine.axes = [newAxis('rotary', [], 2)];
    const axis = machine.axes[0]!;
    axis.motion = { level: 'velocity', over: 'time', source: { kind: 'constant', value: 3 }, initial: { position: 0, velocity: 0 }, engage: null }; // prettier-ignore
    const fields = drawnFields(axisSchema, axis, machine);
    expect(named(fields, 'Constant value')).toMatchObject({ quantity: 'shaftSpeed', value: 3 });
    expect(named(fields, 'Begins at')).toMatchObject({ quantity: 'angle' });
    axis.motion = { ...axis.motion, level: 'acceleration', source: { kind: 'harmonic', mean: 0, amplitude: 1, frequency: 2, phase: 0 } }; // prettier-ignore
    expect(named(drawnFields(axisSchema, axis, machine), 'Amplitude')).toMatchObject({
      quantity: 'angularAcceleration',
    });
    machine.master = { kind: 'linear', wrap: 0.6, start: 0.1, course: { kind: 'cycle' } };
    axis.motion.engage = { at: 0.1, leave: 0.5, waits: 0, lead: { how: 'refuse' }, restsAt: null };
    const engaged = drawnFields(axisSchema, axis, machine);
    expect(named(engaged, 'Engages at')).toMatchObject({ quantity: 'length' });
    const bridged = changed(machine, (m) => m.axes[0]!, named(engaged, 'A jump is'), 'bridge') as Machine;
    expect(named(drawnFields(axisSchema, bridged.axes[0]!, bridged), 'Lead-in over')).toMatchObject({ value: 0.6 / 6 });
    expect(named(drawnFields(axisSchema, bridged.axes[0]!, bridged), 'Then rests at')).toMatchObject({ placeholder: 'gentle stop', quantity: 'angle' }); // prettier-ignore
    const runs = named(drawnFields(masterSchema, machine.master, machine), 'Runs');
    const ramp = changed(machine, (m) => m.master, runs, 'ramp') as Machine;
    expect(ramp.master.course).toMatchObject({ kind: 'ramp', speed: expect.closeTo(0.45, 12) as number, stop: 0.7 });
    expect(named(drawnFields(masterSchema, ramp.master, ramp), 'Speed')).toMatchObject({ quantity: 'velocity' });
    expect(readMachine(ramp).ok).toBe(true);
  });

  test('corners, times and presses are read as they are shown', () => {
    const machine = newMachine('Texts');
    addHandler(machine, 'surfaces');
    const line = named(drawnFields(handlerSchema('surfaces'), machine.loose.surfaces[0]!, machine), 'Corners in mm; parts touch the left side of the way'); // prettier-ignore
    expect(line.value).toBe('0 300, 300 150');
    const moved = changed(machine, (m) => m.loose.surfaces[0]!, line, '10 20.5; 30 40') as Machine;
    expect(moved.loose.surfaces[0]!.line).toEqual([[0.01, 0.0205], [0.03, 0.04]]); // prettier-ignore
    expect(changed(machine, (m) => m.loose.surfaces[0]!, line, '10, 20')).toMatch(/^Write corners in mm/);
    const presses = named(drawnFields(sensingSchema, { kind: 'button', presses: [{ at: 0.5, hold: 0.2 }] }, machine), 'Pressed at (s)'); // prettier-ignore
    expect(presses.value).toBe('0.5 for 0.2');
    expect((presses.set as (text: string) => unknown)('half past')).toMatch(/^Write times in seconds/);
  });
});

describe('what handles parts', () => {
  test('each begins valid beside what it needs, with names and identifiers of its own', () => {
    const machine = demo('seedling-transplanter.yoke.json');
    for (const list of LOOSE_LISTS) {
      expect(addHandler(machine, list)).toHaveProperty('id');
      expect(addHandler(machine, list)).toHaveProperty('id');
    }
    const read = readMachine(machine);
    expect(read.ok ? '' : describeProblems(read.problems)).toBe('');
  });

  test('what is missing is said, and the machine stays as it is', () => {
    const machine = newMachine('Empty');
    const untouched = copy(machine);
    expect(addHandler(machine, 'sources')).toEqual({ problem: 'A source needs a kind of part: add that first.' });
    expect(addHandler(machine, 'grippers')).toEqual({ problem: 'A gripper sits on a body: draw one in Build first.' });
    expect(machine).toEqual(untouched);
    expect(HANDLERS.surfaces.one).toBe('Chute, ramp or stop');
  });
});
