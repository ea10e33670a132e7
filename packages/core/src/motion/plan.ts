import type { LawId, LawParameters } from '../law';

/** The law a move follows, with values for the law's own parameters. */
export interface LawChoice {
  id: LawId;
  parameters?: LawParameters | undefined;
}

/** Rest at the position reached. Times in seconds. */
export interface DwellSegment {
  kind: 'dwell';
  id: string;
  duration: number;
}

/**
 * Speed and acceleration wished for at a knee of the displacement line; null leaves one free, to be chosen so that
 * the pieces on both sides join as smoothly as they can.
 */
export interface KneeWish {
  velocity: number | null;
  acceleration: number | null;
}

/** A rise or return to the position `to` (m or rad) under a law. Times in seconds. */
export interface MoveSegment {
  kind: 'move';
  id: string;
  duration: number;
  to: number;
  law: LawChoice;
  /** What is wished for at its end; absent: rest, or the speed of a straight line next to it. */
  knee?: KneeWish | undefined;
}

export type Segment = DwellSegment | MoveSegment;

/** Motion plan of one axis over cycle time: where it starts, and its segments in order (VDI 2143). */
export interface MotionPlan {
  start: number;
  /** What is wished for at the start; absent as in {@link MoveSegment}. */
  knee?: KneeWish | undefined;
  segments: readonly Segment[];
}

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
