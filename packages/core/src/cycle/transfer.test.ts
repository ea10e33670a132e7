import { bareGantry, markedPose } from '../../test/gantry';
import { describeProblems, readMachine, type Machine } from '../machine';
import { cuesMoving, hushCues, keepAsCues, planTransfer, type CueWishes, type Transfer } from '../run';
import { simulateCycle } from '.';

const machine = bareGantry();
machine.cycle = { given: 'time', time: 8 };
const transfer = planTransfer(machine, {
  from: markedPose(machine, 'Pick', { Bridge: 0.1, Carriage: -0.1, Lift: -0.2 }),
  to: markedPose(machine, 'Place', { Bridge: 0.6, Carriage: 0.05, Lift: -0.18, Head: Math.PI / 2 }),
  clear: 0.08,
  overlap: 0.3,
  law: { id: 'modifiedSine' },
  time: null,
  back: true,
  stay: 0.2,
  steps: {},
});
const atOnce: CueWishes = { others: 'stand', when: null, gripper: null };

function written(own: Machine, wishes: CueWishes, made: Transfer = transfer): Machine {
  const { machine: cued, cues } = keepAsCues(own, made, wishes);
  expect(cues).toHaveLength(1 + made.moves.length + (wishes.gripper === null ? 0 : 2));
  const read = readMachine(JSON.parse(JSON.stringify(cued)));
  expect(read.ok ? '' : describeProblems(read.problems)).toBe('');
  return cued;
}

test('a transfer that cues make moves every axis when and where it was planned', () => {
  const { record } = simulateCycle(written(machine, atOnce));
  const planned = transfer.moves.map(({ axis, start, time }) => [axis, start, start + time] as const);
  expect(record.moves).toHaveLength(planned.length);
  for (const [axis, from, to] of planned) {
    const found = record.moves.find((move) => move.axis === axis && Math.abs(move.from - from) < 1e-6);
    expect(found?.to).toBeCloseTo(to, 6);
  }
});

test('it begins by what it is told to', () => {
  const late = written(machine, { ...atOnce, when: { op: 'time', at: 0.7 } });
  const { record } = simulateCycle(late);
  expect(Math.min(...record.moves.map(({ from }) => from))).toBeCloseTo(0.7, 6);
});

test('cues that move its axes already are named, and once switched off leave them alone', () => {
  const twice = written(machine, atOnce);
  expect(cuesMoving(twice, transfer, 'go on')).toHaveLength(transfer.moves.length);
  hushCues(twice, transfer, 'go on');
  expect(cuesMoving(twice, transfer, 'go on')).toEqual([]);
  expect(simulateCycle(twice).record.moves).toEqual([]);
});
