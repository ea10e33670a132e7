import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readCatalogue } from '../format';
import { addBar, addJoint, bodyPoint, groundPoint, newAxis, newMachine, type Axis } from '../machine';
import { weigh } from '../../test/mechanisms';
import { rmsTorque, simulate } from '../run';
import {
  continuousEnvelope,
  dutyOf,
  explainCandidate,
  explainRanking,
  judgeMotor,
  needsBrake,
  peakEnvelope,
  rankMotors,
  type Motor,
} from './index';

const catalogue = readCatalogue(readFileSync(join(__dirname, '../../../../demo/motors.csv'), 'utf8'));
const motor = catalogue.find(({ type }) => type === 'Alder 1.3')!;

function dutyFor(change: (axis: Axis) => void, kind: Axis['kind'] = 'linear') {
  const machine = newMachine('Bench');
  const axis = newAxis(kind, [], 2);
  change(axis);
  machine.axes = [axis];
  const run = simulate(machine);
  return { axis, run: run.axes[0]!, duty: dutyOf(axis, run.axes[0]!, run.times) };
}
const check = (m: Motor, duty: ReturnType<typeof dutyFor>, code: string) =>
  judgeMotor(m, duty.duty, duty.axis.sizing).checks.find((c) => c.code === code)!;

describe('the invented catalogue is consistent with physics', () => {
  test('at least 24 motors in four families, small ones among them', () => {
    expect(catalogue.length).toBeGreaterThanOrEqual(24);
    expect(new Set(catalogue.map(({ family }) => family)).size).toBe(4);
  });

  test.each(catalogue.map((m) => [m.type, m] as const))('%s', (_type, m) => {
    // The supply covers back-EMF and copper drop at rated torque and speed, and the back-EMF at maximum speed.
    const drop = m.resistance * (m.ratedTorque / m.torqueConstant);
    expect(m.torqueConstant * m.ratedSpeed + drop).toBeLessThan(m.supplyVoltage);
    expect(m.torqueConstant * m.maxSpeed).toBeLessThan(m.supplyVoltage);
    // Copper loss at continuous stall stays below what a housing of this mass sheds (about 60 W/kg at most).
    const loss = m.resistance * (m.stallTorque / m.torqueConstant) ** 2;
    expect(loss / m.mass).toBeLessThan(60);
    // Full peak torque is there at standstill, rated torque within the peak envelope at rated speed.
    expect(peakEnvelope(m, 0)).toBeCloseTo(m.peakTorque, 9);
    expect(peakEnvelope(m, m.ratedSpeed)).toBeGreaterThan(m.ratedTorque);
    // Mechanical time constant R J / k² (textbook) of a servo motor: some milliseconds at most.
    expect((m.resistance * m.inertia) / m.torqueConstant ** 2).toBeLessThan(0.02);
  });
});

describe('envelopes', () => {
  test('the continuous one passes stall torque at standstill and rated torque at rated speed', () => {
    expect(continuousEnvelope(motor, 0)).toBeCloseTo(motor.stallTorque, 12);
    expect(continuousEnvelope(motor, motor.ratedSpeed)).toBeCloseTo(motor.ratedTorque, 12);
    expect(continuousEnvelope(motor, motor.maxSpeed * 1.01)).toBe(0);
  });

  test('beyond the corner the terminal voltage is the supply: U² = (R i + k ω)² + (p ω L i)²', () => {
    const speed = motor.maxSpeed * 0.95;
    const current = peakEnvelope(motor, speed) / motor.torqueConstant;
    const resistive = motor.resistance * current + motor.torqueConstant * speed;
    const reactive = motor.polePairs * speed * motor.inductance * current;
    expect(Math.hypot(resistive, reactive)).toBeCloseTo(motor.supplyVoltage, 8);
    expect(peakEnvelope(motor, -speed)).toBe(peakEnvelope(motor, speed));
  });
});

