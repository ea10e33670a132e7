import { drive } from '../../test/mechanisms';
import { pointMass, solid } from '../../test/space';
import { compileEfforts, SwitchSchedule } from '../dynamics';
import {
  addBar,
  addDisc,
  addElement,
  addJoint,
  addPlane,
  bodyPoint,
  groundPoint,
  newMachine,
  solidMassOf,
  turnOf,
  type Machine,
} from '../machine';
import { BodyLoads, compileMechanism, ratesOf } from '../mechanism';
import { explainMechanismFinding } from './explain-mechanism';
import type { BearingRun } from './mechanism-run';
import { simulate } from './simulate';

const G = 9.80665;

function bearings(machine: Machine): { of(joint: string): BearingRun; last: number } {
  const run = simulate(machine);
  expect(run.mechanism!.findings.filter(({ severity }) => severity === 'error')).toEqual([]);
  return { of: (joint) => run.mechanism!.bearings.find(({ id }) => id === joint)!, last: run.times.length - 1 };
}
/** A motion with an acceleration that stays, from rest. */
const rising = (acceleration: number) => ({ kind: 'constant' as const, value: acceleration });
const at = (parts: readonly Float64Array[], k: number) => parts.map((part) => part[k]!);

test('the rail of a gantry carries weight, inertia and the moments of an eccentric load (by hand)', () => {
  const machine = newMachine('Gantry');
  machine.cycle = { given: 'time', time: 0.2 };
  const m = machine.mechanism;
  const [ax, az] = [1.5, -2.5];
  // The bridge runs along x; its rail lies 40 mm behind the plane’s middle. The carriage runs across, seen from the right.
  const bridge = pointMass(addDisc(m, [0, 0], 0.05, 'Bridge'), 30);
  const rail = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, bridge.id, [0, 0]));
  bridge.points.find(({ id }) => id === rail.b.point)!.height = -0.04;
  const cross = addPlane(m, { on: bridge.id, at: [0.1, 0.2, 0], turn: turnOf('right') });
  const carriage = pointMass(addDisc(m, [0, 0], 0.05, 'Carriage', cross.id), 8, [0.03, -0.06], 0.02);
  const slide = addJoint(m, 'slide', groundPoint(m, [0, 0], cross.id), bodyPoint(m, carriage.id, [0, 0]));
  drive(machine, rail, rising(ax), 'acceleration');
  // The x of a plane seen from the right points towards −z.
  drive(machine, slide, rising(-az), 'acceleration');
  const { of, last } = bearings(machine);
  const t = 0.2;
  // Carriage: its centre lies at (0.02, −0.06, −0.03) from its slide, in the world.
  const F = [8 * ax, 8 * G, 8 * az];
  const cross3 = ([x, y, z]: number[], [a, b, c]: number[]) => [
    y! * c! - z! * b!,
    z! * a! - x! * c!,
    x! * b! - y! * a!,
  ];
  const M = cross3([0.02, -0.06, -0.03], F);
  // Rail of the carriage: along −z, across y, square to its plane x.
  const own = of(slide.id);
  [-F[2]!, F[1]!, F[0]!].forEach((part, i) => expect(own.force[i]![last]).toBeCloseTo(part, 8));
  [-M[2]!, M[1]!, M[0]!].forEach((part, i) => expect(own.moment[i]![last]).toBeCloseTo(part, 8));
  // Rail of the bridge, at (0, 0, −0.04): the carriage has gone ½ a t² across, its own mass counts at its middle.
  const whole = of(rail.id);
  const sum = [38 * ax, 38 * G, 8 * az];
  const fromRail = cross3([0.1 + 0.02, 0.2 - 0.06, 0.5 * az * t * t - 0.03 + 0.04], F);
  const ownPart = cross3([0, 0, 0.04], [30 * ax, 30 * G, 0]);
  sum.forEach((part, i) => expect(whole.force[i]![last]).toBeCloseTo(part, 8));
  fromRail.forEach((part, i) => expect(whole.moment[i]![last]).toBeCloseTo(part + ownPart[i]!, 8));
  expect(whole.with).toEqual([]);
});

