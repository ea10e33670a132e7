import { lawCharacteristics, type MotionLaw } from '../law';
import type { Axis } from '../machine';
import type { EngagementJump } from './follow';
import { planPieces, type PlanPiece } from './knees';
import { motionAt, planMotion, type Motion, type MotionState } from './motion';
import { planDuration, planKnees, type MotionPlan } from './plan';

/** Limits of an axis; null where there is none. SI units of the axis. */
export type MotionLimits = Axis['limits'];

/** Range of positions; null for an axis without ends (a belt, a dial). */
export type TravelRange = Axis['travel'];

/** Derivative that jumps: 0 position, 1 velocity, 2 acceleration. */
export type JumpOrder = 0 | 1 | 2;

export type LimitedQuantity = keyof MotionLimits;

/** What is found wrong or noteworthy in a plan; all numbers in SI units. */
export type PlanFinding =
  | { code: 'empty'; severity: 'error' }
  | { code: 'plan-too-long'; severity: 'error'; planTime: number; cycleTime: number }
  | { code: 'plan-short'; severity: 'info'; planTime: number; cycleTime: number }
  | { code: 'not-closed'; severity: 'error'; gap: number; time: number }
  | { code: 'advances'; severity: 'info'; advance: number }
  | {
      code: 'jump';
      severity: 'error' | 'warning';
      order: JumpOrder;
      time: number;
      before: number;
      after: number;
      segmentId: string;
      inside: boolean;
    }
  | {
      code: 'limit';
      severity: 'error';
      quantity: LimitedQuantity;
      time: number;
      value: number;
      limit: number;
      segmentId: string;
      duration: number;
      /** Shortest time of the segment that keeps this limit; null where no time does. */
      shortestTime: number | null;
    }
  | {
      code: 'over-limit';
      severity: 'error';
      quantity: LimitedQuantity;
      time: number;
      value: number;
      limit: number;
    }
  | {
      code: 'seam';
      severity: 'error' | 'warning';
      quantity: 'velocity' | 'acceleration';
      before: number;
      after: number;
    }
  | { code: 'formula'; severity: 'error'; where?: 'load'; text: string; from: number; to: number }
  | { code: 'motion'; severity: 'error'; text: string; blockId: string | null }
  | { code: 'engage'; severity: 'error'; text: string; jump: EngagementJump | null }
  | {
      code: 'break';
      severity: 'error' | 'warning';
      order: JumpOrder | 3;
      time: number;
      before: number;
      after: number;
    }
  /** A value that is no number, or infinite: the channel is not shown. */
  | { code: 'no-number'; severity: 'error'; what: string; time?: number }
  | { code: 'home'; severity: 'info'; start: number; home: number }
  | { code: 'travel'; severity: 'error'; time: number; position: number; limit: number; end: 'min' | 'max' };

export type PlanFindingCode = PlanFinding['code'];

/** What a plan is checked against. */
export interface PlanContext {
  /** Up to which derivative the motion shall be continuous; the acceleration where nothing is said. */
  smooth?: 'velocity' | 'acceleration' | 'jerk';
  cycleTime: number;
  limits: MotionLimits;
  travel: TravelRange;
  /** Whether the motion was made by a cycle that was run once: it need not close, and may be cut off. */
  once?: boolean;
  /** Whether the machine runs once, from rest to rest: a motion need not come back to where it began. */
  oneOff?: boolean | undefined;
}

/** Relative tolerance of all comparisons of positions and times. */
const TOLERANCE = 1e-9;

/** Checks a plan on its own and against the limits of its axis; findings in order of time within each kind. */
export function checkPlan(plan: MotionPlan, context: PlanContext): PlanFinding[] {
  if (plan.segments.length === 0) return [{ code: 'empty', severity: 'error' }];
  return [
    ...checkClosing(plan, context),
    ...checkJumps(plan, context),
    ...checkTravel(plan, context.travel),
    ...checkLimits(plan, context.limits),
  ];
}

