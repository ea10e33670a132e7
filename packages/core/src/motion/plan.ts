import type { Axis } from '../machine';

/** Motion plan of one axis over cycle time: where it starts, and its segments in order (VDI 2143). Times in seconds. */
export type MotionPlan = Axis['plan'];
export type Segment = MotionPlan['segments'][number];
/** Rest at the position reached. */
export type DwellSegment = Extract<Segment, { kind: 'dwell' }>;
/** A rise or return to the position `to` (m or rad) under a law. */
export type MoveSegment = Extract<Segment, { kind: 'move' }>;
/** The law a move follows, with values for the law's own parameters. */
export type LawChoice = MoveSegment['law'];
/**
 * Speed and acceleration wished for at a knee of the displacement line; null leaves one free, to be chosen so that
 * the pieces on both sides join as smoothly as they can.
 */
export type KneeWish = NonNullable<MoveSegment['knee']>;

/** Knee of the displacement line: where one segment ends and the next begins. */
export interface Knee {
  time: number;
  position: number;
}

/** All knees of a plan, the start and the end included: one more than it has segments. */
export function planKnees(plan: MotionPlan): Knee[] {
  const knees: Knee[] = [{ time: 0, position: plan.start }];
  let time = 0;
  let position = plan.start;
  for (const segment of plan.segments) {
    time += segment.duration;
    if (segment.kind === 'move') position = segment.to;
    knees.push({ time, position });
  }
  return knees;
}

/** Sum of all segment times in seconds. */
export function planDuration(plan: MotionPlan): number {
  return plan.segments.reduce((sum, segment) => sum + segment.duration, 0);
}
