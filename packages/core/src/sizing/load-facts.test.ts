import { drive, weigh } from '../../test/mechanisms';
import { addBar, addJoint, bodyPoint, groundPoint, newAxis, newMachine } from '../machine';
import { STANDARD_GRAVITY as g } from '../quantity';
import { simulate } from '../run';
import { dutyOf, loadFacts } from './index';

/** A crank of 2 kg, its centre 0.1 m from the shaft, turned once a cycle. */
function crank() {
  const machine = newMachine('Crank');
  machine.cycle = { given: 'time', time: 1 };
  const m = machine.mechanism;
  const body = weigh(addBar(m, [0, 0], [0.2, 0]), 2, [0.1, 0], 0.01);
  const pin = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, body.id, [0, 0]));
  return { machine, axis: drive(machine, pin, { kind: 'constant', value: 2 * Math.PI }) };
}

test('an axis that drives a joint has the mechanism behind it: J and m g r at worst (by hand)', () => {
  const { machine, axis } = crank();
  const run = simulate(machine);
  const facts = loadFacts(axis, run)!;
  const inertia = 0.01 + 2 * 0.1 ** 2;
  expect(facts.inertia.worst).toBeCloseTo(inertia, 9);
  expect(facts.inertia.mean).toBeCloseTo(inertia, 9);
  expect(facts.holding / (2 * g * 0.1)).toBeCloseTo(1, 4);
  expect(facts.mechanismHolding / (2 * g * 0.1)).toBeCloseTo(1, 4);
  // One owner: what sizing goes by.
  const duty = dutyOf(axis, run.axes[0]!, run.times);
  expect([facts.inertia.worst, facts.holding]).toEqual([duty.loadInertia, duty.holding]);
});

test('of a mechanism that does not get through nothing is said, and without a run neither', () => {
  const { machine, axis } = crank();
  machine.mechanism.joints.push(
    ...structuredClone(machine.mechanism.joints).map((j) => ({ ...j, id: 'again', name: 'Again' })),
  );
  machine.axes.push({ ...structuredClone(axis), id: 'other', name: 'Other', joint: 'again' });
  expect(loadFacts(axis, simulate(machine))).toBeNull();
  expect(loadFacts(axis, null)).toBeNull();
});

test('an axis on its own has its load alone', () => {
  const machine = newMachine('Lift');
  const axis = newAxis('linear', [], 1);
  axis.load = { ...axis.load, inertia: 12, slope: Math.PI / 2 };
  axis.gearbox = null;
  axis.transmission = { kind: 'belt', radius: 0.05, inertia: 0, efficiency: 1, backEfficiency: 1, friction: 0 };
  machine.axes.push(axis);
  const facts = loadFacts(axis, simulate(machine))!;
  expect(facts.inertia.worst).toBeCloseTo(12 * 0.05 ** 2, 12);
  expect(facts.inertia.mean).toBe(facts.inertia.worst);
  expect(facts.perTurn).toBeCloseTo(2 * Math.PI * 0.05, 12);
});
