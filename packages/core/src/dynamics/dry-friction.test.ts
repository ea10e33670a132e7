import fc from 'fast-check';
import { channelsOf, drive, fourBar, pendulum, RAD, weigh } from '../../test/mechanisms';
import { addBar, addElement, addJoint, bodyPoint, groundPoint, newMachine, type Joint, type Machine } from '../machine';
import { STANDARD_GRAVITY as g } from '../quantity';
import { simulate, type Run } from '../run';

/** A block that slides along a straight line at an angle to the horizontal, with dry friction in N. */
function block(mass: number, angle: number, coulomb: number, time: number): { machine: Machine; rail: Joint } {
  const machine = newMachine('Block');
  machine.cycle = { given: 'time', time };
  const m = machine.mechanism;
  const body = weigh(addBar(m, [0, 0], [0.1, 0]), mass, [0, 0], 1e-3);
  const rail = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, body.id, [0, 0]), { direction: angle });
  rub(rail, coulomb);
  return { machine, rail };
}
function rub(joint: Joint, coulomb: number): void {
  if ('friction' in joint) joint.friction = { coulomb, viscous: 0 };
}
/** Force or torque of the friction of a joint over the run. */
const frictionOf = (run: Run, { id }: Joint) => run.mechanism!.elements.find((e) => e.id === `${id}.friction`)!.force;
const errors = (run: Run) => run.mechanism!.findings.filter(({ severity }) => severity === 'error');
const largest = (values: Float64Array) => values.reduce((far, x) => Math.max(far, Math.abs(x)), 0);
const last = (values: Float64Array) => values.at(-1)!;

describe('dry friction where forces move a mechanism (closed forms of textbooks, common practice)', () => {
  test('a block on a slope stays where friction is strong enough, and does not creep', () => {
    const [mass, alpha] = [2, 25 * RAD];
    const { machine, rail } = block(mass, -alpha, 1.01 * mass * g * Math.sin(alpha), 20);
    const run = simulate(machine);
    const { position } = channelsOf(run, rail);
    expect(largest(position!.map((x) => x - position![0]!))).toBeLessThan(1e-15);
    // What holds it is the weight along the slope, not the limit.
    expect(frictionOf(run, rail)[100]! / (-mass * g * Math.sin(alpha))).toBeCloseTo(1, 10);
  });

  test('the same block goes down with a = g sin α − F/m where friction is too weak', () => {
    const [mass, alpha] = [2, 25 * RAD];
    const F = 0.97 * mass * g * Math.sin(alpha);
    const { machine, rail } = block(mass, -alpha, F, 2);
    const run = simulate(machine);
    const { position } = channelsOf(run, rail);
    const a = g * Math.sin(alpha) - F / mass;
    run.times.forEach((t, k) => expect(position![k]!).toBeCloseTo((a * t * t) / 2, 9));
  });

  test('under a force that grows with time it breaks away at F/c, and has gone c (t − t₀)³/6m since', () => {
    const [mass, F, c] = [0.5, 4, 10];
    const { machine, rail } = block(mass, 0, F, 1);
    const m = machine.mechanism;
    addElement(m, {
      kind: 'force',
      at: bodyPoint(m, m.bodies[0]!.id, [0, 0]),
      angle: 0,
      turns: false,
      course: { kind: 'table', over: 'time', joint: null, rows: [[0, 0], [1, c]] }, // prettier-ignore
    });
    const run = simulate(machine);
    const { position } = channelsOf(run, rail);
    const rubbing = frictionOf(run, rail);
    run.times.forEach((t, k) => {
      expect(position![k]!).toBeCloseTo(t < F / c ? 0 : (c * (t - F / c) ** 3) / (6 * mass), 8);
      expect(rubbing[k]!).toBeCloseTo(-Math.min(F, c * t), 8);
    });
  });

  test('on a spring every half swing is 2 F/k shorter, until it sticks where the spring no longer moves it', () => {
    const [mass, k, F] = [1, 100, 1.5];
    const half = Math.PI * Math.sqrt(mass / k);
    const { machine, rail } = block(mass, 0, F, 6 * half);
    const m = machine.mechanism;
    m.gravity.on = false;
    addElement(m, {
      kind: 'spring',
      a: groundPoint(m, [-1, 0]),
      b: bodyPoint(m, m.bodies[0]!.id, [0, 0]),
      rate: k,
      free: 0.9,
    });
    const run = simulate(machine);
    const { position, rate } = channelsOf(run, rail);
    // From 0.1 m beyond rest: −0.07, 0.04, −0.01, and there 100 N/m · 0.01 m is less than 1.5 N.
    const at = (t: number) => position![run.times.findIndex((time) => time >= t - 1e-9)]!;
    expect(position![0]!).toBe(0);
    for (const [n, x] of [0.1, -0.07, 0.04, -0.01].entries()) expect(at(n * half)).toBeCloseTo(x - 0.1, 5);
    expect(last(position!)).toBeCloseTo(-0.11, 9);
    expect(at(4 * half)).toBe(last(position!));
    expect(last(rate!)).toBe(0);
    // What it took is force times way.
    const { lost } = run.mechanism!.energy;
    const work = run.times.reduce(
      (sum, t, i) => (i ? sum + ((lost[i]! + lost[i - 1]!) / 2) * (t - run.times[i - 1]!) : 0),
      0,
    );
    expect(work / (F * (0.17 + 0.11 + 0.05))).toBeCloseTo(1, 3);
  });

  test('a braked pendulum comes to rest within the cone of its friction, and what it fell is torque times angle', () => {
    const [mass, length] = [1, 0.4];
    const { machine, pin } = pendulum(length, 80 * RAD, mass);
    machine.cycle = { given: 'time', time: 30 };
    const torque = 0.08 * mass * g * length;
    rub(pin, torque);
    const run = simulate(machine);
    expect(errors(run)).toEqual([]);
    const { position, rate } = channelsOf(run, pin);
    expect(last(rate!)).toBe(0);
    const resting = run.times.findIndex((t) => t > 20);
    expect(position!.slice(resting).every((x) => x === last(position!))).toBe(true);
    const { potential } = run.mechanism!.energy;
    let way = 0;
    position!.forEach((x, k) => (way += k ? Math.abs(x - position![k - 1]!) : 0));
    // Samples do not stand where it turns round, so the way read off them is a little short.
    expect((potential[0]! - last(potential)) / (torque * way)).toBeCloseTo(1, 2);
    expect(Math.abs(last(frictionOf(run, pin)))).toBeLessThan(torque);
  });

  test.each([
    [1.02, true],
    [0.98, false],
  ])('a four-bar with %s of the friction that its weight asks for, shared by all pins: stands %s', (share, stands) => {
    const { machine, pins } = fourBar([0.3, 0.08, 0.28, 0.2], 40 * RAD);
    machine.axes = [];
    // The threshold by virtual work: Σ Mᵢ |Δqᵢ| = the weight that comes down, for a small turn of the mechanism.
    for (const pin of pins) rub(pin, 0);
    const loose = simulate(machine);
    const to = loose.times.findIndex((t) => t > 2e-3);
    const turn = pins.map((pin) => Math.abs(channelsOf(loose, pin).position![to]! - channelsOf(loose, pin).position![0]!)); // prettier-ignore
    const { potential } = loose.mechanism!.energy;
    const torque = (potential[0]! - potential[to]!) / turn.reduce((sum, angle) => sum + angle, 0);
    for (const pin of pins) rub(pin, share * torque);
    const run = simulate(machine);
    expect(errors(run)).toEqual([]);
    const { position } = channelsOf(run, pins[0]!);
    if (stands) expect(largest(position!.map((x) => x - position![0]!))).toBeLessThan(1e-12);
    else expect(Math.abs(last(position!) - position![0]!)).toBeGreaterThan(1e-4);
  });

  test.each([
    [0.9, 'goes along'],
    [1.5, 'stays behind'],
  ])('on a table that is led to and fro with %s of what friction can pass on, a block %s', (share, what) => {
    const [mass, A, w] = [1, 0.05, 2 * Math.PI];
    const machine = newMachine('Table');
    machine.cycle = { given: 'time', time: 1 };
    const m = machine.mechanism;
    m.gravity.on = false;
    const table = weigh(addBar(m, [0, 0], [0.3, 0]), 3, [0, 0], 1e-2);
    const body = weigh(addBar(m, [0, 0], [0.1, 0]), mass, [0, 0], 1e-3);
    const rail = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, table.id, [0, 0]), { direction: 0 });
    const on = addJoint(m, 'slide', bodyPoint(m, table.id, [0, 0]), bodyPoint(m, body.id, [0, 0]), { direction: 0 });
    rub(on, (mass * A * w * w) / share);
    drive(machine, rail, { kind: 'harmonic', mean: 0, amplitude: A, frequency: 1, phase: -Math.PI / 2 }, 'position');
    const run = simulate(machine);
    const way = channelsOf(run, on).position!;
    const most = largest(way.map((x) => x - way[0]!));
    if (what === 'goes along') expect(most).toBeLessThan(1e-12);
    else expect(most).toBeGreaterThan(1e-3);
    // The drive feels the block only as far as friction passes it on.
    const effort = run.mechanism!.drives[0]!.effort;
    const pushed = frictionOf(run, on);
    run.times.forEach((t, k) => expect(effort[k]!).toBeCloseTo(3 * A * w * w * Math.cos(w * t) - pushed[k]! * -1, 6));
  });
});

