import { planOf } from '../../test/plans';
import { lawCharacteristics, makeLaw } from '../law';
import { newAxis, newMachine, type Axis, type Machine } from '../machine';
import { planDuration } from '../motion';
import { simulate } from '../run';
import {
  bestProposals,
  judgeCandidate,
  planCandidates,
  pricePlan,
  proposalProblem,
  withLaw,
  type JudgedCandidate,
  type ProposalTask,
} from './index';
import { readFileSync } from 'node:fs';
import { readMachineText } from '../machine';

/** A mass of 10 kg lifted 300 mm in 0.4 s and let down in 0.6 s on a belt without losses. */
function lift(slope = 0): { machine: Machine; axis: Axis } {
  const machine = newMachine('Lift');
  machine.cycle = { given: 'time', time: 1 };
  const axis = newAxis('linear', [], 1);
  axis.load = { ...axis.load, inertia: 10, slope };
  axis.transmission = { kind: 'belt', radius: 0.05, inertia: 0, efficiency: 1, backEfficiency: 1, friction: 0 };
  axis.plan = planOf('quadratic', [0.4, 0.3], [0.6, 0]);
  machine.axes = [axis];
  return { machine, axis };
}
const task = (goal: ProposalTask['goal'], more: Partial<ProposalTask> = {}): ProposalTask => ({
  axisId: 'axis1',
  goal,
  oscillator: null,
  motor: null,
  ...more,
});
const judgeAll = (machine: Machine, wish: ProposalTask): JudgedCandidate[] =>
  planCandidates(machine.axes[0]!, wish.goal).flatMap((candidate) => judgeCandidate(machine, wish, candidate) ?? []);

test('prices of an inertia load are closed forms: m r Ca s/T² at the peak, m r s/T² rms f″ over the cycle', () => {
  const { machine, axis } = lift();
  for (const id of ['poly345', 'modifiedSine', 'cycloidal'] as const) {
    const { ca, rmsAcceleration: rms } = lawCharacteristics(makeLaw(id));
    const price = pricePlan(machine, task('peak'), withLaw(axis.plan, { id }));
    expect(price.peakTorque).toBeCloseTo(10 * 0.05 * ca * (0.3 / 0.16), 3);
    const square = 0.4 * (0.3 / 0.16) ** 2 + 0.6 * (0.3 / 0.36) ** 2;
    expect(price.rmsTorque).toBeCloseTo(10 * 0.05 * rms * Math.sqrt(square), 3);
  }
});

test('the price is that of a full run of the machine', () => {
  const { machine, axis } = lift(Math.PI / 2);
  const plan = withLaw(axis.plan, { id: 'modifiedTrapezoid' }, 1.1);
  const run = simulate({ ...machine, axes: [{ ...axis, plan: plan as Axis['plan'] }] }).axes[0]!;
  const price = pricePlan(machine, task('rms'), plan);
  expect(price.rmsTorque / run.rms.motorTorque).toBeCloseTo(1, 4);
  expect(price.peakTorque).toBeCloseTo(Math.max(...run.channels.motorTorque.map(Math.abs)), 3);
});

describe('least torque', () => {
  const { machine } = lift();
  test('of rise and return with the same stroke, equal times are best for an inertia load', () => {
    const [best] = bestProposals(judgeAll(machine, task('peak')), 'peak');
    // 0.4 and 0.6 s become nearly equal: peaks as 1/T².
    const [rise, back] = best!.plan.segments.map(({ duration }) => duration) as [number, number];
    expect(Math.abs(rise - back)).toBeLessThan(0.04);
    expect(rise + back).toBeCloseTo(1, 12);
    // No smooth law is below the parabola's 4 s/T² at T = 0.5 s.
    expect(best!.price.peakTorque).toBeGreaterThan(10 * 0.05 * 4 * (0.3 / 0.25));
    expect(best!.price.peakTorque).toBeLessThan(10 * 0.05 * 5.3 * (0.3 / 0.25));
  });
  test('lifting against gravity, it accelerates more gently than it brakes on the way up', () => {
    const { machine: vertical } = lift(Math.PI / 2);
    const [best] = bestProposals(judgeAll(vertical, task('peak')), 'peak');
    expect(best!.law.parameters!.split).toBeGreaterThan(0.5);
  });
  test('proposals differ in law, come best first, and never break a limit of the axis', () => {
    const limited = lift();
    limited.axis.limits.acceleration = 12;
    const found = bestProposals(judgeAll(limited.machine, task('rms')), 'rms');
    expect(new Set(found.map(({ law }) => law.id)).size).toBe(found.length);
    found.forEach(({ price }, i) => {
      expect(price.acceleration).toBeLessThanOrEqual(12 * (1 + 1e-9));
      if (i > 0) expect(price.rmsTorque).toBeGreaterThanOrEqual(found[i - 1]!.price.rmsTorque);
    });
  });
});

describe('shortest time', () => {
  test('under an acceleration limit alone it is √(Ca s/a) for each move, whatever the law', () => {
    const { machine, axis } = lift();
    axis.limits.acceleration = 10;
    axis.plan.segments[1]!.duration = 0.4;
    for (const id of ['poly345', 'modifiedTrapezoid'] as const) {
      const judged = judgeCandidate(machine, task('time'), {
        plan: withLaw(axis.plan, { id }),
        law: { id },
        shift: 1,
      })!;
      const { ca } = lawCharacteristics(makeLaw(id));
      expect(planDuration(judged.plan) / (2 * Math.sqrt((ca * 0.3) / 10))).toBeCloseTo(1, 3);
      expect(judged.bound).toBe('acceleration limit of the axis');
    }
  });
  test('without any limit there is no shortest', () => {
    const { machine, axis } = lift();
    expect(judgeCandidate(machine, task('time'), { plan: axis.plan, law: { id: 'poly345' }, shift: 1 })).toBeNull();
  });
});

test('an oscillation is priced too, and what is not a plan is refused in words', () => {
  const { machine, axis } = lift();
  const with20 = pricePlan(
    machine,
    task('peak', { oscillator: { frequency: 6, damping: 0.02 } }),
    withLaw(axis.plan, { id: 'poly4567' }),
  );
  expect(with20.vibration).toBeGreaterThan(0);
  expect(with20.vibration).toBeLessThan(0.05);
  expect(proposalProblem({ ...axis, motion: { ...axis.motion, source: { kind: 'constant', value: 1 } } })).toMatch(
    /led by one/,
  );
  expect(proposalProblem(axis)).toBeNull();
});

test('an axis that drives a mechanism is judged by the run of the whole machine', () => {
  const read = readMachineText(readFileSync('demo/dosing-rocker.yoke.json', 'utf8'));
  if (!read.ok) throw new Error('demo');
  const axis = read.machine.axes.find(({ joint, motion }) => joint !== null && motion.source.kind === 'plan');
  const { machine } = read;
  const tied = axis ?? machine.axes[0]!;
  const price = pricePlan(machine, { ...task('peak'), axisId: tied.id }, tied.plan);
  const run = simulate(machine).axes.find(({ axisId }) => axisId === tied.id)!;
  expect(price.peakTorque / Math.max(...run.channels.motorTorque.map(Math.abs))).toBeCloseTo(1, 2);
});
