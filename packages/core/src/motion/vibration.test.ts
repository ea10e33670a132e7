import { LAWS, makeLaw } from '../law';
import { residualSpectrum, residualVibration, vibrationResponse } from './index';

/** Closed forms of ∫ f″ e^{iωτ} dτ over ω (single mass without damping; recomputed by hand). */
describe('residual vibration against closed forms', () => {
  const omega = (n: number) => 2 * Math.PI * n;
  test('parabola: 16 sin²(ω/4)/ω²', () => {
    for (const n of [0.4, 1, 1.7, 2, 3.3, 7.9])
      expect(residualVibration(makeLaw('quadratic'), n, 0)).toBeCloseTo(
        (16 * Math.sin(omega(n) / 4) ** 2) / omega(n) ** 2,
        10,
      );
  });
  test('harmonic: π² cos(ω/2)/(π² − ω²) times ω/ω, as the transform of a half cosine', () => {
    for (const n of [0.3, 1.2, 2.6, 5.1]) {
      const w = omega(n);
      // f″ = (π²/2) cos πτ: ∫ = (π²/2)·|iω(1 + e^{iω})/(ω² − π²)| → over ω.
      expect(residualVibration(makeLaw('harmonic'), n, 0)).toBeCloseTo(
        Math.abs((Math.PI ** 2 * Math.cos(w / 2)) / (w * w - Math.PI ** 2)),
        10,
      );
    }
  });
  test('inclined sine: 4π² · 2 sin(ω/2)/(ω(ω² − 4π²))', () => {
    for (const n of [0.3, 0.8, 1.6, 2.5, 4.4]) {
      const w = omega(n);
      expect(residualVibration(makeLaw('cycloidal'), n, 0)).toBeCloseTo(
        Math.abs((8 * Math.PI ** 2 * Math.sin(w / 2)) / (w * (w * w - 4 * Math.PI ** 2))),
        10,
      );
    }
  });
  test('whole numbers of periods (two and more) leave nothing after an inclined sine', () => {
    for (const n of [2, 3, 5]) expect(residualVibration(makeLaw('cycloidal'), n, 0)).toBeLessThan(1e-10);
  });
});

describe.each(LAWS.filter(({ id }) => id !== 'straight').map(({ id }) => id))('%s', (id) => {
  test('a very soft spring is left behind by the whole stroke; a stiff one hardly at all', () => {
    expect(residualVibration(makeLaw(id), 0.01, 0)).toBeCloseTo(1, 2);
    expect(residualVibration(makeLaw(id), 40, 0)).toBeLessThan(5e-3);
  });
  test('the response after the rise swings with that amplitude, and damping takes from it', () => {
    const [n, stroke] = [1.3, 0.2];
    const { times, deflection } = vibrationResponse(makeLaw(id), 0.4, stroke, { frequency: n / 0.4, damping: 0 });
    const after = Array.from(deflection).filter((_, i) => times[i]! >= 0.4);
    const amplitude = residualVibration(makeLaw(id), n, 0) * stroke;
    expect(Math.max(...after.map(Math.abs))).toBeLessThanOrEqual(amplitude * (1 + 1e-9));
    expect(Math.max(...after.map(Math.abs))).toBeGreaterThan(amplitude * 0.97);
    expect(residualVibration(makeLaw(id), n, 0.2)).not.toBeCloseTo(residualVibration(makeLaw(id), n, 0), 3);
  });
});

test('the spectrum is sampled up to where it is asked for', () => {
  const { periods, amplitude } = residualSpectrum(makeLaw('poly345'), 0.02, 6, 30);
  expect(periods.at(-1)).toBe(6);
  expect(amplitude).toHaveLength(30);
  expect(amplitude[0]).toBeGreaterThan(amplitude[29]!);
});