test('two bars that hang on each other, whatever their frictions: friction never drives, never exceeds its limit, and the balance closes', () => {
  fc.assert(
    fc.property(
      fc.record({
        first: fc.double({ min: -3, max: 3, noNaN: true }),
        second: fc.double({ min: -3, max: 3, noNaN: true }),
        rough: fc.tuple(fc.constantFrom(0, 0.02, 0.4, 2), fc.constantFrom(0.02, 0.4, 2)),
      }),
      ({ first, second, rough }) => {
        const { machine, pin, body } = pendulum(0.3, first, 1, 1e-3);
        machine.cycle = { given: 'time', time: 1.5 };
        const m = machine.mechanism;
        const at: [number, number] = [0.3 * Math.sin(first), -0.3 * Math.cos(first)];
        const end: [number, number] = [at[0] + 0.2 * Math.sin(second), at[1] - 0.2 * Math.cos(second)];
        const lower = weigh(addBar(m, at, end), 0.5, [0.1, 0], 2e-3);
        const eye = addJoint(m, 'pin', bodyPoint(m, body.id, at), bodyPoint(m, lower.id, at));
        [pin, eye].forEach((joint, i) => rub(joint, rough[i]!));
        const run = simulate(machine);
        expect(errors(run)).toEqual([]);
        const { residual, kinetic } = run.mechanism!.energy;
        const power = 1 + largest(kinetic);
        expect(largest(residual) / power).toBeLessThan(1e-6);
        [pin, eye].forEach((joint, i) => {
          if (rough[i] === 0) return;
          const force = frictionOf(run, joint);
          const rate = channelsOf(run, joint).rate!;
          expect(largest(force)).toBeLessThanOrEqual(rough[i]! * (1 + 1e-12));
          expect(force.every((value, k) => value * rate[k]! <= 1e-12)).toBe(true);
        });
      },
    ),
    { numRuns: 25 },
  );
});
