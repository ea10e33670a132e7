import { alike, describeDimension, NUMBER, over, power, times, TIME, type Dimension } from './dimension';
import * as calls from './calls';
import type { CallContext, FormulaConstant, FormulaScope } from './context';
import { FormulaError } from './error';
import { INPUT } from './input';
import { ordersOf, type Operand } from './operand';
import { addJets, copyJet, divideJets, multiplyJets, powerOf, scaleJet, type Registers, type Step } from './jet';
import { FUNCTIONS, nearestName, VARIABLES } from './language';
import { parseFormula, type Expression } from './parse';
import { UNITS } from './units';

/** A formula made ready: it gives its value and three derivatives over time from those of its inputs. */
export interface Formula {
  dimension: Dimension;
  /** How many derivatives are exact: fewer than three where it speaks of another axis' velocity or acceleration. */
  orders: number;
  /** Axes it speaks of, by name, in the order of their inputs. */
  axes: readonly string[];
  usesTime: boolean;
  usesMaster: boolean;
  /** Numbers that `inputs` holds. */
  inputs: number;
  /** Times in s at which it is known not to be smooth. */
  hints: readonly number[];
  /** Writes value and three derivatives to `out` at `offset`. */
  evaluate(inputs: Float64Array, out: Float64Array, offset: number): void;
  /** Which smooth piece the inputs of the last evaluation lie in; it changes only where the formula is not smooth. */
  piece(): string;
}

type Test = (r: Registers) => boolean;

/**
 * Checks the units of a formula and turns it into steps on jets. Nothing of the host can be reached from it, and each
 * evaluation does every step once: it cannot hang.
 * @throws FormulaError with the place in the text and what to do
 */
export function compileFormula(source: string, scope: FormulaScope): Formula {
  return new Compiler(scope).compile(parseFormula(source));
}

/**
 * The value of a constant formula such as `12.5 mm` or `2 * gap`.
 * @throws FormulaError where it is no constant
 */
export function constantFormula(source: string, constants: FormulaScope['constants']): FormulaConstant {
  const expression = parseFormula(source);
  const compiler = new Compiler({ cycleTime: NaN, master: null, axes: [], constants });
  return compiler.constant(expression, 'A constant');
}

/**
 * Checks that a formula gives what is wanted of it.
 * @throws FormulaError
 */
export function requireUnits(formula: Formula, text: string, wanted: Dimension): void {
  if (!alike(formula.dimension, wanted))
    throw new FormulaError(
      `The formula gives ${describeDimension(formula.dimension)}; ${describeDimension(wanted)} is wanted.`,
      0,
      text.length,
    );
}

const COMPARE: Record<string, (difference: number) => boolean> = {
  '<': (d) => d < 0,
  '<=': (d) => d <= 0,
  '>': (d) => d > 0,
  '>=': (d) => d >= 0,
  '==': (d) => d === 0,
  '!=': (d) => d !== 0,
};

/** Walks a formula once: checks units, and lays down the steps and the places where it is not smooth. */
class Compiler implements CallContext {
  readonly steps: Step[] = [];
  readonly switches: ((r: Registers) => number)[] = [];
  readonly used: string[] = [];
  readonly hints: number[] = [];
  private readonly fixed: [at: number, value: number][] = [];
  next: number;
  private usesTime = false;
  private usesMaster = false;

  constructor(readonly scope: FormulaScope) {
    this.next = INPUT.axes + 4 * scope.axes.length;
  }

