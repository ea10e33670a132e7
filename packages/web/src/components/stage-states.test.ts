/** @jest-environment jsdom */
import { failNextRun, motors } from '../../test/computing';
import { newAxis, type Machine } from '@yoke/core';
import { h, nextTick } from 'vue';
import { api, ApiProblem } from '@/api/client';
import { useCatalogue } from '@/stores/catalogue';
import { useMachine } from '@/stores/machine';
import { useRun } from '@/stores/run';
import { opened, ran, show } from '../../test/mounting';
import BrokenNote from './BrokenNote.vue';
import BudgetBar from './BudgetBar.vue';
import ConflictBar from './ConflictBar.vue';
import { beltLine } from '../../../core/test/cycles';
import { fourBar } from '../../../core/test/mechanisms';
import RunBar from './RunBar.vue';
import SaveNote from './SaveNote.vue';
import StageNav from './StageNav.vue';

/** The light of each stage, and what it says. */
async function lights() {
  const { wrapper } = await show(StageNav);
  return () =>
    Object.fromEntries(
      wrapper.findAll('a').map((link) => {
        const kind = link.classes().find((name) => ['empty', 'ready', 'attention', 'stale'].includes(name));
        const [stage, ...words] = link.text().split(',');
        return [stage!.trim(), { kind, words: words.join(',').trim() }];
      }),
    );
}
const withAxis = (change: (machine: Machine) => void = () => undefined) =>
  opened((machine) => {
    machine.axes.push(newAxis('linear', [], 2));
    change(machine);
  });
beforeEach(() => jest.spyOn(api, 'listMotors').mockResolvedValue({ motors, former: null }));

describe('the lights of the stages', () => {
  test('an empty machine says what is missing first', async () => {
    await opened();
    const now = await lights();
    expect(Object.values(now()).map(({ kind }) => kind)).toEqual(['empty', 'empty', 'empty', 'empty', 'empty', 'empty']); // prettier-ignore
    expect(now().Move!.words).toContain('add one in Build');
  });

  test('are good only once everything they stand on is computed', async () => {
    await withAxis();
    await useCatalogue().load();
    const now = await lights();
    expect(now().Run!.kind).toBe('stale');
    await ran();
    // The catalogue comes after the first run.
    while (useRun().ranking.length === 0) await new Promise((resolve) => setTimeout(resolve, 5));
    await nextTick();
    expect(now()).toMatchObject({
      Build: { kind: 'ready', words: '1 axis' },
      Move: { kind: 'ready' },
      Cue: { kind: 'empty' },
      Run: { kind: 'ready' },
      Size: { kind: 'ready' },
      Deliver: { kind: 'ready' },
    });
  });

  test('a motion beyond its limits is red where it is made, and where the run shows it', async () => {
    await withAxis(({ axes }) => {
      axes[0]!.travel = { min: 0, max: 0.05 };
    });
    await ran();
    const now = await lights();
    expect(now().Move!.kind).toBe('attention');
    expect(now().Move!.words).toMatch(/50\smm/);
  });

  test('a computation that throws is red behind it, in words, and never stale green', async () => {
    await withAxis();
    const now = await lights();
    await ran();
    failNextRun('The contact computation gave up at 0.2 s.');
    useMachine().edit('longer', (draft) => void (draft.cycle = { given: 'time', time: 3 }));
    const results = useRun();
    while (results.failure === null) await new Promise((resolve) => setTimeout(resolve, 5));
    await nextTick();
    for (const stage of ['Move', 'Run', 'Size', 'Deliver'])
      expect([stage, now()[stage]!.kind, now()[stage]!.words]).toEqual([stage, 'attention', expect.stringContaining('gave up')]); // prettier-ignore
  });

  test('too coarse a step is told on the stages behind it, with the step that would do as a remedy', async () => {
    await withAxis((machine) => {
      const shaft = newAxis('rotary', [], 2);
      Object.assign(shaft, { id: 'shaft', name: 'Shaft' });
      shaft.travel = null;
      shaft.motion.level = 'velocity';
      shaft.motion.source = { kind: 'constant', value: 600 };
      shaft.load.imbalance = 0.1;
      shaft.load.slope = Math.PI / 2;
      machine.axes = [shaft];
      machine.step = 2e-3;
    });
    await ran();
    const now = await lights();
    expect([now().Run!.kind, now().Deliver!.kind]).toEqual(['attention', 'attention']);
    const bar = await show(RunBar);
    expect(bar.text()).toContain('coarse');
    await bar.press(bar.buttons().find((name) => name.includes('proposed'))!);
    expect(useMachine().document!.step).toBeNull();
    await ran();
    expect(now().Run!.kind).toBe('ready');
  });
});

describe('notes above the stages', () => {
  test('a run that would take too much asks, and is run when it is wanted', async () => {
    await withAxis((machine) => {
      machine.loose = beltLine(0.2, [0.1]);
      machine.sequence.cycle = { starts: null, cycles: null, most: 86_400 };
    });
    const { text, press, alerts } = await show(BudgetBar);
    await nextTick();
    expect(alerts()).toHaveLength(1);
    expect(text()).toMatch(/steps of the contact computation/);
    expect(useRun().run).toBeNull();
    await press('Run it anyway');
    expect(useRun().ask).toBeNull();
  });

  test('what is saved, waits, or was changed elsewhere is said', async () => {
    const machine = await withAxis();
    const note = await show(SaveNote);
    const bar = await show(ConflictBar);
    expect([note.text(), bar.alerts()]).toEqual(['Saved', []]);
    const put = jest.spyOn(api, 'saveMachine').mockRejectedValue(new ApiProblem(412, 'Changed elsewhere', [], 5));
    machine.edit('rename', (draft) => void (draft.name = 'Mine'));
    await nextTick();
    expect(note.text()).toContain('Saving');
    const saving = async (kind: string) => {
      while (machine.saveState.kind !== kind) await new Promise((resolve) => setTimeout(resolve, 10));
    };
    await saving('conflict');
    await nextTick();
    expect(bar.text()).toContain('changed in another window');
    put.mockResolvedValue(6);
    await bar.press('Replace theirs with mine');
    await saving('saved');
    await nextTick();
    expect([note.text(), bar.alerts()]).toEqual(['Saved', []]);
  });

  test('nothing is ranked or delivered of a broken run, but on insisting', async () => {
    // The longest bar and the shortest one are together longer than the others: this crank cannot turn (Grashof).
    await opened((machine) => void Object.assign(machine, fourBar([0.4, 0.3, 0.2, 0.3], 0.6).machine));
    await ran();
    const axis = useMachine().axes[0]!;
    const { text, press } = await show({ render: () => h(BrokenNote, { axis, what: 'delivered' }) });
    expect(text()).toContain('Nothing is delivered of this run');
    await press('Deliver what was run');
    expect(useRun().insisted).toBe(true);
    expect(text()).toContain('Goes by a broken run');
  });
});
