import fc from 'fast-check';
import { LAW_IDS } from '../law';
import { newAxis, newMachine, type Axis, type Machine } from '../machine';
import { MachineMotions, movingMachine } from '../motion';
import { axisModel, balanceOf, findPeak, integrateAxis, rmsTorque, simulate } from './index';
import { sampleTimes } from '../motion';

function machineWith(change: (axis: Axis) => void, kind: Axis['kind'] = 'linear', cycle = 2): Machine {
  const machine = newMachine('Bench');
  machine.cycle = { given: 'time', time: cycle };
  const axis = newAxis(kind, [], cycle);
  change(axis);
  machine.axes = [axis];
  return machine;
}

const plain = { inertia: 0, efficiency: 1, backEfficiency: 1, friction: 0 };

describe('torque and RMS', () => {
  test('trapezoid on a pure inertia: RMS over the cycle with its dwell, √(ΣT²t/Σt) (IEC 60034-1), worked by hand', () => {
    // 0.5 kg·m² turned 1 rad in 0.6 s by thirds, then 0.4 s rest: a = 4.5/0.36 = 12.5 rad/s², T = 6.25 N·m for 0.4 s.
    const machine = machineWith(
      (axis) => {
        axis.gearbox = { ratio: 1, ...plain };
        axis.load.inertia = 0.5;
        axis.plan = {
          start: 0,
          segments: [
            { kind: 'move', id: 'a', duration: 0.6, to: 1, law: { id: 'trapezoidal' } },
            { kind: 'dwell', id: 'b', duration: 0.4 },
          ],
        };
      },
      'rotary',
      1,
    );
    const run = simulate(machine);
    expect(findPeak(run.times, run.axes[0]!.channels.shaftTorque).value).toBeCloseTo(6.25, 10);
    expect(run.axes[0]!.rms.shaftTorque).toBeCloseTo(6.25 * Math.sqrt(0.4), 10);
    // A rotor of 0.1 kg·m² adds its share: (0.6/0.5) times the torque.
    expect(rmsTorque(run.axes[0]!.duty, 0.1)).toBeCloseTo(7.5 * Math.sqrt(0.4), 10);
  });

  test('ten times the speed: inertia torque grows with the square, gravity stays', () => {
    const at = (k: number) =>
      machineWith(
        (axis) => {
          axis.load.slope = Math.PI / 2;
          axis.transmission = { kind: 'belt', radius: 0.05, ...plain };
        },
        'linear',
        2 / k,
      );
    const weight = 5 * 9.80665;
    const effort = (k: number) => Math.max(...simulate(at(k)).axes[0]!.channels.effort) - weight;
    expect(effort(10) / effort(1)).toBeCloseTo(100, 2);
  });

  test('rotor inertia named for an axis is added to its motor torque', () => {
    const machine = machineWith(() => undefined);
    const [without, with_] = [simulate(machine), simulate(machine, { rotors: { axis1: 1e-3 } })];
    const k = 100;
    const axis = with_.axes[0]!;
    expect(axis.channels.motorTorque[k]).toBeCloseTo(
      without.axes[0]!.channels.motorTorque[k]! + 1e-3 * axis.motorAcceleration[k]!,
      12,
    );
    expect(axis.channels.shaftTorque[k]).toBe(without.axes[0]!.channels.shaftTorque[k]);
  });
});

