/** @jest-environment jsdom */
import '../../../test/computing';
import { newAxis } from '@yoke/core';
import { nextTick } from 'vue';
import { api } from '@/api/client';
import { useMachine } from '@/stores/machine';
import { fourBar } from '../../../../core/test/mechanisms';
import { opened, ran, show } from '../../../test/mounting';
import TrajectoryPanel from './TrajectoryPanel.vue';

beforeEach(() => {
  jest.spyOn(api, 'listMotors').mockResolvedValue({ motors: [], former: null });
  URL.createObjectURL = () => 'blob:test';
  URL.revokeObjectURL = () => undefined;
});
/** A slide by inclined sines, of which no spline through few points is exact. */
const withAxis = () =>
  opened((machine) => {
    const axis = newAxis('linear', [], 2);
    for (const segment of axis.plan.segments) if (segment.kind === 'move') segment.law = { id: 'cycloidal' };
    machine.axes.push(axis);
  });
/** Number of points that the panel tells. */
const pointsOf = (text: string) => Number(/\d{1,6}$/.exec(text.split(' points,')[0]!)?.[0]);

describe('a motion for the controller', () => {
  test('in every form it says how many points there are and how far off the motion they are, read back', async () => {
    await withAxis();
    const { choose, text } = await show(TrajectoryPanel);
    for (const way of ['csv', 'json', 'st', 'xml', 'cam']) {
      await choose('Written as', way);
      expect([way, text()]).toEqual([way, expect.stringMatching(/ points, .* between them.*from the motion at most/)]);
    }
  });

  test('a smaller error takes more points, and keeps it', async () => {
    await withAxis();
    const { type, text } = await show(TrajectoryPanel);
    const usual = pointsOf(text());
    await type('Error at most', '0.0001 mm');
    const many = pointsOf(text());
    expect(many).toBeGreaterThan(usual);
  });

  test('an error of nothing is refused, and nothing is changed', async () => {
    await withAxis();
    const { type, text, alerts } = await show(TrajectoryPanel);
    const before = text().replace(/Error.*/, '');
    await type('Error at most', '0');
    expect(alerts()).toEqual(['Must be greater than zero.']);
    expect(text().replace(/Error.*/, '')).toBe(before);
  });

  test('equal steps give as many points as fit the cycle, and both sides of knees', async () => {
    await withAxis();
    const { choose, type, text } = await show(TrajectoryPanel);
    await choose('Spaced by', 'step');
    await type('Step', '0.1 s');
    expect(pointsOf(text())).toBeGreaterThanOrEqual(21);
    expect(text()).toContain('quintic');
    await choose('Each point holds', 'pvt');
    expect(text()).toContain('a cubic');
  });

  test('it is saved only once the run behind it is there and is not broken', async () => {
    await withAxis();
    const { wrapper } = await show(TrajectoryPanel);
    const save = () => wrapper.findAll('button').find((button) => button.text().includes('Save'))!;
    expect(save().attributes('disabled')).toBeDefined();
    await ran();
    expect(save().attributes('disabled')).toBeUndefined();
  });

  test('of a mechanism that gets stuck nothing is given without asking', async () => {
    // The longest bar and the shortest one are together longer than the others: this crank cannot turn (Grashof).
    await opened((machine) => void Object.assign(machine, fourBar([0.4, 0.3, 0.2, 0.3], 0.6).machine));
    const { wrapper, text } = await show(TrajectoryPanel);
    await ran();
    await nextTick();
    expect(text()).toContain('Nothing is delivered of this run');
    const save = wrapper.findAll('button').find((button) => button.text().startsWith('Save'))!;
    expect(save.attributes('disabled')).toBeDefined();
  });

  test('an axis that cues move has no motion of its own to be written, and says what to take', async () => {
    const machine = await withAxis();
    machine.editAxis('cues', (draft) => void (draft.motion.source = { kind: 'cues', start: 0 }));
    const { alerts } = await show(TrajectoryPanel);
    expect(alerts()[0]).toMatch(/cues/i);
    expect(useMachine().axes).toHaveLength(1);
  });
});