  compile(expression: Expression): Formula {
    const result = this.value(expression);
    const { scope, steps, switches, used } = this;
    const at = this.jetOf(result);
    const registers = new Float64Array(this.next);
    for (const [place, value] of this.fixed) registers[place] = value;
    // The axes named stand first among the inputs, in the order in which they are named.
    const places = used.map((name) => INPUT.axes + 4 * scope.axes.findIndex((axis) => axis.name === name));
    const inputs = INPUT.axes + 4 * used.length;
    // Time alone is read most often: the rest of the head is copied where it is used.
    const head = this.usesMaster || scope.arc ? INPUT.axes : INPUT.master;
    return {
      dimension: result.dimension,
      orders: result.kind === 'jet' ? result.orders : 3,
      axes: used,
      usesTime: this.usesTime,
      usesMaster: this.usesMaster,
      inputs,
      hints: this.hints,
      evaluate(given, out, offset) {
        for (let i = 0; i < head; i++) registers[i] = given[i]!;
        for (let k = 0; k < places.length; k++)
          for (let i = 0; i < 4; i++) registers[places[k]! + i] = given[INPUT.axes + 4 * k + i]!;
        for (let i = 0; i < steps.length; i++) steps[i]!(registers);
        out[offset] = registers[at]!;
        out[offset + 1] = registers[at + 1]!;
        out[offset + 2] = registers[at + 2]!;
        out[offset + 3] = registers[at + 3]!;
      },
      piece: () => switches.map((state) => state(registers)).join(' '),
    };
  }

  /** The value of an expression that must not change. */
  constant(expression: Expression, what: string): { value: number; dimension: Dimension } {
    const found = this.value(expression);
    if (found.kind === 'jet') throw this.wrong(expression, `${what} must not depend on t, the master or an axis.`);
    return found;
  }

  wrong({ from, to }: Expression, message: string): FormulaError {
    return new FormulaError(message, from, to);
  }

  slot(): number {
    this.next += 4;
    return this.next - 4;
  }

  /** Puts a constant into a register where a step wants a jet. */
  jetOf(operand: Operand): number {
    if (operand.kind === 'jet') return operand.at;
    const at = this.slot();
    this.fixed.push([at, operand.value]);
    return at;
  }

  emit(dimension: Dimension, orders: number, step: (o: number) => Step): Operand {
    const at = this.slot();
    this.steps.push(step(at));
    return { kind: 'jet', at, dimension, orders };
  }

  /** a·by + plus. What was scaled a moment ago, and is read by nothing else, is scaled once. */
  scale(a: Operand & { kind: 'jet' }, by: number, plus: number, dimension: Dimension): Operand {
    let { at: base } = a;
    let [k, c] = [by, plus];
    if (a.scaled && a.scaled.step === this.steps.length - 1) {
      this.steps.pop();
      base = a.scaled.base;
      k = by * a.scaled.by;
      c = by * a.scaled.plus + plus;
    }
    const made = this.emit(dimension, a.orders, (o) => scaleJet(base, k, c, o)) as Operand & { kind: 'jet' };
    return { ...made, scaled: { step: this.steps.length - 1, base, by: k, plus: c } };
  }

  value(e: Expression): Operand {
    switch (e.kind) {
      case 'number':
        return { kind: 'constant', value: e.value, dimension: NUMBER };
      case 'text':
        throw this.wrong(e, 'A text stands only for the name of an axis or a law.');
      case 'list':
        throw this.wrong(e, 'A list stands only in lookup(…).');
      case 'name':
        return this.name(e);
      case 'call':
        return this.call(e);
      case 'operation':
        return this.operation(e);
      case 'choice': {
        const test = this.test(e.test);
        const [yes, no] = [this.value(e.yes), this.value(e.no)];
        this.sameUnits(yes, no, e.yes, e.no, 'The two branches');
        const [a, b] = [this.jetOf(yes), this.jetOf(no)];
        return this.emit(yes.dimension, Math.min(ordersOf(yes), ordersOf(no)), (o) => {
          const [one, other] = [copyJet(a, o), copyJet(b, o)];
          return (r) => (test(r) ? one : other)(r);
        });
      }
    }
  }