describe('energy balance', () => {
  // A velocity step moves energy by an infinite force in no time, which no finite sample shows.
  const law = fc.constantFrom(...LAW_IDS.filter((id) => id !== 'straight'));
  const share = fc.double({ min: 0.3, max: 1, noNaN: true });
  const size = fc.double({ min: 0, max: 5, noNaN: true });
  const scenario = fc.record({
    laws: fc.tuple(law, law),
    reversed: fc.boolean(),
    slope: fc.double({ min: 0, max: Math.PI / 2, noNaN: true }),
    coulomb: size,
    viscous: size,
    force: fc.double({ min: -20, max: 20, noNaN: true }),
    efficiency: share,
    back: share,
    friction: fc.double({ min: 0, max: 0.2, noNaN: true }),
    rotor: fc.double({ min: 0, max: 1e-3, noNaN: true }),
    table: fc.boolean(),
  });

  function build(s: typeof scenario extends fc.Arbitrary<infer T> ? T : never, kind: Axis['kind']): Machine {
    return machineWith((axis) => {
      const losses = { inertia: 1e-4, efficiency: s.efficiency, backEfficiency: s.back, friction: s.friction };
      axis.reversed = s.reversed;
      axis.gearbox = { ratio: 4, ...losses };
      if (kind === 'linear') axis.transmission = { kind: 'screw', lead: 0.02, ...losses };
      else Object.assign(axis.load, { imbalance: 0.2, imbalanceAngle: 0.3 });
      const forceTable: [number, number][] = [
        [0.1, 0],
        [0.33, 8],
        [0.33, -3],
        [1.4, 5],
      ];
      Object.assign(axis.load, {
        slope: s.slope,
        coulomb: s.coulomb,
        viscous: s.viscous,
        force: s.force,
        forceTable: s.table ? forceTable : null,
      });
      axis.plan.segments.forEach((segment, i) => {
        if (segment.kind === 'move') segment.law = { id: s.laws[i === 0 ? 0 : 1]! };
      });
    }, kind);
  }

  test.each(['linear', 'rotary'] as const)('of a whole cycle closes to 1e-9 of the energy turned over (%s)', (kind) => {
    fc.assert(
      fc.property(scenario, (s) => {
        const run = simulate(build(s, kind), { rotors: { axis1: s.rotor } });
        const { balance } = run.axes[0]!.energy;
        fc.pre(balance.turnedOver > 1e-6);
        expect(Math.abs(balance.residual)).toBeLessThanOrEqual(1e-9 * balance.turnedOver);
      }),
      { numRuns: 40 },
    );
  });

  test('of a part of the cycle closes too, with energy left in masses and in height', () => {
    fc.assert(
      fc.property(scenario, fc.double({ min: 0.05, max: 0.65, noNaN: true }), (s, until) => {
        const machine = build(s, 'linear');
        const made = axisModel(machine.axes[0]!, new MachineMotions(movingMachine(machine)));
        const model = { ...made, rotorInertia: s.rotor };
        const table = machine.axes[0]!.load.forceTable?.map(([time]) => time) ?? [];
        const times = sampleTimes([model.motion], 2e-3, [until, ...table]).filter((time) => time <= until);
        const { energy } = integrateAxis(model, times);
        const balance = balanceOf(model, energy, 0, until);
        expect(Math.abs(balance.stored)).toBeGreaterThan(0);
        expect(Math.abs(balance.residual)).toBeLessThanOrEqual(1e-9 * (balance.turnedOver + Math.abs(balance.stored)));
      }),
      { numRuns: 40 },
    );
  });

  test('work on a constant force is force times path, by hand', () => {
    const machine = machineWith((axis) => {
      axis.transmission = { kind: 'belt', radius: 0.05, ...plain };
      axis.load = { ...axis.load, force: -50 };
      axis.plan = { start: 0, segments: [{ kind: 'move', id: 'a', duration: 1, to: 0.2, law: { id: 'poly345' } }] };
    });
    const { energy } = simulate(machine).axes[0]!;
    expect(energy.externalWork).toBeCloseTo(-10, 10);
    expect(energy.drawn - energy.regenerated).toBeCloseTo(10, 10);
  });
});

describe('the run as a whole', () => {
  test('a coarse step is warned of, an impossible one refused', () => {
    const machine = machineWith(() => undefined);
    expect(simulate({ ...machine, step: 0.1 }).findings.map((f) => f.code)).toEqual(['coarse-step']);
    const refused = simulate({ ...machine, step: 1e-9 });
    expect(refused.findings.map((f) => f.code)).toEqual(['step-refused']);
    expect(refused.step).toBe(refused.proposedStep);
  });

  test('a machine without axes gives an empty run', () => {
    expect(simulate(newMachine('Empty'))).toMatchObject({ axes: [], findings: [] });
  });

  test('axes share one grid of times, so a step of one is a pair of rows for all', () => {
    const machine = machineWith((axis) => {
      axis.plan.segments.forEach((s) => s.kind === 'move' && (s.law = { id: 'quadratic' }));
    });
    machine.axes.push(newAxis('rotary', machine.axes, 2));
    const run = simulate(machine);
    expect(run.axes[1]!.channels.position).toHaveLength(run.times.length);
    const pair = run.times.findIndex((time, k) => time === run.times[k + 1]);
    expect(run.axes[0]!.channels.acceleration[pair]).not.toBe(run.axes[0]!.channels.acceleration[pair + 1]);
    expect(run.axes[1]!.channels.acceleration[pair]).toBeCloseTo(run.axes[1]!.channels.acceleration[pair + 1]!, 6);
  });
});
