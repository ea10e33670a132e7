import { addBar, addJoint, bodyPoint, groundPoint, newAxis, newMachine, type Machine } from '../machine';
import { explainMechanismFinding, isHeldBack, simulate } from './index';
import { gateMechanism } from './gate';
import { explainPlanFinding } from '../motion';

const withFormula = (text: string): Machine => {
  const machine = newMachine('Formula');
  machine.axes.push(newAxis('linear', [], 2));
  machine.axes[0]!.motion.source = { kind: 'formula', text };
  return machine;
};
const errors = (machine: Machine) =>
  simulate(machine)
    .axes[0]!.findings.filter(({ severity }) => severity === 'error')
    .map((finding) => explainPlanFinding(finding, 'linear', 'metric', String));

test.each([
  // f = x^p: the derivative of order n behaves as x^(p − n), infinite at 0 where p < n (and p is no whole number below n).
  ['0.1 m * sqrt(t/T)', 'velocity', '0'],
  ['0.1 m * (t/T)^1.5', 'acceleration', '0'],
  ['0.1 m * (t/T)^2.5', 'jerk', '0'],
  ['0.1 m * (1 - sqrt(1 - t/T))', 'velocity', '2'],
])('%s: the %s is infinite at t = %s, and it is said what to write instead', (text, order, at) => {
  expect(errors(withFormula(text))[0]).toMatch(
    new RegExp(`^Formula: The ${order} of this motion is infinite at t = ${at}: .* or begin with a smooth rise, as`),
  );
});

test.each(['0.1 m * (t/T)^3', '0.1 m * (10*(t/T)^3 - 15*(t/T)^4 + 6*(t/T)^5)'])(
  '%s is as finite as was said',
  (text) => {
    expect(errors(withFormula(text)).filter((words) => words.includes('infinite'))).toEqual([]);
  },
);

test('a velocity given by a root: its acceleration is infinite', () => {
  const machine = withFormula('0.1 m/s * sqrt(t/T)');
  machine.axes[0]!.motion.level = 'velocity';
  expect(errors(machine)[0]).toMatch(/The acceleration of this motion is infinite at t = 0: .* as \(t\/T\)\^2,/);
});

test('a load without a finite value: the channels that depend on it are unknown, the others stay', () => {
  const machine = newMachine('Load');
  machine.axes.push(newAxis('linear', [], 2));
  machine.axes[0]!.load.formula = '1 N / (t/T - t/T)';
  const [axis] = simulate(machine).axes;
  expect(isHeldBack(axis!) || axis!.findings.some(({ code }) => code === 'formula')).toBe(true);
  for (const [id, values] of Object.entries(axis!.channels))
    expect([id, values.every(Number.isFinite) || values.every(Number.isNaN)]).toEqual([id, true]);
  expect(axis!.channels.position.every(Number.isFinite)).toBe(true);
});

test('a mechanism’s run is cut off before the first value that is no finite number, and that is named', () => {
  const machine = newMachine('Pendulum');
  const m = machine.mechanism;
  const bar = addBar(m, [0, 0], [0.1, 0], 'Arm');
  addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, bar.id, [0, 0]), { name: 'Pin' });
  const run = simulate(machine);
  const mechanism = run.mechanism!;
  expect(mechanism.findings.some(({ code }) => code === 'no-number')).toBe(false);
  const whole = mechanism.reached;
  mechanism.joints[0]!.reaction.force[0][40] = Infinity;
  mechanism.energy.kinetic[60] = NaN;
  gateMechanism(mechanism, run.times);
  expect([whole > 60, mechanism.reached]).toEqual([true, 40]);
  expect(mechanism.q[0]!.subarray(40).every(Number.isNaN)).toBe(true);
  expect(explainMechanismFinding(mechanism.findings.at(-1)!, machine)).toMatch(
    /^At .* the reaction of a joint is no finite number: the run is shown up to there\./,
  );
});

test('two points joined freely by a quintic are a straight line', () => {
  const machine = newMachine('Points');
  machine.axes.push(newAxis('linear', [], 2));
  const rows = [
    [0, 0],
    [2, 0.1],
  ];
  machine.axes[0]!.motion.source = { kind: 'points', rows, way: 'quintic', ends: 'free', tolerance: 0 };
  const [axis] = simulate(machine).axes;
  axis!.channels.velocity.forEach((value) => expect(value).toBeCloseTo(0.05, 12));
  machine.axes[0]!.motion.source = { kind: 'points', rows, way: 'quintic', ends: 'cyclic', tolerance: 0 };
  const closing = simulate(machine).axes[0]!.findings.find(({ code }) => code === 'motion');
  expect(closing).toMatchObject({ text: expect.stringMatching(/closed curve|three points/) as string });
});

test('a master that goes round too often for its followers is said, with how often they follow', () => {
  const machine = newMachine('Racing master');
  machine.axes.push(newAxis('linear', [], 2));
  machine.axes[0]!.motion.over = 'master';
  const engage = (speed: number) => {
    machine.master.course = { kind: 'speed', speed };
    return simulate(machine).axes[0]!.findings.find(({ code }) => code === 'engage');
  };
  for (const speed of [1e4, 1e6, 1e12])
    expect(engage(speed)).toMatchObject({
      text: expect.stringMatching(/goes round .* this axis follows 1000 laps at most/) as string,
    });
  expect(engage(100)).toBeUndefined();
});
