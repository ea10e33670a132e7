import { checkPlan, type JumpOrder, type PlanContext, type PlanFinding } from './checks';
import { motionAt, type Motion, type MotionState } from './motion';
import type { AxisMotionResult, MovingAxis } from './source';

const QUANTITIES = ['velocity', 'acceleration', 'jerk'] as const;
const SEAM = ['velocity', 'acceleration'] as const;
/** Places looked at over a cycle, and at least in every smooth piece. */
const PROBES = 400;
const PROBES_PER_PIECE = 8;
/** A motion of more pieces than this is a table: its own points are close enough. */
const MANY = 200;
const FIELDS = ['position', 'velocity', 'acceleration'] as const;

/**
 * Checks the motion of an axis, whatever leads it: what could not be made as written, then limits, stops, jumps, the
 * seam of the cycle, and whether it begins at home.
 */
export function checkAxisMotion(
  axis: Pick<MovingAxis, 'plan' | 'motion' | 'home'>,
  made: AxisMotionResult,
  context: PlanContext,
): PlanFinding[] {
  const found = checkMade(axis, made, context);
  const { smooth = 'acceleration' } = context;
  if (smooth === 'velocity')
    return found.filter(
      (finding) =>
        !((finding.code === 'jump' || finding.code === 'break') && finding.order === 2) &&
        !(finding.code === 'seam' && finding.quantity === 'acceleration'),
    );
  return smooth === 'jerk' && made.problems.length === 0 ? [...found, ...checkJerk(made.motion, context)] : found;
}

/** The largest jump of the jerk, the seam of the cycle included; jumps of the acceleration are findings of their own. */
function checkJerk(motion: Motion, { oneOff }: PlanContext): PlanFinding[] {
  const { edges, duration, steps } = motion;
  const size = Math.max(
    ...edges
      .flatMap((time) => [time, Math.min(duration, time + duration * 1e-9)])
      .map((time) => Math.abs(motionAt(motion, time).jerk)),
  );
  let worst: { time: number; before: number; after: number } | null = null;
  for (const time of edges.slice(0, -1)) {
    if (steps.includes(time) || (oneOff && time === 0)) continue;
    const before = motionAt(motion, time === 0 ? duration : time, 'before').jerk;
    const after = motionAt(motion, time).jerk;
    if (
      Math.abs(after - before) > 1e-3 * size &&
      (!worst || Math.abs(after - before) > Math.abs(worst.after - worst.before))
    )
      worst = { time, before, after };
  }
  return worst ? [{ code: 'break', severity: 'warning', order: 3, ...worst }] : [];
}

function checkMade(
  axis: Pick<MovingAxis, 'plan' | 'motion' | 'home'>,
  { motion, problems, blocksTime }: AxisMotionResult,
  context: PlanContext,
): PlanFinding[] {
  if (problems.length > 0) return problems;
  const { source, level, over } = axis.motion;
  const planned = source.kind === 'plan';
  if (planned && axis.plan.segments.length === 0) return [{ code: 'empty', severity: 'error' }];
  const { cycleTime } = context;
  const long: PlanFinding[] =
    blocksTime !== null && blocksTime > cycleTime * (1 + 1e-9)
      ? [{ code: 'plan-too-long', severity: 'error', planTime: blocksTime, cycleTime }]
      : [];
  const start = motionAt(motion, 0).position;
  const away: PlanFinding[] =
    source.kind !== 'moves' && context.travel && Math.abs(start - axis.home) > 1e-9
      ? [{ code: 'home', severity: 'info', start, home: axis.home }]
      : [];
  if (planned && level === 'position' && over === 'time') return [...checkPlan(axis.plan, context), ...away];
  return [...long, ...checkMotion(motion, context), ...checkBreaks(motion), ...away];
}

/** What runs once begins and ends at rest: anything else is a jump. */
function checkRests(first: MotionState, last: MotionState, end: number, stroke: number): PlanFinding[] {
  return SEAM.flatMap((quantity, i): PlanFinding[] => {
    const order = (i + 1) as 1 | 2;
    const nothing = 1e-9 * (stroke / end ** order);
    const severity = order === 2 ? 'warning' : 'error';
    return [
      { time: 0, before: 0, after: first[quantity] },
      { time: end, before: last[quantity], after: 0 },
    ]
      .filter(({ before, after }) => Math.abs(after - before) > nothing)
      .map((jump) => ({ code: 'break', severity, order, ...jump }));
  }).slice(0, 2);
}

