/** @jest-environment jsdom */
import { motors } from '../../../test/computing';
import { newAxis, rankMotors, dutyOf } from '@yoke/core';
import { h, nextTick } from 'vue';
import { api } from '@/api/client';
import { useCompare } from '@/stores/compare';
import { useCursor } from '@/stores/cursor';
import { useMachine } from '@/stores/machine';
import { useRun } from '@/stores/run';
import { fourBar } from '../../../../core/test/mechanisms';
import { opened, ran, show } from '../../../test/mounting';
import FindingsList from '../FindingsList.vue';
import RankingTable from '../size/RankingTable.vue';
import ComparePanel from './ComparePanel.vue';
import EnergyTable from './EnergyTable.vue';
import PeakTable from './PeakTable.vue';

beforeEach(() => {
  jest.spyOn(api, 'listMotors').mockResolvedValue({ motors, former: null });
  jest.spyOn(api, 'listRuns').mockResolvedValue([]);
});

/** Opens a machine whose one axis moves 10 kg, and runs it. */
async function lifting(): Promise<void> {
  await opened((machine) => {
    const axis = newAxis('linear', [], 2);
    axis.load.inertia = 10;
    machine.axes.push(axis);
  });
  await ran();
}

describe('findings', () => {
  test('stand with their remedies; one with a time leads the cursor there', async () => {
    await opened((machine) => machine.axes.push(newAxis('linear', [], 2)));
    const applied: string[] = [];
    const { press, text, buttons } = await show(FindingsList, {
      fine: 'Nothing to be said.',
      findings: [
        { severity: 'error', text: 'It is too fast.', time: 0.7, remedies: [{ label: 'Give it more time', apply: () => applied.push('time') }] }, // prettier-ignore
        { severity: 'info', text: 'It rests.' },
      ],
    });
    expect(text()).not.toContain('Nothing to be said.');
    expect(buttons()).toEqual(['It is too fast.', 'Give it more time']);
    await press('It is too fast.');
    await press('Give it more time');
    expect([useCursor().time, applied]).toEqual([0.7, ['time']]);
  });

  test('without any it says so', async () => {
    await opened();
    const { text } = await show(FindingsList, { findings: [], fine: 'Nothing to be said.' });
    expect(text()).toBe('Nothing to be said.');
  });
});

describe('peaks of an axis', () => {
  test('largest values with time and direction; a press leads there', async () => {
    await lifting();
    const results = useRun();
    const { text, press } = await show({
      render: () => h(PeakTable, { axis: useMachine().axis!, run: results.run!, axisRun: results.run!.axes[0]! }),
    });
    // 200 mm in 0.7 s by the polynomial 3-4-5: Cv = 1.875 (VDI 2143).
    expect(text()).toContain('535.7 mm/s');
    expect(text()).not.toContain('step too coarse');
    await press('Velocity');
    expect(useCursor().time).toBeCloseTo(0.35, 2);
  });
});

describe('a mechanism', () => {
  beforeEach(() => opened((machine) => void Object.assign(machine, fourBar([0.4, 0.1, 0.35, 0.25], 0.6).machine)));

  test('its energies close over a cycle, at the motor shaft', async () => {
    await ran();
    const { cycleTime, axes } = useRun().run!;
    const { text } = await show({ render: () => h(EnergyTable, { axisRun: axes[0]!, cycle: cycleTime }) });
    expect(text()).toContain('Drawn at the motor shaft');
    expect(text()).toMatch(/closes/);
  });

  test('a variant stands beside the run with what changes, and goes again', async () => {
    await ran();
    const { press, text, wrapper } = await show(ComparePanel);
    await press('Add a variant');
    const variant = useMachine().document!.variants[0]!;
    expect(variant.name).toBe('Variant 1');
    await wrapper.find('input[type="checkbox"]').trigger('change');
    const compare = useCompare();
    while (compare.entries.length === 0 || !compare.entries[0]!.run)
      await new Promise((resolve) => setTimeout(resolve, 5));
    await nextTick();
    expect(text()).toContain('Variant 1');
    await press('Delete Variant 1');
    expect(useMachine().document!.variants).toEqual([]);
    expect(compare.shown).toEqual([]);
  });

  test('a run is kept by its name, on the server', async () => {
    await ran();
    const kept = jest.spyOn(api, 'keepRun').mockImplementation(async (_, { name, cycleTime }) => ({
      id: 'r1',
      name,
      revision: 1,
      cycleTime,
      createdAt: '2026-01-01T00:00:00Z',
    }));
    const { press, text } = await show(ComparePanel);
    await press('Keep this run');
    await nextTick();
    expect(kept).toHaveBeenCalledTimes(1);
    expect(kept.mock.calls[0]![1].name).toMatch(/^Run of /);
    expect(text()).toMatch(/Run of /);
  });
});

describe('the ranking', () => {
  test('margins as they are, those that fail in red, the chosen one marked', async () => {
    await lifting();
    const results = useRun();
    const axis = useMachine().axis!;
    const ranking = rankMotors(motors, dutyOf(axis, results.run!.axes[0]!, results.run!.times), axis.sizing);
    const best = ranking[0]!;
    const shown: string[] = [];
    const { wrapper, press } = await show(RankingTable, {
      ranking,
      shown: best.motor.type,
      chosen: best.motor.type,
      onShow: (type: string) => shown.push(type),
    });
    const rows = wrapper.findAll('tbody tr');
    expect(rows).toHaveLength(motors.length);
    expect(rows[0]!.text()).toContain('chosen');
    const failing = ranking.findIndex(({ fits }) => !fits);
    expect(rows[failing]!.classes()).toContain('fails');
    expect(rows[failing]!.findAll('td.bad').length).toBeGreaterThan(0);
    expect(rows[0]!.findAll('td.bad')).toHaveLength(0);
    await press(ranking[1]!.motor.type);
    expect(shown).toEqual([ranking[1]!.motor.type]);
  });
});
