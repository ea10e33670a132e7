/** @jest-environment jsdom */
import '../../../test/computing';
import { addCam, addPath, newAxis, worldOf, type Joint, type LiftOff, type Mechanism } from '@yoke/core';
import { h, nextTick } from 'vue';
import { api } from '@/api/client';
import { useBoard } from '@/stores/board';
import { useMachine } from '@/stores/machine';
import { useRun } from '@/stores/run';
import { useWork } from '@/stores/work';
import { fourBar } from '../../../../core/test/mechanisms';
import { opened, ran, show } from '../../../test/mounting';
import CopyPanel from './CopyPanel.vue';
import JointPanel from './JointPanel.vue';
import MobilityPanel from './MobilityPanel.vue';
import MobilityStrip from './MobilityStrip.vue';
import TiePanel from './TiePanel.vue';

const mechanism = (): Mechanism => useMachine().document!.mechanism as Mechanism;
const joint = (name: string): Joint => mechanism().joints.find((j) => j.name === name)!;
const ofJoint = (name: string) => {
  const { id } = joint(name);
  return show({ render: () => h(JointPanel, { joint: mechanism().joints.find((j) => j.id === id)! }) });
};
const undo = async () => (useMachine().undo(), nextTick());

beforeEach(async () => {
  jest.spyOn(api, 'listMotors').mockResolvedValue({ motors: [], former: null });
  await opened((machine) => void Object.assign(machine, fourBar([0.4, 0.1, 0.35, 0.25], 0.6).machine));
});

describe('mobility', () => {
  test('count, freedoms and drives, and that all is driven', async () => {
    const { text } = await show(MobilityPanel);
    // Three bodies and four pins in the plane: 3·3 − 2·4 = 1 (Grübler).
    expect(text()).toMatch(/Count\s*1\s*Freedoms\s*1\s*Drives\s*1\s*Left free\s*0/);
    expect(text()).toContain('It assembles, and every freedom is driven.');
  });

  test('without a drive it names what is free, and shows how it can move', async () => {
    const machine = useMachine();
    machine.edit('no drive', (draft) => void (draft.axes = []));
    const { text, buttons, press } = await show(MobilityPanel);
    expect(text()).toMatch(/Left free\s*1/);
    const name = buttons().find((label) => label.startsWith('Show how'))!;
    expect(name).toContain('Crank');
    await press(name);
    expect(useBoard().ghost).toBe(0);
    await press(name.replace('Show', 'Hide'));
    expect(useBoard().ghost).toBeNull();
  });

  test('stays in sight in one line whatever is chosen, and leads to the whole of it', async () => {
    const board = useBoard();
    board.select(joint('D').id);
    const strip = await show(MobilityStrip);
    expect(strip.text()).toBe('Mobility 1 freedom, 1 drive, none left free');
    await strip.press('Mobility');
    expect(board.selection).toEqual([]);
    useMachine().edit('no drive', (draft) => void (draft.axes = []));
    await nextTick();
    expect(strip.text()).toBe('Mobility 1 freedom, 0 drives, 1 left free');
    expect(strip.wrapper.find('.note').exists()).toBe(true);
  });

  test('says in a word why the count and the freedoms differ', async () => {
    const board = useBoard();
    expect((await show(MobilityPanel)).text()).not.toContain('The count takes');
    board.draw('a second pin', (draft) => {
      const m = draft.mechanism as Mechanism;
      m.joints.push({ ...structuredClone(joint('D')), id: 'again', name: 'D again' });
    });
    const { text } = await show(MobilityPanel);
    expect(text()).toContain(
      '2 ties say what others say already at these dimensions, so there are 2 more freedoms than counted',
    );
  });

  test('a tie too many is named', async () => {
    const board = useBoard();
    board.draw('a second pin', (draft) => {
      const m = draft.mechanism as Mechanism;
      m.joints.push({ ...structuredClone(joint('D')), id: 'again', name: 'D again' });
    });
    const { text } = await show(MobilityPanel);
    expect(text()).toContain('D');
    expect(text()).not.toContain('every freedom is driven');
  });
});

