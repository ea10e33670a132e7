import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus';
import { uniformInt } from 'pure-rand/distribution/uniformInt';

/** Seeded random numbers: the same seed gives the same row of numbers on every machine. */
export class Scatter {
  private readonly generator;
  private spare: number | null = null;

  /** @param seed 0 to 2³² − 1 */
  constructor(seed: number) {
    // Neighbouring seeds must not give alike rows: a few numbers are thrown away.
    this.generator = xoroshiro128plus(seed | 0);
    for (let i = 0; i < 8; i++) this.uniform();
  }

  /** Evenly spread over [0, 1). */
  uniform(): number {
    const high = uniformInt(this.generator, 0, 0x3ffffff);
    const low = uniformInt(this.generator, 0, 0x7ffffff);
    return (high * 0x8000000 + low) / 2 ** 53;
  }

  /** Evenly spread over [-most, most). */
  within(most: number): number {
    return most * (2 * this.uniform() - 1);
  }

  /** Normally distributed with this standard deviation, mean 0 (polar method of Marsaglia). */
  normal(deviation: number): number {
    if (this.spare !== null) {
      const value = this.spare;
      this.spare = null;
      return deviation * value;
    }
    for (;;) {
      const [x, y] = [this.within(1), this.within(1)];
      const s = x * x + y * y;
      if (s >= 1 || s === 0) continue;
      const scale = Math.sqrt((-2 * Math.log(s)) / s);
      this.spare = y * scale;
      return deviation * x * scale;
    }
  }
}
