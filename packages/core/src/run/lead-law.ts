import { compileFormula, FormulaError, INPUT, requireUnits, type FormulaScope } from '../formula';
import type { PathLead } from '../machine';
import { functionMotion, integrateMotion, planMotion, type Motion } from '../motion';
import { gaussNodes, lastAtOrBefore } from '../numeric';

const LENGTH_PER_TIME = [1, 0, -1, 0] as const;
/** Cells in which time is tabulated over arc length. */
const CELLS = 1000;

/** What goes with a law along a path. */
export interface PathLength {
  length: number;
  closed: boolean;
}

/**
 * Length run along a path over one cycle, in m.
 * @throws FormulaError where a formula for the speed cannot be used
 */
export function leadMotion(
  { law, start }: PathLead,
  { length, closed }: PathLength,
  cycleTime: number,
  scope: FormulaScope,
): Motion {
  const T = cycleTime;
  const way = closed ? length : length - start;
  switch (law.kind) {
    case 'plan':
      // Places along the path are typed as they are; the move begins where the tool starts.
      return planMotion({ ...law.plan, start: law.plan.start + start }, T);
    case 'speed': {
      const { speed, ramp } = law;
      if (ramp === 0) {
        const time = way / speed;
        const run = closed ? T : Math.min(T, time);
        return planMotion(
          {
            start,
            segments: [{ kind: 'move', id: 'run', duration: run, to: start + speed * run, law: { id: 'straight' } }],
          },
          T,
        );
      }
      // The ramps cover half their speed each; a path shorter than both ramps is run at less than the speed.
      const top = Math.min(speed, way / ramp);
      const hold = Math.max(way / top - ramp, 1e-9);
      const speeds = planMotion(
        {
          start: 0,
          segments: [
            { kind: 'move', id: 'up', duration: ramp, to: top, law: { id: 'poly345' } },
            { kind: 'dwell', id: 'run', duration: hold },
            { kind: 'move', id: 'down', duration: ramp, to: 0, law: { id: 'poly345' } },
          ],
        },
        T,
      );
      return integrateMotion(speeds, start);
    }
    case 'there-and-back': {
      const { speed, turn } = law;
      const time = way / speed + turn / 2;
      const segments = Array.from({ length: Math.max(1, Math.ceil(T / time - 1e-9)) }, (_, i) => ({
        kind: 'move' as const,
        id: `s${i}`,
        duration: time,
        to: i % 2 === 0 ? start + way : start,
        law:
          turn > 0
            ? { id: 'adjustable' as const, parameters: { straight: Math.max(0, 1 - turn / time), up: 0.5, down: 0.5 } }
            : { id: 'straight' as const },
      }));
      return planMotion({ start, segments }, T);
    }
    case 'formula':
      return bySpeedFormula(law.text, start, { length, closed }, T, scope);
  }
}

/** Runs along a path with a speed given over arc length: time is the integral of ds/v, inverted by Newton. */
function bySpeedFormula(
  text: string,
  start: number,
  { length, closed }: PathLength,
  T: number,
  scope: FormulaScope,
): Motion {
  const formula = compileFormula(text, { ...scope, cycleTime: NaN, master: null, axes: [], arc: true });
  requireUnits(formula, text, LENGTH_PER_TIME);
  const inputs = new Float64Array(formula.inputs);
  const jet = new Float64Array(4);
  inputs[INPUT.arc + 1] = 1;
  /** Speed and its derivatives over arc length, at a length from the beginning of the path. */
  const at = (s: number) => {
    inputs[INPUT.arc] = closed ? s - length * Math.floor(s / length) : Math.min(length, s);
    formula.evaluate(inputs, jet, 0);
    return jet[0]!;
  };
  for (let i = 0; i <= CELLS; i++) {
    const s = (length * i) / CELLS;
    if (!(at(s) > 0))
      throw new FormulaError(
        `The speed is not greater than zero at ${Number((s * 1000).toPrecision(4))} mm: along a path it must not stop (take a plan to stop on the way).`,
        0,
        text.length,
      );
  }
  const cell = length / CELLS;
  const lap = new Float64Array(CELLS + 1);
  for (let i = 0; i < CELLS; i++) {
    let sum = 0;
    gaussNodes(i * cell, (i + 1) * cell, (s, weight) => (sum += weight / at(s)));
    lap[i + 1] = lap[i]! + sum;
  }
  const total = lap[CELLS]!;
  const timeAt = (s: number) => {
    const turn = closed ? Math.floor(s / length) : 0;
    const inside = s - turn * length;
    const i = Math.min(CELLS - 1, Math.max(0, Math.floor(inside / cell)));
    let sum = turn * total + lap[i]!;
    gaussNodes(i * cell, inside, (x, weight) => (sum += weight / at(x)));
    return sum;
  };
  const begun = timeAt(start);
  const ends = closed ? Infinity : total - begun;
  const write = (time: number, out: Float64Array) => {
    if (time >= ends) {
      out.fill(0);
      out[0] = length;
      return;
    }
    const wanted = begun + time;
    const turn = closed ? Math.floor(wanted / total) : 0;
    const i = Math.min(CELLS - 1, Math.max(0, lastAtOrBefore(lap, wanted - turn * total)));
    let s = turn * length + i * cell;
    s += (wanted - turn * total - lap[i]!) * at(s);
    for (let k = 0; k < 8; k++) {
      const step = (timeAt(s) - wanted) * at(s);
      s -= step;
      if (Math.abs(step) < 1e-14 * length) break;
    }
    const v = at(s);
    const [v1, v2] = [jet[1]!, jet[2]!];
    out[0] = s;
    out[1] = v;
    out[2] = v * v1;
    out[3] = v * (v1 * v1 + v * v2);
  };
  const breaks = ends < T ? [ends] : [];
  return functionMotion(T, write, breaks, 24);
}
