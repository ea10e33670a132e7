import fc from 'fast-check';
import { LAW_IDS, LAWS, lawAt, lawCharacteristics, makeLaw } from './index';

/**
 * Unit rise in unit time: Cv, Ca, Cj, max f′f″, rms f″.
 * Formulas: VDI 2143 part 1; R. L. Norton, Cam Design and Manufacturing Handbook.
 */
const TABLE: [string, string, string, string, string, string][] = [
  ['quadratic', '2.0000', '4.0000', 'Infinity', '8.0000', '4.0000'],
  ['harmonic', '1.5708', '4.9348', 'Infinity', '3.8758', '3.4894'],
  ['poly345', '1.8750', '5.7735', '60.000', '6.6943', '4.1404'],
  ['poly4567', '2.1875', '7.5132', '52.500', '10.7502', '5.0452'],
  ['cycloidal', '2.0000', '6.2832', '39.478', '8.1621', '4.4429'],
  ['modifiedSine', '1.7596', '5.5280', '69.466', '5.4578', '3.9089'],
  ['modifiedTrapezoid', '2.0000', '4.8881', '61.426', '8.0900', '4.2332'],
];

describe('characteristic values, to all printed digits', () => {
  test.each(TABLE)('%s', (id, cv, ca, cj, power, rms) => {
    const found = lawCharacteristics(makeLaw(id));
    expect(found.cv.toFixed(4)).toBe(cv);
    expect(found.ca.toFixed(4)).toBe(ca);
    expect(cj === 'Infinity' ? String(found.cj) : found.cj.toFixed(3)).toBe(cj);
    expect(found.peakPower.toFixed(4)).toBe(power);
    expect(found.rmsAcceleration.toFixed(4)).toBe(rms);
  });

  test('trapezoidal in thirds: 1.5 times the mean speed, 4.5 d/t² (common practice)', () => {
    const found = lawCharacteristics(makeLaw('trapezoidal'));
    expect(found.cv).toBeCloseTo(1.5, 12);
    expect(found.ca).toBeCloseTo(4.5, 12);
    expect(found.cj).toBe(Infinity);
  });
});

describe.each(LAWS.map((law) => law.id))('%s', (id) => {
  const law = makeLaw(id);

  test('runs from 0 to 1', () => {
    expect(lawAt(law, 0)[0]).toBeCloseTo(0, 14);
    expect(lawAt(law, 1)[0]).toBeCloseTo(1, 14);
  });

  test('derivatives agree with central differences of the order below', () => {
    const step = 1e-5;
    fc.assert(
      fc.property(fc.double({ min: 0.001, max: 0.999, noNaN: true }), (tau) => {
        fc.pre([...law.breaks].every((edge) => Math.abs(edge - tau) > 2 * step));
        const before = lawAt(law, tau - step);
        const after = lawAt(law, tau + step);
        const here = lawAt(law, tau);
        for (const order of [1, 2, 3]) {
          const difference = (after[order - 1]! - before[order - 1]!) / (2 * step);
          expect(Math.abs(difference - here[order]!)).toBeLessThan(2e-5 * Math.max(1, Math.abs(here[order]!)));
        }
      }),
      { numRuns: 200 },
    );
  });

  test('never turns back and stays between its ends', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (tau) => {
        const [f, f1] = lawAt(law, tau);
        expect(f).toBeGreaterThanOrEqual(-1e-14);
        expect(f).toBeLessThanOrEqual(1 + 1e-14);
        expect(f1).toBeGreaterThanOrEqual(-1e-12);
      }),
    );
  });

  test('position and velocity are continuous at its breaks; acceleration too, unless a step is declared', () => {
    for (const edge of law.breaks) {
      const before = lawAt(law, edge * (1 - Number.EPSILON));
      const after = lawAt(law, edge);
      expect(after[0]).toBeCloseTo(before[0]!, 12);
      expect(after[1]).toBeCloseTo(before[1]!, 12);
      const steps = law.accelerationSteps.some((step) => Math.abs(step - edge) < 1e-12);
      expect(Math.abs(after[2]! - before[2]!) > 1e-9).toBe(steps);
    }
  });
});

test('a trapezoidal velocity keeps its shares and covers the stroke, whatever they are', () => {
  const share = fc.double({ min: 0.01, max: 0.5, noNaN: true });
  fc.assert(
    fc.property(share, share, (acceleration, deceleration) => {
      const law = makeLaw('trapezoidal', { acceleration, deceleration });
      const top = 2 / (2 - acceleration - deceleration);
      expect(lawAt(law, acceleration / 2)[2]).toBeCloseTo(top / acceleration, 8);
      expect(lawAt(law, 1 - deceleration / 2)[2]).toBeCloseTo(-top / deceleration, 8);
      expect(lawAt(law, 1)[0]).toBe(1);
      expect(lawCharacteristics(law).cv).toBeCloseTo(top, 9);
    }),
  );
});

test('the identifiers the document knows are those of the library, in the same order', () => {
  expect(LAWS.map((law) => law.id)).toEqual([...LAW_IDS]);
});

test('an unknown law is refused by name', () => {
  expect(() => makeLaw('zigzag')).toThrow('There is no law “zigzag”');
});
