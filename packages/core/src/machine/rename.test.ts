import {
  motionAt,
  MachineMotions,
  motionPoints,
  motionBlocks,
  planFormula,
  planMotion,
  pointsMotion,
  runBlocks,
  blocksMotion,
  movingMachine,
} from '../motion';
import { newAxis, newMachine, renameAxis, type Axis, type Machine } from './index';

function two(): Machine {
  const machine = newMachine('M');
  machine.cycle = { given: 'time', time: 2 };
  const lift = { ...newAxis('linear', [], 2), name: 'Lift' };
  const other = { ...newAxis('linear', [lift], 2), name: 'Gripper' };
  other.motion = { ...other.motion, source: { kind: 'formula', text: '0.5 * position("Lift")' } };
  other.load = { ...other.load, formula: 'position("Lift") > 10 mm ? 3 N : 0 N' };
  machine.axes = [lift, other];
  return machine;
}

test('an axis that is renamed keeps its followers', () => {
  const renamed = renameAxis(two(), 'axis1', 'Plug lift');
  expect(renamed.axes[1]!.motion.source).toMatchObject({ text: '0.5 * position("Plug lift")' });
  expect(renamed.axes[1]!.load.formula).toContain('"Plug lift"');
  expect(new MachineMotions(movingMachine(renamed)).of('axis2').problems).toEqual([]);
});

describe('a plan written in another form is the same motion', () => {
  const machine = two();
  const plan: Axis['plan'] = { ...machine.axes[0]!.plan, start: 0.02 };
  const motion = planMotion(plan, 2);
  const positions = [0.1, 0.35, 0.8, 1.3, 1.9].map((t) => [t, motionAt(motion, t).position] as const);
  test.each(['metric', 'inch'] as const)('as a formula, %s', (system) => {
    const axis = {
      ...machine.axes[0]!,
      motion: {
        ...machine.axes[0]!.motion,
        source: { kind: 'formula' as const, text: planFormula(plan, 'linear', system) },
      },
    };
    const made = new MachineMotions({ ...movingMachine(machine), axes: [axis] }).of('axis1');
    expect(made.problems).toEqual([]);
    for (const [t, p] of positions) expect(motionAt(made.motion, t).position).toBeCloseTo(p, 9);
  });
  test('as servo moves: the same ways in the same times, with limits of their own only where the axis has none', () => {
    for (const limits of [
      { velocity: 5, acceleration: 50, jerk: null },
      { velocity: null, acceleration: null, jerk: null },
    ]) {
      const blocks = motionBlocks(motion, limits);
      expect(blocks.every((block) => block.kind === 'wait' || (block.kind === 'travel' && (block.velocity === null) === (limits.velocity !== null)))).toBe(true); // prettier-ignore
      const { stretches, results } = runBlocks(blocks, 0.02, limits);
      const made = blocksMotion(stretches, 0.02, 2);
      for (const knee of [0.7, 1.1, 1.8])
        expect(motionAt(made, knee).position).toBeCloseTo(motionAt(motion, knee).position, 6);
      expect(results.at(-1)!.to).toBeCloseTo(2, 9);
    }
  });
  test('as points', () => {
    const made = pointsMotion(motionPoints(motion, 41), { way: 'quintic', ends: 'rest', tolerance: 0 }, 2);
    for (const [t, p] of positions) expect(motionAt(made, t).position).toBeCloseTo(p, 4);
  });
});
