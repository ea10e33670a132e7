import type { ServoBlock } from '../machine';
import { AXIS_KINDS, displayUnit, type AxisKind, type UnitSystem } from '../quantity';
import { motionAt, type Motion } from './motion';
import { planKnees, type MotionPlan } from './plan';

const figure = (value: number) => String(Number(value.toPrecision(10)));
/** Units as the formula language writes them. */
const UNIT: Record<string, string> = { mm: 'mm', in: 'in', '°': 'deg' };

/** A plan as a formula: its start and one smooth rise for every move, added up. */
export function planFormula(plan: MotionPlan, kind: AxisKind, system: UnitSystem): string {
  const { symbol, factor } = displayUnit(AXIS_KINDS[kind].position, system);
  const unit = UNIT[symbol]!;
  const knees = planKnees(plan);
  const terms = plan.segments.flatMap((segment, i) => {
    const stroke = knees[i + 1]!.position - knees[i]!.position;
    if (segment.kind === 'dwell' || stroke === 0) return [];
    const rise = `rise(t, ${figure(knees[i]!.time)} s, ${figure(knees[i + 1]!.time)} s, ${segment.law.id})`;
    return [`${stroke < 0 ? '-' : '+'} ${figure(Math.abs(stroke) / factor)} ${unit} * ${rise}`];
  });
  const start = `${figure(plan.start / factor)} ${unit}`;
  if (plan.start === 0 && terms[0]?.startsWith('+ ')) return terms.join('\n').slice(2);
  return [start, ...terms].join('\n');
}

/** A plan as servo moves: a travel in the same time for every move, a wait for every dwell. */
export function planBlocks(plan: MotionPlan): ServoBlock[] {
  const none = { velocity: null, acceleration: null, deceleration: null, jerk: null };
  const knees = planKnees(plan);
  return plan.segments.map((segment, i): ServoBlock => {
    const id = `b${i + 1}`;
    const value = knees[i + 1]!.position - knees[i]!.position;
    return segment.kind === 'dwell' || value === 0
      ? { id, kind: 'wait', time: segment.duration }
      : { id, kind: 'travel', given: 'by', value, time: segment.duration, ...none };
  });
}

/** Points read off a motion, evenly spaced and at its edges: time and value. */
export function motionPoints(motion: Motion, count: number): number[][] {
  const T = motion.duration;
  const edges = motion.edges.length < count ? motion.edges : [];
  const even = Array.from({ length: count }, (_, k) => (T * k) / (count - 1));
  const near = T / count / 4;
  const times = [...edges, ...even.filter((time) => edges.every((edge) => Math.abs(edge - time) > near))].sort(
    (a, b) => a - b,
  );
  return times.map((time) => [Number(time.toPrecision(12)), motionAt(motion, time).position]);
}
