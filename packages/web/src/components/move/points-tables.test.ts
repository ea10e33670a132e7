/** @jest-environment jsdom */
import '../../../test/computing';
import { newAxis, type MotionSourceOf } from '@yoke/core';
import { h, nextTick, type Component } from 'vue';
import { api } from '@/api/client';
import { download } from '@/lib/files';
import { useMachine } from '@/stores/machine';
import { useMotions } from '@/stores/motions';
import { opened, show } from '../../../test/mounting';
import MasterPart from './MasterPart.vue';
import PointsPanel from './PointsPanel.vue';

jest.mock('@/lib/files', () => ({ ...jest.requireActual('@/lib/files'), download: jest.fn() }));
// Curves are drawn on a canvas, which is not here; what they show is core's.
jest.mock('@/components/CurveStack.vue', () => ({ __esModule: true, default: { render: () => null } }));

const axis = () => useMachine().axis!;
const points = () => axis().motion.source as MotionSourceOf<'points'>;
const panel: Component = { render: () => h(PointsPanel, { axis: axis() }) };
const undo = async () => (useMachine().undo(), nextTick());
/** Position at a time, m. */
const at = (time: number) => {
  const { motion } = useMotions().of(axis().id);
  const stretch = motion.stretches.find(({ from, to }) => from <= time && time <= to)!;
  const out = new Float64Array(4);
  stretch.law?.derivatives((time - stretch.from) / (stretch.to - stretch.from), out, 0);
  return stretch.start + stretch.stroke * out[0]!;
};

beforeEach(async () => {
  jest.spyOn(api, 'listMotors').mockResolvedValue({ motors: [], former: null });
  await opened((machine) => {
    const made = newAxis('linear', [], 2);
    const rows = [[0, 0], [0.5, 0.1], [1, 0.2], [2, 0]]; // prettier-ignore
    made.motion.source = { kind: 'points', rows, way: 'quintic', ends: 'rest', tolerance: 0 };
    machine.axes.push(made);
  });
});

describe('a table of points', () => {
  test('is typed in any unit, and the curve passes what is typed', async () => {
    const { type, field } = await show(panel);
    expect(field('Position of point 3').value).toBe('200');
    await type('Position of point 3', '10 in');
    expect(points().rows[2]).toEqual([1, 0.254]);
    await type('Time of point 2', '400 ms');
    expect(points().rows[1]).toEqual([0.4, 0.1]);
    expect(at(1)).toBeCloseTo(0.254, 9);
    expect(at(0.4)).toBeCloseTo(0.1, 9);
  });

  test('points are put between their neighbours, and taken away again', async () => {
    const { press } = await show(panel);
    await press('Insert a point after 2');
    expect(points().rows[2]).toEqual([0.75, expect.closeTo(0.15, 12)]);
    await press('Insert a point after 5');
    // Behind the last one it goes on by a twentieth of the cycle.
    expect(points().rows.at(-1)).toEqual([2.1, 0]);
    await press('Delete point 6');
    await press('Delete point 3');
    expect(points().rows).toHaveLength(4);
    await undo();
    expect(points().rows).toHaveLength(5);
  });

  test('straight lines have no ends to be chosen and nothing to be smoothed', async () => {
    const { choose, field } = await show(panel);
    expect(field('Smoothing within').value).toBe('0');
    await choose('Between points', 'line');
    expect(points().way).toBe('line');
    expect(() => field('Smoothing within')).toThrow();
    expect(at(0.25)).toBeCloseTo(0.05, 12);
    await choose('Between points', 'cubic');
    await choose('Ends', 'free');
    expect(points()).toMatchObject({ way: 'cubic', ends: 'free' });
  });

  test('smoothed, the curve can be taken for the points: they lie on it, and nothing is left to be smoothed', async () => {
    const { type, press, buttons, wrapper } = await show(panel);
    expect(buttons()).not.toContain('Take the smoothed curve');
    await type('Smoothing within', '5 mm');
    const before = at(0.5);
    expect(Math.abs(before - 0.1)).toBeLessThanOrEqual(0.005 + 1e-9);
    // How far it passes each point by stands beside the point.
    const off = () => wrapper.findAll('td.off').map((cell) => Number(cell.text().replace('−', '-').split(/\s/)[0]));
    expect(Math.max(...off().map(Math.abs))).toBeCloseTo(5, 1);
    await press('Take the smoothed curve');
    expect(points().tolerance).toBe(0);
    expect(off()).toEqual([]);
    expect(points().rows.length).toBeGreaterThanOrEqual(5);
    expect(points().rows[0]![0]).toBe(0);
  });

  test('out of order and twice at one place it says what is wrong; cleaned, it is in order', async () => {
    const { type, press, text, alerts } = await show(panel);
    await type('Time of point 2', '1.5 s');
    expect(alerts().join(' ')).not.toBe('');
    await press('Clean');
    expect(points().rows.map(([time]) => time)).toEqual([0, 1, 1.5, 2]);
    expect(text()).toMatch(/order/);
    expect(alerts()).toEqual([]);
    await press('Clean');
    expect(text()).toContain('In order: no doubles, no gaps.');
  });

  test('a long one is read page by page', async () => {
    const machine = useMachine();
    machine.editAxis('many', (draft) => {
      const source = draft.motion.source as MotionSourceOf<'points'>;
      source.rows = Array.from({ length: 25 }, (_, i) => [i / 12, Math.sin((i * Math.PI) / 12) / 10]);
    });
    const { press, text, field } = await show(panel);
    expect(text()).toContain('1 to 10 of 25');
    await press('Later rows');
    await press('Later rows');
    expect(text()).toContain('21 to 25 of 25');
    expect(Number(field('Time of point 21').value)).toBeCloseTo(20 / 12, 6);
    await press('Earlier rows');
    expect(text()).toContain('11 to 20 of 25');
  });

  test('goes out as CSV, in the units that are shown', async () => {
    const { press } = await show(panel);
    await press('Save as CSV');
    const [name, text, type] = jest.mocked(download).mock.calls[0]!;
    expect([name.toLowerCase(), type]).toEqual(['test-slide-table.csv', 'text/csv']);
    expect(String(text).split('\n')[0]).toContain('[mm]');
    expect(String(text)).toContain('200');
  });
});

