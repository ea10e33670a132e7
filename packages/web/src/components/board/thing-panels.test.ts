/** @jest-environment jsdom */
import '../../../test/computing';
import {
  addPath,
  addPlane,
  gravityFacts,
  massOf,
  type Body,
  type Element,
  type Mechanism,
  type MechanismPath,
} from '@yoke/core';
import { h, nextTick } from 'vue';
import { api } from '@/api/client';
import { useBoard } from '@/stores/board';
import { useMachine } from '@/stores/machine';
import { fourBar } from '../../../../core/test/mechanisms';
import { opened, show } from '../../../test/mounting';
import BodyPanel from './BodyPanel.vue';
import CouplingPanel from './CouplingPanel.vue';
import ElementPanel from './ElementPanel.vue';
import MechanismPanel from './MechanismPanel.vue';
import PathPanel from './PathPanel.vue';
import ThingPanel from './ThingPanel.vue';

const mechanism = (): Mechanism => useMachine().document!.mechanism as Mechanism;
const body = (name: string): Body => mechanism().bodies.find((b) => b.name === name)!;
const path = (): MechanismPath => mechanism().paths[0]!;
const element = (): Element => mechanism().elements.at(-1)!;
const ofBody = (name: string) => {
  const { id } = body(name);
  return show({ render: () => h(BodyPanel, { body: mechanism().bodies.find((b) => b.id === id)! }) });
};
const ofPath = () => show({ render: () => h(PathPanel, { path: path() }) });
const ofElement = () => show({ render: () => h(ElementPanel, { element: element() }) });
const undo = async () => (useMachine().undo(), nextTick());

beforeEach(async () => {
  jest.spyOn(api, 'listMotors').mockResolvedValue({ motors: [], former: null });
  await opened((machine) => void Object.assign(machine, fourBar([0.4, 0.1, 0.35, 0.25], 0.6).machine));
});

describe('a body', () => {
  test('is as long as is typed, and what is pinned to its end goes along', async () => {
    const { type, field } = await ofBody('Rocker');
    expect(field('Length').value).toBe('250');
    await type('Length', '30 cm');
    const [a, b] = body('Rocker').points.map(({ at }) => at);
    expect(Math.hypot(b![0] - a![0], b![1] - a![1])).toBeCloseTo(0.3, 12);
    expect(useBoard().prepared!.runs).toBe(true);
    await undo();
    expect(field('Length').value).toBe('250');
  });

  test('its width, pose and name are taken as they are typed; nonsense is refused where it stands', async () => {
    const { type, alerts } = await ofBody('Crank');
    await type('Width', '12 mm');
    expect(body('Crank').shape).toEqual({ kind: 'bar', width: 0.012 });
    await type('Width', '0');
    expect(alerts()).toEqual(['Must be greater than zero.']);
    await type('Width', 'broad');
    expect(alerts()).toHaveLength(1);
    expect(body('Crank').shape).toEqual({ kind: 'bar', width: 0.012 });
    await type('Name', 'Short arm');
    expect(mechanism().bodies.map(({ name }) => name)).toContain('Short arm');
  });

  test('takes a material, and begins as heavy as it was when its mass is typed', async () => {
    const { choose, field, type } = await ofBody('Coupler');
    const steel = massOf(body('Coupler')).mass;
    await choose('Material', '2700');
    // Aluminium over steel, by their densities.
    expect(massOf(body('Coupler')).mass / steel).toBeCloseTo(2700 / 7850, 12);
    await type('Thickness', '16 mm');
    expect(massOf(body('Coupler')).mass / steel).toBeCloseTo((2 * 2700) / 7850, 12);
    const before = massOf(body('Coupler'));
    await choose('Mass', 'typed');
    expect(massOf(body('Coupler'))).toEqual(before);
    expect(Number(field('Mass of the body').value)).toBeCloseTo(before.mass, 6);
    await type('Inertia', '50');
    expect(massOf(body('Coupler')).inertia).toBeCloseTo(50e-4, 12);
    await type('Centre along', '10 mm');
    expect(massOf(body('Coupler')).centre[0]).toBeCloseTo(0.01, 12);
    await choose('Mass', 'shape');
    expect(massOf(body('Coupler')).mass).toBeCloseTo(2 * steel, 12);
  });

  test('gets an inertia tensor, which must be one that a body can have', async () => {
    const { alerts, choose, type } = await ofBody('Coupler');
    await choose('Mass', 'typed');
    await choose('Inertia in space', 'typed');
    const first = body('Coupler').mass;
    if (first.given !== 'typed') throw new Error();
    // It begins as a flat plate: the two moments add up to the third.
    expect(first.tensor!.xx + first.tensor!.yy).toBeCloseTo(first.inertia, 12);
    await type('Centre above its middle', '5 mm');
    expect(body('Coupler').mass).toMatchObject({ height: 0.005 });
    await type('Inertia about x', '50000');
    expect(alerts().join()).toContain('cannot be that of any body');
    expect(body('Coupler').mass).toMatchObject({ tensor: { xx: first.tensor!.xx } });
    await choose('Inertia in space', 'plate');
    expect('tensor' in body('Coupler').mass).toBe(false);
  });

  test('has heights of its points where the machine leaves its plane, and not before', async () => {
    const flat = await ofBody('Coupler');
    expect(() => flat.field('p1 height')).toThrow();
    useBoard().draw('a plane', (draft) => void addPlane(draft.mechanism as Mechanism, {}));
    const { type } = await ofBody('Coupler');
    await type('p1 height', '12 mm');
    expect(body('Coupler').points[0]!.height).toBeCloseTo(0.012, 12);
    await type('p1 height', '0');
    expect('height' in body('Coupler').points[0]!).toBe(false);
  });

  test('gets points, which are put where they are typed in the world, and loses those that nothing hangs on', async () => {
    const { press, type, buttons } = await ofBody('Crank');
    await press('Add a point');
    const fresh = body('Crank').points.at(-1)!;
    expect(body('Crank').points).toHaveLength(3);
    await type(`${fresh.id} x`, '20 mm');
    await type(`${fresh.id} y`, '70 mm');
    const { pose } = body('Crank');
    const [x, y] = body('Crank').points.at(-1)!.at;
    expect(pose.x + Math.cos(pose.angle) * x - Math.sin(pose.angle) * y).toBeCloseTo(0.02, 9);
    expect(pose.y + Math.sin(pose.angle) * x + Math.cos(pose.angle) * y).toBeCloseTo(0.07, 9);
    await press(`Remove ${fresh.id}`);
    expect(body('Crank').points).toHaveLength(2);
    // The pins hang on the others: they stay.
    await press(buttons().find((label) => label === 'Remove p1')!);
    expect(body('Crank').points).toHaveLength(2);
  });
});

