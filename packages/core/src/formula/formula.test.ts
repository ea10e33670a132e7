import { derivative, parse, simplify } from 'mathjs';
import fc from 'fast-check';
import { compileFormula, constantFormula, FormulaError, INPUT, LENGTH, ANGLE, type FormulaScope } from './index';

const scope: FormulaScope = {
  cycleTime: 2,
  master: ANGLE,
  axes: [
    { name: 'Lift', dimension: LENGTH },
    { name: 'Tray belt', dimension: LENGTH },
  ],
  constants: new Map([['gap', constantFormula('12 mm', new Map())]]),
};

/** Value and three derivatives at a time; the master turns once a cycle, the first axis named moves as given. */
function at(source: string, t: number, axis: [number, number, number, number] = [0.1, 0.2, 0.3, 0.4]): Float64Array {
  const formula = compileFormula(source, scope);
  const inputs = new Float64Array(formula.inputs);
  inputs.set([t, 1, 0, 0, Math.PI * t, Math.PI, 0, 0]);
  if (formula.axes.length > 0) inputs.set(axis, INPUT.axes);
  const out = new Float64Array(4);
  formula.evaluate(inputs, out, 0);
  return out;
}
function error(source: string): FormulaError {
  try {
    compileFormula(source, scope);
  } catch (found) {
    if (found instanceof FormulaError) return found;
    throw found;
  }
  throw new Error(`no error in ${source}`);
}
const marked = (source: string) => {
  const { from, to } = error(source);
  return source.slice(from, to);
};

describe('derivatives are those of mathjs, taken symbolically', () => {
  // The same expression in plain numbers for mathjs, and with seconds divided out for ours.
  test.each([
    ['sin(3*x) * x^2', 'sin(3*x) * x^2'],
    ['exp(-x) * cos(x)', 'exp(-x) * cos(x)'],
    ['(x^3 - 2*x) / (1 + x^2)', '(x^3 - 2*x) / (1 + x^2)'],
    ['sqrt(1 + x^4)', 'sqrt(1 + x^4)'],
    ['log(2 + sin(x))', 'ln(2 + sin(x))'],
    ['atan(x) * tan(x / 3)', 'atan(x) * tan(x / 3)'],
    ['asin(x / 4) + acos(x / 5)', 'asin(x / 4) + acos(x / 5)'],
    ['atan2(x, 2)', 'atan2(x, 2) / (1 rad)'],
    ['(1 + x)^2.5', '(1 + x)^2.5'],
  ])('%s', (symbolic, ours) => {
    const source = ours.replace(/\bx\b/g, '(t/(1 s))').replace(/asin\((.*?)\) \+ acos\((.*)\)$/, 'asin($1) + acos($2)');
    // atan2 is not differentiated by mathjs; atan of the quotient is the same here.
    const reference = symbolic.replace('atan2(x, 2)', 'atan(x / 2)');
    let tree = parse(reference);
    for (const order of [0, 1, 2, 3]) {
      if (order > 0) tree = derivative(tree, 'x');
      const code = simplify(tree).compile();
      for (const x of [0.2, 0.9, 1.7])
        expect(at(source, x)[order]).toBeCloseTo(code.evaluate({ x }) as number, 9 - order);
    }
  });

  test('products of anything with anything keep the rule of Leibniz (property)', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.1, max: 1.9, noNaN: true }), (t) => {
        const f = at('80 mm * sin(master) * rise(t, 0 s, 2 s, cycloidal)', t);
        const g = at('80 mm * sin(master)', t);
        const h = at('rise(t, 0 s, 2 s, cycloidal)', t);
        expect(f[1]).toBeCloseTo(g[1]! * h[0]! + g[0]! * h[1]!, 12);
        expect(f[2]).toBeCloseTo(g[2]! * h[0]! + 2 * g[1]! * h[1]! + g[0]! * h[2]!, 12);
      }),
    );
  });
});