test('a disc that spins on a turning frame loads its bearing by the gyroscopic couple I ω Ω (textbook)', () => {
  const machine = newMachine('Gyroscope');
  machine.cycle = { given: 'time', time: 1 };
  const m = machine.mechanism;
  m.gravity.on = false;
  const [spin, turn, I] = [40, 3, 0.02];
  const top = addPlane(m, { name: 'Top', turn: turnOf('top') });
  const frame = pointMass(addDisc(m, [0, 0], 0.2, 'Frame', top.id), 1);
  const foot = addJoint(m, 'pin', groundPoint(m, [0, 0], top.id), bodyPoint(m, frame.id, [0, 0]));
  const side = addPlane(m, { on: frame.id, turn: turnOf('right') });
  const disc = solid(addDisc(m, [0, 0], 0.1, 'Disc', side.id), 2, [I / 2, I / 2, I]);
  const shaft = addJoint(m, 'pin', groundPoint(m, [0, 0], side.id), bodyPoint(m, disc.id, [0, 0]));
  drive(machine, foot, { kind: 'constant', value: turn });
  drive(machine, shaft, { kind: 'constant', value: spin });
  const { of, last } = bearings(machine);
  const { moment, force } = of(shaft.id);
  // Square to both axes, and steady in the axes of the plane.
  for (const k of [3, last]) {
    expect(Math.hypot(moment[0][k]!, moment[1][k]!)).toBeCloseTo(I * spin * turn, 8);
    expect(moment[2][k]).toBeCloseTo(0, 10);
    expect(Math.hypot(...at(force, k))).toBeCloseTo(0, 10);
  }
});

test('two rails of one bridge share what acts across their plane: the sum is told, and with whom', () => {
  const machine = newMachine('Two rails');
  machine.cycle = { given: 'time', time: 0.1 };
  const m = machine.mechanism;
  m.gravity.vector = [0, 0, -G];
  const bridge = pointMass(addBar(m, [0, 0], [0.4, 0], 'Bridge'), 12, [0.1, 0]);
  const one = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, bridge.id, [0, 0]), { direction: Math.PI / 2 });
  const two = addJoint(m, 'slot', groundPoint(m, [0.4, 0]), bodyPoint(m, bridge.id, [0.4, 0]), {
    direction: Math.PI / 2,
  });
  drive(machine, one, { kind: 'constant', value: 0 });
  const { of } = bearings(machine);
  const told = simulate(machine).mechanism!.findings.find(({ code }) => code === 'shared-load')!;
  expect(explainMechanismFinding(told, machine)).toMatch(/^Slide 1 and Slot 1 share what acts across their plane/);
  for (const [joint, other, x] of [
    [one, two, 0],
    [two, one, 0.4],
  ] as const) {
    const { with: shared, force, moment } = of(joint.id);
    expect(shared).toEqual([other.id]);
    expect(force[2][0]).toBeCloseTo(12 * G, 10);
    // About the point of each; across the rails that is −x of the plane.
    expect(Math.abs(moment[0][0]!)).toBeCloseTo(12 * G * Math.abs(0.1 - x), 10);
  }
});

test('a load from outside, a spring and a rod are taken off; what is left is what the joint gives', () => {
  const machine = newMachine('Held');
  machine.cycle = { given: 'time', time: 0.1 };
  const m = machine.mechanism;
  m.gravity.on = false;
  const far = addPlane(m, { name: 'Far', at: [0, 0, 0.3] });
  const arm = pointMass(addBar(m, [0, 0], [0.5, 0], 'Arm'), 1);
  const pin = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, arm.id, [0, 0]));
  drive(machine, pin, { kind: 'constant', value: 0 });
  addElement(m, { kind: 'force', at: bodyPoint(m, arm.id, [0.5, 0]), angle: 0, turns: false, along: [0, 0, 2], course: { kind: 'constant', value: 10 } }); // prettier-ignore
  const { of } = bearings(machine);
  expect(at(of(pin.id).force, 0).map((part) => Math.round(part * 1e9) / 1e9 + 0)).toEqual([0, 0, -10]);
  // (0.5, 0, 0) × (0, 0, 10) = (0, −5, 0): the pin gives it back.
  expect(of(pin.id).moment[1][0]).toBeCloseTo(5, 10);
  // A spring towards a point 0.3 m in front, 0.5 m long when drawn: it pulls with 100 (0.5 − 0.4) N.
  m.elements.pop();
  addElement(m, { kind: 'spring', a: groundPoint(m, [0.1, 0], far.id), b: bodyPoint(m, arm.id, [0.5, 0]), rate: 100, free: 0.4 }); // prettier-ignore
  const pulled = bearings(machine).of(pin.id);
  expect(pulled.force[0][0]).toBeCloseTo(8, 10);
  expect(pulled.force[2][0]).toBeCloseTo(-6, 10);
  expect(pulled.moment[1][0]).toBeCloseTo(-(-0.5 * 6), 10);
});

