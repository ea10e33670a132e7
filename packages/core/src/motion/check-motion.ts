import type { PlanContext, PlanFinding } from './checks';
import { motionAt, type Motion, type MotionState } from './motion';

const QUANTITIES = ['velocity', 'acceleration', 'jerk'] as const;
const SEAM = ['velocity', 'acceleration'] as const;
const PROBES = 400;

/**
 * Checks a motion that does not come from a plan in position: limits and travel by dense probing (400 places and all edges), the seam of the cycle by its ends.
 */
export function checkMotion(motion: Motion, { cycleTime, limits, travel }: PlanContext): PlanFinding[] {
  const findings: PlanFinding[] = [];
  const times = [...Array.from({ length: PROBES + 1 }, (_, i) => (cycleTime * i) / PROBES), ...motion.edges];
  const states = times.map((time) => ({ time, ...motionAt(motion, time) }));
  const largest = (key: keyof MotionState) =>
    states.reduce((most, state) => (Math.abs(state[key]) > Math.abs(most[key]) ? state : most));
  const first = motionAt(motion, 0);
  const last = motionAt(motion, cycleTime, 'before');
  const gap = last.position - first.position;
  const stroke = Math.max(...states.map((s) => s.position)) - Math.min(...states.map((s) => s.position)) || 1;
  if (Math.abs(gap) > 1e-9 * stroke)
    findings.push(
      travel === null
        ? { code: 'advances', severity: 'info', advance: gap }
        : { code: 'not-closed', severity: 'error', gap, time: cycleTime },
    );
  for (const quantity of SEAM) {
    const size = Math.abs(largest(quantity)[quantity]);
    if (Math.abs(last[quantity] - first[quantity]) > 1e-6 * (size || 1))
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
