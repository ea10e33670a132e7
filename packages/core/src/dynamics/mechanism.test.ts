import fc from 'fast-check';
import { channelsOf, drive, fourBar, pendulum, RAD, weigh } from '../../test/mechanisms';
import {
  addBar,
  addCoupling,
  addDisc,
  addElement,
  addGuide,
  addJoint,
  addCam,
  addPath,
  applyVariant,
  bodyPoint,
  groundPoint,
  newMachine,
  newVariant,
  type Machine,
} from '../machine';
import { STANDARD_GRAVITY as g } from '../quantity';
import { findPeak, simulate, type Run } from '../run';

const largest = (values: ArrayLike<number>) => Array.from(values).reduce((most, v) => Math.max(most, Math.abs(v)), 0);
const integral = (run: Run, values: Float64Array) =>
  run.times.reduce(
    (sum, t, k) => (k === 0 ? 0 : sum + ((values[k]! + values[k - 1]!) / 2) * (t - run.times[k - 1]!)),
    0,
  );

describe('inverse dynamics', () => {
  test('a crank alone: torque = J α + m g r cos φ (by hand)', () => {
    const machine = newMachine('Crank');
    machine.cycle = { given: 'time', time: 1 };
    const m = machine.mechanism;
    const body = weigh(addBar(m, [0, 0], [0.2, 0]), 2, [0.1, 0], 0.01);
    const pin = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, body.id, [0, 0]));
    drive(machine, pin, { kind: 'harmonic', mean: 0.3, amplitude: 0.8, frequency: 1, phase: 0.4 }, 'position');
    const run = simulate(machine);
    const inertia = 0.01 + 2 * 0.1 ** 2;
    const w = 2 * Math.PI;
    run.times.forEach((t, k) => {
      const angle = 0.3 + 0.8 * Math.sin(w * t + 0.4);
      const alpha = -0.8 * w * w * Math.sin(w * t + 0.4);
      expect(run.mechanism!.drives[0]!.effort[k]!).toBeCloseTo(inertia * alpha + 2 * g * 0.1 * Math.cos(angle), 9);
      expect(run.mechanism!.drives[0]!.reflected[k]!).toBeCloseTo(inertia, 12);
    });
    // The axis passes it on to the motor: the same torque without a gearbox.
    expect(run.axes[0]!.channels.shaftTorque[5]).toBeCloseTo(run.mechanism!.drives[0]!.effort[5]!, 12);
  });

  test('four-bar: virtual work closes at every sample, and the drive’s work over a turn is what load and friction take', () => {
    const { machine, coupler, pins } = fourBar([0.3, 0.08, 0.28, 0.2], 40 * RAD);
    const m = machine.mechanism;
    addElement(m, {
      kind: 'force',
      at: { body: coupler.id, point: 'p2' },
      turns: false,
      angle: -2,
      course: { kind: 'ramp', over: 'cycle', joint: null, from: [0.2, 0], to: [0.5, 40] },
    });
    if (pins[3].kind === 'pin') pins[3].friction = { coulomb: 0.2, viscous: 0.05 };
    addElement(m, { kind: 'torsion', joint: pins[3].id, rate: 2, free: 1 });
    const run = simulate(machine);
    const { energy } = run.mechanism!;
    expect(largest(energy.residual)).toBeLessThan(1e-9 * largest(energy.drives));
    const total = (k: number) => energy.kinetic[k]! + energy.potential[k]! + energy.elastic[k]!;
    const put = integral(run, energy.drives) + integral(run, energy.loads) - integral(run, energy.lost);
    expect(put).toBeCloseTo(total(run.times.length - 1) - total(0), 4);
    // Power and energies independently: the energy channels' own slope.
    for (let k = 50; k < run.times.length - 50; k += 61) {
      const slope = (total(k + 1) - total(k - 1)) / (run.times[k + 1]! - run.times[k - 1]!);
      expect(slope / largest(energy.drives)).toBeCloseTo(
        (energy.drives[k]! + energy.loads[k]! - energy.lost[k]!) / largest(energy.drives),
        3,
      );
    }
  });

  test('torque of inertia grows with the square of the speed; with load and gravity off nothing else is left', () => {
    const { machine } = fourBar([0.3, 0.08, 0.28, 0.2], 40 * RAD);
    const peak = (speed: number) => {
      const variant = { ...newVariant('v', 'Fast'), speed, gravity: false, loads: false };
      const run = simulate(applyVariant(machine, variant));
      return findPeak(run.times, run.mechanism!.drives[0]!.effort).value;
    };
    const slow = peak(1);
    expect(peak(10) / slow).toBeCloseTo(100, 4);
    fc.assert(
      fc.property(fc.double({ min: 0.2, max: 20, noNaN: true }), (k) => {
        expect(peak(k) / slow / k ** 2).toBeCloseTo(1, 3);
      }),
      { numRuns: 8 },
    );
  });

  test('static frame: reactions by hand (beam on a pin and a slot, load at a third)', () => {
    const machine = newMachine('Frame');
    const m = machine.mechanism;
    m.gravity.on = false;
    const beam = weigh(addBar(m, [0, 0], [0.6, 0]), 1, [0.3, 0], 0.03);
    const left = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, beam.id, [0, 0]));
    const right = addJoint(m, 'slot', groundPoint(m, [0.6, 0]), bodyPoint(m, beam.id, [0.6, 0]), { direction: 0 });
    addElement(m, {
      kind: 'force',
      at: bodyPoint(m, beam.id, [0.2, 0]),
      turns: false,
      angle: -Math.PI / 2,
      course: { kind: 'constant', value: 90 },
    });
    const run = simulate(machine);
    expect(run.mechanism!.mobility).toMatchObject({ count: 0, free: 0, remaining: 0 });
    expect(channelsOf(run, left).reaction.force[1][0]!).toBeCloseTo(60, 9);
    expect(channelsOf(run, right).reaction.force[1][0]!).toBeCloseTo(30, 9);
    expect(channelsOf(run, right).reaction.force[0][0]!).toBeCloseTo(0, 9);
  });

  test('along a straight path the reaction is across it, as on a slide: what pushes along it is the drive’s', () => {
    const machine = newMachine('Carriage');
    machine.cycle = { given: 'time', time: 1 };
    const m = machine.mechanism;
    const alpha = 30 * RAD;
    const at = (s: number): [number, number] => [s * Math.cos(alpha), s * Math.sin(alpha)];
    const block = weigh(addBar(m, at(0.1), at(0.3)), 2, [0.1, 0], 0.01);
    const path = addPath(m, 'ground', {
      kind: 'chain',
      start: at(0),
      closed: false,
      pieces: [{ kind: 'line', to: at(1) }],
    });
    const rear = addGuide(m, path.id, bodyPoint(m, block.id, at(0.1)));
    const front = addGuide(m, path.id, bodyPoint(m, block.id, at(0.3)));
    drive(machine, rear, { kind: 'harmonic', mean: 0.2, amplitude: 0.1, frequency: 1, phase: 0 }, 'position');
    const run = simulate(machine);
    const [one, two] = [channelsOf(run, rear), channelsOf(run, front)];
    const most = largest(run.mechanism!.drives[0]!.effort);
    run.times.forEach((_, k) => {
      const change = one.change![k]!;
      expect(run.mechanism!.drives[0]!.effort[k]! / most).toBeCloseTo((2 * (change + g * Math.sin(alpha))) / most, 9);
      for (const {
        reaction: {
          force: [fx, fy],
        },
      } of [one, two]) {
        // prettier-ignore
        expect((fx[k]! * Math.cos(alpha) + fy[k]! * Math.sin(alpha)) / most).toBeCloseTo(0, 9);
        expect(-fx[k]! * Math.sin(alpha) + fy[k]! * Math.cos(alpha)).toBeCloseTo(g * Math.cos(alpha), 8);
      }
    });
  });

  test('a welded cantilever holds force and moment (by hand)', () => {
    const machine = newMachine('Cantilever');
    const m = machine.mechanism;
    const beam = weigh(addBar(m, [0, 0], [0.5, 0]), 2, [0.25, 0], 0.01);
    const weld = addJoint(m, 'weld', groundPoint(m, [0, 0]), bodyPoint(m, beam.id, [0, 0]));
    addElement(m, { kind: 'torque', body: beam.id, course: { kind: 'constant', value: 3 } });
    const reaction = channelsOf(simulate(machine), weld);
    expect(reaction.reaction.force[1][0]!).toBeCloseTo(2 * g, 9);
    expect(reaction.reaction.moment[0]!).toBeCloseTo(2 * g * 0.25 - 3, 9);
  });

  test('a cylinder that lifts a beam: force by the lever (by hand), the same at its ends', () => {
    const machine = newMachine('Lift');
    machine.cycle = { given: 'time', time: 1 };
    const m = machine.mechanism;
    const beam = weigh(addBar(m, [0, 0], [0.5, 0]), 10, [0.25, 0], 0.2);
    addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, beam.id, [0, 0]));
    const rod = addJoint(m, 'cylinder', groundPoint(m, [0.3, -0.4]), bodyPoint(m, beam.id, [0.3, 0]));
    drive(machine, rod, { kind: 'constant', value: 0 }, 'position');
    const run = simulate(machine);
    const force = (10 * g * 0.25) / 0.3;
    expect(run.mechanism!.drives[0]!.effort[0]!).toBeCloseTo(force, 9);
    expect(channelsOf(run, rod).reaction.force[1][0]!).toBeCloseTo(force, 9);
    expect(run.axes[0]!.mechanismHolding).toBeCloseTo(force, 9);
  });

  test('gears press on their bearings: tangential T/r, apart by tan 20° of it (handbook, ISO 53)', () => {
    const machine = newMachine('Gears');
    const m = machine.mechanism;
    m.gravity.on = false;
    const [one, two] = [addDisc(m, [0, 0], 0.02), addDisc(m, [0.06, 0], 0.04)];
    const first = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, one.id, [0, 0]));
    const second = addJoint(m, 'pin', groundPoint(m, [0.06, 0]), bodyPoint(m, two.id, [0.06, 0]));
    addCoupling(m, { kind: 'gear', first: first.id, second: second.id, radius1: 0.02, radius2: 0.04, inside: false });
    addElement(m, { kind: 'torque', body: two.id, course: { kind: 'constant', value: 3 } });
    drive(machine, first, { kind: 'constant', value: 0 }, 'position');
    const run = simulate(machine);
    // The load turns the second anticlockwise with 3 N·m; the teeth hold it with 75 N upwards on its left, so its
    // bearing presses it down, and the drive holds the first against half the torque.
    expect(run.mechanism!.drives[0]!.effort[0]!).toBeCloseTo(1.5, 9);
    const bearing = channelsOf(run, second);
    expect(bearing.reaction.force[1][0]!).toBeCloseTo(-75, 6);
    expect(bearing.reaction.force[0][0]!).toBeCloseTo(-75 * Math.tan(20 * RAD), 6);
    expect(channelsOf(run, first).reaction.force[1][0]!).toBeCloseTo(75, 6);
    expect(channelsOf(run, first).reaction.force[0][0]!).toBeCloseTo(75 * Math.tan(20 * RAD), 6);
  });

  test('preload of a spring set shorter than its free length: 150 N/mm pressed by 3 mm gives 450 N', () => {
    const machine = newMachine('Preload');
    const m = machine.mechanism;
    m.gravity.on = false;
    const block = weigh(addBar(m, [0.05, 0], [0.06, 0]), 1, [0, 0], 1);
    const weld = addJoint(m, 'weld', groundPoint(m, [0.05, 0]), bodyPoint(m, block.id, [0.05, 0]));
    addElement(m, {
      kind: 'spring',
      a: groundPoint(m, [0, 0]),
      b: bodyPoint(m, block.id, [0.05, 0]),
      rate: 150e3,
      free: 0.053,
    });
    const run = simulate(machine);
    expect(run.mechanism!.elements[0]!.force[0]!).toBeCloseTo(-450, 6);
    expect(channelsOf(run, weld).reaction.force[0][0]!).toBeCloseTo(-450, 6);
  });

  test('a follower leaves its cam where the spring falls below what its mass asks for (by hand)', () => {
    const lift = 0.01;
    const build = (speed: number): Run => {
      const machine = newMachine('Cam');
      machine.cycle = { given: 'time', time: (2 * Math.PI) / speed };
      const m = machine.mechanism;
      m.gravity.on = false;
      const cam = weigh(addDisc(m, [0, 0], 0.03), 1, [0, 0], 1e-3);
      const follower = weigh(addBar(m, [0, 0.04], [0, 0.09]), 0.5, [0, 0], 1e-3);
      const pin = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, cam.id, [0, 0]));
      addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, follower.id, [0, 0.04]), { direction: Math.PI / 2 });
      const outline = addPath(m, cam.id, { kind: 'circle', centre: [0, lift], radius: 0.03 });
      addCam(m, outline.id, bodyPoint(m, follower.id, [0, 0.04]), { kind: 'flat', angle: -Math.PI / 2 });
      // Pressed down by 20 N at the top, 0.5 N/mm.
      addElement(m, {
        kind: 'spring',
        a: groundPoint(m, [0, 0.14]),
        b: { body: follower.id, point: 'p1' },
        rate: 500,
        free: 0.14,
      });
      drive(machine, pin, { kind: 'constant', value: speed });
      return simulate(machine);
    };
    // Flat face: y = R + e cos φ. The face presses with F = k(y − y0) + m ÿ, least at the top:
    // 20 N − 0.5·0.01·ω², so contact is lost above ω = √(20/0.005) = 63.2 rad/s.
    const critical = Math.sqrt(20 / (0.5 * lift));
    expect(build(critical * 0.98).mechanism!.findings).toEqual([]);
    const [finding] = build(critical * 1.02).mechanism!.findings;
    expect(finding).toMatchObject({ code: 'lift-off' });
    const contact = build(40).mechanism!.joints[2]!.contact!;
    expect(contact[0]!).toBeCloseTo(20 - 0.5 * lift * 40 ** 2, 6);
  });
});

describe('switches', () => {
  test('an element that is off does not count; gravity off leaves nothing to hold', () => {
    const { machine } = pendulum(0.5, 1);
    machine.mechanism.gravity.on = false;
    const held = (change: (m: Machine) => void) => {
      const copy = structuredClone(machine);
      change(copy);
      drive(copy, copy.mechanism.joints[0]!, { kind: 'constant', value: 0 }, 'position');
      return simulate(copy).mechanism!.drives[0]!.effort[0]!;
    };
    expect(held(() => undefined)).toBeCloseTo(0, 12);
    const torque = { kind: 'torque' as const, body: 'body1', course: { kind: 'constant' as const, value: 2 } };
    expect(held((m) => void addElement(m.mechanism, torque))).toBeCloseTo(-2, 12);
    expect(held((m) => void (addElement(m.mechanism, torque).on = false))).toBeCloseTo(0, 12);
  });
});
