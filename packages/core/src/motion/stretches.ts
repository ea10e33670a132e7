import type { MotionLaw } from '../law';
import { motionAt, type Motion, type MotionStretch } from './motion';

/** The first part of a law, up to a share of it, as a law of its own (its rise is that part's). */
function cutLaw(law: MotionLaw, share: number): MotionLaw {
  const inside = (places: readonly number[]) => places.filter((tau) => tau <= share).map((tau) => tau / share);
  return {
    breaks: law.breaks.filter((tau) => tau < share).map((tau) => tau / share),
    accelerationSteps: inside(law.accelerationSteps),
    velocitySteps: inside(law.velocitySteps),
    derivatives(tau, out, o) {
      law.derivatives(tau * share, out, o);
      out[o + 1] = out[o + 1]! * share;
      out[o + 2] = out[o + 2]! * share ** 2;
      out[o + 3] = out[o + 3]! * share ** 3;
    },
  };
}

/** A stretch that ends early, at `to` s; what it does until then stays the same. */
export function cutStretch(stretch: MotionStretch, to: number): MotionStretch {
  const { from, law } = stretch;
  if (to >= stretch.to) return stretch;
  return { ...stretch, to, law: law && cutLaw(law, (to - from) / (stretch.to - from)) };
}

/** A stretch that begins late, at `from` s; what it does from then on stays the same. */
export function tailStretch(stretch: MotionStretch, from: number): MotionStretch {
  const { to, law } = stretch;
  if (from <= stretch.from) return stretch;
  if (!law) return { ...stretch, from };
  const first = (from - stretch.from) / (to - stretch.from);
  const share = 1 - first;
  const inside = (places: readonly number[]) =>
    places.filter((tau) => tau >= first).map((tau) => Math.min(1, (tau - first) / share));
  return {
    ...stretch,
    from,
    law: {
      breaks: inside(law.breaks.filter((tau) => tau > first)),
      accelerationSteps: inside(law.accelerationSteps),
      velocitySteps: inside(law.velocitySteps),
      derivatives(tau, out, o) {
        law.derivatives(Math.min(1, first + tau * share), out, o);
        out[o + 1] = out[o + 1]! * share;
        out[o + 2] = out[o + 2]! * share ** 2;
        out[o + 3] = out[o + 3]! * share ** 3;
      },
    },
  };
}

/** A stretch whose positions are times a ratio, from an offset. */
export function scaledStretch(stretch: MotionStretch, ratio: number, offset: number): MotionStretch {
  return { ...stretch, start: ratio * stretch.start + offset, stroke: ratio * stretch.stroke };
}

/** Stretches that follow one another without a gap, from 0 on, as a motion; the last position is held to the end. */
export function joinStretches(given: readonly MotionStretch[], duration: number, start: number): Motion {
  const stretches: MotionStretch[] = [];
  const edges = new Set([0, duration]);
  const steps = new Set<number>();
  const out = new Float64Array(4);
  let time = 0;
  let position = start;
  // Velocity and acceleration at the end of what stands so far: where they do not go on, the motion steps.
  let [velocity, acceleration] = [0, 0];
  const goOn = (at: number, v: number, a: number) => {
    const differs = (x: number, y: number, least: number) =>
      Math.abs(x - y) > 1e-7 * (Math.abs(x) + Math.abs(y)) + least;
    if (at > 0 && at < duration && (differs(v, velocity, 1e-11) || differs(a, acceleration, 1e-9))) {
      edges.add(at);
      steps.add(at);
    }
    [velocity, acceleration] = [v, a];
  };
  const rest = (to: number) => {
    if (to <= time) return;
    goOn(time, 0, 0);
    stretches.push({ from: time, to, start: position, stroke: 0, law: undefined });
  };
  for (const stretch of given) {
    if (stretch.from >= duration || stretch.to <= stretch.from) continue;
    rest(stretch.from);
    const { from, to, law } = stretch;
    const length = to - from;
    const rates = (tau: number): [number, number] => {
      if (!law) return [0, 0];
      law.derivatives(tau, out, 0);
      return [(stretch.stroke * out[1]!) / length, (stretch.stroke * out[2]!) / length ** 2];
    };
    goOn(from, ...rates(0));
    [velocity, acceleration] = rates(1);
    stretches.push(stretch);
    for (const tau of [0, ...(law?.breaks ?? []), 1]) edges.add(Math.min(duration, from + tau * (to - from)));
    for (const tau of law ? [...law.accelerationSteps, ...law.velocitySteps] : []) {
      const at = from + tau * (to - from);
      if (at <= duration) steps.add(at);
    }
    time = to;
    if (law) law.derivatives(1, out, 0);
    position = stretch.start + (law ? stretch.stroke * out[0]! : 0);
  }
  rest(duration);
  const rising = (a: number, b: number) => a - b;
  return { duration, stretches, edges: [...edges].sort(rising), steps: [...steps].sort(rising) };
}

/** A motion gone on over a longer time: again and again, what it gains in one pass added each time. */
export function repeatMotion(motion: Motion, duration: number): Motion {
  if (duration <= motion.duration)
    return joinStretches(
      motion.stretches.map((stretch) => cutStretch(stretch, Math.min(stretch.to, duration))),
      duration,
      motionAt(motion, 0).position,
    );
  const gain = motionAt(motion, motion.duration, 'before').position - motionAt(motion, 0).position;
  const stretches: MotionStretch[] = [];
  for (let turn = 0; turn * motion.duration < duration; turn++) {
    const later = turn * motion.duration;
    for (const stretch of motion.stretches) {
      const from = stretch.from + later;
      if (from >= duration) break;
      const whole = { ...stretch, from, to: stretch.to + later, start: stretch.start + turn * gain };
      stretches.push(cutStretch(whole, Math.min(whole.to, duration)));
    }
  }
  return joinStretches(stretches, duration, motionAt(motion, 0).position);
}
