import { Solver } from 'odex';
import { angleOf, channelsOf, drive, fourBar, pendulum, RAD, weigh } from '../../test/mechanisms';
import {
  addBar,
  addDisc,
  addElement,
  addJoint,
  applyVariant,
  bodyPoint,
  groundPoint,
  newMachine,
  newVariant,
} from '../machine';
import { STANDARD_GRAVITY as g } from '../quantity';
import { explainMechanismFinding, simulate } from '../run';

const largest = (values: ArrayLike<number>) => Array.from(values).reduce((most, v) => Math.max(most, Math.abs(v)), 0);

describe('forward dynamics', () => {
  test.each([
    // Complete elliptic integral; period over small-angle period.
    [30, 1.017409],
    [60, 1.073182],
    [90, 1.180341],
    [120, 1.372881],
  ])('pendulum let go at %d°: period over 2π√(L/g) is %d', (degrees, ratio) => {
    const { machine, pin } = pendulum(0.5, degrees * RAD);
    const period = 2 * Math.PI * Math.sqrt(0.5 / g) * ratio;
    machine.cycle = { given: 'time', time: period };
    const run = simulate(machine);
    expect(run.mechanism!.mode).toBe('free');
    const { position, rate } = channelsOf(run, pin);
    expect(position!.at(-1)!).toBeCloseTo(position![0]!, 5);
    expect(Math.abs(rate!.at(-1)!)).toBeLessThan(2e-4 * largest(rate!));
    const { kinetic, potential } = run.mechanism!.energy;
    const drift = kinetic.map((value, k) => value + potential[k]! - kinetic[0]! - potential[0]!);
    expect(largest(drift)).toBeLessThan(1e-7 * largest(kinetic));
  });

  test('pushed off at the bottom with v, a pendulum rises to v²/2g, and its bearing holds m (g + v²/L) (textbook)', () => {
    const [L, w] = [0.5, 3];
    const { machine, pin } = pendulum(L, 0);
    machine.cycle = { given: 'time', time: 1 };
    if (pin.kind === 'pin') pin.velocity = w;
    const run = simulate(machine);
    const { position, rate, reaction } = channelsOf(run, pin);
    const [, fy] = reaction.force;
    expect(rate![0]).toBeCloseTo(w, 12);
    expect(fy[0]).toBeCloseTo(g + w * w * L, 8);
    const top = Math.max(...position!.map((angle) => L * (1 - Math.cos(angle - position![0]!))));
    expect(top / ((w * L) ** 2 / (2 * g))).toBeCloseTo(1, 3);
    const fast = simulate(applyVariant(machine, { ...newVariant('v', 'Fast'), speed: 2 }));
    expect(channelsOf(fast, pin).rate![0]).toBeCloseTo(2 * w, 12);
  });

  test('a velocity to begin with that a drive does not leave is said, with what it is instead', () => {
    const { machine, pins } = fourBar([0.3, 0.08, 0.28, 0.2], 40 * RAD);
    if (pins[3].kind === 'pin') pins[3].velocity = 100;
    const finding = simulate(machine).mechanism!.findings.find(({ code }) => code === 'start-velocity');
    expect(finding).toMatchObject({ id: pins[3].id, wanted: 100 });
    expect(explainMechanismFinding(finding!, machine)).toMatch(/D shall begin with 5730\s°\/s, but drives and joints/);
  });

  test('double pendulum against an independent integrator (odex) on hand-derived equations', () => {
    const [L1, L2, m1, m2] = [0.4, 0.3, 1.2, 0.7];
    const machine = newMachine('Double pendulum');
    machine.cycle = { given: 'time', time: 1.5 };
    const m = machine.mechanism;
    const [t1, t2] = [100 * RAD, 60 * RAD];
    const a: [number, number] = [L1 * Math.sin(t1), -L1 * Math.cos(t1)];
    const b: [number, number] = [a[0] + L2 * Math.sin(t2), a[1] - L2 * Math.cos(t2)];
    const upper = weigh(addBar(m, [0, 0], a), m1, [L1, 0], 1e-12);
    const lower = weigh(addBar(m, a, b), m2, [L2, 0], 1e-12);
    addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, upper.id, [0, 0]));
    addJoint(m, 'pin', bodyPoint(m, upper.id, a), bodyPoint(m, lower.id, a));
    const run = simulate(machine);
    expect(run.mechanism!.mobility!.remaining).toBe(2);
    // Point masses on light rods, angles from the vertical (textbook).
    const derivative = (_t: number, [x1, x2, w1, w2]: number[]) => {
      const d = x1! - x2!;
      const den = 2 * m1 + m2 - m2 * Math.cos(2 * d);
      const a1 =
        (-g * (2 * m1 + m2) * Math.sin(x1!) -
          m2 * g * Math.sin(x1! - 2 * x2!) -
          2 * Math.sin(d) * m2 * (w2! ** 2 * L2 + w1! ** 2 * L1 * Math.cos(d))) /
        (L1 * den);
      const a2 =
        (2 *
          Math.sin(d) *
          (w1! ** 2 * L1 * (m1 + m2) + g * (m1 + m2) * Math.cos(x1!) + w2! ** 2 * L2 * m2 * Math.cos(d))) /
        (L2 * den);
      return [w1!, w2!, a1, a2];
    };
    const independent = new Solver(4);
    independent.absoluteTolerance = independent.relativeTolerance = 1e-11;
    const { y } = independent.solve(derivative, 0, [t1, t2, 0, 0], 1.5);
    expect(angleOf(run, upper).at(-1)! + Math.PI / 2).toBeCloseTo(y[0]!, 5);
    expect(angleOf(run, lower).at(-1)! + Math.PI / 2).toBeCloseTo(y[1]!, 5);
    const { kinetic, potential } = run.mechanism!.energy;
    expect(largest(kinetic.map((v, k) => v + potential[k]! - kinetic[0]! - potential[0]!))).toBeLessThan(1e-6);
  });

  test('slider-crank flywheel runs down by friction, against odex on the reduced equation', () => {
    const [r, l, J, ms] = [0.05, 0.18, 0.02, 0.8];
    const machine = newMachine('Run-down');
    machine.cycle = { given: 'time', time: 2 };
    const m = machine.mechanism;
    m.gravity.on = false;
    const phi0 = 0.4;
    const a: [number, number] = [r * Math.cos(phi0), r * Math.sin(phi0)];
    const b: [number, number] = [a[0] + Math.sqrt(l * l - a[1] * a[1]), 0];
    const wheel = weigh(addBar(m, [0, 0], a), 1, [0, 0], J);
    const rod = weigh(addBar(m, a, b), 0, [0, 0], 0);
    const block = weigh(addDisc(m, b, 0.01), ms, [0, 0], 1e-3);
    const pin = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, wheel.id, [0, 0]));
    addJoint(m, 'pin', bodyPoint(m, wheel.id, a), bodyPoint(m, rod.id, a));
    addJoint(m, 'pin', bodyPoint(m, rod.id, b), bodyPoint(m, block.id, b));
    addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, block.id, b), { direction: 0 });
    if (pin.kind === 'pin') {
      pin.zero = 0;
      pin.friction = { coulomb: 0, viscous: 0.03 };
    }
    // A torque sets it going for a quarter of a second, then it runs down.
    const kick = 1.5;
    addElement(m, {
      kind: 'torque',
      body: wheel.id,
      course: { kind: 'table', over: 'time', joint: null, rows: [[0, kick], [0.25, kick], [0.25, 0], [2, 0]] }, // prettier-ignore
    });
    const run = simulate(machine);
    expect(run.mechanism!.findings.filter(({ severity }) => severity === 'error')).toEqual([]);
    const x1 = (p: number) => {
      const root = Math.sqrt(l * l - (r * Math.sin(p)) ** 2);
      return -r * Math.sin(p) - (r * r * Math.sin(p) * Math.cos(p)) / root;
    };
    const x2 = (p: number) => (x1(p + 1e-5) - x1(p - 1e-5)) / 2e-5;
    // (J + m x'²) φ̈ + m x' x'' φ̇² = T − d φ̇
    const derivative =
      (torque: number) =>
      (_t: number, [p, w]: number[]) => [
        w!,
        (torque - 0.03 * w! - ms * x1(p!) * x2(p!) * w! * w!) / (J + ms * x1(p!) ** 2),
      ];
    const solver = new Solver(2);
    solver.absoluteTolerance = solver.relativeTolerance = 1e-10;
    const first = solver.solve(derivative(kick), 0, [phi0, 0], 0.25).y;
    const { y } = solver.solve(derivative(0), 0.25, first, 2);
    expect(channelsOf(run, pin).position!.at(-1)!).toBeCloseTo(y[0]!, 4);
    expect(channelsOf(run, pin).rate!.at(-1)!).toBeCloseTo(y[1]!, 3);
  });

  test('mass on a spring swings with √(k/m) about its rest, damped as e^(−ct/2m) (textbook)', () => {
    const machine = newMachine('Spring');
    const [k, c, mass] = [200, 2, 0.5];
    machine.cycle = { given: 'time', time: 1.2 };
    const m = machine.mechanism;
    const block = weigh(addBar(m, [0.12, 0], [0.13, 0]), mass, [0, 0], 1e-3);
    const rail = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, block.id, [0.12, 0]), { direction: 0 });
    if (rail.kind === 'slide') rail.zero = 0.1;
    const pair = { a: groundPoint(m, [0, 0]), b: { body: block.id, point: 'p1' } };
    addElement(m, { kind: 'spring', ...pair, rate: k, free: 0.1 });
    addElement(m, { kind: 'damper', ...pair, rate: c });
    const run = simulate(machine);
    const decay = c / (2 * mass);
    const w = Math.sqrt(k / mass - decay ** 2);
    run.times.forEach((t, i) => {
      const expected = 0.02 * Math.exp(-decay * t) * (Math.cos(w * t) + (decay / w) * Math.sin(w * t));
      expect(channelsOf(run, rail).position![i]!).toBeCloseTo(expected, 7);
    });
  });

  test('a block slides down a slope with a = g(sin α − μ cos α), friction given as its constant force', () => {
    const machine = newMachine('Slope');
    const [alpha, mu, mass] = [25 * RAD, 0.2, 2];
    machine.cycle = { given: 'time', time: 0.5 };
    const m = machine.mechanism;
    const block = weigh(addBar(m, [0, 0], [0.01, 0]), mass, [0, 0], 1e-3);
    const rail = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, block.id, [0, 0]), { direction: -alpha });
    if (rail.kind === 'slide') rail.friction = { coulomb: mu * mass * g * Math.cos(alpha), viscous: 0 };
    const run = simulate(machine);
    const a = g * (Math.sin(alpha) - mu * Math.cos(alpha));
    expect(channelsOf(run, rail).position!.at(-1)! / ((a * 0.5 ** 2) / 2)).toBeCloseTo(1, 3);
  });

  test('dropped on a stop with restitution e it rebounds to e²h, and comes to rest (textbook)', () => {
    const machine = newMachine('Drop');
    machine.cycle = { given: 'time', time: 3 };
    const m = machine.mechanism;
    const [h, e] = [0.2, 0.6];
    const block = weigh(addBar(m, [0, h], [0.01, h]), 1, [0, 0], 1e-3);
    const rail = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, block.id, [0, h]), {
      direction: Math.PI / 2,
    });
    if (rail.kind === 'slide') rail.zero = 0;
    addElement(m, { kind: 'stop', joint: rail.id, min: 0, max: null, restitution: e });
    const run = simulate(machine);
    const height = channelsOf(run, rail).position!;
    const fall = Math.sqrt((2 * h) / g);
    const between = (from: number, to: number) => {
      let top = 0;
      run.times.forEach((t, k) => (top = t > from && t < to ? Math.max(top, height[k]!) : top));
      return top;
    };
    expect(between(fall, fall * (1 + 2 * e)) / (e ** 2 * h)).toBeCloseTo(1, 3);
    const second = fall * (1 + 2 * e);
    expect(between(second, second + 2 * e * e * fall) / (e ** 4 * h)).toBeCloseTo(1, 2);
    expect(height.at(-1)!).toBeCloseTo(0, 6);
    expect(Math.min(...height)).toBeGreaterThan(-1e-6);
    expect(run.mechanism!.findings.map(({ code }) => code)).toContain('stops-hit');
  });

  test('one driven, one free: a pendulum hung from a carriage at rest swings as if from the ground', () => {
    const { machine, body } = pendulum(0.5, 0.5);
    machine.cycle = { given: 'time', time: 0.7 };
    const alone = simulate(machine);
    const m = machine.mechanism;
    const carriage = addBar(m, [0, 0], [0.05, 0], 'Carriage');
    const rail = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, carriage.id, [0, 0]), { direction: 0 });
    const pin = m.joints[0]!;
    if (pin.kind === 'pin') pin.a = bodyPoint(m, carriage.id, [0, 0]);
    drive(machine, rail, { kind: 'constant', value: 0 }, 'position');
    const run = simulate(machine);
    expect(run.mechanism!.mode).toBe('free');
    expect(angleOf(run, body).at(-1)!).toBeCloseTo(angleOf(alone, body).at(-1)!, 6);
    // The drive holds the carriage against the pull of the rod.
    expect(largest(run.mechanism!.drives[0]!.effort)).toBeGreaterThan(1);
  });
});
