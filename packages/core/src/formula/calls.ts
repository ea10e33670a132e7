import { findLaw, LAW_IDS, makeLaw, type MotionLaw } from '../law';
import { hermitePiece, lastAtOrBefore, splineThrough } from '../numeric';
import type { CallContext } from './context';
import { alike, ANGLE, describeDimension, NUMBER, power, times, TIME, type Dimension } from './dimension';
import { FormulaError } from './error';
import { INPUT } from './input';
import { addJets, chain, copyJet, divideJets, ELEMENTARY, type Registers, type Step } from './jet';
import { LOOKUP_WAYS, nearestName } from './language';
import { ordersOf, type Operand } from './operand';
import type { Expression } from './parse';

type Test = (r: Registers) => boolean;
const ORDERS: Record<string, number> = { position: 0, velocity: 1, acceleration: 2 };

/** Usual functions of one value; those of a constant are computed once, here. */
export function elementary(c: CallContext, name: string, e: Expression): Operand {
  const u = c.value(e);
  if (name === 'sqrt') {
    if (u.kind === 'constant') return c.raise(u, 0.5, e);
    return c.emit(power(u.dimension, 0.5), u.orders, (o) => ELEMENTARY.sqrt!(u.at, o));
  }
  const free = name === 'abs' || name === 'sign';
  const angle = ['sin', 'cos', 'tan'].includes(name) && alike(u.dimension, ANGLE);
  if (!free && !angle && !alike(u.dimension, NUMBER))
    throw c.wrong(
      e,
      `${name} takes a plain number${['sin', 'cos', 'tan'].includes(name) ? ' or an angle' : ''}, this is ${describeDimension(u.dimension)}: divide by what it is counted in.`,
    );
  const dimension = name === 'abs' ? u.dimension : ['asin', 'acos', 'atan'].includes(name) ? ANGLE : NUMBER;
  const at = c.jetOf(u);
  if (name === 'abs') c.switches.push((r) => (r[at]! < 0 ? -1 : 1));
  if (name === 'floor') c.switches.push((r) => Math.floor(r[at]!));
  if (name === 'sign') c.switches.push((r) => Math.sign(r[at]!));
  const made: (o: number) => Step =
    name === 'floor' || name === 'sign'
      ? (o) => {
          const f = name === 'floor' ? Math.floor : Math.sign;
          return (r) => chain(r, at, o, f(r[at]!), 0, 0, 0);
        }
      : (o) => ELEMENTARY[name]!(at, o);
  const result = c.emit(dimension, ordersOf(u), made);
  if (u.kind === 'jet') return result;
  // A function of a constant is a constant: computed once, here.
  const r = new Float64Array(c.next);
  r[at] = u.value;
  c.steps.pop()!(r);
  return { kind: 'constant', value: c.finite(r[(result as { at: number }).at]!, e), dimension };
}

/** Smallest (sense −1) or largest (sense 1) of some values; where they cross it is not smooth. */
export function extreme(c: CallContext, args: readonly Expression[], sense: 1 | -1, first?: () => Operand): Operand {
  let best = first ? first() : c.value(args[0]!);
  for (const e of args.slice(1)) {
    const other = c.value(e);
    c.sameUnits(best, other, args[0]!, e, 'The values');
    const [p, q] = [c.jetOf(best), c.jetOf(other)];
    c.switches.push((r) => (sense * (r[p]! - r[q]!) >= 0 ? 1 : 0));
    best = c.emit(best.dimension, Math.min(ordersOf(best), ordersOf(other)), (o) => {
      const [one, two] = [copyJet(p, o), copyJet(q, o)];
      return (r) => (sense * (r[p]! - r[q]!) >= 0 ? one : two)(r);
    });
  }
  return best;
}

