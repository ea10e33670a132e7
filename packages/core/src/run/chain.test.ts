import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readMachineText, type Machine } from '../machine';
import { findPeak, sampleIndexAt, simulate, valueAt } from './index';

function demo(name: string): Machine {
  const result = readMachineText(readFileSync(join(__dirname, '../../../../demo', `${name}.yoke.json`), 'utf8'));
  if (!result.ok) throw new Error(JSON.stringify(result.problems));
  return result.machine;
}

/** Nearest sample to a time. */
function at(name: string, time: number) {
  const run = simulate(demo(name));
  const k = sampleIndexAt(run.times, time + 1e-9);
  return { k, time: run.times[k]!, channels: run.axes[0]!.channels };
}

// The whole chain again in a few lines each, from textbook formulas (VDI 2143; screw, belt and gearbox formulas),
// with the numbers of the demonstration files written out; nothing of the code under test is used.
describe('whole chains, worked by hand', () => {
  test('dibber going down: screw of 16 mm, 6.5 kg upright, polynomial 3-4-5 over 120 mm in 0.5 s', () => {
    const { time, k, channels } = at('dibber', 0.3);
    const tau = (time - 0.15) / 0.5;
    const v = (0.12 / 0.5) * 30 * tau ** 2 * (1 - tau) ** 2;
    const a = (0.12 / 0.25) * 60 * tau * (1 - tau) * (1 - 2 * tau);
    expect(channels.velocity[k]).toBeCloseTo(v, 12);
    expect(channels.acceleration[k]).toBeCloseTo(a, 12);
    // Positive is down, so gravity helps; the soil does not push yet.
    const force = 6.5 * a - 6.5 * 9.80665 + 12 + 25 * v;
    expect(channels.effort[k]).toBeCloseTo(force, 10);
    const perMetre = (2 * Math.PI) / 0.016;
    const driven = force > 0 ? 1 / 0.9 : 0.82;
    const torque = (force * driven) / perMetre + 4.2e-5 * a * perMetre + 0.05;
    // The axis is turned round, so its motor turns the other way.
    expect(channels.shaftTorque[k]).toBeCloseTo(-torque, 12);
    expect(channels.motorSpeed[k]).toBeCloseTo(-v * perMetre, 10);
  });

  test('dibber in the soil: 140 N push back at rest, held without loss', () => {
    const { k, channels } = at('dibber', 0.7);
    expect(channels.effort[k]).toBeCloseTo(-6.5 * 9.80665 + 140, 10);
    expect(channels.shaftTorque[k]).toBeCloseTo((-(140 - 6.5 * 9.80665) * 0.016) / (2 * Math.PI), 12);
  });

  test('tray belt: gearbox 12:1 before a pulley of 32 mm, modified sine over 360 mm in 0.9 s', () => {
    const run = simulate(demo('tray-belt'));
    const { channels } = run.axes[0]!;
    // Peak acceleration at an eighth of the rise (VDI 2143): Ca = 5.5280.
    const a = (5.52796 * 0.36) / 0.9 ** 2;
    const time = 0.4 + 0.9 / 8;
    expect(valueAt(run.times, channels.acceleration, time)).toBeCloseTo(a, 4);
    // Velocity there: (Ca/4π)(1 − cos π/2) = Ca/4π times the mean.
    const v = ((5.52796 / (4 * Math.PI)) * 0.36) / 0.9;
    expect(valueAt(run.times, channels.velocity, time)).toBeCloseTo(v, 5);
    const force = 22 * a + 26 + 8 * v;
    expect(valueAt(run.times, channels.effort, time)).toBeCloseTo(force, 2);
    const pulley = (force * 0.032) / 0.96 + (6.5e-4 * a) / 0.032 + 0.15;
    const motor = pulley / 12 / 0.95 + (2.2e-5 * a * 12) / 0.032 + 0.02;
    expect(valueAt(run.times, channels.shaftTorque, time)).toBeCloseTo(motor, 4);
  });

  test('potting table: 1.6 kg·m² by 60° in 0.55 s behind 50:1, peak speed Cv = 1.7596 (VDI 2143)', () => {
    const run = simulate(demo('potting-table'));
    const peak = findPeak(run.times, run.axes[0]!.channels.motorSpeed);
    expect(peak.value).toBeCloseTo((1.7596 * (Math.PI / 3) * 50) / 0.55, 1);
    expect(peak.time).toBeCloseTo(0.275, 3);
  });
});

test.each(['tray-belt', 'dibber', 'potting-table', 'pusher-and-lift'])(
  'the demonstration machine %s is free of errors and closes its energy balance',
  (name) => {
    const run = simulate(demo(name));
    expect(demo(name).notes).toContain('invented');
    for (const { findings, energy } of run.axes) {
      expect(findings.filter(({ severity }) => severity === 'error')).toEqual([]);
      expect(Math.abs(energy.balance.residual)).toBeLessThanOrEqual(1e-9 * energy.balance.turnedOver);
    }
  },
);

test('the load off, gravity off: what remains is friction, and it is paid at every sample', () => {
  const machine = demo('pusher-and-lift');
  const lift = machine.axes[1]!;
  Object.assign(lift.load, { inertia: 0, coulomb: 15, viscous: 0, force: 0 });
  const { channels } = simulate(machine).axes[1]!;
  channels.effort.forEach((effort, k) => {
    const velocity = channels.velocity[k]!;
    if (Math.abs(velocity) > 1e-9) expect(effort).toBeCloseTo(15 * Math.sign(velocity), 12);
  });
});
