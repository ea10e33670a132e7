import { findLaw, LAW_IDS, makeLaw, type MotionLaw } from '../law';
import { hermitePiece, lastAtOrBefore, splineThrough } from '../numeric';
import { alike, ANGLE, describeDimension, NUMBER, over, power, times, TIME, type Dimension } from './dimension';
import { FormulaError } from './error';
import {
  addJets,
  chain,
  copyJet,
  divideJets,
  ELEMENTARY,
  multiplyJets,
  powerOf,
  scaleJet,
  type Registers,
  type Step,
} from './jet';
import { FUNCTIONS, LOOKUP_WAYS, nearestName, VARIABLES } from './language';
import { parseFormula, type Expression } from './parse';
import { UNITS } from './units';

/** A named constant: SI value and what it measures. */
export interface FormulaConstant {
  value: number;
  dimension: Dimension;
}

/** What a formula may speak of. */
export interface FormulaScope {
  /** Length of the cycle in s. */
  cycleTime: number;
  /** What the master measures; null where there is none to speak of. */
  master: Dimension | null;
  /** Whether `arc`, the length along a path, is known (path laws). */
  arc?: boolean;
  /** Axes by name, with what their position measures. */
  axes: readonly { name: string; dimension: Dimension }[];
  constants: ReadonlyMap<string, FormulaConstant>;
}

/** Where the inputs of a formula stand: jets (value and three derivatives over time) of t, master, arc, then the axes. */
export const INPUT = { time: 0, master: 4, arc: 8, axes: 12 } as const;

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

type Operand =
  | { kind: 'constant'; value: number; dimension: Dimension }
  | { kind: 'jet'; at: number; dimension: Dimension; orders: number; scaled?: Scaled };

/** How a jet was made from another by the step of this number: times `by`, plus `plus`. */
interface Scaled {
  step: number;
  base: number;
  by: number;
  plus: number;
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

const RESERVED = new Set([...FUNCTIONS, ...VARIABLES].map(({ name }) => name).concat(LAW_IDS, LOOKUP_WAYS, ['arc']));

/** Why a name cannot be given to a constant, or null where it can. */
export function constantNameProblem(name: string): string | null {
  if (!/^[A-Za-z_]\w{0,39}$/.test(name))
    return 'must be one word of letters, digits and “_”, not beginning with a digit';
  if (Object.hasOwn(UNITS, name)) return `is the name of a unit`;
  if (RESERVED.has(name) || ['and', 'or', 'not', 'xor'].includes(name)) return 'has a meaning in formulas already';
  return null;
}

const COMPARE: Record<string, (difference: number) => boolean> = {
  '<': (d) => d < 0,
  '<=': (d) => d <= 0,
  '>': (d) => d > 0,
  '>=': (d) => d >= 0,
  '==': (d) => d === 0,
  '!=': (d) => d !== 0,
};
const ORDERS: Record<string, number> = { position: 0, velocity: 1, acceleration: 2 };

class Compiler {
  private readonly steps: Step[] = [];
  private readonly switches: ((r: Registers) => number)[] = [];
  private readonly used: string[] = [];
  private readonly hints: number[] = [];
  private readonly fixed: [at: number, value: number][] = [];
  private next: number;
  private usesTime = false;
  private usesMaster = false;

