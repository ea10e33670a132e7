/** @jest-environment jsdom */
import '../../../test/computing';
import { addBar, addJoint, addPlane, bodyPoint, groundPoint, newAxis, readDxf, turnOf, type Machine } from '@yoke/core';
import { nextTick } from 'vue';
import { api } from '@/api/client';
import { download } from '@/lib/files';
import { useBoard } from '@/stores/board';
import { useMachine } from '@/stores/machine';
import { useRun } from '@/stores/run';
import { fourBar } from '../../../../core/test/mechanisms';
import { planOf } from '../../../../core/test/plans';
import { opened, ran, show } from '../../../test/mounting';
import StrokePanel from '../board/StrokePanel.vue';
import TracePanel from './TracePanel.vue';

jest.mock('@/lib/files', () => ({ ...jest.requireActual('@/lib/files'), download: jest.fn() }));
const files = jest.mocked(download);
/** What was saved last: its name, its text, its type. */
const file = () => files.mock.lastCall as [string, string, string];
const mechanism = () => useMachine().document!.mechanism;

beforeEach(() => {
  jest.spyOn(api, 'listMotors').mockResolvedValue({ motors: [], former: null });
  files.mockClear();
});

/** A crank and rocker whose pin between coupler and rocker is traced. */
const LENGTHS = [0.3, 0.08, 0.28, 0.2] as const;
const traced = async () => {
  const { machine: made, rocker } = fourBar(LENGTHS, 1);
  made.mechanism.traces.push({ body: rocker.id, point: rocker.points.at(-1)!.id });
  await opened((machine) => Object.assign(machine, { mechanism: made.mechanism, axes: made.axes, cycle: made.cycle }));
  await ran();
};

describe('traces', () => {
  test('without any it says how one is made', async () => {
    await opened();
    const { text } = await show(TracePanel);
    expect(text()).toContain('Take “Trace a point” from the palette');
  });

  test('as CSV: the end of the rocker stays as far from its foot as the rocker is long', async () => {
    await traced();
    const { press } = await show(TracePanel);
    await press('CSV');
    const [name, text, type] = file();
    expect([name.endsWith('.csv'), type]).toEqual([true, 'text/csv']);
    const [head, ...rows] = text
      .trim()
      .split(/\r?\n/)
      .map((line) => line.split(','));
    expect(head).toEqual(['t [s]', 'x [mm]', 'y [mm]']);
    expect(rows.length).toBe(useRun().run!.times.length);
    for (const [, x, y] of rows) expect(Math.hypot(Number(x) - 300, Number(y))).toBeCloseTo(200, 6);
  });

  test('as CSV it has all three places where the machine leaves the front plane; outlines are those seen from there', async () => {
    const { machine: made, rocker } = fourBar(LENGTHS, 1);
    const { mechanism: m } = made;
    // Seen from the right: its x is towards −z of the world.
    const side = addPlane(m, { at: [0.5, 0, 0], turn: turnOf('right') });
    for (const body of m.bodies) body.plane = side.id;
    for (const point of m.ground) point.plane = side.id;
    m.traces.push({ body: rocker.id, point: rocker.points.at(-1)!.id });
    await opened((machine) => Object.assign(machine, { mechanism: m, axes: made.axes, cycle: made.cycle }));
    await ran();
    const { press, text: shown } = await show(TracePanel);
    expect(shown()).toContain('as they are seen from the front');
    await press('CSV');
    const [head, ...rows] = file()[1].trim().split(/\r?\n/).map((line) => line.split(',')); // prettier-ignore
    expect(head).toEqual(['t [s]', 'x [mm]', 'y [mm]', 'z [mm]']);
    expect(rows.length).toBe(useRun().run!.times.length);
    for (const [, x, y, z] of rows) {
      expect(Number(x)).toBeCloseTo(500, 6);
      expect(Math.hypot(Number(z) + 300, Number(y))).toBeCloseTo(200, 6);
    }
  });

  test('as DXF it is a closed line that is read back where it was', async () => {
    await traced();
    const { press } = await show(TracePanel);
    await press('DXF');
    const { outlines, unit } = readDxf(file()[1]);
    expect(unit).toBe(1);
    for (const [x, y] of outlines.flatMap(({ points }) => points)) expect(Math.hypot(x - 300, y)).toBeCloseTo(200, 3);
  });

  test('back on the board it is a path, and Undo takes it away again', async () => {
    await traced();
    const { press, wrapper } = await show(TracePanel);
    await press('As a path');
    expect(wrapper.find('[role="status"]').text()).toContain('is on the board now as a path');
    const [path] = mechanism().paths;
    expect(path!.shape.kind).toBe('loop');
    const bodies = mechanism().bodies.length;
    useMachine().undo();
    expect([mechanism().paths.length, mechanism().bodies.length]).toEqual([0, bodies]);
  });
});

