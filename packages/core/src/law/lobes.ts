import { put } from './pieces';
import type { LawEnds, MotionLaw } from './types';

/** Form of the flanks of an acceleration lobe: quarter sines, or straight lines (limited jerk). */
export type FlankForm = 'sine' | 'linear';

/**
 * Acceleration profile of two lobes with a stretch of constant speed between them.
 * All shares: `up` and `down` of a lobe's own time, `first` and `second` of the whole time.
 */
export interface LobeShape {
  form: FlankForm;
  /** Share of a lobe in which the acceleration grows, counted from the end of the move. */
  up: number;
  /** Share of a lobe in which it falls again. */
  down: number;
  /** Share of the whole time taken by the first lobe. */
  first: number;
  /** Share of the whole time taken by the second lobe. */
  second: number;
}

/** A unit lobe g on [0, 1]: writes ∫∫g, ∫g, g, g′ at x. */
type Lobe = (x: number, out: Float64Array) => void;

const HALF_PI = Math.PI / 2;

function unitLobe({ form, up, down }: LobeShape): { lobe: Lobe; area: number; moment: number } {
  const sine = form === 'sine';
  // A flank of length w: its area, and the moment of the area about its foot.
  const flankArea = (w: number) => (sine ? w / HALF_PI : w / 2);
  const flankMoment = (w: number) => (sine ? (w / HALF_PI) ** 2 : (w * w) / 3);
  const fall = 1 - down;
  const area = flankArea(up) + (fall - up) + flankArea(down);
  const moment = flankMoment(up) + (fall * fall - up * up) / 2 + flankArea(down) - flankMoment(down);
  /** A rising flank at x of its length w: ∫∫, ∫, value, slope. */
  const flank = (x: number, w: number, out: Float64Array) => {
    if (sine) {
      const k = HALF_PI / w;
      put(out, 0, (x - Math.sin(k * x) / k) / k, (1 - Math.cos(k * x)) / k, Math.sin(k * x), k * Math.cos(k * x));
    } else put(out, 0, (x * x * x) / (6 * w), (x * x) / (2 * w), x / w, 1 / w);
  };
  const end = new Float64Array(4);
  if (up > 0) flank(up, up, end);
  const [s1, v1] = [end[0]!, end[1]!];
  const hold = fall - up;
  const s2 = s1 + v1 * hold + (hold * hold) / 2;
  const v2 = v1 + hold;
  // The falling flank is the rising one seen from its foot at x = 1.
  const s3 = s2 + v2 * down + flankMoment(down);
  const lobe: Lobe = (x, out) => {
    if (x < up) flank(x, up, out);
    else if (x <= fall || down === 0) {
      const u = x - up;
      put(out, 0, s1 + v1 * u + (u * u) / 2, v1 + u, 1, 0);
    } else {
      flank(1 - x, down, out);
      put(out, 0, s3 - area * (1 - x) + out[0]!, area - out[1]!, out[2]!, -out[3]!);
    }
  };
  return { lobe, area, moment };
}

/**
 * A law of two acceleration lobes between any speeds at its ends; the acceleration is that of the lobes, nothing at
 * the ends unless `up` is 0. Sizes of the lobes from two linear equations: speed gained and distance covered.
 * With (up, down) = (0, 0) a parabola, (0, 1) the harmonic, (½, ½) the inclined sine, (¼, ¾) the modified sine,
 * (¼, ¼) the modified trapezoid (VDI 2143 part 1; Norton, Cam Design and Manufacturing Handbook).
 */
export function lobedLaw(shape: LobeShape, { rise, v0, v1 }: LawEnds): MotionLaw {
  const { up, down, first, second } = shape;
  const { lobe, area, moment } = unitLobe(shape);
  // a·A1 + b·A2 = v1 − v0;  c·A1 + d·A2 = rise − v0.
  const a = first * area;
  const b = second * area;
  const c = first * (area - first * moment);
  const d = second * second * moment;
  const det = a * d - b * c;
  const speed = v1 - v0;
  const distance = rise - v0;
  const a1 = (speed * d - b * distance) / det;
  const a2 = (a * distance - c * speed) / det;
  const gained = v0 + a1 * first * area;
  const travelled = v0 * first + a1 * first * first * (area - moment);
  const x = new Float64Array(4);
  const inside = (places: number[]) =>
    [...new Set(places)].filter((p) => p > 1e-12 && p < 1 - 1e-12).sort((p, q) => p - q);
  const runs = first + second < 1 - 1e-12;
  const braking = runs ? 1 - second : first;
  const breaks = inside([
    first * up,
    first * (1 - down),
    first,
    braking,
    1 - second * (1 - down),
    1 - second * up,
  ]).filter((place, i, all) => i === 0 || place - all[i - 1]! > 1e-12);
  const steps = [...(up === 0 ? [0] : []), ...(down === 0 ? inside([first, braking]) : []), ...(up === 0 ? [1] : [])];
  return {
    derivatives(tau, out, o) {
      if (tau < first) {
        lobe(tau / first, x);
        put(out, o, v0 * tau + a1 * first * first * x[0]!, v0 + a1 * first * x[1]!, a1 * x[2]!, (a1 * x[3]!) / first);
      } else if (tau < braking) put(out, o, travelled + gained * (tau - first), gained, 0, 0);
      else {
        const left = 1 - tau;
        lobe(left / second, x);
        put(
          out,
          o,
          rise - v1 * left + a2 * second * second * x[0]!,
          v1 - a2 * second * x[1]!,
          a2 * x[2]!,
          (-a2 * x[3]!) / second,
        );
      }
    },
    breaks,
    accelerationSteps: steps,
    velocitySteps: [],
  };
}