/** Largest distance between knees; the size against which positions are compared. */
function strokeScale(plan: MotionPlan): number {
  const positions = planKnees(plan).map((knee) => knee.position);
  return Math.max(...positions) - Math.min(...positions) || 1;
}

function checkClosing(plan: MotionPlan, { cycleTime, travel, oneOff }: PlanContext): PlanFinding[] {
  const findings: PlanFinding[] = [];
  const planTime = planDuration(plan);
  if (planTime > cycleTime * (1 + TOLERANCE)) {
    findings.push({ code: 'plan-too-long', severity: 'error', planTime, cycleTime });
  } else if (planTime < cycleTime * (1 - TOLERANCE)) {
    findings.push({ code: 'plan-short', severity: 'info', planTime, cycleTime });
  }
  const end = planKnees(plan).at(-1)!;
  const gap = end.position - plan.start;
  if (!oneOff && Math.abs(gap) > strokeScale(plan) * TOLERANCE) {
    findings.push(
      travel === null
        ? { code: 'advances', severity: 'info', advance: gap }
        : { code: 'not-closed', severity: 'error', gap, time: end.time },
    );
  }
  return findings;
}

const FIELDS = ['position', 'velocity', 'acceleration'] as const satisfies (keyof MotionState)[];

/** Jumps of position, velocity and acceleration where segments meet, where the cycle closes, and inside laws. */
function checkJumps(plan: MotionPlan, { oneOff }: PlanContext): PlanFinding[] {
  const duration = planDuration(plan);
  if (duration <= 0) return [];
  const motion = planMotion(plan, duration);
  const pieces = planPieces(plan);
  const shortest = Math.min(...plan.segments.map((segment) => segment.duration));
  const scale = strokeScale(plan);
  const sizes = [scale, scale / shortest, scale / shortest ** 2];
  const findings: PlanFinding[] = [];

  const compare = (time: number, a: MotionState, b: MotionState, segmentId: string, inside: boolean) => {
    const order = FIELDS.findIndex((field, i) => Math.abs(b[field] - a[field]) > sizes[i]! * TOLERANCE) as
      JumpOrder | -1;
    if (order === -1) return;
    const field = FIELDS[order]!;
    findings.push({
      code: 'jump',
      severity: order === 2 ? 'warning' : 'error',
      order,
      time,
      before: a[field],
      after: b[field],
      segmentId,
      inside,
    });
  };

  plan.segments.forEach((segment, i) => {
    const { from, law } = pieces[i]!;
    const before = i > 0 ? motionAt(motion, from, 'before') : oneOff ? atRest(motionAt(motion, 0)) : wrapped(motion);
    compare(from, before, motionAt(motion, from), segment.id, false);
    if (!law) return;
    for (const tau of law.accelerationSteps) {
      if (tau <= 0 || tau >= 1) continue;
      const time = from + tau * segment.duration;
      compare(time, motionAt(motion, time, 'before'), motionAt(motion, time), segment.id, true);
    }
  });
  if (oneOff) {
    const end = motionAt(motion, duration, 'before');
    compare(duration, end, atRest(end), plan.segments.at(-1)!.id, true);
  }
  return findings;
}

const atRest = ({ position }: MotionState): MotionState => ({ position, velocity: 0, acceleration: 0, jerk: 0 });

/**
 * State at the end of the cycle, carried back to its start.
 * The position is left out: an open or advancing cycle is reported by checkClosing, once.
 */
function wrapped(motion: Motion): MotionState {
  const end = motionAt(motion, motion.duration, 'before');
  return { ...end, position: motionAt(motion, 0).position };
}

function checkTravel(plan: MotionPlan, travel: TravelRange): PlanFinding[] {
  if (!travel) return [];
  const slack = (travel.max - travel.min) * TOLERANCE;
  // Between rests a law stays between its ends, so the knees are extreme; a piece that begins or ends in motion is probed.
  const places = [...planKnees(plan), ...planPieces(plan).flatMap((piece) => (piece.moving ? probes(piece) : []))];
  const outside = places.filter(({ position }) => position < travel.min - slack || position > travel.max + slack);
  const seen = new Set<string>();
  return outside
    .sort((a, b) => Math.abs(b.position) - Math.abs(a.position))
    .flatMap(({ time, position }): PlanFinding[] => {
      const end = position < travel.min ? 'min' : 'max';
      if (seen.has(end)) return [];
      seen.add(end);
      return [{ code: 'travel', severity: 'error', time, position, limit: travel[end], end }];
    });
}

