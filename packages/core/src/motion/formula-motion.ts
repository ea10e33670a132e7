import {
  compileFormula,
  FormulaError,
  INPUT,
  requireUnits,
  power,
  times,
  TIME,
  type Dimension,
  type Formula,
  type FormulaScope,
} from '../formula';
import { findBreaks, functionMotion } from './function-motion';
import { motionAt, type Motion } from './motion';

const LEVELS = ['position', 'velocity', 'acceleration'] as const;
/** Stretches that a formula is cut into at least, so that integrals and peaks are found. */
const PARTS = 24;

/** What a formula reads while it runs. */
export interface FormulaSources {
  master: Motion | null;
  /** Motion of the axis of this name. */
  axis(name: string): Motion;
}

/** A formula as a function of time: writes value and three derivatives. */
export function formulaOverTime(
  formula: Formula,
  { master, axis }: FormulaSources,
): (time: number, out: Float64Array) => void {
  const inputs = new Float64Array(formula.inputs);
  const others = formula.axes.map(axis);
  inputs[INPUT.time + 1] = 1;
  const jet = (motion: Motion, time: number, at: number) => {
    const state = motionAt(motion, Math.min(time, motion.duration));
    inputs[at] = state.position;
    inputs[at + 1] = state.velocity;
    inputs[at + 2] = state.acceleration;
    inputs[at + 3] = state.jerk;
  };
  return (time, out) => {
    inputs[INPUT.time] = time;
    if (formula.usesMaster && master) jet(master, time, INPUT.master);
    for (let k = 0; k < others.length; k++) jet(others[k]!, time, INPUT.axes + 4 * k);
    formula.evaluate(inputs, out, 0);
  };
}

/** Times at which a formula, or what it reads, is not smooth. */
export function formulaBreaks(formula: Formula, sources: FormulaSources, duration: number): number[] {
  const f = formulaOverTime(formula, sources);
  const out = new Float64Array(4);
  const read = [
    ...(formula.usesMaster && sources.master ? [sources.master] : []),
    ...formula.axes.map((name) => sources.axis(name)),
  ];
  const edges = read.flatMap((motion) => motion.edges.filter((time) => time > 0 && time < duration));
  const piece = (time: number) => {
    f(time, out);
    return formula.piece();
  };
  return [...new Set([...findBreaks(duration, piece, [...formula.hints, ...edges]), ...edges])].sort((a, b) => a - b);
}

/**
 * Checks that a formula gives what is wanted of it, to as many derivatives as are needed.
 * @throws FormulaError
 */
export function requireFormula(formula: Formula, text: string, wanted: Dimension, orders: number): void {
  requireUnits(formula, text, wanted);
  if (formula.orders < orders)
    throw new FormulaError(
      'velocity(…) and acceleration(…) of another axis can stand here only in conditions: the derivatives of this motion would need theirs, which are not known.',
      0,
      text.length,
    );
}

/** What the orders of a formula are called, by the level that it gives. */
const ORDERS = ['position', 'velocity', 'acceleration', 'jerk'] as const;

/**
 * Looks whether a formula and its derivatives are finite: over the whole length, at both ends and where it changes.
 * @param level what the formula gives: 0 a position, 1 a velocity, 2 an acceleration
 * @throws FormulaError that names the order, the place, and what to write instead
 */
function requireFinite(
  f: (time: number, out: Float64Array) => void,
  duration: number,
  text: string,
  place: string,
  level = 0,
  breaks: readonly number[] = [],
): void {
  const out = new Float64Array(4);
  const inside = Array.from({ length: 501 }, (_, k) => (duration * (k + 0.5)) / 501);
  for (const time of [0, ...inside, ...breaks, duration]) {
    f(time, out);
    const order = out.subarray(0, 4 - level).findIndex((value) => !Number.isFinite(value));
    if (order < 0) continue;
    const at = `at ${place} = ${Number(time.toPrecision(4))}`;
    const isValue = order === 0 || Number.isNaN(out[0]);
    const message = isValue
      ? `The formula gives no finite value ${at}: keep it away from division by zero and roots of what is negative.`
      : `The ${ORDERS[level + order]!} of this motion is infinite ${at}: a root or a power below ${order} begins infinitely steep where what it is taken of is 0. Raise it to a power of ${3 - level} or more there, as (t/T)^${3 - level}, or begin with a smooth rise, as 10*(t/T)^3 - 15*(t/T)^4 + 6*(t/T)^5.`;
    throw new FormulaError(message, 0, text.length);
  }
}

/**
 * The motion that a formula gives over time at a level (values are positions, velocities or accelerations);
 * lower levels are yet to be integrated.
 * @throws FormulaError
 */
export function formulaMotion(
  text: string,
  scope: FormulaScope,
  position: Dimension,
  level: (typeof LEVELS)[number],
  sources: FormulaSources,
): Motion {
  const order = LEVELS.indexOf(level);
  const formula = compileFormula(text, scope);
  requireFormula(formula, text, times(position, power(TIME, -order)), 3 - order);
  const f = formulaOverTime(formula, sources);
  const breaks = formulaBreaks(formula, sources, scope.cycleTime);
  requireFinite(f, scope.cycleTime, text, 't', order, breaks);
  return functionMotion(scope.cycleTime, f, breaks, PARTS);
}

/**
 * The shape that a formula gives over one wrap of the master.
 * @throws FormulaError
 */
export function formulaShape(text: string, scope: FormulaScope, position: Dimension, wrap: number): Motion {
  const formula = compileFormula(text, { ...scope, cycleTime: NaN, axes: [] });
  requireFormula(formula, text, position, 3);
  const inputs = new Float64Array(formula.inputs);
  inputs[INPUT.master + 1] = 1;
  const f = (m: number, out: Float64Array) => {
    inputs[INPUT.master] = m;
    formula.evaluate(inputs, out, 0);
  };
  requireFinite(f, wrap, text, 'master');
  const out = new Float64Array(4);
  const piece = (m: number) => {
    f(m, out);
    return formula.piece();
  };
  return functionMotion(wrap, f, findBreaks(wrap, piece), PARTS);
}
