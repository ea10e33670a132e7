import { changed, copy, named } from '../../test/fields';
import { BLOCKS, blockSchema, type ServoBlock } from './block';
import { driveName, newAxis, newBlock, newMachine } from './defaults';
import { addDisc, addPath } from './draw';
import { drawnFields } from './drawn-fields';
import { bodySchema, massOf, pathSchema } from './mechanism';
import { readMachine } from './read';
import type { Machine } from './schema';

describe('servo moves', () => {
  const machine = newMachine('Moves');
  machine.axes.push({ ...newAxis('rotary', [], 2), limits: { velocity: 2 * Math.PI, acceleration: null, jerk: null } });
  const [axis] = machine.axes as [Machine['axes'][number]];
  axis.motion.source = { kind: 'moves', blocks: [] };

  test.each(Object.keys(BLOCKS) as ServoBlock['kind'][])('%s begins as a document takes it', (kind) => {
    const one = newBlock(machine, axis, kind);
    const next = copy(machine);
    next.axes[0]!.motion.source = {
      kind: 'moves',
      blocks: [newBlock(machine, axis, 'travel'), { ...one, id: 'other' }],
    };
    const read = readMachine(next);
    expect(read.ok ? [] : read.problems).toEqual([]);
  });

  test('are in the quantities of their axis, and say which of its limits hold where theirs are left out', () => {
    const travel = { ...newBlock(machine, axis, 'travel'), acceleration: 5 };
    const fields = drawnFields(blockSchema, travel, machine, { axis: axis.id });
    expect(named(fields, 'Way')).toMatchObject({ quantity: 'angle', optional: false });
    expect(named(fields, 'Velocity')).toMatchObject({ placeholder: '360', optional: true });
    expect(named(fields, 'Acceleration')).toMatchObject({ placeholder: 'needed', value: 5 });
    expect(named(fields, 'Deceleration').placeholder).toBe('286');
    expect(named(fields, 'Jerk').placeholder).toBe('no limit');
    expect(changed(machine, () => ({}), named(fields, 'Velocity'), 0)).toBe('Must be greater than zero.');
    const oscillate = drawnFields(blockSchema, newBlock(machine, axis, 'oscillate'), machine, { axis: axis.id });
    expect(changed(machine, () => ({}), named(oscillate, 'Cycles'), 1.5)).toBe('A whole number is needed.');
  });
});

describe('bodies and paths', () => {
  test('a typed mass begins as what the shape gave', () => {
    const machine = newMachine('Wheel');
    const disc = addDisc(machine.mechanism, [0.1, 0.2], 0.05);
    const typed = changed(machine, (m) => m.mechanism.bodies[0]!, named(drawnFields(bodySchema, disc, machine), 'Mass'), 'typed'); // prettier-ignore
    if (typeof typed === 'string') throw new Error(typed);
    expect(typed.mechanism.bodies[0]!.mass.given).toBe('typed');
    const [before, after] = [massOf(disc), massOf(typed.mechanism.bodies[0]!)];
    // A disc of steel of 8 mm (handbook: m = π r² h ρ, J = m r² / 2).
    expect(before.mass).toBeCloseTo(Math.PI * 0.05 ** 2 * 0.008 * 7850, 12);
    expect(before.inertia).toBeCloseTo((before.mass * 0.05 ** 2) / 2, 12);
    expect(after).toEqual(before);
  });

  test('a path keeps its points, whatever shape it is given', () => {
    const machine = newMachine('Way');
    const points: [number, number][] = [[0, 0], [0.1, 0], [0.1, 0.1]]; // prettier-ignore
    addPath(machine.mechanism, 'ground', { kind: 'loop', through: points });
    const as = (from: Machine, shape: string): Machine => {
      const field = named(drawnFields(pathSchema, from.mechanism.paths[0]!, from), 'Shape');
      const next = changed(from, (m) => m.mechanism.paths[0]!, field, shape);
      if (typeof next === 'string') throw new Error(next);
      return next;
    };
    const chain = as(machine, 'chain');
    expect(chain.mechanism.paths[0]!.shape).toEqual({
      kind: 'chain',
      start: points[0],
      closed: true,
      pieces: points.slice(1).map((to) => ({ kind: 'line', to })),
    });
    expect(as(chain, 'loop').mechanism.paths[0]!.shape).toEqual({ kind: 'loop', through: points });
    const circle = as(chain, 'circle').mechanism.paths[0]!.shape;
    expect(circle).toMatchObject({ kind: 'circle', centre: [0.2 / 3, 0.1 / 3] });
  });
});

test('an axis that drives a joint is called by it, no two alike, and never longer than a name may be', () => {
  const axes = [{ name: 'drive of pin 3' }, { name: 'Drive of Pin 3 2' }];
  expect(driveName([], { name: 'Pin 3' })).toBe('Drive of Pin 3');
  expect(driveName(axes, { name: 'Pin 3' })).toBe('Drive of Pin 3 3');
  expect(driveName([], { name: 'x'.repeat(80) }).length).toBeLessThanOrEqual(80);
});
