import fc from 'fast-check';
import { planOf } from '../../test/plans';
import {
  deleteSegment,
  dragKnee,
  fitToCycle,
  insertSegment,
  mirrorSegments,
  motionAt,
  planDuration,
  planKnees,
  planMotion,
  reorderSegment,
  setSegmentTime,
  splitSegment,
  strokeOf,
  type MotionPlan,
} from './index';

const law = { id: 'poly345' } as const;
const plan = planOf(law.id, [0.5, 0.2], [0.25], [0.5, 0], [0.75]);
let counter = 0;
const newId = () => `n${++counter}`;
const positions = (p: MotionPlan) => planKnees(p).map((knee) => knee.position);
const times = (p: MotionPlan) => planKnees(p).map((knee) => knee.time);

test('dragging a knee in time moves it between its neighbours, which stay', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 3 }), fc.double({ min: -1, max: 3, noNaN: true }), (knee, time) => {
      const dragged = dragKnee(plan, knee, time, planKnees(plan)[knee]!.position);
      const knees = times(dragged);
      for (const [i, before] of times(plan).entries()) if (i !== knee) expect(knees[i]).toBeCloseTo(before, 12);
      expect(knees[knee]).toBeGreaterThan(knees[knee - 1]!);
      expect(knees[knee]).toBeLessThan(knees[knee + 1]!);
    }),
  );
});

test('dragging a rest up takes both its ends along', () => {
  expect(positions(dragKnee(plan, 2, 0.75, 0.3))).toEqual([0, 0.3, 0.3, 0, 0]);
});

test('dragging the start of a closed plan keeps it closed', () => {
  expect(positions(dragKnee(plan, 0, 0, 0.05))).toEqual([0.05, 0.2, 0.2, 0.05, 0.05]);
  expect(positions(dragKnee(plan, 4, 2, 0.05))).toEqual([0.05, 0.2, 0.2, 0.05, 0.05]);
});

test('dragging the last knee changes the length of the plan', () => {
  expect(planDuration(dragKnee(plan, 4, 2.5, 0))).toBeCloseTo(2.5, 12);
});

test('a split changes nothing of where the knees were, and adds the wait asked for', () => {
  const split = splitSegment(plan, 'a', newId, 0.5, 0.1);
  expect(positions(split)).toEqual([0, 0.1, 0.1, 0.2, 0.2, 0, 0]);
  expect(planDuration(split)).toBeCloseTo(planDuration(plan) + 0.1, 12);
  expect(new Set(split.segments.map(({ id }) => id)).size).toBe(6);
});

test('mirroring a forward stroke makes the return: the same run backwards in time', () => {
  const asymmetric = { id: 'trapezoidal', parameters: { acceleration: 0.2, deceleration: 0.5 } } as const;
  const forward: MotionPlan = {
    start: 0,
    segments: [{ kind: 'move', id: 'a', duration: 1, to: 0.3, law: asymmetric }],
  };
  const both = planMotion(mirrorSegments(forward, 0, 0, newId), 2);
  for (const t of [0.1, 0.37, 0.5, 0.81]) {
    expect(motionAt(both, 2 - t).position).toBeCloseTo(motionAt(both, t).position, 12);
    expect(motionAt(both, 2 - t).velocity).toBeCloseTo(-motionAt(both, t).velocity, 12);
  }
});

test('reordering keeps strokes and times, so the plan ends where it ended', () => {
  const moved = reorderSegment(plan, 0, 2);
  expect(moved.segments.map(({ id }) => id)).toEqual(['b', 'c', 'a', 'd']);
  expect(strokeOf(moved, 1)).toBeCloseTo(-0.2, 12);
  expect(positions(moved).at(-1)).toBeCloseTo(0, 12);
});

test('insert, delete and set a time', () => {
  const longer = insertSegment(plan, 1, { kind: 'dwell', id: 'e', duration: 0.1 });
  expect(longer.segments.map(({ id }) => id)).toEqual(['a', 'e', 'b', 'c', 'd']);
  expect(deleteSegment(longer, 'e')).toEqual(plan);
  expect(planDuration(setSegmentTime(plan, 'a', 1))).toBeCloseTo(2.5, 12);
});

test('fitting to the cycle keeps the shares', () => {
  const fitted = fitToCycle(plan, 1);
  expect(planDuration(fitted)).toBeCloseTo(1, 12);
  expect(fitted.segments[0]!.duration).toBeCloseTo(0.25, 12);
});
