import { makeLaw } from '../law';
import type { Course } from '../machine';
import { interpolate } from '../numeric';

/**
 * How strong something is over its place (time in s, share of the cycle, or position of a joint).
 * A ramp rises along the polynomial 3-4-5, smooth in force and in its rate; outside its ends the values hold.
 */
export function courseValue(course: Exclude<Course, { kind: 'formula' }>): (place: number) => number {
  if (course.kind === 'constant') return () => course.value;
  if (course.kind === 'table') {
    const xs = course.rows.map(([x]) => x);
    const ys = course.rows.map(([, y]) => y);
    return (place) => interpolate(xs, ys, place);
  }
  const [[x0, y0], [x1, y1]] = [course.from, course.to];
  const law = makeLaw('poly345', {});
  const out = new Float64Array(4);
  return (place) => {
    const tau = (place - x0) / (x1 - x0);
    law.derivatives(tau < 0 ? 0 : tau > 1 ? 1 : tau, out, 0);
    return y0 + (y1 - y0) * out[0]!;
  };
}

/** Times in s inside one cycle at which a course over time or cycle is not smooth. */
export function courseEdges(course: Course, cycleTime: number): number[] {
  if (course.kind === 'constant' || course.kind === 'formula' || course.over === 'position') return [];
  const unit = course.over === 'cycle' ? cycleTime : 1;
  const places = course.kind === 'table' ? course.rows.map(([x]) => x) : [course.from[0], course.to[0]];
  return places.map((place) => place * unit).filter((time) => time > 0 && time < cycleTime);
}
