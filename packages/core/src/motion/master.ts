import type { Machine } from '../machine';
import { integrateMotion } from './integrate';
import { planMotion, type Motion } from './motion';
import type { MotionPlan } from './plan';

/** A virtual master: what turns or slides, after what length it begins anew, and how it runs. SI units. */
export type Master = Machine['master'];
export type MasterCourse = Master['course'];

/** A master that cannot do what is asked of it; the message says what to change. */
export class MasterError extends Error {
  override name = 'MasterError';
}

/**
 * The master's motion over one cycle, counted on without wrapping.
 * Ramps are rises of the speed under a law; all laws are point-symmetric, so a ramp covers half its speed times its time.
 * @throws MasterError where a stop cannot be reached at that speed, or lies behind the end of the cycle
 */
export function masterMotion({ wrap, start, course }: Master, cycleTime: number): Motion {
  if (course.kind !== 'ramp') {
    const speed = course.kind === 'cycle' ? wrap / cycleTime : course.speed;
    return {
      duration: cycleTime,
      edges: [0, cycleTime],
      steps: [],
      stretches: [
        {
          from: 0,
          to: cycleTime,
          start,
          stroke: speed * cycleTime,
          law: {
            breaks: [],
            accelerationSteps: [],
            velocitySteps: [],
            derivatives(tau, out, o) {
              out[o] = tau;
              out[o + 1] = 1;
              out[o + 2] = out[o + 3] = 0;
            },
          },
        },
      ],
    };
  }
  const { speed, up, down, stop, law } = course;
  const run = stop === null ? Math.max(cycleTime - up, 1e-9) : (stop - start) / speed - (up + down) / 2;
  if (run < 0)
    throw new MasterError(
      'The master cannot stop there: its two ramps alone carry it further. Lower its speed, shorten the ramps or move the stop on.',
    );
  const total = up + run + (stop === null ? 0 : down);
  if (stop !== null && total > cycleTime * (1 + 1e-9))
    throw new MasterError(
      `The master reaches its stop after ${Number(total.toPrecision(5))} s, but the cycle ends after ${Number(cycleTime.toPrecision(5))} s: let it run faster or lengthen the cycle.`,
    );
  const speeds: MotionPlan = {
    start: 0,
    segments: [
      ...(up > 0 ? [{ kind: 'move' as const, id: 'up', duration: up, to: speed, law: { id: law } }] : []),
      { kind: 'dwell', id: 'run', duration: Math.max(run, 1e-12) },
      ...(stop !== null && down > 0
        ? [{ kind: 'move' as const, id: 'down', duration: down, to: 0, law: { id: law } }]
        : []),
    ],
  };
  return integrateMotion(planMotion(up > 0 ? speeds : { ...speeds, start: speed }, cycleTime), start);
}
