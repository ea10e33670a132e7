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

function requireFinite(
  f: (time: number, out: Float64Array) => void,
  duration: number,
  text: string,
  place: string,
): void {
  const out = new Float64Array(4);
  for (let k = 0; k <= 500; k++) {
    const time = (duration * (k + 0.5)) / 501;
    f(time, out);
    const order = out.findIndex((value) => !Number.isFinite(value));
    if (order >= 0)
      throw new FormulaError(
        `The formula gives no finite ${order === 0 ? 'value' : 'derivative'} at ${place} = ${Number(time.toPrecision(4))}: keep it away from division by zero and roots of what is negative.`,
        0,
        text.length,
      );
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
  requireFinite(f, scope.cycleTime, text, 't');
  return functionMotion(scope.cycleTime, f, formulaBreaks(formula, sources, scope.cycleTime), PARTS);
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
