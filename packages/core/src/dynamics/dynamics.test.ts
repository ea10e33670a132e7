import {
  axisEffort,
  driveModel,
  holdingTorque,
  loadModel,
  passDrive,
  reflectedInertia,
  type DriveTrain,
} from './index';

const ideal = { inertia: 0, efficiency: 1, backEfficiency: 1, friction: 0 };
const torque = (train: DriveTrain, effort: number, velocity = 0, acceleration = 0, reversed = false) => {
  const out = { torque: 0, loss: 0, pattern: 0 };
  passDrive(driveModel(train, reversed), effort, velocity, acceleration, Math.sign(velocity), out);
  return out;
};
const screw = (lead: number, losses = ideal): DriveTrain => ({
  gearbox: null,
  transmission: { kind: 'screw', lead, ...losses },
});
const belt = (radius: number, losses = ideal): DriveTrain => ({
  gearbox: null,
  transmission: { kind: 'belt', radius, ...losses },
});

describe('drive trains against textbook formulas', () => {
  test('screw: T = F p / 2πη; 5 kN on a 10 mm lead at 90 % takes 8.842 N·m (textbook formula, worked by hand)', () => {
    expect(torque(screw(0.01, { ...ideal, efficiency: 0.9 }), 5000, 0.1).torque).toBeCloseTo(8.8419, 4);
  });

  test('screw: reflected inertia m (p/2π)²; 100 kg on 10 mm is 2.533 kg·cm² (textbook formula, worked by hand)', () => {
    expect(reflectedInertia(driveModel(screw(0.01), false), 100) * 1e4).toBeCloseTo(2.533, 3);
  });

  test('belt or rack: T = F r and J = m r²; 200 N and 20 kg on 30 mm are 6 N·m and 180 kg·cm² (textbook formula)', () => {
    expect(torque(belt(0.03), 200, 1).torque).toBeCloseTo(6, 12);
    expect(reflectedInertia(driveModel(belt(0.03), false), 20) * 1e4).toBeCloseTo(180, 9);
  });

  test('gearbox: torque over i η, inertia over i²; 40 N·m through 10:1 at 80 % is 5 N·m (textbook formula)', () => {
    const train: DriveTrain = {
      gearbox: { ratio: 10, ...ideal, efficiency: 0.8 },
      transmission: { kind: 'direct' },
    };
    expect(torque(train, 40, 1).torque).toBeCloseTo(5, 12);
    expect(reflectedInertia(driveModel(train, false), 0.5)).toBeCloseTo(0.005, 15);
  });

  test('pure inertia: acceleration from a given motor torque is greatest at ratio √(J_load/J_motor) (textbook)', () => {
    const motor = 1e-4;
    const load = 0.04;
    const needed = (ratio: number) => {
      const train: DriveTrain = { gearbox: { ratio, ...ideal }, transmission: { kind: 'direct' } };
      return torque(train, load * 1, 1, 1).torque + motor * ratio;
    };
    const best = Math.sqrt(load / motor);
    expect(needed(best)).toBeLessThan(needed(best * 1.01));
    expect(needed(best)).toBeLessThan(needed(best * 0.99));
  });
});

describe('direction of the power', () => {
  const lossy = { inertia: 0, efficiency: 0.8, backEfficiency: 0.5, friction: 0 };

  test('a driving load gives back only its backward share', () => {
    expect(torque(belt(0.1, lossy), -100, 1).torque).toBeCloseTo(-5, 12);
    expect(torque(belt(0.1, lossy), -100, 1).loss).toBeCloseTo(50, 12);
  });

  test('at rest nothing is lost', () => {
    expect(torque(belt(0.1, lossy), 100).torque).toBeCloseTo(10, 12);
    expect(torque(belt(0.1, lossy), 100).loss).toBe(0);
  });

  test('a self-locking screw holds by itself', () => {
    expect(holdingTorque(driveModel(screw(0.004, { ...lossy, backEfficiency: 0 }), false), 500)).toBe(0);
    expect(holdingTorque(driveModel(screw(0.02, { ...ideal, backEfficiency: 0.8 }), false), 500)).toBeCloseTo(
      (500 * 0.02 * 0.8) / (2 * Math.PI),
      12,
    );
  });

  test('turning the axis round turns the motor round', () => {
    expect(torque(belt(0.1), 100, 1, 0, true).torque).toBeCloseTo(-10, 12);
  });
});

describe('loads', () => {
  const none = {
    inertia: 2,
    slope: 0,
    imbalance: 0,
    imbalanceAngle: 0,
    coulomb: 0,
    viscous: 0,
    force: 0,
    forceTable: null,
  };

  test('on a slope of 30° gravity asks half the weight, against the positive direction; turned round, along it', () => {
    const slope = { ...none, slope: Math.PI / 6 };
    expect(loadModel(slope, 'linear', false).gravity(0)).toBeCloseTo(9.80665, 10);
    expect(loadModel(slope, 'linear', true).gravity(0)).toBeCloseTo(-9.80665, 10);
  });

  test('friction opposes the motion, an outside force helps along the positive direction', () => {
    const load = loadModel({ ...none, coulomb: 3, viscous: 4, force: 10 }, 'linear', false);
    expect(axisEffort(load, 0, 0, 0.5, 1, 1)).toBeCloseTo(2 + 3 + 2 - 10, 12);
    expect(axisEffort(load, 0, 0, -0.5, 1, -1)).toBeCloseTo(2 - 3 - 2 - 10, 12);
  });

  test('a force table is read between its rows and held beyond them', () => {
    const forceTable: [number, number][] = [
      [0.2, 0],
      [0.4, 100],
    ];
    const load = loadModel({ ...none, force: 1, forceTable }, 'linear', false);
    expect(load.external(0.3)).toBeCloseTo(51, 12);
    expect([0, 0.4, 2].map((time) => load.external(time))).toEqual([1, 101, 101]);
  });

  test('the torque of an imbalance is the slope of its potential energy', () => {
    const load = loadModel({ ...none, slope: 1, imbalance: 0.3, imbalanceAngle: 0.4 }, 'rotary', true);
    for (const angle of [-2, 0, 0.7, 3]) {
      const slope = (load.potential(angle + 1e-6) - load.potential(angle - 1e-6)) / 2e-6;
      expect(load.gravity(angle)).toBeCloseTo(slope, 8);
    }
  });
});
