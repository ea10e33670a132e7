import fc from 'fast-check';
import {
  displayUnit,
  formatEntry,
  formatNumber,
  formatQuantity,
  KINDS,
  parseQuantity,
  type QuantityKind,
} from './index';

const KIND_NAMES = Object.keys(KINDS) as QuantityKind[];

function value(text: string, kind: QuantityKind, system: 'metric' | 'inch' = 'metric'): number {
  const parsed = parseQuantity(text, kind, system);
  if (!parsed.ok) throw new Error(parsed.message);
  return parsed.value;
}

function refusal(text: string, kind: QuantityKind): string {
  const parsed = parseQuantity(text, kind, 'metric');
  return parsed.ok ? `was read as ${parsed.value}` : parsed.message;
}

describe('reading', () => {
  // Factors: NIST SP 811, appendix B (inch, pound, pound-force exact).
  test.each<[string, QuantityKind, number]>([
    ['12 in', 'length', 0.3048],
    ['3 ft', 'length', 0.9144],
    ['1 1/2 in', 'length', 0.0381],
    ['90 rpm', 'shaftSpeed', 3 * Math.PI],
    ['0.2 s', 'time', 0.2],
    ['120 ms', 'time', 0.12],
    ['1/3 s', 'time', 1 / 3],
    ['5 lbf in', 'torque', 5 * 0.112984829027616],
    ['1 lbf·in', 'torque', 0.112984829027616],
    ['3Nm', 'torque', 3],
    ['20 Ncm', 'torque', 0.2],
    ['1 lbf', 'force', 4.4482216152605],
    ['1 lb', 'mass', 0.45359237],
    ['30 deg', 'angle', Math.PI / 6],
    ['30°', 'angle', Math.PI / 6],
    ['0.5 rev', 'angle', Math.PI],
    ['720 °/s²', 'angularAcceleration', 4 * Math.PI],
    ['12 kg cm²', 'inertia', 0.0012],
    ['12 kgcm2', 'inertia', 0.0012],
    ['40 cpm', 'rate', 2 / 3],
    ['40/min', 'rate', 2 / 3],
    ['40 1/min', 'rate', 2 / 3],
    ['2 Hz', 'rate', 2],
    ['85 %', 'ratio', 0.85],
    ['10:1', 'number', 10],
    ['-5e-3 m', 'length', -0.005],
    ['−5 mm', 'length', -0.005],
    ['0.1 N m s', 'angularDamping', 0.1],
  ])('%s', (text, kind, expected) => {
    expect(value(text, kind)).toBeCloseTo(expected, 14);
  });

  test('a bare number takes the unit shown', () => {
    expect(value('12', 'length', 'metric')).toBe(0.012);
    expect(value('12', 'length', 'inch')).toBe(0.3048);
    expect(value('90', 'ratio')).toBe(0.9);
  });

  test.each<[string, QuantityKind, RegExp]>([
    ['0,2 s', 'time', /type “0\.2 s” for a decimal point/],
    ['2,400 rpm', 'shaftSpeed', /“2400 rpm” for thousands/],
    ['4 kg', 'length', /“kg” is the unit of a mass: type a length/],
    ['3 foo', 'time', /unit “foo” is not known/],
    ['abc', 'time', /does not start with a number/],
    ['', 'time', /Nothing typed/],
    ['3 4 mm', 'length', /two numbers/],
    ['1/0 s', 'time', /not a finite number/],
    ['5 mm', 'number', /takes no unit/],
  ])('refuses “%s” and says why', (text, kind, reason) => {
    expect(refusal(text, kind)).toMatch(reason);
  });

  test('nothing typed can break it', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 40 }), fc.constantFrom(...KIND_NAMES), (text, kind) => {
        const parsed = parseQuantity(text, kind, 'metric');
        expect(parsed.ok ? Number.isFinite(parsed.value) : parsed.message.length > 5).toBe(true);
      }),
      { numRuns: 500 },
    );
  });
});

describe('showing', () => {
  test('what was shown in a box reads back to the same value, in both systems, however often', () => {
    const number = fc.double({ min: -1e6, max: 1e6, noNaN: true }).filter((x) => Math.abs(x) > 1e-6);
    fc.assert(
      fc.property(
        number,
        fc.constantFrom(...KIND_NAMES),
        fc.constantFrom('metric' as const, 'inch' as const),
        (x, kind, system) => {
          const once = value(formatEntry(x * displayUnit(kind, system).factor, kind, system), kind, system);
          let again = once;
          for (let i = 0; i < 5; i++) again = value(formatEntry(again, kind, system), kind, system);
          expect(again).toBe(once);
          expect(Math.abs(once / displayUnit(kind, system).factor - x)).toBeLessThanOrEqual(Math.abs(x) * 1e-9);
        },
      ),
    );
  });

  test.each<[number, number, string]>([
    [0.30479999999999996, 12, '0.3048'],
    [1234.5678, 4, '1235'],
    [0.00012346, 4, '0.0001235'],
    [123456, 4, '123456'],
    [-0.5, 4, '−0.5'],
    [0, 4, '0'],
    [1e-9, 4, '1e−9'],
    [Infinity, 4, '∞'],
  ])('%d to %d figures is %s', (number, digits, shown) => {
    expect(formatNumber(number, digits)).toBe(shown);
  });

  test('what rounding leaves over is shown as nothing, and angles typed come back as they were', () => {
    expect(formatQuantity(-5.657e-17, 'force', 'metric')).toBe('0\u00a0N');
    expect(formatQuantity(1.388e-17, 'length', 'metric')).toBe('0\u00a0mm');
    expect(formatQuantity(3.553e-15, 'power', 'metric')).toBe('0\u00a0W');
    expect(formatQuantity(2e-9, 'length', 'metric')).toBe('2e−6\u00a0mm');
    expect(formatEntry((-90.0000000003 * Math.PI) / 180, 'angle', 'metric')).toBe('-90');
  });

  test('the unit follows the system', () => {
    expect(formatQuantity(0.3048, 'length', 'inch')).toBe('12\u00a0in');
    expect(formatQuantity(0.3048, 'length', 'metric')).toBe('304.8\u00a0mm');
  });
});

test('powers are read however they are typed: m/s2, m/s^2 and m/s² alike', () => {
  const read = (text: string, kind: Parameters<typeof parseQuantity>[1]) => {
    const parsed = parseQuantity(text, kind, 'metric');
    return parsed.ok ? parsed.value : parsed.message;
  };
  for (const unit of ['m/s2', 'm/s^2', 'm/s²', 'm / s2']) expect(read(`2.5 ${unit}`, 'acceleration')).toBe(2.5);
  for (const unit of ['in/s2', 'in/s^2', 'in/s²']) expect(read(`100 ${unit}`, 'acceleration')).toBeCloseTo(2.54, 12);
  for (const unit of ['rad/s3', 'rad/s^3', 'rad/s³']) expect(read(`7 ${unit}`, 'angularJerk')).toBe(7);
  for (const unit of ['kg m2', 'kgm2', 'kg·m²', 'kg*m^2']) expect(read(`0.3 ${unit}`, 'inertia')).toBe(0.3);
});
