import type { MotionLaw } from './types';

/** Rising half of a law that is point-symmetric about (1/2, 1/2). */
export type HalfLaw = (tau: number, out: Float64Array, offset: number) => void;

/**
 * Completes a rising half to a whole law: f(1−τ) = 1 − f(τ), so f′ and f‴ mirror and f″ changes sign.
 * @param half f and its derivatives on [0, 1/2]
 * @param breaks breaks of the half inside (0, 1/2); their mirror images and 1/2 are added
 */
export function mirrored(
  half: HalfLaw,
  breaks: readonly number[],
  accelerationSteps: readonly number[] = [],
): MotionLaw {
  return {
    derivatives(tau, out, offset) {
      if (tau < 0.5) {
        half(tau, out, offset);
        return;
      }
      half(1 - tau, out, offset);
      out[offset] = 1 - out[offset]!;
      out[offset + 2] = -out[offset + 2]!;
    },
    breaks: [...breaks, 0.5, ...breaks.map((b) => 1 - b).reverse()],
    accelerationSteps,
    velocitySteps: [],
  };
}

/** A law given by one formula on the whole of [0, 1]. */
export function whole(
  formula: (tau: number) => readonly [number, number, number, number],
  steps: Partial<Pick<MotionLaw, 'accelerationSteps' | 'velocitySteps'>> = {},
): MotionLaw {
  return {
    derivatives(tau, out, offset) {
      const [f, f1, f2, f3] = formula(tau);
      out[offset] = f;
      out[offset + 1] = f1;
      out[offset + 2] = f2;
      out[offset + 3] = f3;
    },
    breaks: [],
    accelerationSteps: steps.accelerationSteps ?? [],
    velocitySteps: steps.velocitySteps ?? [],
  };
}

/** Writes f, f′, f″, f‴ into `out`. */
export function put(out: Float64Array, offset: number, f: number, f1: number, f2: number, f3: number): void {
  out[offset] = f;
  out[offset + 1] = f1;
  out[offset + 2] = f2;
  out[offset + 3] = f3;
}