describe('checks of a candidate', () => {
  /** The axis sinks, so the motor is taken with its brake. */
  const inertia = motor.inertia + motor.brakeInertia;
  const duty = dutyFor((axis) => {
    axis.load.slope = 0.4;
    axis.load.coulomb = 5;
  });

  test('peak torque includes the rotor and is held against the envelope of the same moment', () => {
    const found = check(motor, duty, 'peak');
    const ratios = Array.from(duty.duty.times, (_, k) => {
      const torque = Math.abs(duty.duty.torque[k]! + inertia * duty.duty.acceleration[k]!);
      return torque / peakEnvelope(motor, duty.duty.speed[k]!);
    });
    expect(found.required / found.available).toBeCloseTo(Math.max(...ratios), 12);
  });

  test('RMS torque from the shared integrals equals that of a run with the rotor', () => {
    const found = check(motor, duty, 'rms');
    const machine = newMachine('Again');
    machine.axes = [duty.axis];
    const run = simulate(machine, { rotors: { [duty.axis.id]: inertia } });
    expect(found.required).toBeCloseTo(run.axes[0]!.rms.motorTorque, 12);
    const { torque, times } = duty.duty;
    let square = 0;
    for (let k = 1; k < times.length; k++)
      square += ((torque[k]! ** 2 + torque[k - 1]! ** 2) / 2) * (times[k]! - times[k - 1]!);
    expect(rmsTorque(duty.duty.integrals, 0)).toBeCloseTo(Math.sqrt(square / 2), 3);
  });

  test('a reserve turns a fit into a miss', () => {
    const wishes = { ...duty.axis.sizing, inertiaRatio: 1000 };
    const big = catalogue.find(({ type }) => type === 'Alder 16')!;
    const margin = judgeMotor(big, duty.duty, wishes).checks.find(({ code }) => code === 'rms')!.margin;
    const verdict = (torqueReserve: number) => judgeMotor(big, duty.duty, { ...wishes, torqueReserve }).fits;
    expect([verdict(margin - 0.01), verdict(margin + 0.01)]).toEqual([true, false]);
  });

  test('an axis that would sink needs a brake that holds it; a motor without one fails and says so', () => {
    const lift = dutyFor((axis) => (axis.load.slope = Math.PI / 2));
    expect(needsBrake(lift.duty, 'auto')).toBe(true);
    expect(needsBrake(lift.duty, 'never')).toBe(false);
    expect(needsBrake(duty.duty, 'auto')).toBe(true);
    const bare = catalogue.find(({ brakeTorque }) => brakeTorque === null)!;
    const verdict = judgeMotor(bare, lift.duty, lift.axis.sizing);
    expect(verdict.fits).toBe(false);
    expect(explainCandidate(verdict, 'metric')).toMatch(/sinks without power .* comes without a brake/);
    const braked = judgeMotor(motor, lift.duty, lift.axis.sizing);
    expect(braked.inertia).toBeCloseTo(motor.inertia + motor.brakeInertia, 15);
  });

  test('in a long cycle the hottest moment counts: half the cycle at stall torque, the steady ripple by hand', () => {
    // p = 1 for half of a cycle of 2τ, then 0: θ_max = (1 − e⁻¹)/(1 − e⁻²) (first-order lag, worked by hand).
    const tau = motor.thermalTime;
    const times = Float64Array.from({ length: 4001 }, (_, k) => (k * 2 * tau) / 4000);
    const torque = times.map((time) => (time < tau ? motor.stallTorque : 0));
    const zero = new Float64Array(times.length);
    const integrals = { ...duty.duty.integrals, duration: 2 * tau };
    const long = { ...duty.duty, times, torque, speed: zero, acceleration: zero, integrals };
    const thermal = judgeMotor(motor, long, duty.axis.sizing).checks.find(({ code }) => code === 'thermal')!;
    expect(thermal.required).toBeCloseTo((1 - Math.exp(-1)) / (1 - Math.exp(-2)), 3);
    expect(judgeMotor(motor, duty.duty, duty.axis.sizing).checks.some(({ code }) => code === 'thermal')).toBe(false);
  });
});

