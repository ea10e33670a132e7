/** @jest-environment jsdom */
import '../../../test/computing';
import { newAxis, type Cue } from '@yoke/core';
import { nextTick } from 'vue';
import { useCues } from '@/stores/cues';
import { useCursor } from '@/stores/cursor';
import { useMachine } from '@/stores/machine';
import { cue, cuedAxis, move, wait } from '../../../../core/test/cycles';
import { opened, ran, show } from '../../../test/mounting';
import ChainPanel from './ChainPanel.vue';
import CueTools from './CueTools.vue';

const sheet = (): readonly Cue[] => useMachine().document!.sequence.cues as readonly Cue[];
const names = () => sheet().map(({ name }) => name);
const undo = async () => (useMachine().undo(), nextTick());
const choose = async (...ids: string[]) => {
  useCues().chosen = ids;
  await nextTick();
};

beforeEach(async () => {
  await opened((machine) => {
    machine.axes = [cuedAxis('x', { name: 'Slide' })];
    machine.sequence.cues = [
      cue('out', move('x', 0.4, 0.4), { name: 'Out' }),
      cue('rest', wait(0.3), { name: 'Rest', after: ['out'] }),
      cue('back', move('x', 0, 0.4), { name: 'Back', after: ['rest'] }),
    ];
  });
  await ran();
});

describe('a new cue', () => {
  test('comes behind the chosen one, and what came after it waits for it now', async () => {
    const { press } = await show(CueTools);
    await choose('out');
    await press('Add a cue');
    expect(sheet()).toHaveLength(4);
    const made = sheet().find(({ id }) => !['out', 'rest', 'back'].includes(id))!;
    expect(made.action).toMatchObject({ do: 'move', axis: 'x' });
    expect(made.after).toEqual(['out']);
    expect(sheet().find(({ id }) => id === 'rest')!.after).toEqual([made.id]);
    expect(useCues().chosen).toEqual([made.id]);
    await undo();
    expect(names()).toEqual(['Out', 'Rest', 'Back']);
  });

  test('for an axis that goes by a plan says that cues lead it now, keeps the plan aside, and asks for its editor', async () => {
    useMachine().edit('a plan', (draft) => {
      const made = newAxis('linear', draft.axes as never, 2);
      made.name = 'Planned';
      draft.axes.push(made as (typeof draft.axes)[number]);
    });
    useMachine().selectedAxisId = useMachine().axes.find(({ name }) => name === 'Planned')!.id;
    const { press, text } = await show(CueTools);
    const before = useCues().opened;
    await press('Add a cue');
    expect(text()).toContain(
      'Planned is led by cues from now on. The motion it had is put aside, as “Before the cues” in Move.',
    );
    expect(useMachine().axis!.alternatives).toHaveLength(1);
    expect(sheet().map(({ name }) => name)).toContain('Planned moves');
    expect(useCues().opened).toBe(before + 1);
    await press('Add a cue');
    expect(text()).not.toContain('is led by cues from now on');
    // Taken back, it is said no more.
    await undo();
    await undo();
    await press('Add a cue');
    expect(text()).toContain('is led by cues from now on');
    await undo();
    expect(text()).not.toContain('is led by cues from now on');
  });

  test('beside another it waits for the same', async () => {
    const { press } = await show(CueTools);
    await choose('back');
    await press('Beside it');
    const made = sheet().find(({ name }) => name === 'Back beside')!;
    expect(made.after).toEqual(['rest']);
    expect(made.action).toMatchObject({ do: 'wait' });
    // What waited for Back goes on as before.
    expect(names()).toContain('Back');
  });
});

describe('what is done with chosen ones', () => {
  test('a move is split in its middle: both halves go its whole way in its time', async () => {
    const { press } = await show(CueTools);
    await choose('out');
    await press('Split');
    expect(names()).toEqual(['Out', 'Out waits', 'Out goes on', 'Rest', 'Back']);
    await ran();
    const acted = sheet().map(({ id }) => useCues().acted.get(id)!);
    expect(acted.map(({ from }) => from)).toEqual([0, 0.2, 0.4, 0.6, 0.9].map((t) => expect.closeTo(t, 6)));
    // The second half begins where the first has ended, the way back where the second has.
    expect(acted.filter((_, i) => i !== 1 && i !== 3).map(({ start }) => start)).toEqual(
      [0, 0.2, 0.4].map((p) => expect.closeTo(p, 6)),
    );
  });

  test('with the cursor inside of it, it is split there', async () => {
    const { press } = await show(CueTools);
    await choose('out');
    useCursor().stopAt(0.1);
    await press('Split');
    expect(sheet()[0]!.action).toMatchObject({
      do: 'move',
      value: expect.closeTo(0.1, 9),
      time: expect.closeTo(0.1, 9),
    });
  });

  test('several start one after the other, 100 ms apart; Undo takes it back', async () => {
    const { press } = await show(CueTools);
    await choose('rest', 'out');
    await press('Stagger');
    // In the order of the sheet, whatever was chosen first; the first one keeps what it waited for.
    expect(sheet().find(({ id }) => id === 'out')!.after).toEqual([]);
    expect(sheet().find(({ id }) => id === 'rest')).toMatchObject({ after: [], delay: 0.1 });
    expect(sheet().find(({ id }) => id === 'back')!.after).toEqual(['rest']);
    await undo();
    expect(sheet().find(({ id }) => id === 'rest')!.after).toEqual(['out']);
  });

  test('the way back is made of the chosen moves, in the other order', async () => {
    const { press } = await show(CueTools);
    await choose('out');
    await press('Mirror');
    expect(sheet()).toHaveLength(4);
    const made = sheet().find(({ name }) => name === 'Out back')!;
    expect(made).toMatchObject({ after: ['out'], action: { do: 'move', axis: 'x', value: 0, time: 0.4 } });
    // What came after the way out now comes after the way back.
    expect(sheet().find(({ id }) => id === 'rest')!.after).toEqual([made.id]);
  });

  test('what cannot be done to what is chosen cannot be pressed', async () => {
    const { wrapper } = await show(CueTools);
    const off = () => wrapper.findAll('button').filter((b) => b.attributes('disabled') !== undefined).map((b) => b.text()); // prettier-ignore
    await choose();
    expect(off()).toEqual(['Beside it', 'Split', 'Mirror', 'Stagger']);
    // A wait has no way that could be split.
    await choose('rest');
    expect(off()).toEqual(['Split', 'Stagger']);
    await choose('out', 'back');
    expect(off()).toEqual(['Split']);
  });
});

test('the chain that holds the cycle names its links and what each takes', async () => {
  const { text } = await show(ChainPanel);
  // 0.4 s out, 0.3 s at rest, 0.4 s back.
  expect(text()).toContain('Out');
  expect(text()).toContain('Rest');
  expect(text()).toContain('Back');
  expect(text()).toMatch(/1\.1\s*s/);
  expect(text()).toMatch(/0\.8\s*s/);
});
