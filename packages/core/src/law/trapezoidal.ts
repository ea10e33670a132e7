import { lobedLaw } from './lobes';
import { put } from './pieces';
import type { LawFamily } from './types';

/**
 * Trapezoidal velocity: accelerate over share a, run, brake over share d of the time.
 * Top speed 2/(2 − a − d); a = d = 1/3 gives 1.5 and 4.5 (common practice).
 */
export const TRAPEZOIDAL: LawFamily = {
  id: 'trapezoidal',
  name: 'Trapezoidal velocity',
  formula: 'f″ = V/a, 0, −V/d in turn, with V = 2/(2 − a − d)',
  tasks: ['R–R', 'R–G', 'G–G'],
  advice: 'What a plain positioning drive does: constant acceleration, run, constant braking.',
  parameters: [
    { name: 'acceleration', label: 'Share accelerating', default: 1 / 3, min: 0.01, max: 0.99 },
    { name: 'deceleration', label: 'Share braking', default: 1 / 3, min: 0.01, max: 0.99 },
  ],
  make({ acceleration = 1 / 3, deceleration = 1 / 3 }) {
    const top = 2 / (2 - acceleration - deceleration);
    const braking = 1 - deceleration;
    const runs = acceleration + deceleration < 1 - 1e-12;
    return {
      derivatives(t, out, o) {
        if (t < acceleration) {
          const a = top / acceleration;
          put(out, o, (a * t * t) / 2, a * t, a, 0);
        } else if (t < braking) {
          put(out, o, top * (t - acceleration / 2), top, 0, 0);
        } else {
          const a = top / deceleration;
          const left = 1 - t;
          put(out, o, 1 - (a * left * left) / 2, a * left, -a, 0);
        }
      },
      breaks: runs ? [acceleration, braking] : [acceleration],
      accelerationSteps: runs ? [0, acceleration, braking, 1] : [0, acceleration, 1],
      velocitySteps: [],
    };
  },
  between: (ends, { acceleration = 1 / 3, deceleration = 1 / 3 }) =>
    lobedLaw({ form: 'sine', up: 0, down: 0, first: acceleration, second: deceleration }, ends),
};