describe('a joint', () => {
  test('says what it ties and where it stands; a new position at the start is taken', async () => {
    const { text, type } = await ofJoint('B');
    expect(text()).toContain('Crank – Coupler');
    const before = (joint('B') as Extract<Joint, { kind: 'pin' }>).zero;
    await type('Position as drawn', '10°');
    expect((joint('B') as Extract<Joint, { kind: 'pin' }>).zero).not.toBe(before);
    await undo();
    expect((joint('B') as Extract<Joint, { kind: 'pin' }>).zero).toBe(before);
  });

  test('is driven by an axis of its own, which turns once a cycle', async () => {
    const machine = useMachine();
    machine.edit('no drive', (draft) => void (draft.axes = []));
    const { press, buttons } = await ofJoint('A');
    await press(buttons().find((label) => /^Drive/.test(label))!);
    expect(machine.axes).toHaveLength(1);
    expect(machine.axes[0]).toMatchObject({ joint: joint('A').id, kind: 'rotary', name: 'Drive of A' });
    expect(machine.axes[0]!.motion.source).toMatchObject({ value: (2 * Math.PI) / machine.cycle });
  });

  test('gets a stop about all that it does in the run, called by the joint', async () => {
    const { id } = joint('D');
    await ran();
    const { position } = useRun().run!.mechanism!.joints.find((own) => own.id === id)!;
    const [least, most] = [Math.min(...position!), Math.max(...position!)];
    const { press } = await ofJoint('D');
    await press('Add a stop');
    const [stop] = mechanism().elements;
    expect(stop).toMatchObject({ kind: 'stop', joint: id, name: 'Stop of D' });
    if (stop?.kind !== 'stop') throw new Error();
    expect(stop.min!).toBeLessThan(least);
    expect(stop.max!).toBeGreaterThan(most);
    await ran();
    expect(useRun().run!.mechanism!.findings).toEqual([]);
  });

  test('is carried by another body, and stands where it stood', async () => {
    const { choose, field } = await ofJoint('D');
    expect(field('Carried by')).toBeTruthy();
    const place = worldOf(mechanism(), joint('D').b);
    const crank = mechanism().bodies[0]!;
    await choose('Carried by', crank.id);
    const own = joint('D');
    expect('a' in own && own.a.body).toBe(crank.id);
    if ('a' in own) expect(worldOf(mechanism(), own.a)[0]).toBeCloseTo(place[0], 12);
    await undo();
    const before = joint('D');
    expect('a' in before && before.a.body).toBe('ground');
  });

  test('of a cam held by force the speed at which it lifts off is searched for, and is no answer to another machine', async () => {
    const found: LiftOff = { speed: 2, cycle: 0.3, time: 0.05, now: 'kept' };
    jest.spyOn(useWork(), 'liftOff').mockResolvedValue(found);
    useBoard().draw('a cam', (draft) => {
      const m = draft.mechanism as Mechanism;
      const outline = addPath(m, m.bodies[0]!.id, { kind: 'circle', centre: [0, 0], radius: 0.02 });
      addCam(m, outline.id, { body: m.bodies[2]!.id, point: m.bodies[2]!.points[0]!.id }, { kind: 'tip' }, 'Lobe');
    });
    const { press, text, type } = await ofJoint('Lobe');
    await press('At what speed does it lift off?');
    await nextTick();
    expect(text()).toContain('Contact is lost from 2.000 times the present speed on');
    await type('Name', 'Lobe 2');
    expect(text()).not.toContain('Contact is lost');
  });

  test('is renamed', async () => {
    const { type } = await ofJoint('C');
    await type('Name', 'Elbow');
    expect(mechanism().joints.map(({ name }) => name)).toContain('Elbow');
  });
});

describe('without the pointer', () => {
  const body = () => mechanism().bodies[2]!;

  test('a body is tied to the ground where it is, and by a spring to another point', async () => {
    const { choose, press } = await show({ render: () => h(TiePanel, { body: body() }) });
    const joints = mechanism().joints.length;
    await choose('By a', 'slot');
    await press('Tie');
    expect(mechanism().joints).toHaveLength(joints + 1);
    await choose('By a', 'spring');
    await press('Tie');
    expect(useBoard().message).toContain('needs two ends');
    const [first] = mechanism().bodies;
    await choose('To', `${first!.id}.${first!.points[0]!.id}`);
    await press('Tie');
    expect(mechanism().elements.at(-1)).toMatchObject({ kind: 'spring' });
  });

  test('the unit is copied with its drive, half a turn behind', async () => {
    useBoard().select(mechanism().bodies[0]!.id);
    const { type, press } = await show(CopyPanel);
    await type('Across', '500 mm');
    await type('Drive behind by', '180');
    await press('Copy the unit');
    const machine = useMachine();
    expect(mechanism().bodies).toHaveLength(6);
    expect(machine.axes).toHaveLength(2);
    expect(new Set(machine.axes.map(({ name }) => name)).size).toBe(2);
    const [one, other] = machine.axes.map(({ motion }) => motion.initial.position) as [number, number];
    expect(Math.abs(one - other)).toBeCloseTo(Math.PI, 9);
    expect(machine.axes.map((axis) => axis.joint)).not.toContain(null);
  });
});

test('an axis that drives nothing yet is no drive of the mechanism', async () => {
  useMachine().edit('another axis', (draft) => void draft.axes.push(newAxis('linear', [], 1)));
  const { text } = await show(MobilityPanel);
  expect(text()).toMatch(/Drives\s*1/);
});
