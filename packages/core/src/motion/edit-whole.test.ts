import fc from 'fast-check';
import { planOf } from '../../test/plans';
import {
  kneeStates,
  motionAt,
  planDuration,
  planKnees,
  planMotion,
  scalePlan,
  scaleTimes,
  setKneeWish,
  shiftPlan,
  splitSegment,
  mirrorSegments,
  type MotionPlan,
  type Segment,
} from './index';

const law = { id: 'modifiedSine' } as const;
const plan = planOf(law.id, [0.4, 0.2], [0.3], [0.5, 0], [0.8]);
let count = 0;
const newId = () => `n${++count}`;
const at = (p: MotionPlan, time: number) => motionAt(planMotion(p, planDuration(p)), time);

describe('shift in phase', () => {
  test('by any time that cuts no move, the motion is the same, later (property)', () => {
    // Cuts fall into the dwells: the plan ends 2 s after its start, so shifts of 0 to 0.8 s cut the last dwell.
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 0.79, noNaN: true }),
        fc.double({ min: 0, max: 2, noNaN: true }),
        (by, time) => {
          const shifted = shiftPlan(plan, by, newId);
          expect(planDuration(shifted)).toBeCloseTo(2, 12);
          const before = (((time - by) % 2) + 2) % 2;
          expect(at(shifted, time).position).toBeCloseTo(at(plan, before).position, 9);
        },
      ),
      { numRuns: 60 },
    );
  });
  test('a move is not cut: it begins whole; a full length changes nothing', () => {
    const shifted = shiftPlan(plan, 1.05, newId);
    expect(shifted.segments.filter(({ kind }) => kind === 'move')).toHaveLength(2);
    expect(shiftPlan(plan, 2, newId)).toBe(plan);
  });
  test('a plan that advances keeps its advance', () => {
    const moving: MotionPlan = {
      start: 0,
      segments: [
        { kind: 'move', id: 'a', duration: 1, to: 0.1, law },
        { kind: 'dwell', id: 'b', duration: 1 },
      ],
    };
    const shifted = shiftPlan(moving, 0.5, newId);
    const knees = planKnees(shifted);
    expect(knees.at(-1)!.position - shifted.start).toBeCloseTo(0.1, 12);
  });
});

const wished: MotionPlan = {
  ...plan,
  segments: plan.segments
    .map((s): Segment =>
      s.id === 'a'
        ? { ...s, kind: 'move', to: 0.2, law: { id: 'poly345' }, knee: { velocity: 0.3, acceleration: -1 } }
        : s,
    )
    .toSpliced(1, 1),
};

test('scaling the stroke scales speeds at knees; scaling the time divides them', () => {
  expect(at(scalePlan(wished, -2), 0.4).position).toBeCloseTo(-0.4, 12);
  expect(kneeStates(scalePlan(wished, -2))[1]).toMatchObject({ velocity: -0.6, acceleration: 2 });
  const slow = scaleTimes(wished, 2);
  expect(kneeStates(slow)[1]).toMatchObject({ time: 0.8, velocity: 0.15, acceleration: -0.25 });
  expect(at(slow, 0.6).velocity).toBeCloseTo(at(wished, 0.3).velocity / 2, 12);
});

test('the return of a move that ends in motion runs its knees backwards', () => {
  const mirrored = mirrorSegments({ ...wished, segments: wished.segments.slice(0, 2) }, 0, 1, newId);
  const T = planDuration(mirrored);
  for (const time of [0.1, 0.35, 0.6]) {
    expect(at(mirrored, T - time).position).toBeCloseTo(at(mirrored, time).position, 9);
    expect(at(mirrored, T - time).velocity).toBeCloseTo(-at(mirrored, time).velocity, 8);
  }
});

test('a wish at a knee is set and taken away; the two ends of a closed plan are one knee', () => {
  const wish = { velocity: 0.1, acceleration: null };
  const moves: MotionPlan = { start: 0, segments: [plan.segments[0]!, plan.segments[2]!] };
  const closed = setKneeWish(moves, 2, wish);
  expect(closed.knee).toEqual(wish);
  expect(closed.segments[1]).toMatchObject({ knee: wish });
  const none = setKneeWish(closed, 0, undefined);
  expect('knee' in none).toBe(false);
  expect('knee' in none.segments[1]!).toBe(false);
  expect(setKneeWish(moves, 1, wish).segments[0]).toMatchObject({ knee: wish });
});

test('split for a wait: the wait stands between the halves, and the first half comes to rest', () => {
  const split = splitSegment(wished, 'a', newId, 0.5, 0.2);
  expect(split.segments.map(({ kind }) => kind).slice(0, 3)).toEqual(['move', 'dwell', 'move']);
  expect(split.segments[0]).not.toHaveProperty('knee');
  expect(split.segments[2]).toHaveProperty('knee');
});
