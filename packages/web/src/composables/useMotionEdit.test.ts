import { MachineMotions, motionAt, movingMachine, newAxis, newMachine, type Machine } from '@yoke/core';
import { createPinia, setActivePinia } from 'pinia';
import { api } from '@/api/client';
import { useMachine } from '@/stores/machine';
import { usePreferences } from '@/stores/preferences';
import { setOver, useMotionEdit, type SourceKind } from './useMotionEdit';

Reflect.deleteProperty(globalThis, 'BroadcastChannel');

beforeEach(async () => {
  jest.useFakeTimers();
  setActivePinia(createPinia());
  const document = newMachine('Test');
  document.cycle = { given: 'time', time: 2 };
  document.axes = [newAxis('linear', [], 2)];
  document.axes[0]!.limits = { velocity: 3, acceleration: 30, jerk: null };
  jest.spyOn(api, 'readMachine').mockResolvedValue({ machine: document, revision: 1 });
  await useMachine().open('m1');
});
const positions = (machine: Machine) => {
  const { motion, problems } = new MachineMotions(movingMachine(machine)).of('axis1');
  expect(problems).toEqual([]);
  return [0, 0.7, 1.1, 1.8].map((time) => motionAt(motion, time).position);
};

describe('an axis led otherwise begins as it was', () => {
  test.each(['moves', 'formula', 'points'] as SourceKind[])('%s', (kind) => {
    const machine = useMachine();
    const before = positions(machine.document!);
    useMotionEdit().setSource(kind);
    expect(machine.axis!.motion.source.kind).toBe(kind);
    positions(machine.document!).forEach((value, i) => expect(value).toBeCloseTo(before[i]!, 4));
  });

  test('going back finds what was there', () => {
    const machine = useMachine();
    const { setSource, editSource } = useMotionEdit();
    setSource('formula');
    editSource('formula', 'formula', (source) => void (source.text = '12 mm'));
    setSource('plan');
    setSource('formula');
    expect(machine.axis!.motion.source).toMatchObject({ text: '12 mm' });
  });
});

describe('servo moves', () => {
  test('keep a motion that no plan made, and begin where it does', () => {
    const machine = useMachine();
    machine.editAxis('a sine', (draft) => {
      draft.motion.source = { kind: 'harmonic', mean: 0.05, amplitude: 0.02, frequency: 0.5, phase: -Math.PI / 2 };
      draft.limits = { velocity: null, acceleration: null, jerk: null };
    });
    const said = useMotionEdit().setSource('moves');
    expect(said).toBe('The motion is kept as 2 blocks, each in its time, at rest in between. Home is where they begin, 30 mm.'.replace('30 mm', '30\u00a0mm')); // prettier-ignore
    expect(machine.axis!.home).toBeCloseTo(0.03, 12);
    const { motion, problems } = new MachineMotions(movingMachine(machine.document!)).of('axis1');
    expect(problems).toEqual([]);
    expect([0, 1, 2].map((time) => Math.round(motionAt(motion, time).position * 1e5) / 1e5)).toEqual([
      0.03, 0.07, 0.03,
    ]);
  });

  test('are made anew where the motion was changed since they were left', () => {
    const machine = useMachine();
    const { setSource } = useMotionEdit();
    setSource('moves');
    setSource('plan');
    machine.editAxis('stroke', (draft) => {
      for (const segment of draft.plan.segments) if (segment.kind === 'move' && segment.to > 0) segment.to = 0.12;
    });
    const before = positions(machine.document!);
    setSource('moves');
    positions(machine.document!).forEach((value, i) => expect(value).toBeCloseTo(before[i]!, 4));
  });
});

test('the cycle follows a motion that needs more time, as one step with it, where that is wanted', () => {
  const machine = useMachine();
  const longer = (duration: number) =>
    machine.editAxis('longer', (draft) => void (draft.plan.segments[0]!.duration = duration));
  longer(1.7);
  expect(machine.cycle).toBe(2);
  machine.undo();
  usePreferences().cycleFollows = true;
  longer(1.7);
  expect(machine.cycle).toBeCloseTo(3, 9);
  longer(0.5);
  expect(machine.cycle).toBeCloseTo(3, 9);
  machine.undo();
  machine.undo();
  expect(machine.cycle).toBe(2);
  expect(machine.axis!.plan.segments[0]!.duration).toBeCloseTo(0.7, 9);
});

test('over the master and back the plan keeps its shape and its unit', () => {
  const machine = useMachine();
  const { plan } = machine.axis!;
  const { wrap } = machine.document!.master;
  const over = (to: 'time' | 'master') =>
    machine.editAxis('over', (draft) => setOver(draft as never, to, machine.cycle, wrap));
  const before = positions(machine.document!);
  over('master');
  expect(machine.axis!.plan.segments[0]!.duration).toBeCloseTo(plan.segments[0]!.duration * Math.PI, 12);
  positions(machine.document!).forEach((value, i) => expect(value).toBeCloseTo(before[i]!, 9));
  // Another source over time takes the plan, unseen, back to time with it.
  useMotionEdit().setSource('constant');
  expect(machine.axis!.plan.segments[0]!.duration).toBeCloseTo(plan.segments[0]!.duration, 12);
  expect(machine.axis!.motion.over).toBe('time');
});