test('as an outline it is loose, and is welded to what is chosen', async () => {
  await traced();
  const { press, choose, text } = await show(TracePanel);
  await press('As an outline');
  expect(text()).toContain('Nothing holds it yet');
  const plate = mechanism().bodies.at(-1)!;
  await choose(`Weld ${plate.name} to`, mechanism().bodies[0]!.id);
  expect(text()).toContain(`${plate.name} is welded to ${mechanism().bodies[0]!.name}.`);
  expect(mechanism().joints.at(-1)).toMatchObject({ kind: 'weld', b: { body: plate.id } });
  // Of an outline that was taken back nothing is offered.
  await press('As an outline');
  const again = mechanism().bodies.at(-1)!;
  expect(text()).toContain(`Weld ${again.name} to`);
  useMachine().undo();
  await nextTick();
  expect(text()).not.toContain(`Weld ${again.name} to`);
  expect(text()).not.toContain('is on the board now');
});

test('a cam for a point that is led: drawn, pinned, driven, and the drive before is taken off', async () => {
  await opened((machine) => {
    const m = machine.mechanism;
    m.gravity.on = false;
    const bar = addBar(m, [0, 0.05], [0, 0.1], 'Stem');
    const slide = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, bar.id, [0, 0.05]), { direction: Math.PI / 2 }); // prettier-ignore
    const made = newAxis('linear', [], 2);
    Object.assign(made, { name: 'Lifter', joint: slide.id, travel: null, gearbox: null });
    made.plan = planOf('poly345', [0.7, 0.02], [0.6], [0.7, 0]);
    machine.axes.push(made);
  });
  await ran();
  const { press, choose, text } = await show(TracePanel);
  const [stem] = mechanism().bodies;
  await choose('Motion of', `point:${stem!.id}.${stem!.points[0]!.id}`);
  await press('Make the outline');
  await press('To the board, leading it');
  expect(text()).toContain('leads Stem. Lifter led it before and is taken off.');
  expect(mechanism().joints.map(({ kind }) => kind)).toEqual(['slide', 'pin', 'cam']);
  expect(useMachine().axes.map(({ name }) => name)).toEqual(['Drive of Pin 1']);
  await ran();
  const run = useRun().run!;
  const { position } = run.mechanism!.joints[0]!;
  expect(Math.max(...position!) - Math.min(...position!)).toBeCloseTo(0.02, 5);
});

describe('a cam from a motion', () => {
  const [RISE, BASE] = [0.02, 0.04];
  beforeEach(async () => {
    await opened((machine) => {
      machine.cycle = { given: 'time', time: 1 };
      const made = newAxis('linear', [], 1);
      made.name = 'Follower';
      made.plan = planOf('harmonic', [0.5, RISE], [0.5, 0]);
      machine.axes.push(made);
    });
    await ran();
  });

  test('of simple harmonic motion: the largest pressure angle is that of its closed form', async () => {
    const { press, choose, text } = await show(TracePanel);
    await choose('Motion of', `axis:${useMachine().axes[0]!.id}`);
    await press('Make the outline');
    // tan α = s′/(s + r₀) for s = h/2 (1 − cos φ); its maximum by differentiation: m / √(r₀² + 2 r₀ m), m = h/2.
    const m = RISE / 2;
    const largest = (Math.atan(m / Math.sqrt(BASE ** 2 + 2 * BASE * m)) * 180) / Math.PI;
    const said = Number(/Largest pressure angle ([\d.]+)/.exec(text())![1]);
    expect(said).toBeCloseTo(largest, 0);
  });

  test('where nothing is chosen, or the motion does not come back, it says so', async () => {
    const { press, choose, text } = await show(TracePanel);
    await press('Make the outline');
    expect(text()).toContain('Choose the axis or the point');
    useMachine().editAxis('one way', (draft) => void (draft.plan = planOf('poly345', [1, RISE])));
    await ran();
    await choose('Motion of', `axis:${useMachine().axes[0]!.id}`);
    await press('Make the outline');
    expect(text()).toContain('no closed cam can give it');
  });
});

