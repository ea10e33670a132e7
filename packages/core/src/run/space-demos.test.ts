import { demo, peak } from '../../test/demos';
import { loadContact } from '../contact';
import type { Machine } from '../machine';
import { simulate, type Run } from './simulate';
import { mechanismSamples } from './mechanism-channels';
import { wayInSpace } from './space-channels';

beforeAll(() => loadContact());

const errors = (run: Run) => run.mechanism!.findings.filter(({ severity }) => severity === 'error');

test.each(['hedge-arm', 'rod-lift', 'hanging-basket'])('%s: power balances at every sample', (file) => {
  const run = simulate(demo(file));
  expect(errors(run)).toEqual([]);
  const { residual, drives, kinetic } = run.mechanism!.energy;
  expect(run.mechanism!.reached).toBe(run.times.length);
  expect(peak(residual)).toBeLessThan(1e-6 * Math.max(peak(drives), peak(kinetic)));
});

test('rod lift: the plate stays level where its rods put it (inverse kinematics of three pairs of rods)', () => {
  const machine = demo('rod-lift');
  const run = simulate(machine);
  const m = machine.mechanism;
  const plate = m.bodies.find(({ name }) => name === 'Plate')!;
  const centre = m.joints.find(({ name }) => name === 'About y')!.b.point;
  const way = wayInSpace(m, run.mechanism!, { body: plate.id, point: centre }, Infinity);
  const rod = m.joints.find(({ kind }) => kind === 'rod');
  const length = rod?.kind === 'rod' ? rod.length : 0;
  const [R, r, H] = [0.34, 0.1, 0.7];
  [90, 210, 330].forEach((degrees, i) => {
    const angle = (degrees * Math.PI) / 180;
    const axis = machine.axes.find(({ name }) => name === `Column ${i + 1}`)!;
    const { position } = run.axes.find(({ axisId }) => axisId === axis.id)!.channels;
    for (let k = 0; k < run.times.length; k += 25) {
      const [x, y, z] = way[k]!;
      // Height of the carriage over the plate by the rod of its column, the plate being level.
      const across = Math.hypot(x - (R - r) * Math.cos(angle), z - (R - r) * Math.sin(angle));
      const height = Math.sqrt(length ** 2 - across ** 2);
      expect(H + position[k]!).toBeCloseTo(y + height, 8);
    }
  });
  for (const quantity of ['wx', 'wy', 'wz'])
    expect(peak(mechanismSamples(machine, run, `body:${plate.id}:${quantity}`)!)).toBeLessThan(1e-9);
});

test('hedge arm: bearing of the cutter by the gyroscopic couple, Euler’s equation of a spinning disc', () => {
  const machine = demo('hedge-arm');
  const run = simulate(machine);
  const m = machine.mechanism;
  const [cutter, head] = ['Cutter', 'Cutter head'].map((name) => m.bodies.find((body) => body.name === name)!);
  const bearing = run.mechanism!.bearings.find(({ id }) => m.joints.find((joint) => joint.id === id)?.name === 'Cutter bearing')!; // prettier-ignore
  // With the cutter at rest the couple of its spin is gone; what is left is that of swinging it.
  const still = demo('hedge-arm');
  still.axes.find(({ name }) => name === 'Cutter')!.motion.source = { kind: 'constant', value: 0 };
  still.step = run.step;
  machine.step = run.step;
  const rest = simulate(still);
  const at = (time: number) => rest.times.findIndex((t) => t >= time - 1e-9);
  const { inertia } = run.mechanism!.bodies[m.bodies.indexOf(cutter!)]!;
  const spin = 50 * Math.PI;
  const turning = ['wx', 'wy', 'wz'].map((q) => mechanismSamples(machine, run, `body:${head!.id}:${q}`)!);
  for (let k = 500; k < run.times.length; k += 2000) {
    const other = rest.mechanism!.bearings.find(({ id }) => id === bearing.id)!;
    const j = at(run.times[k]!);
    const [mx, my] = [0, 1].map((i) => bearing.moment[i]![k]! - other.moment[i]![j]!);
    const w = Math.hypot(...turning.map((part) => part[k]!));
    // Square to the spin: Ω without its part along the shaft.
    const along = mechanismSamples(machine, run, `body:${cutter!.id}:w`)![k]!;
    expect(along).toBeCloseTo(spin, 9);
    expect(Math.hypot(mx!, my!)).toBeLessThanOrEqual(inertia * spin * w * (1 + 1e-6) + 1e-6);
    expect(Math.hypot(mx!, my!)).toBeGreaterThan(0);
  }
});

test('hanging basket: a cycloidal travel of two periods leaves it at rest, one a fifth shorter does not', () => {
  const machine = demo('hanging-basket');
  const swings = (own: Machine) => {
    const run = simulate(own);
    expect(errors(run)).toEqual([]);
    return ['Line swing', 'Across swing'].map((name) => {
      const id = own.mechanism.joints.find((joint) => joint.name === name)!.id;
      const { position } = run.mechanism!.joints.find((joint) => joint.id === id)!;
      const end = position!.subarray(Math.floor(position!.length * 0.7));
      return peak(end) / peak(position!);
    });
  };
  for (const left of swings(machine)) expect(left).toBeLessThan(0.03);
  for (const { plan } of machine.axes)
    for (const segment of plan.segments)
      if (segment.kind === 'move') {
        const rest = plan.segments.at(-1)!;
        rest.duration += 0.2 * segment.duration;
        segment.duration *= 0.8;
      }
  for (const left of swings(machine)) expect(left).toBeGreaterThan(0.1);
});
