import { fourBar, RAD } from '../../test/mechanisms';
import { applyVariant, newAxis, newMachine, newVariant, renameAxis, type Machine } from '../machine';
import { simulate } from './index';

type Course = Extract<Machine['mechanism']['elements'][number], { kind: 'torque' }>['course'];

/** A four-bar turned once a second, with a torque on its rocker. */
function loaded(course: Course): Machine {
  const { machine, rocker } = fourBar([0.1, 0.04, 0.12, 0.08], 40 * RAD);
  machine.axes[0]!.name = 'Crank drive';
  machine.mechanism.gravity.on = false;
  machine.mechanism.elements.push({ kind: 'torque', id: 'e1', name: 'Press', on: true, body: rocker.id, course });
  return machine;
}
const drive = (machine: Machine) => {
  const run = simulate(machine);
  return { run, at: (time: number) => run.axes[0]!.channels.effort[run.times.findIndex((t) => t >= time - 1e-9)]! };
};

describe('a torque of a mechanism by formula', () => {
  test('is the same as the smooth ramp of the same shape', () => {
    const ramp = drive(loaded({ kind: 'ramp', over: 'time', joint: null, from: [0.2, 0], to: [0.6, 2] }));
    const formula = drive(loaded({ kind: 'formula', text: '2 Nm * rise(t, 0.2 s, 0.6 s)' }));
    expect(formula.run.mechanism!.findings).toEqual(ramp.run.mechanism!.findings);
    for (const time of [0.1, 0.3, 0.45, 0.7, 0.95]) expect(formula.at(time)).toBeCloseTo(ramp.at(time), 6);
    expect(Math.abs(formula.at(0.95))).toBeGreaterThan(0.1);
  });
  test('may hang on another axis: it appears only when that has passed a point', () => {
    const machine = loaded({ kind: 'formula', text: 'position("Crank drive") > 180 deg ? 3 Nm : 0 Nm' });
    machine.mechanism.bodies.forEach((body) => (body.mass = { given: 'typed', mass: 0, centre: [0, 0], inertia: 0 }));
    const { at, run } = drive(machine);
    // The crank starts at 40° and turns once a second: 180° after 140/360 s.
    expect(at(0.2)).toBeCloseTo(0, 9);
    expect(Math.abs(at(0.6))).toBeGreaterThan(0.1);
    expect(run.times.filter((t) => Math.abs(t - 140 / 360) < 1e-9)).toHaveLength(2);
    const renamed = renameAxis(machine, machine.axes[0]!.id, 'Main drive');
    expect(drive(renamed).at(0.6)).toBeCloseTo(at(0.6), 9);
  });
  test('runs faster with a faster machine, and is switched off with the loads', () => {
    const machine = loaded({ kind: 'formula', text: '2 Nm * rise(t, 0.2 s, 0.6 s)' });
    machine.mechanism.bodies.forEach((body) => (body.mass = { given: 'typed', mass: 0, centre: [0, 0], inertia: 0 }));
    const fast = applyVariant(machine, { ...newVariant('v', 'Fast'), speed: 4 });
    expect(drive(fast).at(0.95 / 4)).toBeCloseTo(drive(machine).at(0.95), 6);
    expect(drive(applyVariant(machine, { ...newVariant('v', 'Bare'), loads: false })).at(0.95)).toBeCloseTo(0, 9);
  });
  test('one that cannot be read is named, and does nothing', () => {
    const { run } = drive(loaded({ kind: 'formula', text: '2 N * rise(t, 0.2 s, 0.6 s)' }));
    expect(run.mechanism!.findings).toContainEqual({
      code: 'formula',
      severity: 'error',
      id: 'e1',
      text: 'The formula gives a force; a torque is wanted.',
    });
  });
});

test('a load of an axis by formula adds to its constant force, and jumps where it says so', () => {
  const machine = newMachine('M');
  machine.cycle = { given: 'time', time: 2 };
  const axis = { ...newAxis('linear', [], 2), name: 'Slide' };
  axis.load = { ...axis.load, force: -5, formula: 'position("Slide") >= 100 mm ? -20 N : 0 N' };
  machine.axes = [axis];
  const { run } = drive(machine);
  const rest = simulate({ ...machine, axes: [{ ...axis, load: { ...axis.load, formula: null } }] });
  const { position, effort } = run.axes[0]!.channels;
  run.times.forEach((time, k) => {
    const plain = rest.axes[0]!.channels.effort[rest.times.findIndex((t) => Math.abs(t - time) < 1e-12)];
    if (
      plain === undefined ||
      Math.abs(position[k]! - 0.1) < 1e-9 ||
      run.times[k + 1] === time ||
      run.times[k - 1] === time
    )
      return;
    expect(effort[k]! - plain).toBeCloseTo(position[k]! > 0.1 ? 20 : 0, 6);
  });
  machine.axes[0]!.load.formula = '5 mm';
  expect(simulate(machine).axes[0]!.findings).toContainEqual(
    expect.objectContaining({ code: 'formula', where: 'load', text: 'The formula gives a length; a force is wanted.' }),
  );
});
