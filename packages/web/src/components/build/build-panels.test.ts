/** @jest-environment jsdom */
import '../../../test/computing';
import { newAxis } from '@yoke/core';
import { h, nextTick } from 'vue';
import { api } from '@/api/client';
import { useMachine } from '@/stores/machine';
import { cue, move } from '../../../../core/test/cycles';
import { fourBar } from '../../../../core/test/mechanisms';
import { opened, ran, show } from '../../../test/mounting';
import AxisFacts from './AxisFacts.vue';
import AxisPanel from './AxisPanel.vue';
import DriveTrainPanel from './DriveTrainPanel.vue';
import LoadPanel from './LoadPanel.vue';
import MachinePanel from './MachinePanel.vue';

const ofAxis = (part: object) => show({ render: () => h(part as never, { axis: useMachine().axis! } as never) });
const axis = () => useMachine().axis!;
const names = () => useMachine().axes.map(({ name }) => name);
const undo = async () => (useMachine().undo(), nextTick());

beforeEach(() => jest.spyOn(api, 'listMotors').mockResolvedValue({ motors: [], former: null }));

describe('the machine as a whole', () => {
  beforeEach(() => opened((machine) => machine.axes.push(newAxis('linear', [], 2))));

  test('its cycle is given as a time or a rate, which are one', async () => {
    const { type, choose, field } = await show(MachinePanel);
    await type('Cycle time', '1.5 s');
    expect(useMachine().document!.cycle).toEqual({ given: 'time', time: 1.5 });
    await choose('Given as', 'rate');
    expect(field('Cycles a minute').value).toBe('40');
    await type('Cycles a minute', '30');
    expect(useMachine().cycle).toBe(2);
  });

  test('run once it need not come back, and is told so in one place', async () => {
    const { choose } = await show(MachinePanel);
    await choose('Runs once', true);
    expect(useMachine().document!.oneOff).toBe(true);
    await choose('Runs once', false);
    expect(useMachine().document).not.toHaveProperty('oneOff');
    await undo();
    expect(useMachine().document!.oneOff).toBe(true);
  });

  test('axes are added, copied and deleted, with names of their own', async () => {
    const { press } = await show(MachinePanel);
    await press('Add a table');
    await press('Copy Slide');
    expect(new Set(names()).size).toBe(3);
    expect(new Set(useMachine().axes.map(({ id }) => id)).size).toBe(3);
    await press(`Delete ${names()[1]!}`);
    expect(names()).toHaveLength(2);
    await undo();
    expect(names()).toHaveLength(3);
  });

  test('an axis that cues speak of stays, and says which', async () => {
    await opened((machine) => {
      const made = newAxis('linear', [], 2);
      made.id = 'x';
      made.motion.source = { kind: 'cues', start: 0 };
      machine.axes.push(made);
      machine.sequence.cues = [cue('send', move('x', 0.1, 0.5), { name: 'Send' })];
    });
    const { press, alerts } = await show(MachinePanel);
    await press('Delete Slide');
    expect(alerts()).toEqual(['Slide stays: Send speaks of it in Cue.']);
    expect(names()).toEqual(['Slide']);
  });
});

describe('an axis', () => {
  beforeEach(() =>
    opened((machine) => {
      machine.axes.push(newAxis('linear', [], 2));
      machine.axes.push(newAxis('rotary', machine.axes, 2));
    }),
  );

  test('renamed, formulas that speak of it go along', async () => {
    const machine = useMachine();
    machine.edit('follow', (draft) => {
      draft.axes[1]!.motion.source = { kind: 'formula', text: '2 rad/m * position("Slide")' };
    });
    const { type } = await ofAxis(AxisPanel);
    await type('Name', 'Lift');
    expect(machine.axes[0]!.name).toBe('Lift');
    expect(machine.axes[1]!.motion.source).toMatchObject({ text: '2 rad/m * position("Lift")' });
  });

  test('a name that is there already is refused, in words', async () => {
    const { type, text } = await ofAxis(AxisPanel);
    await type('Name', useMachine().axes[1]!.name);
    expect(useMachine().axes[0]!.name).toBe('Slide');
    expect(text()).toMatch(/name/i);
  });

  test('becomes one that turns, with values of its own; name and colour stay', async () => {
    const { choose } = await ofAxis(AxisPanel);
    const { name, colour } = axis();
    await choose('Motion', 'rotary');
    expect(axis()).toMatchObject({ kind: 'rotary', name, colour });
  });

  test('ends of travel go and come back about what the plan reaches', async () => {
    const { choose } = await ofAxis(AxisPanel);
    await choose('Axis without ends', true);
    expect(axis().travel).toBeNull();
    await choose('Axis without ends', false);
    expect(axis().travel).toEqual({ min: 0, max: 0.2 });
  });

  test('limits are typed in any unit', async () => {
    const { type } = await ofAxis(AxisPanel);
    await type('Velocity', '60 m/min');
    expect(axis().limits.velocity).toBeCloseTo(1, 12);
  });
});

describe('what an axis has behind it', () => {
  test('a gearbox comes and goes; a screw takes its own fields', async () => {
    await opened((machine) => machine.axes.push(newAxis('linear', [], 2)));
    const { choose, type, text } = await ofAxis(DriveTrainPanel);
    const had = axis().gearbox !== null;
    await choose('Gearbox', !had);
    expect(axis().gearbox !== null).toBe(!had);
    await choose('By', 'screw');
    expect(axis().transmission.kind).toBe('screw');
    await type('Lead per turn', '12');
    expect(axis().transmission).toMatchObject({ kind: 'screw', lead: 0.012 });
    expect(text()).toContain('To the slide');
  });

  test('a load is typed; a mass that cannot be is refused', async () => {
    await opened((machine) => machine.axes.push(newAxis('linear', [], 2)));
    const { type, alerts } = await ofAxis(LoadPanel);
    await type('Moving mass', '12.5');
    expect(axis().load.inertia).toBe(12.5);
    await type('Moving mass', '-1');
    expect([alerts().length, axis().load.inertia]).toEqual([1, 12.5]);
  });

  test('what follows shows the mechanism that is moved, as the run knows it', async () => {
    await opened((machine) => void Object.assign(machine, fourBar([0.4, 0.1, 0.35, 0.25], 0.6).machine));
    const { text } = await ofAxis(AxisFacts);
    expect(text()).toContain('being computed');
    await ran();
    expect(text()).toContain('Inertia at the motor shaft, at most');
    expect(text()).toContain('Mechanism asks at rest, at most');
  });
});
