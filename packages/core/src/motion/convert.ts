import type { ServoBlock } from '../machine';
import { AXIS_KINDS, displayUnit, type AxisKind, type UnitSystem } from '../quantity';
import type { MotionLimits } from './checks';
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

/** Samples by which a motion is looked through for where it rests, and the share of its peak speed that is rest. */
const LOOKS = 2000;
const AT_REST = 1e-9;
/** A limit that a law keeps, rounded up to figures that one would type. */
const ample = (value: number) => Number((value * 1.001).toPrecision(4));

/**
 * Any motion as servo moves that begin and end where it rests or turns back: a travel in the same time for every way, a
 * wait for every rest; none where it never moves. What goes on at speed at the ends begins and ends at rest instead.
 * @param limits of the axis, which the blocks go by; a block that needs more, or has none, brings its own
 */
export function motionBlocks(motion: Motion, limits: MotionLimits): ServoBlock[] {
  const times = [...motion.edges, ...Array.from({ length: LOOKS + 1 }, (_, k) => (motion.duration * k) / LOOKS)].sort((a, b) => a - b); // prettier-ignore
  const states = times.map((time) => motionAt(motion, time));
  const fastest = states.reduce((most, { velocity }) => Math.max(most, Math.abs(velocity)), 0);
  if (fastest === 0) return [];
  const way = states.map(({ velocity }) => (Math.abs(velocity) <= AT_REST * fastest ? 0 : Math.sign(velocity)));
  const blocks: ServoBlock[] = [];
  /** Adds what the motion does between two samples. */
  const add = (from: number, to: number) => {
    const time = times[to]! - times[from]!;
    const value = states[to]!.position - states[from]!.position;
    const id = `b${blocks.length + 1}`;
    const inside = states.slice(from, to + 1);
    const most = (of: 'velocity' | 'acceleration') => inside.reduce((m, s) => Math.max(m, Math.abs(s[of])), 0);
    // Rest to rest no move is gentler than at 1.5 times the mean speed for 4.5 times the mean acceleration.
    const [speed, rate] = [
      Math.max(most('velocity'), (1.5 * Math.abs(value)) / time),
      Math.max(most('acceleration'), (4.5 * Math.abs(value)) / time ** 2),
    ];
    const own = (need: number, limit: number | null) => (limit !== null && need <= limit ? null : ample(need));
    const bound = {
      velocity: own(speed, limits.velocity),
      acceleration: own(rate, limits.acceleration),
      deceleration: null,
      jerk: null,
    };
    blocks.push(value === 0 ? { id, kind: 'wait', time } : { id, kind: 'travel', given: 'by', value, time, ...bound });
  };
  let from = 0;
  let going = 0;
  for (let k = 0; k < times.length; k++) {
    const next = way[k]!;
    // Between two samples without speed it rests; a single one is where it turns or passes.
    const rests = next === 0 && (way[k + 1] === 0 || k === times.length - 1);
    if (going !== 0 && (rests || next === -going)) {
      const end = next === -going && way[k - 1] !== 0 ? k : next === -going ? k - 1 : k;
      add(from, end);
      from = end;
      going = rests ? 0 : next;
    } else if (going === 0 && next !== 0) {
      const begin = Math.max(from, k - 1);
      if (times[begin]! - times[from]! > AT_REST * motion.duration) add(from, begin);
      from = begin;
      going = next;
    }
  }
  if (times.at(-1)! - times[from]! > AT_REST * motion.duration) add(from, times.length - 1);
  return blocks;
}

/** How far a motion passes its points by, each in the unit of its value. */
export function pointErrors(
  motion: Motion,
  rows: readonly (readonly number[])[],
  level: 'position' | 'velocity' | 'acceleration',
): number[] {
  return rows.map(([place, value]) =>
    place! < 0 || place! > motion.duration ? NaN : motionAt(motion, place!)[level] - value!,
  );
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