  constructor(private readonly scope: FormulaScope) {
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

  private wrong({ from, to }: Expression, message: string): FormulaError {
    return new FormulaError(message, from, to);
  }

  private slot(): number {
    this.next += 4;
    return this.next - 4;
  }

  /** Puts a constant into a register where a step wants a jet. */
  private jetOf(operand: Operand): number {
    if (operand.kind === 'jet') return operand.at;
    const at = this.slot();
    this.fixed.push([at, operand.value]);
    return at;
  }

  private emit(dimension: Dimension, orders: number, step: (o: number) => Step): Operand {
    const at = this.slot();
    this.steps.push(step(at));
    return { kind: 'jet', at, dimension, orders };
  }

  /** a·by + plus. What was scaled a moment ago, and is read by nothing else, is scaled once. */
  private scale(a: Operand & { kind: 'jet' }, by: number, plus: number, dimension: Dimension): Operand {
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

  private value(e: Expression): Operand {
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

  private name(e: Expression & { kind: 'name' }): Operand {
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

  private unknown(name: string, known: readonly string[], otherwise: string): string {
    const near = nearestName(name, known);
    return `“${name}” is not known: ${near ? `did you mean ${near}?` : `${otherwise}.`}`;
  }

  private sameUnits(a: Operand, b: Operand, ea: Expression, eb: Expression, what: string): void {
    if (alike(a.dimension, b.dimension)) return;
    const bare = [a, b].some(({ dimension }) => alike(dimension, NUMBER));
    throw new FormulaError(
      `${what} differ in units: ${describeDimension(a.dimension)} and ${describeDimension(b.dimension)}.${bare ? ' Give the plain number its unit.' : ''}`,
      Math.min(ea.from, eb.from),
      Math.max(ea.to, eb.to),
    );
  }

  private operation(e: Expression & { kind: 'operation' }): Operand {
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

  private raise(a: Operand, n: number, e: Expression): Operand {
    const dimension = power(a.dimension, n);
    if (a.kind === 'constant') return { kind: 'constant', value: this.finite(a.value ** n, e), dimension };
    return this.emit(dimension, a.orders, (o) => powerOf(a.at, n, o));
  }

  private finite(value: number, e: Expression): number {
    if (Number.isFinite(value)) return value;
    throw this.wrong(e, 'This gives no finite number.');
  }

  private test(e: Expression): Test {
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
  private hintAt(a: Operand, b: Operand): void {
    if (a.kind === 'jet' && a.at === INPUT.time && b.kind === 'constant') this.hints.push(b.value);
  }

  private call(e: Expression & { kind: 'call' }): Operand {
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
        return name === 'rise' ? this.rise(args) : this.pulse(args);
      case 'lookup':
        need(3, 4);
        return this.lookup(args);
      case 'position':
      case 'velocity':
      case 'acceleration':
        need(1, 1);
        return this.axis(name, args[0]!);
      case 'clamp': {
        need(3, 3);
        const [x, low, high] = args as [Expression, Expression, Expression];
        return this.extreme([x, low], 1, () => this.extreme([x, high], -1));
      }
      case 'min':
      case 'max':
        need(1, 20);
        return this.extreme(args, name === 'max' ? 1 : -1);
      case 'mod':
        need(2, 2);
        return this.modulo(args[0]!, args[1]!);
      case 'atan2':
        need(2, 2);
        return this.direction(args[0]!, args[1]!);
      default:
        need(1, 1);
        return this.elementary(name, args[0]!);
    }
  }

  private elementary(name: string, e: Expression): Operand {
    const u = this.value(e);
    if (name === 'sqrt') {
      if (u.kind === 'constant') return this.raise(u, 0.5, e);
      return this.emit(power(u.dimension, 0.5), u.orders, (o) => ELEMENTARY.sqrt!(u.at, o));
    }
    const free = name === 'abs' || name === 'sign';
    const angle = ['sin', 'cos', 'tan'].includes(name) && alike(u.dimension, ANGLE);
    if (!free && !angle && !alike(u.dimension, NUMBER))
      throw this.wrong(
        e,
        `${name} takes a plain number${['sin', 'cos', 'tan'].includes(name) ? ' or an angle' : ''}, this is ${describeDimension(u.dimension)}: divide by what it is counted in.`,
      );
    const dimension = name === 'abs' ? u.dimension : ['asin', 'acos', 'atan'].includes(name) ? ANGLE : NUMBER;
    const at = this.jetOf(u);
    if (name === 'abs') this.switches.push((r) => (r[at]! < 0 ? -1 : 1));
    if (name === 'floor') this.switches.push((r) => Math.floor(r[at]!));
    if (name === 'sign') this.switches.push((r) => Math.sign(r[at]!));
    const made: (o: number) => Step =
      name === 'floor' || name === 'sign'
        ? (o) => {
            const f = name === 'floor' ? Math.floor : Math.sign;
            return (r) => chain(r, at, o, f(r[at]!), 0, 0, 0);
          }
        : (o) => ELEMENTARY[name]!(at, o);
    const result = this.emit(dimension, ordersOf(u), made);
    if (u.kind === 'jet') return result;
    // A function of a constant is a constant: computed once, here.
    const r = new Float64Array(this.next);
    r[at] = u.value;
    this.steps.pop()!(r);
    return { kind: 'constant', value: this.finite(r[(result as { at: number }).at]!, e), dimension };
  }

  /** Smallest (sense −1) or largest (sense 1) of some values; where they cross it is not smooth. */
  private extreme(args: readonly Expression[], sense: 1 | -1, first?: () => Operand): Operand {
    let best = first ? first() : this.value(args[0]!);
    for (const e of args.slice(1)) {
      const other = this.value(e);
      this.sameUnits(best, other, args[0]!, e, 'The values');
      const [p, q] = [this.jetOf(best), this.jetOf(other)];
      this.switches.push((r) => (sense * (r[p]! - r[q]!) >= 0 ? 1 : 0));
      best = this.emit(best.dimension, Math.min(ordersOf(best), ordersOf(other)), (o) => {
        const [one, two] = [copyJet(p, o), copyJet(q, o)];
        return (r) => (sense * (r[p]! - r[q]!) >= 0 ? one : two)(r);
      });
    }
    return best;
  }

  private modulo(ex: Expression, el: Expression): Operand {
    const x = this.value(ex);
    const length = this.constant(el, 'The length of mod');
    this.sameUnits(x, { kind: 'constant', ...length }, ex, el, 'The two values of mod');
    if (!(length.value > 0)) throw this.wrong(el, 'The length of mod must be greater than zero.');
    const at = this.jetOf(x);
    const size = length.value;
    this.switches.push((r) => Math.floor(r[at]! / size));
    if (x.kind === 'jet' && x.at === INPUT.time)
      for (let k = 1; k * size < this.scope.cycleTime && k < 2000; k++) this.hints.push(k * size);
    return this.emit(x.dimension, ordersOf(x), (o) => (r) => {
      chain(r, at, o, r[at]! - size * Math.floor(r[at]! / size), 1, 0, 0);
    });
  }

  private direction(ey: Expression, ex: Expression): Operand {
    const [y, x] = [this.value(ey), this.value(ex)];
    this.sameUnits(y, x, ey, ex, 'The two values of atan2');
    const [p, q] = [this.jetOf(y), this.jetOf(x)];
    this.switches.push((r) => (r[q]! < 0 && r[p]! < 0 ? 1 : 0));
    // The derivative of the direction is that of atan(y/x), or of −atan(x/y) where y is the larger.
    const orders = Math.min(ordersOf(x), ordersOf(y));
    const [ratio, inverse] = [this.slot(), this.slot()];
    return this.emit(ANGLE, orders, (o) => {
      const [one, two] = [divideJets(p, q, ratio), divideJets(q, p, inverse)];
      const [flat, steep] = [ELEMENTARY.atan!(ratio, o), ELEMENTARY.atan!(inverse, o)];
      return (r) => {
        if (Math.abs(r[q]!) >= Math.abs(r[p]!)) {
          one(r);
          flat(r);
        } else {
          two(r);
          steep(r);
          for (let i = 1; i < 4; i++) r[o + i] = -r[o + i]!;
        }
        r[o] = Math.atan2(r[p]!, r[q]!);
      };
    });
  }

  private axis(quantity: string, e: Expression): Operand {
    const name = e.kind === 'text' ? e.value : e.kind === 'name' ? e.name : undefined;
    if (name === undefined) throw this.wrong(e, `Name an axis: ${quantity}("…").`);
    const index = this.scope.axes.findIndex((axis) => axis.name === name);
    if (index < 0) {
      const names = this.scope.axes.map((axis) => axis.name);
      const near = nearestName(name, names);
      throw this.wrong(
        e,
        `There is no other axis “${name}”${near ? `: did you mean “${near}”?` : names.length > 0 ? `; there are ${names.map((n) => `“${n}”`).join(', ')}.` : '.'}`,
      );
    }
    if (!this.used.includes(name)) this.used.push(name);
    const shift = ORDERS[quantity]!;
    const dimension = times(this.scope.axes[index]!.dimension, power(TIME, -shift));
    const at = INPUT.axes + 4 * index;
    if (shift === 0) return { kind: 'jet', at, dimension, orders: 3 };
    return this.emit(dimension, 3 - shift, (o) => (r) => {
      for (let i = 0; i < 4; i++) r[o + i] = i + shift < 4 ? r[at + i + shift]! : 0;
    });
  }

  private law(e: Expression | undefined): MotionLaw {
    if (!e) return makeLaw('poly345');
    const name = e.kind === 'name' ? e.name : e.kind === 'text' ? e.value : undefined;
    if (name !== undefined && findLaw(name)) return makeLaw(name);
    const near = name === undefined ? undefined : nearestName(name, LAW_IDS);
    throw this.wrong(
      e,
      `${name === undefined ? 'The name of a law is wanted here' : `There is no law “${name}”`}: ${near ? `did you mean ${near}?` : `take one of ${LAW_IDS.join(', ')}.`}`,
    );
  }

  /** Two constant places on the scale of x, in rising order. */
  private places(x: Operand, [ex, ef, et]: readonly Expression[]): [number, number] {
    const [from, to] = [this.constant(ef!, 'A place'), this.constant(et!, 'A place')];
    this.sameUnits(x, { kind: 'constant', ...from }, ex!, ef!, 'The value and its place');
    this.sameUnits(x, { kind: 'constant', ...to }, ex!, et!, 'The value and its place');
    if (!(to.value > from.value))
      throw new FormulaError('The second place must lie behind the first.', ef!.from, et!.to);
    return [from.value, to.value];
  }

  private rise(args: readonly Expression[]): Operand {
    const x = this.value(args[0]!);
    const [from, to] = this.places(x, args);
    return this.smoothRise(x, from, to, this.law(args[3]));
  }

  private smoothRise(x: Operand, from: number, to: number, law: MotionLaw): Operand {
    const at = this.jetOf(x);
    const width = to - from;
    const edges = [0, ...law.breaks, 1].map((tau) => from + tau * width);
    if (x.kind === 'jet' && x.at === INPUT.time) this.hints.push(...edges);
    this.switches.push((r) => lastAtOrBefore(edges, r[at]!));
    const out = new Float64Array(4);
    return this.emit(NUMBER, ordersOf(x), (o) => (r) => {
      const tau = (r[at]! - from) / width;
      if (tau < 0) chain(r, at, o, 0, 0, 0, 0);
      else if (tau >= 1) chain(r, at, o, 1, 0, 0, 0);
      else {
        law.derivatives(tau, out, 0);
        chain(r, at, o, out[0]!, out[1]! / width, out[2]! / (width * width), out[3]! / (width * width * width));
      }
    });
  }

  private pulse(args: readonly Expression[]): Operand {
    const x = this.value(args[0]!);
    const [from, to] = this.places(x, args);
    if (args.length > 3) {
      const flank = this.constant(args[3]!, 'A flank');
      this.sameUnits(x, { kind: 'constant', ...flank }, args[0]!, args[3]!, 'The value and its flank');
      if (!(flank.value > 0) || 2 * flank.value > to - from)
        throw this.wrong(args[3]!, 'The flank must be greater than zero and at most half of the pulse.');
      const law = this.law(args[4]);
      const up = this.jetOf(this.smoothRise(x, from, from + flank.value, law));
      const down = this.jetOf(this.smoothRise(x, to - flank.value, to, law));
      return this.emit(NUMBER, ordersOf(x), (o) => addJets(up, down, -1, o));
    }
    const at = this.jetOf(x);
    const inside: Test = (r) => r[at]! >= from && r[at]! < to;
    if (x.kind === 'jet' && x.at === INPUT.time) this.hints.push(from, to);
    this.switches.push((r) => (inside(r) ? 1 : 0));
    return this.emit(NUMBER, ordersOf(x), (o) => (r) => chain(r, at, o, inside(r) ? 1 : 0, 0, 0, 0));
  }

  private list(e: Expression): { values: number[]; dimension: Dimension; items: Expression[] } {
    if (e.kind !== 'list' || e.items.length < 2)
      throw this.wrong(e, 'A list of at least two values is wanted: [0 s, 0.2 s].');
    const found = e.items.map((item) => this.constant(item, 'A value of a list'));
    found.forEach((value, i) =>
      this.sameUnits(
        { kind: 'constant', ...found[0]! },
        { kind: 'constant', ...value },
        e.items[0]!,
        e.items[i]!,
        'The values of a list',
      ),
    );
    return { values: found.map(({ value }) => value), dimension: found[0]!.dimension, items: e.items };
  }

  private lookup(args: readonly Expression[]): Operand {
    const x = this.value(args[0]!);
    const places = this.list(args[1]!);
    const values = this.list(args[2]!);
    this.sameUnits(
      x,
      { kind: 'constant', value: 0, dimension: places.dimension },
      args[0]!,
      args[1]!,
      'The value and the places',
    );
    if (places.values.length !== values.values.length)
      throw this.wrong(args[2]!, `There are ${places.values.length} places but ${values.values.length} values.`);
    places.values.forEach((place, i, all) => {
      if (i > 0 && place <= all[i - 1]!) throw this.wrong(places.items[i]!, 'The places must rise.');
    });
    const way = args[3];
    const named = way?.kind === 'name' ? way.name : way?.kind === 'text' ? way.value : 'line';
    if (!LOOKUP_WAYS.some((known) => known === named)) throw this.wrong(way!, `Take one of ${LOOKUP_WAYS.join(', ')}.`);
    const xs = Float64Array.from(places.values);
    const n = xs.length;
    const polynomials =
      named === 'line'
        ? values.values.slice(1).map((value, i) => Float64Array.of(values.values[i]!, value - values.values[i]!))
        : (() => {
            const knots = splineThrough(xs, values.values, {
              degree: named === 'cubic' ? 3 : 5,
              ends: 'rest',
              tolerance: 0,
            });
            return values.values.slice(1).map((_, i) => hermitePiece(knots, i));
          })();
    const at = this.jetOf(x);
    this.switches.push((r) => lastAtOrBefore(xs, r[at]!));
    if (x.kind === 'jet' && x.at === INPUT.time) this.hints.push(...xs);
    return this.emit(values.dimension, ordersOf(x), (o) => (r) => {
      const i = lastAtOrBefore(xs, r[at]!);
      if (i < 0) chain(r, at, o, values.values[0]!, 0, 0, 0);
      else if (i >= n - 1) chain(r, at, o, values.values[n - 1]!, 0, 0, 0);
      else {
        const h = xs[i + 1]! - xs[i]!;
        const tau = (r[at]! - xs[i]!) / h;
        const c = polynomials[i]!;
        let [f, f1, f2, f3] = [0, 0, 0, 0];
        for (let k = c.length - 1; k >= 0; k--) {
          f3 = f3 * tau + 3 * f2;
          f2 = f2 * tau + 2 * f1;
          f1 = f1 * tau + f;
          f = f * tau + c[k]!;
        }
        chain(r, at, o, f, f1 / h, f2 / (h * h), f3 / (h * h * h));
      }
    });
  }
}

const ordersOf = (operand: Operand): number => (operand.kind === 'jet' ? operand.orders : 3);
