import { findLaw, makeLaw, type MotionLaw } from '../law';
import { fillHermite } from '../numeric';
import { planKnees, type KneeWish, type MotionPlan, type Segment } from './plan';

/** What a motion does at a knee: SI values of the axis. */
export interface KneeState {
  time: number;
  position: number;
  velocity: number;
  acceleration: number;
}

/** One segment ready to move: from `start` by `stroke` times its law; `end` is where it gets to. */
export interface PlanPiece {
  from: number;
  to: number;
  start: number;
  end: number;
  stroke: number;
  law: MotionLaw | undefined;
  /** Whether it begins or ends in motion, so that its law is made for these ends. */
  moving: boolean;
}

const isStraight = (segment: Segment | undefined) => segment?.kind === 'move' && segment.law.id === 'straight';
const meetsAcceleration = (segment: Segment | undefined) =>
  segment?.kind === 'move' && findLaw(segment.law.id)?.meetsAcceleration === true;

/** Whether a plan ends where it began. */
export function closes(plan: MotionPlan): boolean {
  return planKnees(plan).at(-1)!.position === plan.start;
}

/**
 * Speed and acceleration at every knee. Fixed where the plan fixes them; nothing beside a dwell; the speed of a
 * straight line beside one; rest where nothing is said. Free ones are chosen together so that the integral of the
 * squared jerk over the polynomials between them is least, which joins neighbours up to the fourth derivative.
 */
export function kneeStates(plan: MotionPlan): KneeState[] {
  const knees = planKnees(plan);
  const { segments } = plan;
  const count = segments.length;
  const closed = count > 0 && closes(plan);
  const slope = (i: number) => (knees[i + 1]!.position - knees[i]!.position) / segments[i]!.duration;
  const own = (k: number) => (k === 0 ? plan.knee : (segments[k - 1] as { knee?: KneeWish }).knee);
  const resolved = knees.map((_, k): [number | null, number | null] => {
    // A closed plan goes on where it began: its two ends are one knee.
    const before = segments[k - 1] ?? (closed ? segments[count - 1] : undefined);
    const after = segments[k] ?? (closed ? segments[0] : undefined);
    const wish = own(k);
    if (wish) {
      const curved = [before, after].every((s) => s === undefined || meetsAcceleration(s));
      return [wish.velocity, wish.acceleration === null && !curved ? 0 : wish.acceleration];
    }
    if (before?.kind === 'dwell' || after?.kind === 'dwell') return [0, 0];
    const beside = isStraight(before) ? (k > 0 ? k - 1 : count - 1) : isStraight(after) ? (k < count ? k : 0) : -1;
    return beside < 0 ? [0, 0] : [slope(beside), 0];
  });
  if (resolved.some(([v, a]) => v === null || a === null)) {
    const ends = [resolved[0]!, resolved[count]!];
    const cyclic = closed && count > 2 && ends.every(([v, a]) => v === null && a === null);
    const filled = fillHermite({
      degree: 5,
      x: knees.map(({ time }) => time),
      given: knees.map(({ position }, k) => [position, ...resolved[k]!]),
      cyclic,
    });
    resolved.forEach((pair, k) => {
      pair[0] = filled.values[3 * k + 1]!;
      pair[1] = filled.values[3 * k + 2]!;
    });
  }
  return knees.map((knee, k) => ({ ...knee, velocity: resolved[k]![0]!, acceleration: resolved[k]![1]! }));
}

/** The segments of a plan with the laws they move by. */
export function planPieces(plan: MotionPlan): PlanPiece[] {
  const knees = plan.segments.every(({ duration }) => duration > 0)
    ? kneeStates(plan)
    : planKnees(plan).map((knee) => ({ ...knee, velocity: 0, acceleration: 0 }));
  return plan.segments.map((segment, i): PlanPiece => {
    const { time: from, position: start, velocity: v0, acceleration: a0 } = knees[i]!;
    const { time: to, position: end, velocity: v1, acceleration: a1 } = knees[i + 1]!;
    const piece = { from, to, start, end, stroke: end - start, law: undefined, moving: false };
    if (segment.kind === 'dwell') return piece;
    const { id, parameters = {} } = segment.law;
    const family = findLaw(id)!;
    const moving = family.between !== undefined && [v0, v1, a0, a1].some((value) => value !== 0);
    if (!moving) return { ...piece, law: end === start ? undefined : makeLaw(id, parameters) };
    const T = to - from;
    const ends = { rise: end - start, v0: v0 * T, v1: v1 * T, a0: a0 * T * T, a1: a1 * T * T };
    return { ...piece, stroke: 1, law: family.between!(ends, parameters), moving: true };
  });
}