describe('ranking', () => {
  const duty = dutyFor(
    (axis) => (axis.gearbox = { ratio: 5, inertia: 0, efficiency: 1, backEfficiency: 1, friction: 0 }),
  );
  const ranked = (rankBy: Axis['sizing']['rankBy']) =>
    rankMotors(catalogue, duty.duty, { ...duty.axis.sizing, rankBy });

  test('those that fit come first, the nearest miss heads the others', () => {
    const ranking = ranked('mass');
    const firstMiss = ranking.findIndex(({ fits }) => !fits);
    expect(ranking.slice(firstMiss).every(({ fits }) => !fits)).toBe(true);
    const spare = ranking.slice(firstMiss).map(({ decisive }) => decisive.margin - decisive.wanted);
    expect(spare).toEqual([...spare].sort((a, b) => b - a));
  });

  test.each([
    ['mass', (c: ReturnType<typeof ranked>[number]) => c.mass],
    ['loss', (c: ReturnType<typeof ranked>[number]) => c.loss],
    ['inertia', (c: ReturnType<typeof ranked>[number]) => duty.duty.loadInertia / c.inertia],
  ] as const)('by %s', (rankBy, key) => {
    const values = ranked(rankBy)
      .filter(({ fits }) => fits)
      .map(key);
    expect(values.length).toBeGreaterThan(2);
    expect(values).toEqual([...values].sort((a, b) => a - b));
  });

  test('explains itself, in the units wanted', () => {
    const ranking = ranked('mass');
    expect(explainRanking(ranking, 'mass', 'metric')).toMatch(
      /is the lightest of the \d+ that fit \(out of 30\): .*kg/,
    );
    expect(explainRanking(ranking, 'mass', 'inch')).toMatch(/lb/);
    const heavy = dutyFor((axis) => (axis.load.inertia = 5000));
    const none = rankMotors(catalogue, heavy.duty, heavy.axis.sizing);
    expect(explainRanking(none, 'mass', 'metric')).toMatch(/^None of 30 motors fits\. Nearest is /);
    expect(explainCandidate(none.at(-1)!, 'metric')).toMatch(
      /N·m at [\d.]+\u00a0s exceed its [\d.]+\u00a0N·m at [\d.]+\u00a0rpm/,
    );
    expect(explainRanking([], 'mass', 'metric')).toMatch(/catalogue is empty/);
  });
});

describe('a drive in front of freedoms that are left', () => {
  // A pendulum of 3 kg that hangs on a lift of 2 kg: the lift feels both masses, and holds both weights.
  test('the mechanism counts in inertia ratio, holding torque and brake', () => {
    const machine = newMachine('Lift with pendulum');
    machine.cycle = { given: 'time', time: 1 };
    const m = machine.mechanism;
    const lift = weigh(addBar(m, [0, 0], [0.1, 0], 'Lift'), 2, [0, 0], 0.01);
    const bob = weigh(addBar(m, [0.05, 0], [0.05, -0.3], 'Pendulum'), 3, [0.3, 0], 0.001);
    const rail = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, lift.id, [0, 0]), {
      direction: Math.PI / 2,
    });
    addJoint(m, 'pin', bodyPoint(m, lift.id, [0.05, 0]), bodyPoint(m, bob.id, [0.05, 0]));
    const axis = { ...newAxis('linear', [], 1), joint: rail.id };
    axis.load = { ...axis.load, inertia: 0, coulomb: 0 };
    axis.transmission = { kind: 'screw', lead: 0.01, inertia: 0, efficiency: 1, backEfficiency: 1, friction: 0 };
    axis.gearbox = null;
    machine.axes = [axis];
    const run = simulate(machine);
    expect(run.mechanism!.mode).toBe('free');
    const { loadInertia, holding } = dutyOf(axis, run.axes[0]!, run.times);
    const arm = 0.01 / (2 * Math.PI);
    expect(loadInertia / (5 * arm ** 2)).toBeCloseTo(1, 6);
    expect(holding / (5 * 9.80665 * arm)).toBeCloseTo(1, 6);
    const duty = dutyOf(axis, run.axes[0]!, run.times);
    expect(needsBrake(duty, 'auto')).toBe(true);
  });
});
