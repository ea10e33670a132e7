import type { MotionLaw } from '../law';
import { gaussNodes } from '../numeric';
import type { Motion, MotionStretch } from './motion';

/** Integral of f over [0, tau]; pieces between breaks are integrated on their own. */
function integralTo(f: (tau: number) => number, breaks: readonly number[], tau: number): number {
  let sum = 0;
  let from = 0;
  for (const end of [...breaks, 1]) {
    const to = Math.min(end, tau);
    if (to > from) {
      const cells = 3;
      for (let i = 0; i < cells; i++)
        gaussNodes(
          from + ((to - from) * i) / cells,
          from + ((to - from) * (i + 1)) / cells,
          (at, w) => (sum += w * f(at)),
        );
    }
    from = end;
    if (end >= tau) break;
  }
  return sum;
}

/** A stretch whose value has been integrated once: the law of the lower level, with what it began from. */
function integrateStretch(stretch: MotionStretch, begin: number): MotionStretch {
  const { from, to, start, stroke, law } = stretch;
  const length = to - from;
  const scratch = new Float64Array(4);
  const value = (tau: number) => {
    law!.derivatives(tau, scratch, 0);
    return scratch[0]!;
  };
  const integrated: MotionLaw = {
    breaks: law?.breaks ?? [],
    accelerationSteps: law?.velocitySteps ?? [],
    velocitySteps: [],
    derivatives(tau, out, offset) {
      let rise = 0;
      scratch.fill(0);
      if (law) {
        rise = integralTo(value, law.breaks, tau);
        law.derivatives(tau, scratch, 0);
      }
      out[offset] = length * (start * tau + stroke * rise);
      out[offset + 1] = length * (start + stroke * scratch[0]!);
      out[offset + 2] = length * stroke * scratch[1]!;
      out[offset + 3] = length * stroke * scratch[2]!;
    },
  };
  return { from, to, start: begin, stroke: 1, law: integrated };
}

/** Raises a motion by one level: what it gave as position is taken as velocity. */
export function integrateMotion(motion: Motion, begin: number): Motion {
  const out = new Float64Array(4);
  let position = begin;
  const stretches = motion.stretches.map((stretch) => {
    const next = integrateStretch(stretch, position);
    const { from, to } = next;
    // What lies beyond the cycle is cut off.
    next.law!.derivatives(Math.min(1, (motion.duration - from) / (to - from)), out, 0);
    position += out[0]!;
    return next;
  });
  return { ...motion, stretches };
}