  name(e: Expression & { kind: 'name' }): Operand {
    const { scope } = this;
    if (e.name === 't' && !Number.isNaN(scope.cycleTime)) {
      this.usesTime = true;
      return { kind: 'jet', at: INPUT.time, dimension: TIME, orders: 3 };
    }
    if (e.name === 'T' && !Number.isNaN(scope.cycleTime))
      return { kind: 'constant', value: scope.cycleTime, dimension: TIME };
    if (e.name === 'master' && scope.master) {
      this.usesMaster = true;
      return { kind: 'jet', at: INPUT.master, dimension: scope.master, orders: 3 };
    }
    if (e.name === 'arc' && scope.arc) return { kind: 'jet', at: INPUT.arc, dimension: [1, 0, 0, 0], orders: 3 };
    const constant = scope.constants.get(e.name);
    if (constant) return { kind: 'constant', ...constant };
    const unit = Object.hasOwn(UNITS, e.name) ? UNITS[e.name] : undefined;
    if (unit) return { kind: 'constant', value: unit.factor, dimension: unit.dimension };
    if (scope.axes.some(({ name }) => name === e.name))
      throw this.wrong(e, `“${e.name}” is an axis: write position("${e.name}") or velocity("${e.name}").`);
    if (FUNCTIONS.some(({ name }) => name === e.name))
      throw this.wrong(e, `“${e.name}” is a function: write ${FUNCTIONS.find(({ name }) => name === e.name)!.call}.`);
    const known = [...scope.constants.keys(), ...Object.keys(UNITS), ...VARIABLES.map(({ name }) => name)];
    throw this.wrong(e, this.unknown(e.name, known, 'define it as a constant, or take t, T, master or a unit'));
  }

  unknown(name: string, known: readonly string[], otherwise: string): string {
    const near = nearestName(name, known);
    return `“${name}” is not known: ${near ? `did you mean ${near}?` : `${otherwise}.`}`;
  }

  sameUnits(a: Operand, b: Operand, ea: Expression, eb: Expression, what: string): void {
    if (alike(a.dimension, b.dimension)) return;
    const bare = [a, b].some(({ dimension }) => alike(dimension, NUMBER));
    throw new FormulaError(
      `${what} differ in units: ${describeDimension(a.dimension)} and ${describeDimension(b.dimension)}.${bare ? ' Give the plain number its unit.' : ''}`,
      Math.min(ea.from, eb.from),
      Math.max(ea.to, eb.to),
    );
  }

  operation(e: Expression & { kind: 'operation' }): Operand {
    const { op, args } = e;
    if (Object.hasOwn(COMPARE, op) || ['and', 'or', 'xor', 'unary not'].includes(op))
      throw this.wrong(e, 'A comparison is no value: write for example t < 0.2 s ? 1 mm : 0 mm.');
    if (op === 'unary -' || op === 'unary +') {
      const a = this.value(args[0]!);
      const sign = op === 'unary -' ? -1 : 1;
      if (a.kind === 'constant') return { ...a, value: sign * a.value };
      return this.scale(a, sign, 0, a.dimension);
    }
    if (!['+', '-', '*', '/', '^'].includes(op))
      throw this.wrong(e, `“${op.replace('unary ', '')}” has no meaning in formulas.`);
    const [ea, eb] = args as [Expression, Expression];
    const a = this.value(ea);
    const b = this.value(eb);
    const orders = Math.min(ordersOf(a), ordersOf(b));
    if (op === '+' || op === '-') {
      this.sameUnits(a, b, ea, eb, 'What is added must be alike; the two sides');
      const sign = op === '+' ? 1 : -1;
      if (a.kind === 'constant' && b.kind === 'constant') return { ...a, value: a.value + sign * b.value };
      if (b.kind === 'constant' && a.kind === 'jet') return this.scale(a, 1, sign * b.value, a.dimension);
      if (a.kind === 'constant' && b.kind === 'jet') return this.scale(b, sign, a.value, b.dimension);
      const [p, q] = [this.jetOf(a), this.jetOf(b)];
      return this.emit(a.dimension, orders, (o) => addJets(p, q, sign, o));
    }
    if (op === '*' || op === '/') {
      const dimension = op === '*' ? times(a.dimension, b.dimension) : over(a.dimension, b.dimension);
      if (b.kind === 'constant') {
        const factor = op === '*' ? b.value : 1 / b.value;
        if (!Number.isFinite(factor)) throw this.wrong(eb, 'This divides by zero.');
        if (a.kind === 'constant')
          return { kind: 'constant', value: op === '*' ? a.value * b.value : a.value / b.value, dimension };
        return this.scale(a, factor, 0, dimension);
      }
      if (a.kind === 'constant' && op === '*') return this.scale(b, a.value, 0, dimension);
      const [p, q] = [this.jetOf(a), this.jetOf(b)];
      return this.emit(dimension, orders, (o) => (op === '*' ? multiplyJets(p, q, o) : divideJets(p, q, o)));
    }
    if (b.kind === 'jet')
      throw this.wrong(eb, 'An exponent must not change: write exp(x * ln(base)) for a growing one.');
    if (!alike(b.dimension, NUMBER)) throw this.wrong(eb, 'An exponent must be a plain number.');
    return this.raise(a, b.value, e);
  }