describe('a path', () => {
  beforeEach(() => {
    const pieces: { kind: 'line'; to: [number, number] }[] = [[0.1, 0.3], [0.2, 0.4]].map(([x, y]) => ({ kind: 'line', to: [x!, y!] })); // prettier-ignore
    const shape = { kind: 'chain' as const, start: [0, 0.3] as [number, number], closed: false, pieces };
    useBoard().draw('a path', (draft) => void addPath(draft.mechanism as Mechanism, 'ground', shape));
  });

  test('says how long it is; its points are typed, its pieces chosen', async () => {
    const { text, type, choose } = await ofPath();
    expect(text()).toContain('241.42 mm long.');
    await type('Point 3 x', '300 mm');
    expect(path().shape).toMatchObject({ pieces: [{}, { kind: 'line', to: [0.3, 0.4] }] });
    await choose('Piece 2', 'arc');
    expect(path().shape).toMatchObject({ pieces: [{ kind: 'line' }, { kind: 'arc', to: [0.3, 0.4] }] });
    await choose('Piece 2', 'spline');
    await choose('Piece 2', 'line');
    expect(path().shape).toMatchObject({ pieces: [{ kind: 'line' }, { kind: 'line', to: [0.3, 0.4] }] });
  });

  test('is closed, made into a loop, a circle and pieces again, and stays closed', async () => {
    const { choose, text } = await ofPath();
    await choose('Closed', true);
    expect(path().shape).toMatchObject({ closed: true });
    await choose('Shape', 'loop');
    expect(path().shape).toMatchObject({ kind: 'loop', through: [[0, 0.3], [0.1, 0.3], [0.2, 0.4]] }); // prettier-ignore
    await choose('Shape', 'circle');
    expect(path().shape.kind).toBe('circle');
    const length = () => text().split(' mm long')[0]!.slice(-5);
    const round = length();
    await choose('Shape', 'chain');
    expect(path().shape).toMatchObject({ kind: 'chain', closed: true });
    // The same circle, in two arcs.
    expect(length()).toBe(round);
    expect(Number(round)).toBeGreaterThan(500);
  });

  test('goes to another carrier and keeps its place', async () => {
    const { choose } = await ofPath();
    const before = JSON.stringify(path().shape);
    await choose('Carried by', body('Crank').id);
    expect(path().body).toBe(body('Crank').id);
    expect(JSON.stringify(path().shape)).not.toBe(before);
    await choose('Carried by', 'ground');
    const { start } = path().shape as Extract<MechanismPath['shape'], { kind: 'chain' }>;
    expect(start[0]).toBeCloseTo(0, 12);
    expect(start[1]).toBeCloseTo(0.3, 12);
  });

  test('a transition with nothing to join says so', async () => {
    const { choose, text } = await ofPath();
    await choose('Piece 2', 'transition');
    expect(text()).toContain('transition with nothing to join');
  });
});