/** A flap on a pin, 300 mm long and 2 kg at its middle, that a cylinder from the ground may lift. */
function flap(machine: Machine): void {
  const m = machine.mechanism;
  const bar = addBar(m, [0, 0], [0.3, 0], 'Flap');
  bar.mass = { given: 'typed', mass: 2, centre: [0.15, 0], inertia: 0.01 };
  addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, bar.id, [0, 0]), { name: 'Hinge' });
  groundPoint(m, [0.3, -0.4]);
}

describe('the stroke that leads from pose to pose', () => {
  test('is the difference of the lengths; the force at rest is that of the lever', async () => {
    await opened(flap);
    const board = useBoard();
    const { press, choose, text, alerts } = await show(StrokePanel);
    await press('Keep first pose');
    // Lifted by a right angle.
    const up = board.shownState()!;
    const { base } = board.model!.bodies[0]!;
    [up[base], up[base + 1], up[base + 2]] = [0, 0.15, Math.PI / 2];
    board.hand = up;
    await press('Keep second pose');
    const [body] = mechanism().bodies;
    const foot = mechanism().ground.at(-1)!;
    await choose('From the point', `ground.${foot.id}`);
    await choose('To the point', `${body!.id}.${body!.points.at(-1)!.id}`);
    await press('Find the stroke');
    expect(alerts()).toEqual([]);
    // From (0.3, −0.4) to (0.3, 0) and to (0, 0.3): 400 mm and 0.1·√58 m.
    expect(Number(/Stroke ?([\d.]+) mm/.exec(text())![1])).toBeCloseTo(100 * Math.sqrt(58) - 400, 0);
    expect(text()).toMatch(/Least length ?400 mm/);
    // Level: half its weight at the end of the flap, straight from below; it is the most where the lever is as good.
    const force = Number(/Largest force ?([\d.]+) N/.exec(text())![1]);
    expect(force).toBeGreaterThanOrEqual(9.8);
  });

  test('is found between any places picked on the board, kept while panels change, and made with its drive', async () => {
    await opened(flap);
    const board = useBoard();
    const finder = await show(StrokePanel);
    expect(finder.text()).toContain('Still open: the first pose, the second pose, two points.');
    await finder.press('Keep first pose');
    const up = board.shownState()!;
    const { base } = board.model!.bodies[0]!;
    [up[base], up[base + 1], up[base + 2]] = [0, 0.15, Math.PI / 2];
    board.hand = up;
    await finder.press('Keep second pose');
    await finder.press('Pick in the picture: from the point');
    board.picking!.take({ body: 'ground', at: [0.2, -0.3] });
    await finder.press('Pick in the picture: to the point');
    board.picking!.take({ body: mechanism().bodies[0]!.id, at: [0.2, 0] });
    finder.wrapper.unmount();
    const { press, text, alerts } = await show(StrokePanel);
    expect(text()).toContain('First pose kept');
    await press('Find the stroke');
    expect(alerts()).toEqual([]);
    await press('Make this cylinder and drive it');
    expect(text()).toContain('goes from the first pose to the second and back');
    expect(mechanism().joints.at(-1)).toMatchObject({ kind: 'cylinder', a: { body: 'ground' } });
    const [axis] = useMachine().axes;
    // From 300 mm to the distance of (0.2, −0.3) and (0, 0.2).
    expect(axis!.travel!.max).toBeCloseTo(Math.hypot(0.2, 0.5) - 0.3, 9);
    await ran();
    const angle = useRun().run!.mechanism!.joints[0]!.position!;
    expect([Math.min(...angle), Math.max(...angle)].map((v) => Math.round(v * 1e4) / 1e4 + 0)).toEqual([0, 1.5708]);
  });

  test('needs two points that move against each other', async () => {
    await opened(flap);
    const { press, choose, alerts } = await show(StrokePanel);
    await press('Keep first pose');
    await press('Keep second pose');
    const [body] = mechanism().bodies;
    for (const label of ['From the point', 'To the point']) await choose(label, `${body!.id}.${body!.points[0]!.id}`);
    await press('Find the stroke');
    expect(alerts()).toEqual(['Both points are on one body: choose points that move against each other.']);
  });
});
