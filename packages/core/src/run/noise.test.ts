import { fourBar, RAD } from '../../test/mechanisms';
import { addElement, bodyPoint } from '../machine';
import { allChannels, allMechanismChannels, channelsCsv } from '../format';
import { simulate } from './index';

test('what is zero within the error of computing is zero: in the run and in its files', () => {
  const { machine, coupler, pins } = fourBar([0.3, 0.08, 0.28, 0.2], 40 * RAD);
  machine.mechanism.gravity.on = false;
  for (const body of machine.mechanism.bodies) body.mass = { given: 'typed', mass: 0, centre: [0, 0], inertia: 0 };
  // A force that is nothing for half of the cycle.
  addElement(machine.mechanism, {
    kind: 'force',
    at: bodyPoint(machine.mechanism, coupler.id, [0.1, 0.1]),
    angle: 0.3,
    turns: false,
    course: { kind: 'table', over: 'time', joint: null, rows: [[0, 50], [0.5, 50], [0.5, 0], [1, 0]] }, // prettier-ignore
  });
  const run = simulate(machine);
  const { joints, drives } = run.mechanism!;
  run.times.forEach((time, k) => {
    if (time <= 0.5) return;
    for (const { reaction: { force: [x, y], moment } } of joints) expect([x[k], y[k], moment[k]].every((value) => value === 0)).toBe(true); // prettier-ignore
    expect(drives[0]!.effort[k]).toBe(0);
  });
  expect(Math.max(...joints.find(({ id }) => id === pins[1].id)!.reaction.force[0].map(Math.abs))).toBeGreaterThan(1);
  const csv = channelsCsv(machine, run, allChannels(run), allMechanismChannels(machine, run));
  const [, ...rows] = csv.trim().split('\n');
  for (const value of rows.flatMap((row) => row.split(',').slice(1).map(Number)))
    expect(value === 0 || Math.abs(value) > 1e-9).toBe(true);
});
