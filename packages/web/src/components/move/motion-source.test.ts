/** @jest-environment jsdom */
import '../../../test/computing';
import { newAxis, type Axis, type MotionSourceOf } from '@yoke/core';
import { h, nextTick } from 'vue';
import { api } from '@/api/client';
import { useMachine } from '@/stores/machine';
import { opened, show } from '../../../test/mounting';
import AlternativesBar from './AlternativesBar.vue';
import ConstantsTable from './ConstantsTable.vue';
import MotionSourcePanel from './MotionSourcePanel.vue';

const axis = (): Axis => useMachine().axis!;
const ofAxis = (part: object) => show({ render: () => h(part as never, { axis: axis() } as never) });
const kind = () => axis().motion.source.kind;

beforeEach(async () => {
  jest.spyOn(api, 'listMotors').mockResolvedValue({ motors: [], former: null });
  await opened((machine) => {
    machine.axes.push(newAxis('linear', [], 2));
    machine.axes.push(newAxis('rotary', machine.axes, 2));
  });
});

describe('what leads an axis', () => {
  test.each(['moves', 'formula', 'points', 'cues', 'follow', 'constant', 'harmonic', 'plan'])(
    'taken to be led by %s the document stays valid, and undo brings back what was',
    async (wanted) => {
      const { choose } = await ofAxis(MotionSourcePanel);
      await choose('Led by', wanted);
      expect(kind()).toBe(wanted);
      if (wanted === 'plan') return;
      useMachine().undo();
      await nextTick();
      expect(kind()).toBe('plan');
    },
  );

  test('a constant velocity is one turn a cycle at a press', async () => {
    const machine = useMachine();
    machine.selectedAxisId = machine.axes[1]!.id;
    const { choose, press } = await ofAxis(MotionSourcePanel);
    await choose('Led by', 'constant');
    await choose('Its values are', 'velocity');
    await press('One turn a cycle');
    expect((axis().motion.source as MotionSourceOf<'constant'>).value).toBeCloseTo(Math.PI, 12);
  });

  test('one that follows says what it follows, at a ratio for what the leader moves in', async () => {
    const { choose, text } = await ofAxis(MotionSourcePanel);
    await choose('Led by', 'follow');
    const other = useMachine().axes[1]!;
    await choose('It follows', other.id);
    expect(axis().motion.source).toMatchObject({ kind: 'follow', axis: other.id });
    expect(text()).toContain('It follows');
    await choose('It follows', '');
    expect(axis().motion.source).toMatchObject({ axis: null });
  });

  test('over the master a plan keeps its shape: its times become lengths', async () => {
    const { choose } = await ofAxis(MotionSourcePanel);
    const shares = () => {
      const { segments } = axis().plan;
      const sum = segments.reduce((total, { duration }) => total + duration, 0);
      return segments.map(({ duration }) => Number((duration / sum).toFixed(9)));
    };
    const before = shares();
    await choose('Runs over', 'master');
    expect(axis().motion.over).toBe('master');
    expect(shares()).toEqual(before);
    const whole = axis().plan.segments.reduce((total, { duration }) => total + duration, 0);
    expect(whole).toBeCloseTo(useMachine().document!.master.wrap, 9);
  });
});

describe('motions put aside', () => {
  test('are kept beside the one in use, taken again and forgotten', async () => {
    const { press, type, buttons } = await ofAxis(AlternativesBar);
    await press('Put this motion aside');
    await type('Name of the motion put aside', 'Quick one');
    await press('Put this motion aside');
    expect(axis().alternatives.map(({ name }) => name)).toEqual(['Plan', 'Quick one']);
    useMachine().editAxis('another', (draft) => {
      draft.motion.source = { kind: 'constant', value: 0.05 };
    });
    await nextTick();
    await press('Plan');
    expect(kind()).toBe('plan');
    await press('Forget Quick one');
    expect(axis().alternatives.map(({ name }) => name)).toEqual(['Plan']);
    expect(buttons()).not.toContain('Quick one');
  });
});

describe('constants of the machine', () => {
  test('say what they are, and what is wrong where they cannot be read', async () => {
    const { press, type, text, field } = await show(ConstantsTable);
    await press('Add a constant');
    expect(field('Name of constant 1').value).toBe('c1');
    expect(text()).toContain('length');
    await type('Value of c1', '2 m/s');
    expect(text()).toMatch(/velocity|speed/);
    await type('Value of c1', '2 * (3 mm');
    expect(document.querySelector('td.bad')?.textContent ?? '').not.toBe('');
    await press('Delete c1');
    expect(useMachine().document!.constants).toEqual([]);
  });

  test('a name that formulas know already is refused', async () => {
    const { press, type, alerts } = await show(ConstantsTable);
    await press('Add a constant');
    await type('Name of constant 1', 'sin');
    const said = [...alerts(), document.querySelector('td.bad')?.textContent ?? ''].join(' ');
    expect(said).toContain('has a meaning in formulas already');
  });
});