describe('a table from elsewhere', () => {
  const paste = async (text: string) => {
    const shown = await show(panel);
    await shown.press('Paste or read a file …');
    await shown.type('Pasted table', text);
    await nextTick();
    return shown;
  };

  test('with its heading is read by its units, and takes the place of the one there was', async () => {
    const { press, text } = await paste('t [ms];x [cm]\n0;0\n250;1,5\n500;3\n1000;0');
    await press('Take 4 rows');
    expect(points().rows).toEqual([[0, 0], [0.25, 0.015], [0.5, 0.03], [1, 0]].map((row) => row.map((v) => expect.closeTo(v, 12)))); // prettier-ignore
    expect(text()).toContain('4 rows read.');
    await undo();
    expect(points().rows[2]).toEqual([1, 0.2]);
  });

  test('its separator and decimals can be said where they cannot be found', async () => {
    const { choose, press } = await paste('0,5;1,5\n1,5;2,5\n2,5;3,5');
    await choose('Separator', ';');
    await choose('Decimal sign', ',');
    await press('Take 3 rows');
    expect(points().rows.map(([time]) => time)).toEqual([0.5, 1.5, 2.5]);
    expect(points().rows[0]![1]).toBeCloseTo(0.0015, 12);
  });

  test('columns and units are chosen; a velocity that comes along is met', async () => {
    const { choose, type, press } = await paste('a,b,c\n0,0,0\n1,100,200\n2,0,0');
    await choose('Runs over', '0');
    await choose('Values', '1');
    await choose('Velocities', '2');
    await type('Unit of velocities', 'mm/s');
    await press('Take 3 rows');
    expect(points().rows[1]).toEqual([1, 0.1, 0.2].map((v) => expect.closeTo(v, 12)));
  });

  test('what cannot be read is said, and nothing is taken', async () => {
    const { alerts, buttons } = await paste('one\ntwo\nthree');
    expect(alerts().join(' ')).not.toBe('');
    expect(buttons()).toContain('Take the rows');
    expect(points().rows).toHaveLength(4);
  });
});

describe('the master', () => {
  test('turns once a cycle or runs with ramps; who goes with it is told', async () => {
    const { choose, type, text } = await show(MasterPart);
    expect(text()).toContain('Slide');
    expect(text()).toContain('moves over time by itself');
    await choose('Runs', 'ramp');
    const { master } = useMachine().document!;
    expect(master.course).toMatchObject({ kind: 'ramp', law: 'poly345' });
    await type('Ramp up in', '0.2 s');
    expect(useMachine().document!.master.course).toMatchObject({ up: 0.2 });
    useMachine().editAxis('follow', (draft) => {
      draft.motion.source = { kind: 'follow', axis: null, ratio: 0.01, offset: 0 };
    });
    await nextTick();
    expect(text()).toContain('at a fixed ratio');
  });

  test('slides instead of turning: it begins anew, a metre to a wrap', async () => {
    const { choose, type } = await show(MasterPart);
    await choose('It', 'linear');
    expect(useMachine().document!.master).toEqual({ kind: 'linear', wrap: 1, start: 0, course: { kind: 'cycle' } });
    await type('Wraps after', '400 mm');
    expect(useMachine().document!.master.wrap).toBeCloseTo(0.4, 12);
    await undo();
    await undo();
    expect(useMachine().document!.master.kind).toBe('rotary');
  });
});