  raise(a: Operand, n: number, e: Expression): Operand {
    const dimension = power(a.dimension, n);
    if (a.kind === 'constant') return { kind: 'constant', value: this.finite(a.value ** n, e), dimension };
    return this.emit(dimension, a.orders, (o) => powerOf(a.at, n, o));
  }

  finite(value: number, e: Expression): number {
    if (Number.isFinite(value)) return value;
    throw this.wrong(e, 'This gives no finite number.');
  }

  test(e: Expression): Test {
    if (e.kind === 'operation' && Object.hasOwn(COMPARE, e.op)) {
      const [a, b] = [this.value(e.args[0]!), this.value(e.args[1]!)];
      this.sameUnits(a, b, e.args[0]!, e.args[1]!, 'What is compared must be alike; the two sides');
      const [p, q] = [this.jetOf(a), this.jetOf(b)];
      this.hintAt(a, b);
      this.hintAt(b, a);
      const compare = COMPARE[e.op]!;
      const holds: Test = (r) => compare(r[p]! - r[q]!);
      this.switches.push((r) => (holds(r) ? 1 : 0));
      return holds;
    }
    if (e.kind === 'operation' && e.op === 'unary not') {
      const inner = this.test(e.args[0]!);
      return (r) => !inner(r);
    }
    if (e.kind === 'operation' && ['and', 'or', 'xor'].includes(e.op)) {
      const [a, b] = [this.test(e.args[0]!), this.test(e.args[1]!)];
      if (e.op === 'and') return (r) => a(r) && b(r);
      if (e.op === 'or') return (r) => a(r) || b(r);
      return (r) => a(r) !== b(r);
    }
    throw this.wrong(e, 'A condition is wanted here: compare two values with <, <=, >, >=.');
  }

  /** Time itself held against a constant: the place is known. */
  hintAt(a: Operand, b: Operand): void {
    if (a.kind === 'jet' && a.at === INPUT.time && b.kind === 'constant') this.hints.push(b.value);
  }

  call(e: Expression & { kind: 'call' }): Operand {
    const { name, args } = e;
    const help = FUNCTIONS.find((f) => f.name === name);
    if (!help) {
      const known = FUNCTIONS.map((f) => f.name);
      if (Object.hasOwn(UNITS, name) || this.scope.constants.has(name))
        throw this.wrong(e, `“${name}” is no function: write ${name} * (…).`);
      throw this.wrong(e, this.unknown(name, known, 'see the list of functions'));
    }
    const need = (least: number, most: number) => {
      if (args.length < least || args.length > most)
        throw this.wrong(
          e,
          `${help.call} takes ${least === most ? least : `${least} to ${most}`} values, here are ${args.length}.`,
        );
    };
    switch (name) {
      case 'rise':
      case 'pulse':
        need(3, name === 'rise' ? 4 : 5);
        return name === 'rise' ? calls.rise(this, args) : calls.pulse(this, args);
      case 'lookup':
        need(3, 4);
        return calls.lookup(this, args);
      case 'position':
      case 'velocity':
      case 'acceleration':
        need(1, 1);
        return calls.axis(this, name, args[0]!);
      case 'clamp': {
        need(3, 3);
        const [x, low, high] = args as [Expression, Expression, Expression];
        return calls.extreme(this, [x, low], 1, () => calls.extreme(this, [x, high], -1));
      }
      case 'min':
      case 'max':
        need(1, 20);
        return calls.extreme(this, args, name === 'max' ? 1 : -1);
      case 'mod':
        need(2, 2);
        return calls.modulo(this, args[0]!, args[1]!);
      case 'atan2':
        need(2, 2);
        return calls.direction(this, args[0]!, args[1]!);
      default:
        need(1, 1);
        return calls.elementary(this, name, args[0]!);
    }
  }
}
