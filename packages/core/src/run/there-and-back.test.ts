import fc from 'fast-check';
import { channelsOf, drive, fourBar, pendulum, RAD, weigh } from '../../test/mechanisms';
import { addBar, addElement, addJoint, bodyPoint, groundPoint, newMachine } from '../machine';
import { mechanismSamples, posesAt, rmsOf, simulate } from './index';

describe('inverse and forward dynamics are each other’s opposite', () => {
  test('a torque read off a led four-bar moves the same four-bar, left free, along the same way', () => {
    const { machine, crank, pins, axis } = fourBar([0.3, 0.08, 0.28, 0.2], 40 * RAD);
    // It begins at rest, at the end of its swing.
    axis.motion = {
      over: 'time',
      engage: null,
      level: 'position',
      source: { kind: 'harmonic', mean: 1.2, amplitude: 0.5, frequency: 1, phase: -Math.PI / 2 },
      initial: { position: 0, velocity: 0 },
    };
    machine.step = 5e-4;
    const led = simulate(machine);
    const effort = led.mechanism!.drives[0]!.effort;
    const free = structuredClone(machine);
    free.axes = [];
    const start = posesAt(led, 0);
    free.mechanism.bodies.forEach((body, i) => (body.pose = start[i]!));
    addElement(free.mechanism, {
      kind: 'torque',
      body: crank.id,
      course: { kind: 'table', over: 'time', joint: null, rows: Array.from(led.times, (t, k) => [t, effort[k]!]) },
    });
    const run = simulate(free);
    expect(run.mechanism!.mode).toBe('free');
    const [a, b] = [channelsOf(led, pins[0]).position!, channelsOf(run, pins[0]).position!];
    // Half a swing: later the errors of a mechanism pushed without being held grow.
    for (let k = 0; k < 900; k += 100) expect(b[k]!).toBeCloseTo(a[k]!, 4);
  });

  test('a free pendulum, led along the way it swung, needs no torque', () => {
    const { machine, pin } = pendulum(0.4, 0.8, 1.3, 0.02);
    machine.cycle = { given: 'time', time: 0.5 };
    const free = simulate(machine);
    const change = channelsOf(free, pin).change!;
    // m g (d/2…) by hand: (J + m L²) α = −m g L sin θ
    const position = channelsOf(free, pin).position!;
    change.forEach((alpha, k) => {
      const theta = 0.8 + position[k]!;
      expect(alpha).toBeCloseTo((-1.3 * 9.80665 * 0.4 * Math.sin(theta)) / (0.02 + 1.3 * 0.16), 6);
    });
  });
});

describe('properties of any four-bar that turns', () => {
  const proportions = fc.record({
    crank: fc.double({ min: 0.03, max: 0.06, noNaN: true }),
    coupler: fc.double({ min: 0.16, max: 0.22, noNaN: true }),
    rocker: fc.double({ min: 0.14, max: 0.18, noNaN: true }),
    speed: fc.double({ min: 0.5, max: 40, noNaN: true }),
  });

  test('virtual work closes, forces on a joint are opposite to what its bodies feel, and the mean torque is nil', () => {
    fc.assert(
      fc.property(proportions, ({ crank, coupler, rocker, speed }) => {
        const {
          machine,
          pins,
          rocker: last,
        } = fourBar([0.2, crank, coupler, rocker], 1, { speed, cycle: (2 * Math.PI) / speed });
        const run = simulate(machine);
        const { energy, drives, reached, bodies, a } = run.mechanism!;
        expect(reached).toBe(run.times.length);
        const size = Math.max(...energy.drives.map(Math.abs));
        expect(Math.max(...energy.residual.map(Math.abs)) / size).toBeLessThan(1e-8);
        // Without load or friction a whole turn takes no work.
        const effort = drives[0]!.effort;
        let mean = 0;
        for (let k = 1; k < effort.length; k++)
          mean += ((effort[k]! + effort[k - 1]!) / 2) * (run.times[k]! - run.times[k - 1]!);
        expect(mean / run.cycleTime / rmsOf(run.times, effort)).toBeCloseTo(0, 5);
        // Newton for the rocker: both reactions and its weight give mass times acceleration.
        const i = bodies.findIndex(({ id }) => id === last.id);
        const [c, d] = [channelsOf(run, pins[2]), channelsOf(run, pins[3])];
        for (let k = 0; k < run.times.length; k += 211) {
          const fy = c.reaction.force[1][k]! + d.reaction.force[1][k]! - bodies[i]!.mass * 9.80665;
          expect(fy).toBeCloseTo(bodies[i]!.mass * a[3 * i + 1]![k]!, 6);
        }
      }),
      { numRuns: 12 },
    );
  });

  test('drawn the other way round (mirrored), it needs the same torque the other way round', () => {
    fc.assert(
      fc.property(proportions, ({ crank, coupler, rocker, speed }) => {
        const cycle = (2 * Math.PI) / speed;
        const plain = fourBar([0.2, crank, coupler, rocker], 1, { speed, cycle });
        const mirrored = fourBar([0.2, crank, coupler, rocker], -1, { speed: -speed, cycle, crossed: true });
        for (const { machine } of [plain, mirrored]) machine.mechanism.gravity.on = false;
        const [one, two] = [plain, mirrored].map(({ machine }) => simulate(machine).mechanism!.drives[0]!.effort);
        const size = Math.max(...one!.map(Math.abs));
        for (let k = 0; k < one!.length; k += 97) expect(two![k]! / size).toBeCloseTo(-one![k]! / size, 6);
      }),
      { numRuns: 10 },
    );
  });
});

