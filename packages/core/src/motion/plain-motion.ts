import type { AxisMotion, MotionSourceOf } from '../machine';
import { functionMotion } from './function-motion';
import type { Motion } from './motion';

/** A constant or a harmonic: given in closed form at every level. */
export type PlainSource = MotionSourceOf<'constant' | 'harmonic'>;

/** What the numbers of a motion are, and where it begins; the numbers belong to the level. */
export type LevelStart = Pick<AxisMotion, 'level' | 'initial'>;

/** A constant or a harmonic at a level; levels below are integrated in closed form, from the initial values. */
export function plainMotion(
  source: PlainSource,
  level: LevelStart['level'],
  initial: LevelStart['initial'],
  T: number,
): Motion {
  const order = { position: 0, velocity: 1, acceleration: 2 }[level];
  if (source.kind === 'constant') {
    const { value } = source;
    const p0 = order === 0 ? value : initial.position;
    const v0 = order === 0 ? 0 : order === 1 ? value : initial.velocity;
    const a0 = order === 2 ? value : 0;
    return functionMotion(
      T,
      (t, out) => {
        out[0] = p0 + v0 * t + (a0 * t * t) / 2;
        out[1] = v0 + a0 * t;
        out[2] = a0;
        out[3] = 0;
      },
      [],
      1,
      true,
    );
  }
  const { mean, amplitude, frequency, phase } = source;
  const w = 2 * Math.PI * frequency;
  // Derivatives of sin: order n is wⁿ sin(wt + φ + nπ/2); integrals are negative orders, with their constants.
  const wave = (t: number, n: number) => amplitude * w ** n * Math.sin(w * t + phase + (n * Math.PI) / 2);
  const write = (t: number, out: Float64Array) => {
    let position = wave(t, -order);
    let velocity = wave(t, 1 - order);
    if (order === 0) position += mean;
    if (order === 1) {
      position += mean * t + initial.position - wave(0, -1);
      velocity += mean;
    }
    if (order === 2) {
      const v0 = initial.velocity - wave(0, -1);
      position += initial.position - wave(0, -2) + v0 * t + (mean * t * t) / 2;
      velocity += v0 + mean * t;
    }
    out[0] = position;
    out[1] = velocity;
    out[2] = wave(t, 2 - order) + (order === 2 ? mean : 0);
    out[3] = wave(t, 3 - order);
  };
  return functionMotion(T, write, [], Math.max(1, Math.min(2000, Math.ceil(2 * frequency * T))), true);
}