test('of a typed mass that turns out of its plane the inertia is guessed, and that is said', () => {
  const machine = newMachine('Guessed');
  const m = machine.mechanism;
  const table = addDisc(m, [0, 0], 0.1, 'Table');
  const pin = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, table.id, [0, 0]));
  const upright = addPlane(m, { on: table.id, turn: turnOf('top') });
  const bar = addBar(m, [0, 0], [0.2, 0], 'Bar', null, upright.id);
  const joint = addJoint(m, 'pin', groundPoint(m, [0, 0], upright.id), bodyPoint(m, bar.id, [0, 0]));
  drive(machine, pin, { kind: 'constant', value: 1 });
  drive(machine, joint, { kind: 'constant', value: 0 });
  const told = () => simulate(machine).mechanism!.findings.flatMap((finding) => (finding.code === 'flat-tensor' ? [explainMechanismFinding(finding, machine)] : [])); // prettier-ignore
  expect(told()).toEqual([]);
  bar.mass = { given: 'typed', mass: 1, centre: [0.1, 0], inertia: 0.004 };
  expect(told()).toEqual([
    'Bar turns out of its plane with a mass that is typed: the inertia of a flat plate is taken for what is not typed. Type the inertia tensor where that is not so.',
  ]);
  // Of a plate of this shape, thin, with the moment that was typed: the two others add up to it.
  const { tensor } = solidMassOf(bar);
  expect(tensor.xx + tensor.yy).toBeCloseTo(0.004, 15);
});

test('a force that is switched off loads no bearing', () => {
  const { mechanism: m } = newMachine('Switched');
  m.gravity.on = false;
  const arm = pointMass(addBar(m, [0, 0], [0.5, 0], 'Arm'), 1);
  addElement(m, { kind: 'force', at: bodyPoint(m, arm.id, [0.5, 0]), angle: 0, turns: false, along: [0, 0, 1], course: { kind: 'constant', value: 10 } }); // prettier-ignore
  const [force] = m.elements;
  const switches = new SwitchSchedule(m.elements, new Set([force!.id]));
  switches.set(force!.id, 1, false);
  const model = compileMechanism(m);
  const efforts = compileEfforts(model, { cycleTime: 1, switches });
  const pushed = (time: number) => {
    const loads = new BodyLoads(model.tree);
    for (const effort of efforts) {
      effort.apply({ q: model.start, v: ratesOf(model), time }, new Float64Array(model.size));
      effort.load?.(loads);
    }
    return loads.force[2];
  };
  expect(pushed(0.5)).toBe(10);
  expect(pushed(1.5)).toBe(0);
});

test('what holds an axis at rest is what it gives at rest, also where it is turned round', () => {
  const machine = newMachine('Turned round');
  machine.cycle = { given: 'time', time: 0.1 };
  const m = machine.mechanism;
  const arm = pointMass(addBar(m, [0, 0], [0.5, 0], 'Arm'), 2, [0.5, 0]);
  const pin = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, arm.id, [0, 0]));
  const axis = drive(machine, pin, { kind: 'constant', value: 0 });
  for (const reversed of [false, true]) {
    axis.reversed = reversed;
    const { effort, holding } = simulate(machine).mechanism!.drives[0]!;
    expect(effort[0]).toBeCloseTo((reversed ? -1 : 1) * 2 * G * 0.5, 10);
    expect(holding[0]).toBeCloseTo(effort[0]!, 10);
  }
});