function probes({ from, to, start, law }: PlanPiece): { time: number; position: number }[] {
  const out = new Float64Array(4);
  return Array.from({ length: 199 }, (_, k) => {
    const tau = (k + 1) / 200;
    law!.derivatives(tau, out, 0);
    return { time: from + tau * (to - from), position: start + out[0]! };
  });
}

/** Peaks of a move, exact from the law's characteristic values. */
const ORDERS = [
  { quantity: 'velocity', factor: 'cv', power: 1, index: 1 },
  { quantity: 'acceleration', factor: 'ca', power: 2, index: 2 },
  { quantity: 'jerk', factor: 'cj', power: 3, index: 3 },
] as const;

function checkLimits(plan: MotionPlan, limits: MotionLimits): PlanFinding[] {
  const pieces = planPieces(plan);
  return plan.segments.flatMap((segment, i) => {
    const { law, stroke, from, moving } = pieces[i]!;
    if (segment.kind !== 'move' || !law) return [];
    return ORDERS.flatMap(({ quantity, factor, power, index }): PlanFinding[] => {
      const limit = limits[quantity];
      if (limit === null) return [];
      const peak = lawCharacteristics(law)[factor];
      const value = (Math.abs(stroke) * peak) / segment.duration ** power;
      if (value <= limit * (1 + TOLERANCE)) return [];
      const shortest = moving
        ? shortestBetween(plan, i, (T) => peakBetween(plan, i, T, factor) / T ** power, limit)
        : Number.isFinite(peak)
          ? ((Math.abs(stroke) * peak) / limit) ** (1 / power)
          : null;
      return [
        {
          code: 'limit',
          severity: 'error',
          quantity,
          time: from + peakPlace(law, index) * segment.duration,
          value,
          limit,
          segmentId: segment.id,
          duration: segment.duration,
          shortestTime: shortest,
        },
      ];
    });
  });
}

/** Peak of a segment between its knees if it took T s, normalised. */
function peakBetween(plan: MotionPlan, i: number, T: number, factor: 'cv' | 'ca' | 'cj'): number {
  const segments = plan.segments.map((segment, k) => (k === i ? { ...segment, duration: T } : segment));
  return lawCharacteristics(planPieces({ ...plan, segments })[i]!.law!)[factor];
}

/** Shortest time of a segment that begins or ends in motion; null where none up to twenty times its time will do. */
function shortestBetween(plan: MotionPlan, i: number, value: (T: number) => number, limit: number): number | null {
  let low = plan.segments[i]!.duration;
  let high = low;
  while (value(high) > limit) {
    if (high > 20 * plan.segments[i]!.duration) return null;
    low = high;
    high *= 1.3;
  }
  for (let k = 0; k < 40; k++) {
    const middle = (low + high) / 2;
    if (value(middle) > limit) low = middle;
    else high = middle;
  }
  return high;
}

/** τ at which the law's derivative of this order first comes within rounding of its peak. */
function peakPlace(law: MotionLaw, index: 1 | 2 | 3): number {
  const firstStep = index === 1 ? undefined : [...law.velocitySteps, ...law.accelerationSteps][0];
  if (firstStep !== undefined && (index === 3 || law.velocitySteps.length > 0)) return firstStep;
  const out = new Float64Array(4);
  let best = 0;
  let bestValue = 0;
  for (let k = 0; k <= 2000; k++) {
    law.derivatives(k / 2000, out, 0);
    const value = Math.abs(out[index]!);
    if (value > bestValue * (1 + 1e-6)) {
      bestValue = value;
      best = k / 2000;
    }
  }
  return best;
}