/** Jumps of position, velocity and acceleration inside a motion, at the places where it says it steps. */
function checkBreaks(motion: Motion): PlanFinding[] {
  const inside = motion.steps.filter((time) => time > 0 && time < motion.duration);
  if (inside.length === 0) return [];
  // Where a motion is at rest at all its edges, it is what it does between them that tells what is much.
  const within = motion.edges.slice(1).flatMap((to, i) => [0, 0.2, 1 / 3].map((x) => to - x * (to - motion.edges[i]!)));
  const sizes = FIELDS.map((field) => {
    let most = 1e-12;
    for (const time of [0, ...within]) most = Math.max(most, Math.abs(motionAt(motion, time)[field]));
    return most;
  });
  const found = inside.flatMap((time): { order: JumpOrder; time: number; before: number; after: number }[] => {
    const [before, after] = [motionAt(motion, time, 'before'), motionAt(motion, time)];
    const order = FIELDS.findIndex((field, i) => Math.abs(after[field] - before[field]) > 1e-6 * sizes[i]!) as
      JumpOrder | -1;
    return order === -1 ? [] : [{ order, time, before: before[FIELDS[order]!], after: after[FIELDS[order]!] }];
  });
  // One finding an order: the largest jump; a table of straight lines would fill pages.
  return ([0, 1, 2] as const).flatMap((order): PlanFinding[] => {
    const largest = found
      .filter((jump) => jump.order === order)
      .sort((a, b) => Math.abs(b.after - b.before) - Math.abs(a.after - a.before))[0];
    return largest ? [{ code: 'break', severity: order === 2 ? 'warning' : 'error', ...largest }] : [];
  });
}

/**
 * Checks a motion that does not come from a plan in position: limits and travel by dense probing (400 places and all edges), the seam of the cycle by its ends.
 */
export function checkMotion(
  motion: Motion,
  { limits, travel, once = false, oneOff = false }: PlanContext,
): PlanFinding[] {
  const cycleTime = motion.duration;
  const findings: PlanFinding[] = [];
  const { edges } = motion;
  const states = edges.slice(1).flatMap((to, i) => {
    const from = edges[i]!;
    const parts = edges.length > MANY ? 2 : Math.max(PROBES_PER_PIECE, Math.ceil((PROBES * (to - from)) / cycleTime));
    return Array.from({ length: parts + 1 }, (_, k) => {
      const time = k === parts ? to : from + ((to - from) * k) / parts;
      return { time, ...motionAt(motion, time, k === parts ? 'before' : 'after') };
    });
  });
  const largest = (key: keyof MotionState) =>
    states.reduce((most, state) => (Math.abs(state[key]) > Math.abs(most[key]) ? state : most));
  const first = motionAt(motion, 0);
  const last = motionAt(motion, cycleTime, 'before');
  const gap = last.position - first.position;
  const stroke = Math.max(...states.map((s) => s.position)) - Math.min(...states.map((s) => s.position)) || 1;
  if (Math.abs(gap) > 1e-9 * stroke && !oneOff && !(once && travel !== null))
    findings.push(
      travel === null
        ? { code: 'advances', severity: 'info', advance: gap }
        : { code: 'not-closed', severity: 'error', gap, time: cycleTime },
    );
  if (oneOff && !once) findings.push(...checkRests(first, last, cycleTime, stroke));
  for (const quantity of once || oneOff ? [] : SEAM) {
    const size = Math.abs(largest(quantity)[quantity]);
    // What a stroke in a cycle could not be without, as a scale for what is nothing but rounding.
    const least = stroke / cycleTime ** (quantity === 'velocity' ? 1 : 2);
    if (Math.abs(last[quantity] - first[quantity]) > Math.max(1e-6 * size, 1e-9 * least))
      findings.push({
        code: 'seam',
        severity: quantity === 'velocity' ? 'error' : 'warning',
        quantity,
        before: last[quantity],
        after: first[quantity],
      });
  }
  for (const quantity of QUANTITIES) {
    const limit = limits[quantity];
    const at = largest(quantity);
    if (limit !== null && Math.abs(at[quantity]) > limit * (1 + 1e-9))
      findings.push({ code: 'over-limit', severity: 'error', quantity, time: at.time, value: at[quantity], limit });
  }
  if (travel) {
    const high = states.reduce((most, s) => (s.position > most.position ? s : most));
    const low = states.reduce((least, s) => (s.position < least.position ? s : least));
    const slack = 1e-9 * stroke;
    if (low.position < travel.min - slack)
      findings.push({
        code: 'travel',
        severity: 'error',
        time: low.time,
        position: low.position,
        limit: travel.min,
        end: 'min',
      });
    if (high.position > travel.max + slack)
      findings.push({
        code: 'travel',
        severity: 'error',
        time: high.time,
        position: high.position,
        limit: travel.max,
        end: 'max',
      });
  }
  return findings;
}