describe('springs and loads', () => {
  const add = (made: Element) =>
    useBoard().draw('add', (draft) => void (draft.mechanism as Mechanism).elements.push(made));
  const ends = () => ({ a: { body: 'ground', point: mechanism().ground[0]!.id }, b: { body: body('Coupler').id, point: 'p2' } }); // prettier-ignore

  test('the force that a spring has as drawn sets its free length', async () => {
    add({ kind: 'spring', id: 's', name: 'Return', on: true, ...ends(), rate: 500, free: 0.1 });
    const { type, field } = await ofElement();
    const length = Number(field('Length as drawn').value) / 1000;
    expect(Number(field('Force as drawn').value)).toBeCloseTo(500 * (length - 0.1), 3);
    await type('Force as drawn', '20 N');
    expect((element() as Extract<Element, { kind: 'spring' }>).free).toBeCloseTo(length - 20 / 500, 6);
  });

  test('a force by a table: rows are added, typed and taken away, two stay', async () => {
    add({
      kind: 'force',
      id: 'f',
      name: 'Push',
      on: true,
      at: ends().b,
      angle: 0,
      turns: false,
      course: { kind: 'table', over: 'time', joint: null, rows: [[0, 0], [1, 10]] }, // prettier-ignore
    });
    const { press, type, buttons } = await ofElement();
    const rows = () => ((element() as Extract<Element, { kind: 'force' }>).course as { rows: number[][] }).rows;
    await press('Add a row');
    await type('Row 3 place', '1.5 s');
    await type('Row 3 value', '-5');
    expect(rows()).toEqual([[0, 0], [1, 10], [1.5, -5]]); // prettier-ignore
    await press('Remove row 2');
    expect(rows()).toEqual([[0, 0], [1.5, -5]]); // prettier-ignore
    await press(buttons().find((label) => label === 'Remove row 1')!);
    expect(rows()).toHaveLength(2);
  });

  test('a force points out of its plane as soon as there is another, from where it pointed before', async () => {
    add({ kind: 'force', id: 'f', name: 'Push', on: true, at: ends().b, angle: Math.PI / 2, turns: false, course: { kind: 'constant', value: 5 } }); // prettier-ignore
    expect((await ofElement()).text()).not.toContain('Direction in space');
    useBoard().draw('a plane', (draft) => void addPlane(draft.mechanism as Mechanism, { name: 'Side' }));
    const { choose, type, field, alerts } = await ofElement();
    await choose('Direction in space', true);
    expect((element() as Extract<Element, { kind: 'force' }>).along).toEqual([0, 1, 0]);
    await type('Along z', '0.5');
    expect((element() as Extract<Element, { kind: 'force' }>).along).toEqual([0, 1, 0.5]);
    await type('Along z', '0');
    await type('Along y', '0');
    expect(alerts()).toEqual(['One of the three must be other than 0.']);
    await choose('Direction in space', false);
    expect('along' in element()).toBe(false);
    expect(field('Direction').value).toBe('90');
  });
});

describe('the mechanism as a whole', () => {
  test('bodies are added by numbers and chosen at once', async () => {
    const { press } = await show(MechanismPanel);
    await press('Add a bar');
    const bar = mechanism().bodies.at(-1)!;
    expect(bar.shape.kind).toBe('bar');
    expect(useBoard().selection).toEqual([bar.id]);
    await press('Add a disc');
    expect(mechanism().bodies.at(-1)!.shape.kind).toBe('disc');
    await undo();
    expect(mechanism().bodies.at(-1)!.id).toBe(bar.id);
  });

  test('gravity is switched off and turned', async () => {
    const { choose, type } = await show(MechanismPanel);
    await type('Direction', '-80');
    expect(gravityFacts(mechanism().gravity.vector).direction).toBeCloseTo((-80 * Math.PI) / 180, 12);
    await choose('On', false);
    expect(mechanism().gravity.on).toBe(false);
  });

  test('two joints are coupled, and the coupling is edited', async () => {
    const pins = mechanism().joints.filter(({ kind }) => kind === 'pin');
    useBoard().select(pins[0]!.id);
    useBoard().select(pins[3]!.id, true);
    const { press, buttons } = await show(ThingPanel);
    // Two pins: nothing that needs a slide is offered.
    expect(buttons()).toEqual(['Gears', 'Belt', 'Ratio', 'Indexer', 'Delete']);
    await press('Ratio');
    const coupling = mechanism().couplings[0]!;
    expect([coupling.first, coupling.second].sort()).toEqual([pins[0]!.id, pins[3]!.id].sort());
    const panel = await show({ render: () => h(CouplingPanel, { coupling: mechanism().couplings[0]! }) });
    await panel.type('Ratio', '-1');
    expect(mechanism().couplings[0]).toMatchObject({ ratio: -1 });
  });
});

test('what is chosen has its panel, and goes with all that hangs on it', async () => {
  useBoard().select(body('Rocker').id);
  const { text, press } = await show(ThingPanel);
  expect(text()).toContain('Rocker');
  expect(text()).toContain('Deleting it takes');
  await press('Delete');
  expect(mechanism().bodies.map(({ name }) => name)).toEqual(['Crank', 'Coupler']);
  expect(mechanism().joints.map(({ name }) => name)).toEqual(['A', 'B']);
  await undo();
  expect(mechanism().bodies).toHaveLength(3);
});
