import { addBar, addJoint, bodyPoint, groundPoint, newAxis, newMachine, type Machine } from '../machine';
import { drive, fourBar, weigh } from '../../test/mechanisms';
import { findPeak, simulate } from '.';
import { bendOf } from './resolution';

const g = 9.80665;

/** A crank with its weight off centre that turns evenly. */
function crank(speed: number): Machine {
  const machine = newMachine('Crank');
  machine.cycle = { given: 'time', time: 1 };
  const m = machine.mechanism;
  const bar = weigh(addBar(m, [0, 0], [0.1, 0], 'Crank'), 4, [0.05, 0], 0.01);
  const pin = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, bar.id, [0, 0]));
  drive(machine, pin, { kind: 'constant', value: speed }, 'velocity', 0.3);
  return machine;
}

describe('the step follows what moves quickest', () => {
  // Statics: a weight turned evenly asks for m g r cos φ; over whole turns it takes nothing. 6000 rpm are 100 turns a second.
  test.each([60, 600, 6000])('at %p rpm the peak is m g r, and whole turns take no work', (rpm) => {
    const run = simulate(crank((rpm * 2 * Math.PI) / 60));
    const [axis] = run.axes;
    expect(Math.abs(findPeak(run.times, axis!.channels.effort).value) / (4 * g * 0.05)).toBeCloseTo(1, 3);
    expect(Math.abs(axis!.energy.externalWork) / axis!.energy.balance.turnedOver).toBeLessThan(1e-3);
    expect(run.findings).toEqual([]);
  });

  test('an imbalance of the load counts as well', () => {
    const machine = newMachine('Drum');
    machine.cycle = { given: 'time', time: 1 };
    const axis = newAxis('rotary', [], 1);
    Object.assign(axis, { travel: null, gearbox: null });
    axis.load = { ...axis.load, imbalance: 0.2, slope: Math.PI / 2 };
    axis.motion = { over: 'time', engage: null, level: 'velocity', source: { kind: 'constant', value: 200 * Math.PI }, initial: { position: 0.3, velocity: 0 } }; // prettier-ignore
    machine.axes = [axis];
    const run = simulate(machine);
    expect(Math.abs(findPeak(run.times, run.axes[0]!.channels.effort).value) / (0.2 * g)).toBeCloseTo(1, 3);
  });

  test('a step that was typed too coarse is an error that says how much, and what is proposed', () => {
    const machine = { ...crank(200 * Math.PI), step: 1e-3 };
    const [finding] = simulate(machine).findings;
    // 36° a sample: cos bends by 1 − cos 36° of its peak at the peak.
    expect(finding).toMatchObject({ code: 'coarse-step', severity: 'error', step: 1e-3 });
    expect((finding as { bend: number }).bend).toBeCloseTo(1 - Math.cos(Math.PI / 5), 2);
    expect((finding as { proposed: number }).proposed).toBeLessThan(1e-4);
    expect(simulate({ ...machine, step: null }).findings).toEqual([]);
  });

  test('a linkage near its dead position is refined by itself, and the same with half the step', () => {
    // Nearly a change-point linkage: the rocker whips round once a turn.
    const machine = fourBar([0.1, 0.04, 0.08, 0.060005], 1, { cycle: 1 }).machine;
    const run = simulate(machine);
    const fine = simulate({ ...machine, step: run.step / 4 });
    const peak = (of: typeof run) => Math.abs(findPeak(of.times, of.axes[0]!.channels.effort).value);
    expect(run.step).toBeLessThan(run.proposedStep);
    expect(peak(run) / peak(fine)).toBeCloseTo(1, 3);
  });

  test('a jump of friction where an axis turns round is no reason for a finer step', () => {
    const machine = newMachine('Shuttle');
    machine.cycle = { given: 'time', time: 1 };
    const axis = newAxis('linear', [], 1);
    axis.load.coulomb = 30;
    axis.motion = { over: 'time', engage: null, level: 'position', source: { kind: 'harmonic', mean: 0, amplitude: 0.1, frequency: 2, phase: 0.4 }, initial: { position: 0, velocity: 0 } }; // prettier-ignore
    machine.axes = [axis];
    const run = simulate(machine);
    expect([run.step, run.findings]).toEqual([run.proposedStep, []]);
  });
});

describe('what bends between samples', () => {
  const times = Float64Array.from({ length: 201 }, (_, k) => k / 200);
  const bend = (of: (t: number) => number, edges: number[] = []) =>
    bendOf(times, edges, [{ effort: times.map(of), velocity: times.map(() => 1) }]);

  test('a jump is told by the samples beside it: by half of it, wherever it falls', () => {
    for (const at of [0.2, 0.3333, 0.7012])
      expect(bend((t) => Math.sin(2 * t) + (t > at ? 3 : 0))).toMatchObject({ share: expect.closeTo(0.5 * (3 / (3 + Math.max(Math.sin(2 * 0.785), Math.sin(2)))), 1) as number, jumps: true }); // prettier-ignore
  });
  // From memory: the second difference of sin ωt is 2 (1 − cos ωh) sin ωt, of which half is off the line.
  test.each([0.1, 0.5, 1.2, 1.9, 2.6])('a wave that turns by %p rad a sample is none', (turn) => {
    const { share, jumps } = bend((t) => Math.sin(turn * 200 * t));
    expect(jumps).toBe(false);
    expect(share).toBeCloseTo(1 - Math.cos(turn), 1);
  });
  test('a knee is none, nor is a jump that is known, nor one too near to the end to tell', () => {
    expect(bend((t) => Math.abs(t - 0.4)).jumps).toBe(false);
    expect(bend((t) => (t > 0.5 ? 1 : 0), [0.501])).toMatchObject({ share: 0 });
    expect(bend((t) => (t > 0.99 ? 1 : 0)).jumps).toBe(false);
  });
});
