import { integrate, maximise } from '../numeric';
import { lawAt } from './library';
import type { MotionLaw } from './types';

/** Characteristic values of a unit rise in unit time (VDI 2143 part 1). */
export interface LawCharacteristics {
  /** Largest |f′|. */
  cv: number;
  /** Largest |f″|; infinite where the velocity steps. */
  ca: number;
  /** Largest |f‴|; infinite where the acceleration steps. */
  cj: number;
  /** Largest f′·f″: the peak power factor of an inertia load. */
  peakPower: number;
  /** Root mean square of f″: the RMS torque factor of an inertia load. */
  rmsAcceleration: number;
}

const known = new WeakMap<MotionLaw, LawCharacteristics>();

/** Characteristic values of a law, searched piece by piece between its breaks; remembered per law. */
export function lawCharacteristics(law: MotionLaw): LawCharacteristics {
  const remembered = known.get(law);
  if (remembered) return remembered;
  const edges = [0, ...law.breaks, 1];
  const largest = (pick: (d: Float64Array) => number) =>
    Math.max(
      ...edges.slice(1).map((to, i) => {
        const from = edges[i]!;
        const nudge = (to - from) * 1e-12;
        return maximise((tau) => pick(lawAt(law, tau)), from, to - (to < 1 ? nudge : 0)).value;
      }),
    );
  const square = edges
    .slice(1)
    .reduce((sum, to, i) => sum + integrate((tau) => lawAt(law, tau)[2]! ** 2, edges[i]!, to), 0);
  const steps = law.velocitySteps.length > 0;
  const result: LawCharacteristics = {
    cv: largest((d) => Math.abs(d[1]!)),
    ca: steps ? Infinity : largest((d) => Math.abs(d[2]!)),
    cj: steps || law.accelerationSteps.length > 0 ? Infinity : largest((d) => Math.abs(d[3]!)),
    peakPower: largest((d) => d[1]! * d[2]!),
    rmsAcceleration: Math.sqrt(square),
  };
  known.set(law, result);
  return result;
}