describe('poses and channels', () => {
  test('between samples poses are straight; before and after the cycle the ends hold', () => {
    const { machine } = fourBar([0.1, 0.04, 0.12, 0.08], 1);
    const run = simulate(machine);
    const [a, middle, b] = [run.times[10]!, (run.times[10]! + run.times[11]!) / 2, run.times[11]!].map(
      (t) => posesAt(run, t)[0]!,
    );
    expect(middle!.angle).toBeCloseTo((a!.angle + b!.angle) / 2, 12);
    expect(posesAt(run, -1)).toEqual(posesAt(run, 0));
    expect(posesAt(run, 9)).toEqual(posesAt(run, 1));
  });

  test('the direction of a reaction does not jump at half a turn', () => {
    const { machine, pins } = fourBar([0.3, 0.08, 0.28, 0.2], 1);
    const run = simulate(machine);
    const direction = mechanismSamples(machine, run, `joint:${pins[1].id}:direction`)!;
    for (let k = 1; k < direction.length; k++) expect(Math.abs(direction[k]! - direction[k - 1]!)).toBeLessThan(0.6);
  });

  test('a channel that is not there is undefined, not an error', () => {
    const { machine } = fourBar([0.1, 0.04, 0.12, 0.08], 1);
    const run = simulate(machine);
    for (const id of ['body:gone:angle', 'point:gone.p1:x', 'joint:gone:fx', 'drive:gone:effort', 'element:gone:force'])
      expect(mechanismSamples(machine, run, id)).toBeUndefined();
  });

  test('RMS of a straight line is its exact one; gaps are left out', () => {
    expect(rmsOf([0, 1], [0, 3])).toBeCloseTo(Math.sqrt(3), 12);
    expect(rmsOf([0, 1, 2], [2, 2, NaN])).toBe(2);
    expect(rmsOf([0], [1])).toBe(0);
  });
});

test('a run that is left to itself tells its progress and does not depend on the step', () => {
  const build = (step: number) => {
    const { machine } = pendulum(0.5, 1);
    machine.cycle = { given: 'time', time: 0.8 };
    machine.step = step;
    return machine;
  };
  const shares: number[] = [];
  const fine = simulate(build(1e-3), { progress: (share) => shares.push(share) });
  const coarse = simulate(build(0.04));
  expect(shares.length).toBeGreaterThan(5);
  expect(shares.every((share, i) => i === 0 || share >= shares[i - 1]!)).toBe(true);
  expect(coarse.mechanism!.q[2]!.at(-1)!).toBeCloseTo(fine.mechanism!.q[2]!.at(-1)!, 6);
});

test('two drives on an arm of two links: each torque by hand (statics)', () => {
  const machine = newMachine('Arm');
  const m = machine.mechanism;
  const upper = weigh(addBar(m, [0, 0], [0.4, 0]), 3, [0.2, 0], 0.04);
  const lower = weigh(addBar(m, [0.4, 0], [0.7, 0]), 2, [0.15, 0], 0.02);
  const shoulder = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, upper.id, [0, 0]));
  const elbow = addJoint(m, 'pin', bodyPoint(m, upper.id, [0.4, 0]), bodyPoint(m, lower.id, [0.4, 0]));
  drive(machine, shoulder, { kind: 'constant', value: 0 }, 'position');
  drive(machine, elbow, { kind: 'constant', value: 0 }, 'position');
  const run = simulate(machine);
  const g = 9.80665;
  const [first, second] = run.mechanism!.drives.map(({ effort }) => effort[0]!);
  expect(second!).toBeCloseTo(2 * g * 0.15, 9);
  expect(first!).toBeCloseTo(3 * g * 0.2 + 2 * g * 0.55, 9);
  expect(run.axes[0]!.mechanismInertia).toBeCloseTo(0.04 + 3 * 0.04 + 0.02 + 2 * 0.55 ** 2, 9);
});
