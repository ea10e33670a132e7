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

/** Share of its cycle at which a time stands, the cycle coming again and again: above 0 up to 1, and 0 at the beginning. */
export function placeInCycle(time: number, cycleTime: number): number {
  const share = time / cycleTime;
  return share <= 1 ? share : share - Math.ceil(share) + 1;
}

/**
 * Times in s inside a run at which a course over time or cycle is not smooth; one over the cycle comes again in each.
 * Places where it jumps stand twice.
 * @param cycleTime length of the cycle
 * @param duration length of the run
 */
export function courseEdges(course: Course, cycleTime: number, duration = cycleTime): number[] {
  if (course.kind === 'constant' || course.kind === 'formula' || course.over === 'position') return [];
  const places = course.kind === 'table' ? course.rows.map(([x]) => x) : [course.from[0], course.to[0]];
  if (course.over !== 'cycle') return places.filter((time) => time > 0 && time < duration);
  const value = courseValue(course);
  const inside = places.filter((place) => place > 0 && place < 1);
  const edges: number[] = [];
  for (let n = 0; n * cycleTime < duration; n++) {
    for (const place of inside) edges.push((n + place) * cycleTime);
    // The seam between two cycles: a jump where the end is not as the beginning.
    edges.push((n + 1) * cycleTime);
    if (value(0) !== value(1)) edges.push((n + 1) * cycleTime);
  }
  return edges.filter((time) => time < duration);
}