describe('what the language can say', () => {
  test('rises add up: forward in a quarter of a second, back slower', () => {
    const source = '120 mm * (rise(t, 0.1 s, 0.35 s) - rise(t, 0.8 s, 1.5 s, modifiedSine))';
    expect(at(source, 0.05)[0]).toBe(0);
    expect(at(source, 0.225)[0]).toBeCloseTo(0.06, 12);
    expect(at(source, 0.5)[0]).toBeCloseTo(0.12, 12);
    expect(at(source, 1.15)[0]).toBeCloseTo(0.06, 12);
    // Peak speed of 3-4-5: 1.875 stroke/time (VDI 2143 part 1).
    expect(at(source, 0.225)[1]).toBeCloseTo((1.875 * 0.12) / 0.25, 12);
  });
  test('a torque that appears only when another axis has passed a point', () => {
    const source = 'position("Lift") > 80 mm ? 2.5 Nm : 0 Nm';
    expect(at(source, 0, [0.07, 0, 0, 0])[0]).toBe(0);
    expect(at(source, 0, [0.081, 0, 0, 0])[0]).toBe(2.5);
  });
  test('another axis is differentiated as it moves', () => {
    const [x, v, a, j] = [0.1, 0.2, 0.3, 0.4];
    const out = at('position("Tray belt")^2 / (1 m)', 0, [x, v, a, j]);
    expect(out[1]).toBeCloseTo(2 * x * v, 14);
    expect(out[2]).toBeCloseTo(2 * (v * v + x * a), 14);
    expect(out[3]).toBeCloseTo(2 * (3 * v * a + x * j), 14);
    expect(compileFormula('velocity(Lift)', scope)).toMatchObject({ orders: 2, dimension: [1, 0, -1, 0] });
  });
  test('saturation, pulses, tables, inches, minutes, comments', () => {
    expect(at('clamp(40 mm * t / (1 s), 10 mm, 30 mm)', 1.5)[0]).toBeCloseTo(0.03, 14);
    expect(at('clamp(40 mm * t / (1 s), 10 mm, 30 mm)', 0.5)[1]).toBeCloseTo(0.04, 14);
    expect(at('5 N * pulse(t, 0.2 s, 0.6 s)', 0.6)[0]).toBe(0);
    expect(at('5 N * pulse(t, 0.2 s, 0.6 s)', 0.2)[0]).toBe(5);
    expect(at('pulse(t, 0 s, 1 s, 0.2 s, cycloidal)', 0.1)[0]).toBeCloseTo(0.5, 12);
    expect(at('lookup(t, [0 s, 1 s, 2 s], [0 mm, 8 mm, 2 mm])', 1.5)[0]).toBeCloseTo(0.005, 14);
    expect(at('lookup(t, [0 s, 1 s, 2 s], [0 mm, 8 mm, 2 mm], quintic)', 1)[0]).toBeCloseTo(0.008, 12);
    expect(at('2 in * t / (1 min) # as in the drawing\n + gap', 30)[0]).toBeCloseTo(0.0254 + 0.012, 14);
    expect(at('mod(t, 0.4 s)', 1)[0]).toBeCloseTo(0.2, 12);
    expect(at('max(1, 2, 3) * min(4, 5)', 0)[0]).toBe(12);
    expect(at('not (t < 1 s) and t < 3 s ? -2 ^ 2 : 0', 2)[0]).toBe(-4);
  });
  test('radius times angle is a length', () => {
    expect(at('25 mm * master + gap', 1)[0]).toBeCloseTo(0.025 * Math.PI + 0.012, 14);
  });
});

describe('errors stand under their place and say what to do', () => {
  test.each([
    ['80 mm + 3', '80 mm + 3', /a length and a plain number.*its unit/],
    ['80 mm * sim(t)', 'sim(t)', /did you mean sin/],
    ['speed * t', 'speed', /define it as a constant/],
    ['80 mm * sin(t)', 't', /plain number or an angle, this is a time/],
    ['Lift + 2 mm', 'Lift', /position\("Lift"\)/],
    ['position("Lfit")', '"Lfit"', /did you mean “Lift”/],
    ['rise(t, 0.5 s, 0.2 s)', '0.5 s, 0.2 s', /behind the first/],
    ['rise(t, 0 s, 1 s, cycloid)', 'cycloid', /did you mean cycloidal/],
    ['rise(t, 0 mm, 1 mm)', 't, 0 mm', /differ in units/],
    ['rise(t)', 'rise(t)', /takes 3 to 4 values, here are 1/],
    ['t < 1 s', 't < 1 s', /no value/],
    ['t < 1 s ? 1 mm : 2 s', '1 mm : 2 s', /branches/],
    ['2 ^ t', 't', /exponent/],
    ['5 mm / 0', '0', /divides by zero/],
    ['lookup(t, [0 s, 2 s, 1 s], [1, 2, 3])', '1 s', /must rise/],
    ['80 mm % 3', '%', /0\.04/],
    ['x = 3', '=', /Nothing is assigned|assigned/],
    ['t.constructor', '.c', /dot/],
    ['"a".length', '.l', /dot/],
    ['1 mm; 2 mm', ';', /semicolon/],
    ['(1 mm', undefined, /./],
    ['', undefined, /empty/],
  ])('%s', (source, place, message) => {
    expect(error(source).message).toMatch(message);
    if (place !== undefined) expect(marked(source).trim()).toBe(place);
  });

  test.each([
    'import("x")',
    'f(x) = x',
    'eval("1")',
    'constructor',
    '__proto__',
    'toString()',
    '[1, 2]',
    '1:3',
    '{a: 1}',
    'this',
    'T = 3',
    'createUnit("a")',
    "t'",
  ])('nothing of the host: %s', (source) => expect(() => compileFormula(source, scope)).toThrow(FormulaError));

  test('size and nesting are limited', () => {
    expect(error('('.repeat(3000)).message).toMatch(/nested/);
    expect(error('1'.padEnd(5000, '+1')).message).toMatch(/too long/);
    expect(error(Array(700).fill('1').join('+')).message).toMatch(/700 parts/);
    expect(() => compileFormula('-'.repeat(3500) + '1', scope)).toThrow(FormulaError);
  });

  test('no text of any kind does anything but compile or say a FormulaError (property)', () => {
    const word = fc.constantFrom(
      't',
      'T',
      'rise',
      '(',
      ')',
      ',',
      '+',
      '*',
      '^',
      '?',
      ':',
      '<',
      'mm',
      '2',
      '"Lift"',
      '[',
      ']',
      'and',
      '-',
      'sin',
      '.',
      'position',
    );
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string(),
          fc.array(word, { maxLength: 14 }).map((w) => w.join(' ')),
        ),
        (source) => {
          try {
            compileFormula(source, scope);
          } catch (found) {
            expect(found).toBeInstanceOf(FormulaError);
          }
        },
      ),
      { numRuns: 1500 },
    );
  });
});
