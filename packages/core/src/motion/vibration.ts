import type { MotionLaw } from '../law';
import { gaussNodes } from '../numeric';

/** A load on an elastic drive train as one mass on a spring: natural frequency in Hz, damping ratio (0 to below 1). */
export interface Oscillator {
  frequency: number;
  damping: number;
}

/** Cells of integration in a rise: enough for the law, and for each period of the oscillation. */
const cells = (periods: number) => Math.ceil(24 + 12 * periods);

/**
 * Deflection of the load against its drive, z″ + 2ζω z′ + ω² z = −y″, carried on over one cell by Duhamel's integral
 * (textbook; Harris' Shock and Vibration Handbook): kept as a complex number whose imaginary part over ω_d is −z.
 */
class Deflection {
  private re = 0;
  private im = 0;
  private readonly decay: number;
  private readonly damped: number;

  constructor(omega: number, damping: number) {
    this.decay = damping * omega;
    this.damped = omega * Math.sqrt(1 - damping * damping);
  }

  /** Goes on by h with an acceleration given over the cell from its start; null for none. */
  advance(h: number, acceleration: ((x: number) => number) | null): void {
    const fade = Math.exp(-this.decay * h);
    const [c, s] = [Math.cos(this.damped * h), Math.sin(this.damped * h)];
    let re = fade * (this.re * c - this.im * s);
    let im = fade * (this.re * s + this.im * c);
    if (acceleration)
      gaussNodes(0, h, (x, weight) => {
        const left = h - x;
        const size = weight * acceleration(x) * Math.exp(-this.decay * left);
        re += size * Math.cos(this.damped * left);
        im += size * Math.sin(this.damped * left);
      });
    this.re = re;
    this.im = im;
  }
  get value(): number {
    return -this.im / this.damped;
  }
  get amplitude(): number {
    return Math.hypot(this.re, this.im) / this.damped;
  }
}

/** Runs a unit rise in unit time in cells that end at the breaks of the law. */
function overRise(
  law: MotionLaw,
  periods: number,
  visit: (from: number, h: number, f: (x: number) => number) => void,
): void {
  const out = new Float64Array(4);
  const edges = [0, ...law.breaks, 1];
  const total = cells(periods);
  for (let i = 0; i + 1 < edges.length; i++) {
    const [a, b] = [edges[i]!, edges[i + 1]!];
    const n = Math.max(2, Math.ceil(total * (b - a)));
    const h = (b - a) / n;
    for (let k = 0; k < n; k++) {
      const from = a + k * h;
      visit(from, h, (x) => {
        law.derivatives(Math.min(1, from + x), out, 0);
        return out[2]!;
      });
    }
  }
}

/**
 * Amplitude of the oscillation left behind by a rise, as a share of its stroke.
 * @param periods natural frequency times rise time
 */
export function residualVibration(law: MotionLaw, periods: number, damping: number): number {
  const z = new Deflection(2 * Math.PI * periods, damping);
  overRise(law, periods, (_from, h, f) => z.advance(h, f));
  return z.amplitude;
}

/** Residual vibration over a range of frequency times rise time: what is left, as a share of the stroke. */
export function residualSpectrum(
  law: MotionLaw,
  damping: number,
  to = 8,
  points = 160,
): { periods: Float64Array; amplitude: Float64Array } {
  const periods = Float64Array.from({ length: points }, (_, i) => (to * (i + 1)) / points);
  return { periods, amplitude: periods.map((n) => residualVibration(law, n, damping)) };
}

/**
 * Deflection of the load over a rise and as long again after it.
 * @param time rise time in s, @param stroke in m or rad
 * @returns times in s and deflections in m or rad
 */
export function vibrationResponse(
  law: MotionLaw,
  time: number,
  stroke: number,
  { frequency, damping }: Oscillator,
): { times: Float64Array; deflection: Float64Array } {
  const periods = frequency * time;
  const z = new Deflection(2 * Math.PI * periods, damping);
  const [times, deflection] = [[0], [0]];
  overRise(law, periods, (from, h, f) => {
    z.advance(h, f);
    times.push((from + h) * time);
    deflection.push(z.value * stroke);
  });
  const after = cells(periods);
  for (let k = 1; k <= after; k++) {
    z.advance(1 / after, null);
    times.push((1 + k / after) * time);
    deflection.push(z.value * stroke);
  }
  return { times: Float64Array.from(times), deflection: Float64Array.from(deflection) };
}
