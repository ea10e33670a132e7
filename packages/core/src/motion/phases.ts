import type { MotionLaw } from '../law';
import type { MotionStretch } from './motion';

/** A phase of constant jerk: how long, and the acceleration it begins with. */
export interface Phase {
  time: number;
  acceleration: number;
  jerk: number;
}
export type PhaseList = Phase[];

/** Adds a phase that lasts. */
export function put(list: PhaseList, time: number, acceleration: number, jerk: number): void {
  if (time > 0) list.push({ time, acceleration, jerk });
}

/** Phases of constant jerk as one stretch of a motion, from rest at `start`, beginning at `from` s; scaled to end exactly at `end`. */
export function phasesStretch(phases: PhaseList, from: number, to: number, start: number, end: number): MotionStretch {
  const length = to - from;
  const times = [0];
  const states: [p: number, v: number][] = [[0, 0]];
  phases.forEach(({ time: h, acceleration: a, jerk: j }, i) => {
    const [p, v] = states[i]!;
    times.push(times[i]! + h);
    states.push([p + v * h + (a * h * h) / 2 + (j * h * h * h) / 6, v + a * h + (j * h * h) / 2]);
  });
  const total = times.at(-1)!;
  const way = states.at(-1)![0];
  const scale = way === 0 ? 1 : (end - start) / way;
  const law: MotionLaw = {
    breaks: times.slice(1, -1).map((time) => time / total),
    accelerationSteps: phases.flatMap(({ acceleration }, i) => {
      const before = phases[i - 1];
      const level = before ? before.acceleration + before.jerk * before.time : 0;
      return Math.abs(level - acceleration) > 1e-9 * (Math.abs(level) + Math.abs(acceleration))
        ? [times[i]! / total]
        : [];
    }),
    velocitySteps: [],
    derivatives(tau, out, offset) {
      const time = tau * total;
      let i = phases.length - 1;
      while (i > 0 && times[i]! > time) i--;
      const { acceleration: a, jerk: j } = phases[i]!;
      const [p, v] = states[i]!;
      const h = time - times[i]!;
      out[offset] = scale * (p + v * h + (a * h * h) / 2 + (j * h * h * h) / 6);
      out[offset + 1] = scale * length * (v + a * h + (j * h * h) / 2);
      out[offset + 2] = scale * length * length * (a + j * h);
      out[offset + 3] = scale * length * length * length * j;
    },
  };
  const final = phases.at(-1);
  if (final && Math.abs(final.acceleration + final.jerk * final.time) > 1e-9 * Math.abs(final.acceleration))
    law.accelerationSteps = [...law.accelerationSteps, 1];
  return { from, to, start, stroke: 1, law };
}
