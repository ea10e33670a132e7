import fc from 'fast-check';
import { planOf } from '../../test/plans';
import { newAxis, newMachine, type Axis, type Machine } from '../machine';
import {
  blocksMotion,
  cycleThatFits,
  longestMotion,
  MachineMotions,
  motionAt,
  motionBlocks,
  movingMachine,
  pointErrors,
  runBlocks,
  type Motion,
} from '.';

const FREE = { velocity: null, acceleration: null, jerk: null };

function machineWith(change: (axis: Axis) => void, cycle = 2): Machine {
  const machine = newMachine('Convert');
  machine.cycle = { given: 'time', time: cycle };
  const axis = newAxis('linear', [], cycle);
  change(axis);
  machine.axes.push(axis);
  return machine;
}
const motionOf = (machine: Machine): Motion => new MachineMotions(movingMachine(machine)).of('axis1').motion;
/** The blocks that a motion is kept as, carried out. */
function kept(motion: Motion) {
  const start = motionAt(motion, 0).position;
  const blocks = motionBlocks(motion, FREE);
  const { stretches } = runBlocks(blocks, start, FREE);
  return { blocks, made: blocksMotion(stretches, start, motion.duration), end: stretches.at(-1)?.to ?? 0 };
}

describe('a motion kept as servo moves', () => {
  test('is where it was at every rest, for plans of any laws', () => {
    const law = fc.constantFrom('poly345', 'poly4567', 'cycloidal', 'modifiedSine', 'harmonic', 'trapezoidal');
    const step = fc.tuple(law, fc.double({ min: 0.05, max: 1, noNaN: true }), fc.double({ min: 0.05, max: 0.3, noNaN: true }), fc.boolean()); // prettier-ignore
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 5 }), (steps) => {
        let [time, place] = [0, 0];
        const knees: [number, number][] = [];
        const machine = machineWith((axis) => {
          axis.plan.start = 0;
          axis.plan.segments = steps.flatMap(([id, duration, stroke, rests], i) => {
            place += i % 2 === 0 ? stroke : -stroke;
            time += duration;
            knees.push([time, place]);
            if (rests) time += 0.2;
            const move = { kind: 'move' as const, id: `m${i}`, duration, to: place, law: { id } };
            return rests ? [move, { kind: 'dwell' as const, id: `d${i}`, duration: 0.2 }] : [move];
          });
        });
        machine.cycle = { given: 'time', time };
        const { made, end } = kept(motionOf(machine));
        expect(end).toBeCloseTo(time, 6);
        for (const [at, wanted] of knees) expect(motionAt(made, Math.min(at, time)).position).toBeCloseTo(wanted, 5);
      }),
    );
  });

  test('of a sine goes from turn to turn, and reaches each', () => {
    const machine = machineWith((axis) => {
      axis.motion.source = { kind: 'harmonic', mean: 0, amplitude: 0.05, frequency: 1, phase: 0 };
    });
    const { blocks, made } = kept(motionOf(machine));
    expect(blocks.map(({ kind }) => kind)).toEqual(Array.from({ length: 5 }, () => 'travel'));
    for (const [time, wanted] of [
      [0.25, 0.05],
      [0.75, -0.05],
      [1.25, 0.05],
      [1.75, -0.05],
      [2, 0],
    ] as const)
      // prettier-ignore
      expect(motionAt(made, time).position).toBeCloseTo(wanted, 3);
  });

  test('of a constant speed goes the same way in the cycle; of none there is nothing to do', () => {
    const moving = machineWith((axis) => {
      axis.motion.level = 'velocity';
      axis.motion.source = { kind: 'constant', value: 0.1 };
    });
    expect(kept(motionOf(moving)).blocks).toMatchObject([{ kind: 'travel', time: 2, value: expect.closeTo(0.2, 9) }]);
    const still = machineWith((axis) => void (axis.motion.source = { kind: 'constant', value: 0.1 }));
    expect(kept(motionOf(still)).blocks).toEqual([]);
  });
});

test('a table is passed by as far as it is smoothed; points beyond the cycle are not judged', () => {
  const rows = [[0, 0], [0.5, 0.1], [1, 0.02], [1.5, 0.11], [2, 0], [3, 0]]; // prettier-ignore
  const through = motionOf(machineWith((axis) => void (axis.motion.source = { kind: 'points', rows, way: 'quintic', ends: 'rest', tolerance: 0 }))); // prettier-ignore
  const near = motionOf(machineWith((axis) => void (axis.motion.source = { kind: 'points', rows: rows.slice(0, 5), way: 'quintic', ends: 'rest', tolerance: 0.02 }))); // prettier-ignore
  expect(pointErrors(through, rows.slice(0, 5), 'position').every((e) => Math.abs(e) < 1e-12)).toBe(true);
  expect(pointErrors(through, rows, 'position')[5]).toBeNaN();
  const off = pointErrors(near, rows.slice(0, 5), 'position').map(Math.abs);
  expect(Math.max(...off)).toBeGreaterThan(1e-3);
  expect(Math.max(...off)).toBeLessThanOrEqual(0.02 * (1 + 1e-9));
});

describe('a cycle that follows its motions', () => {
  test('gets as long as the longest, given as a time or a rate, and never shorter', () => {
    const machine = machineWith((axis) => void (axis.plan = planOf('poly345', [1.5, 0.1], [1.5, 0])));
    expect(longestMotion(machine)).toBeCloseTo(3, 12);
    expect(cycleThatFits(machine)).toEqual({ given: 'time', time: expect.closeTo(3, 12) });
    expect(cycleThatFits({ ...machine, cycle: { given: 'rate', rate: 1 } })).toEqual({ given: 'rate', rate: expect.closeTo(1 / 3, 12) }); // prettier-ignore
    expect(cycleThatFits({ ...machine, cycle: { given: 'time', time: 5 } })).toEqual({ given: 'time', time: 5 });
  });

  test('counts servo moves and tables; what cannot be carried out does not count', () => {
    const open = { velocity: null, acceleration: null, deceleration: null, jerk: null };
    const travel = { id: 'b1', kind: 'travel' as const, given: 'by' as const, value: 0.1, time: 4, ...open };
    const moves = machineWith((axis) => {
      axis.limits = { velocity: 1, acceleration: 10, jerk: null };
      axis.motion.source = { kind: 'moves', blocks: [travel] };
    });
    expect(longestMotion(moves)).toBeCloseTo(4, 9);
    moves.axes[0]!.limits.velocity = null;
    expect(longestMotion(moves)).toBe(0);
    const table = machineWith((axis) => void (axis.motion.source = { kind: 'points', rows: [[0, 0], [7, 1]], way: 'line', ends: 'free', tolerance: 0 })); // prettier-ignore
    expect(longestMotion(table)).toBe(7);
  });
});
