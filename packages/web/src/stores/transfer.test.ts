/** @jest-environment jsdom */
import '../../test/computing';
import { nextTick } from 'vue';
import { bareGantry, markedPose } from '../../../core/test/gantry';
import { fourBar } from '../../../core/test/mechanisms';
import { opened } from '../../test/mounting';
import { useMachine } from './machine';
import { useTransfer } from './transfer';

const axis = (name: string) => useMachine().axes.find((own) => own.name === name)!;
const at = (pose: number, name: string) =>
  useMachine().document!.poses![pose]!.at.find((own) => own.axis === axis(name).id)!.position;

beforeEach(async () => {
  await opened((machine) => void Object.assign(machine, bareGantry(), { name: 'Gantry' }));
});

test('poses are marked, put elsewhere by axis and by place, and refuse what is out of reach', () => {
  const transfer = useTransfer();
  transfer.add('from');
  expect(useMachine().document!.poses).toMatchObject([{ name: 'Start' }]);
  expect(transfer.ends.from).toBe(transfer.chosen);
  transfer.add('to');
  expect(transfer.setAxis(axis('Bridge').id, 0.5)).toBeNull();
  expect(at(1, 'Bridge')).toBe(0.5);
  expect(at(0, 'Bridge')).not.toBe(0.5);
  expect(transfer.setAxis(axis('Bridge').id, 9)).toBe('Outside the travel of this axis.');
  const [x, y, z] = transfer.toolPlace!;
  expect(transfer.setPlace([x, y - 0.05, z])).toBeNull();
  expect(at(1, 'Lift') - at(0, 'Lift')).toBeCloseTo(-0.05, 9);
  expect(transfer.setPlace([x, y - 5, z])).toMatch(/“Lift” stands at an end of its travel/);
  expect(at(1, 'Lift') - at(0, 'Lift')).toBeCloseTo(-0.05, 9);
  // One step of undo takes one change back.
  useMachine().undo();
  expect(at(1, 'Lift')).toBe(at(0, 'Lift'));
});

test('what was held by hand is marked as it stands, rounded to what one would type', () => {
  const transfer = useTransfer();
  const places = new Map(transfer.places).set(axis('Bridge').id, 0.123456789);
  transfer.held = transfer.solver!.stateAt(places).q;
  transfer.add('from');
  expect(at(0, 'Bridge')).toBeCloseTo(0.123457, 12);
  expect(transfer.held).toBeNull();
});

test('the way is written as plans or as cues; cues of before are switched off, and marks that go take the way with them', async () => {
  const transfer = useTransfer();
  transfer.add('from');
  transfer.add('to');
  transfer.setAxis(axis('Bridge').id, 0.4);
  transfer.setAxis(axis('Lift').id, -0.1);
  expect(transfer.transfer!.problem).toBeNull();
  transfer.write('plans');
  expect(transfer.written).toMatch(/^Bridge, Lift have it in their plans/);
  expect(axis('Bridge').plan.segments.filter(({ kind }) => kind === 'move')).toHaveLength(2);
  expect(axis('Head').plan.segments.map(({ kind }) => kind)).toEqual(['dwell']);
  transfer.write('cues');
  const written = () => useMachine().document!.sequence.cues.filter(({ on, action }) => on && action.do === 'move');
  expect(written()).toHaveLength(4);
  expect(transfer.rivals).toHaveLength(4);
  transfer.write('cues');
  expect(written()).toHaveLength(4);
  // Written again, they take the place of those of before.
  expect(useMachine().document!.sequence.cues).toHaveLength(5);
  transfer.remove(transfer.to!.id);
  await nextTick();
  expect(transfer.transfer).toBeNull();
});

test('a machine that is opened with marked poses has the way between the first two', async () => {
  await opened((machine) => {
    Object.assign(machine, bareGantry(), { name: 'Gantry' });
    machine.poses = ['Start', 'Target'].map((name, i) => markedPose(machine, name, { Bridge: 0.1 + 0.3 * i }));
  });
  const transfer = useTransfer();
  await nextTick();
  expect([transfer.from?.name, transfer.to?.name]).toEqual(['Start', 'Target']);
  expect(transfer.transfer!.moves.map(({ axis: id }) => id)).toEqual([axis('Bridge').id, axis('Bridge').id]);
});

test('a pose that the mechanism does not get into any more is known as such, and no way is made of it', async () => {
  await opened((machine) => {
    // A crank and rocker: the rocker, driven, comes to a dead position.
    Object.assign(machine, fourBar([0.4, 0.1, 0.35, 0.25], 0.6).machine, { name: 'Four-bar' });
    const driven = machine.axes.find(({ joint }) => joint !== null)!;
    const rocker = machine.mechanism.joints.find(({ kind, b, id }) => kind === 'pin' && id !== driven.joint && machine.mechanism.bodies.find((body) => body.id === b.body)?.name === 'Rocker'); // prettier-ignore
    driven.joint = rocker!.id;
    driven.travel = null;
    machine.poses = [0, 3].map((position, i) => ({ id: `pose${i}`, name: `Pose ${i}`, tool: null, at: [{ axis: driven.id, position }] })); // prettier-ignore
  });
  const transfer = useTransfer();
  await nextTick();
  transfer.choose('pose0');
  expect(transfer.state!.share).toBe(1);
  transfer.choose('pose1');
  expect(transfer.state!.share).toBeLessThan(1);
  expect(transfer.transfer!.problem).toMatch(/does not get into the pose “Pose 1”/);
});