/** What is left of a value beyond whole multiples of a length. */
export function modulo(c: CallContext, ex: Expression, el: Expression): Operand {
  const x = c.value(ex);
  const length = c.constant(el, 'The length of mod');
  c.sameUnits(x, { kind: 'constant', ...length }, ex, el, 'The two values of mod');
  if (!(length.value > 0)) throw c.wrong(el, 'The length of mod must be greater than zero.');
  const at = c.jetOf(x);
  const size = length.value;
  c.switches.push((r) => Math.floor(r[at]! / size));
  if (x.kind === 'jet' && x.at === INPUT.time)
    for (let k = 1; k * size < c.scope.cycleTime && k < 2000; k++) c.hints.push(k * size);
  return c.emit(x.dimension, ordersOf(x), (o) => (r) => {
    chain(r, at, o, r[at]! - size * Math.floor(r[at]! / size), 1, 0, 0);
  });
}

/** The direction of (x, y), with the derivatives of an arc tangent. */
export function direction(c: CallContext, ey: Expression, ex: Expression): Operand {
  const [y, x] = [c.value(ey), c.value(ex)];
  c.sameUnits(y, x, ey, ex, 'The two values of atan2');
  const [p, q] = [c.jetOf(y), c.jetOf(x)];
  c.switches.push((r) => (r[q]! < 0 && r[p]! < 0 ? 1 : 0));
  // The derivative of the direction is that of atan(y/x), or of −atan(x/y) where y is the larger.
  const orders = Math.min(ordersOf(x), ordersOf(y));
  const [ratio, inverse] = [c.slot(), c.slot()];
  return c.emit(ANGLE, orders, (o) => {
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

/** Position, velocity or acceleration of another axis. */
export function axis(c: CallContext, quantity: string, e: Expression): Operand {
  const name = e.kind === 'text' ? e.value : e.kind === 'name' ? e.name : undefined;
  if (name === undefined) throw c.wrong(e, `Name an axis: ${quantity}("…").`);
  const index = c.scope.axes.findIndex((axis) => axis.name === name);
  if (index < 0) {
    const names = c.scope.axes.map((axis) => axis.name);
    const near = nearestName(name, names);
    throw c.wrong(
      e,
      `There is no other axis “${name}”${near ? `: did you mean “${near}”?` : names.length > 0 ? `; there are ${names.map((n) => `“${n}”`).join(', ')}.` : '.'}`,
    );
  }
  if (!c.used.includes(name)) c.used.push(name);
  const shift = ORDERS[quantity]!;
  const dimension = times(c.scope.axes[index]!.dimension, power(TIME, -shift));
  const at = INPUT.axes + 4 * index;
  if (shift === 0) return { kind: 'jet', at, dimension, orders: 3 };
  return c.emit(dimension, 3 - shift, (o) => (r) => {
    for (let i = 0; i < 4; i++) r[o + i] = i + shift < 4 ? r[at + i + shift]! : 0;
  });
}

function law(c: CallContext, e: Expression | undefined): MotionLaw {
  if (!e) return makeLaw('poly345');
  const name = e.kind === 'name' ? e.name : e.kind === 'text' ? e.value : undefined;
  if (name !== undefined && findLaw(name)) return makeLaw(name);
  const near = name === undefined ? undefined : nearestName(name, LAW_IDS);
  throw c.wrong(
    e,
    `${name === undefined ? 'The name of a law is wanted here' : `There is no law “${name}”`}: ${near ? `did you mean ${near}?` : `take one of ${LAW_IDS.join(', ')}.`}`,
  );
}

/** Two constant places on the scale of x, in rising order. */
function places(c: CallContext, x: Operand, [ex, ef, et]: readonly Expression[]): [number, number] {
  const [from, to] = [c.constant(ef!, 'A place'), c.constant(et!, 'A place')];
  c.sameUnits(x, { kind: 'constant', ...from }, ex!, ef!, 'The value and its place');
  c.sameUnits(x, { kind: 'constant', ...to }, ex!, et!, 'The value and its place');
  if (!(to.value > from.value)) throw new FormulaError('The second place must lie behind the first.', ef!.from, et!.to);
  return [from.value, to.value];
}

/** A smooth rise between two places, under a law of the library. */
export function rise(c: CallContext, args: readonly Expression[]): Operand {
  const x = c.value(args[0]!);
  const [from, to] = places(c, x, args);
  return smoothRise(c, x, from, to, law(c, args[3]));
}

function smoothRise(c: CallContext, x: Operand, from: number, to: number, law: MotionLaw): Operand {
  const at = c.jetOf(x);
  const width = to - from;
  const edges = [0, ...law.breaks, 1].map((tau) => from + tau * width);
  if (x.kind === 'jet' && x.at === INPUT.time) c.hints.push(...edges);
  c.switches.push((r) => lastAtOrBefore(edges, r[at]!));
  const out = new Float64Array(4);
  return c.emit(NUMBER, ordersOf(x), (o) => (r) => {
    const tau = (r[at]! - from) / width;
    if (tau < 0) chain(r, at, o, 0, 0, 0, 0);
    else if (tau >= 1) chain(r, at, o, 1, 0, 0, 0);
    else {
      law.derivatives(tau, out, 0);
      chain(r, at, o, out[0]!, out[1]! / width, out[2]! / (width * width), out[3]! / (width * width * width));
    }
  });
}

/** 1 between two places, with smooth flanks where one is given. */
export function pulse(c: CallContext, args: readonly Expression[]): Operand {
  const x = c.value(args[0]!);
  const [from, to] = places(c, x, args);
  if (args.length > 3) {
    const flank = c.constant(args[3]!, 'A flank');
    c.sameUnits(x, { kind: 'constant', ...flank }, args[0]!, args[3]!, 'The value and its flank');
    if (!(flank.value > 0) || 2 * flank.value > to - from)
      throw c.wrong(args[3]!, 'The flank must be greater than zero and at most half of the pulse.');
    const flankLaw = law(c, args[4]);
    const up = c.jetOf(smoothRise(c, x, from, from + flank.value, flankLaw));
    const down = c.jetOf(smoothRise(c, x, to - flank.value, to, flankLaw));
    return c.emit(NUMBER, ordersOf(x), (o) => addJets(up, down, -1, o));
  }
  const at = c.jetOf(x);
  const inside: Test = (r) => r[at]! >= from && r[at]! < to;
  if (x.kind === 'jet' && x.at === INPUT.time) c.hints.push(from, to);
  c.switches.push((r) => (inside(r) ? 1 : 0));
  return c.emit(NUMBER, ordersOf(x), (o) => (r) => chain(r, at, o, inside(r) ? 1 : 0, 0, 0, 0));
}

function list(c: CallContext, e: Expression): { values: number[]; dimension: Dimension; items: Expression[] } {
  if (e.kind !== 'list' || e.items.length < 2)
    throw c.wrong(e, 'A list of at least two values is wanted: [0 s, 0.2 s].');
  const found = e.items.map((item) => c.constant(item, 'A value of a list'));
  found.forEach((value, i) =>
    c.sameUnits(
      { kind: 'constant', ...found[0]! },
      { kind: 'constant', ...value },
      e.items[0]!,
      e.items[i]!,
      'The values of a list',
    ),
  );
  return { values: found.map(({ value }) => value), dimension: found[0]!.dimension, items: e.items };
}

/** A table between constant places. */
export function lookup(c: CallContext, args: readonly Expression[]): Operand {
  const x = c.value(args[0]!);
  const places = list(c, args[1]!);
  const values = list(c, args[2]!);
  c.sameUnits(
    x,
    { kind: 'constant', value: 0, dimension: places.dimension },
    args[0]!,
    args[1]!,
    'The value and the places',
  );
  if (places.values.length !== values.values.length)
    throw c.wrong(args[2]!, `There are ${places.values.length} places but ${values.values.length} values.`);
  places.values.forEach((place, i, all) => {
    if (i > 0 && place <= all[i - 1]!) throw c.wrong(places.items[i]!, 'The places must rise.');
  });
  const way = args[3];
  const named = way?.kind === 'name' ? way.name : way?.kind === 'text' ? way.value : 'line';
  if (!LOOKUP_WAYS.some((known) => known === named)) throw c.wrong(way!, `Take one of ${LOOKUP_WAYS.join(', ')}.`);
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
  const at = c.jetOf(x);
  c.switches.push((r) => lastAtOrBefore(xs, r[at]!));
  if (x.kind === 'jet' && x.at === INPUT.time) c.hints.push(...xs);
  return c.emit(values.dimension, ordersOf(x), (o) => (r) => {
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
