import { MachineMotions, motionAt, movingMachine, newAxis, newMachine, type Machine } from '@yoke/core';
import { createPinia, setActivePinia } from 'pinia';
import { api } from '@/api/client';
import { useMachine } from '@/stores/machine';
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
