import { compileFormula, FORCE, FormulaError, TORQUE, type Dimension } from '../formula';
import { switchedElements, type Machine } from '../machine';
import {
  formulaBreaks,
  formulaOverTime,
  formulaScope,
  requireFormula,
  type MachineMotions,
  type PlanFinding,
} from '../motion';
import type { MechanismFinding } from './mechanism-run';

/** A force or torque by formula: its value at a time in s, the times at which it is not smooth, or what is wrong. */
export interface EffortFormula {
  external: ((time: number) => number) | null;
  /** Times inside a run of this length (s) at which it is not smooth. */
  edges: (motions: MachineMotions, duration: number) => number[];
  problem: Extract<PlanFinding, { code: 'formula' }> | null;
}

/** Makes a force or torque by formula ready; it may speak of time, the master and all axes. */
export function effortFormula(text: string, wanted: Dimension, motions: MachineMotions): EffortFormula {
  try {
    const formula = compileFormula(text, formulaScope(motions.machine, null, motions.constants));
    requireFormula(formula, text, wanted, 0);
    const f = formulaOverTime(formula, motions.sources);
    const out = new Float64Array(4);
    const external = (time: number) => {
      f(time, out);
      return out[0]!;
    };
    return { external, edges: ({ sources }, duration) => formulaBreaks(formula, sources, duration), problem: null };
  } catch (error) {
    if (!(error instanceof FormulaError)) throw error;
    const [from, to] = [Math.min(error.from, text.length), Math.min(error.to, text.length)];
    return {
      external: null,
      edges: () => [],
      problem: { code: 'formula', severity: 'error', where: 'load', text: error.message, from, to },
    };
  }
}

/** Forces and torques of a mechanism that are given by formulas, ready to run; those that cannot be read are named. */
export function elementFormulas(
  machine: Machine,
  motions: MachineMotions,
): { values: Map<string, (time: number) => number>; edges: EffortFormula['edges']; findings: MechanismFinding[] } {
  const { mechanism } = machine;
  const switched = switchedElements(machine);
  const values = new Map<string, (time: number) => number>();
  const all: EffortFormula[] = [];
  const findings: MechanismFinding[] = [];
  for (const element of mechanism.elements) {
    if (!(element.on || switched.has(element.id)) || !('course' in element) || element.course.kind !== 'formula')
      continue;
    const made = effortFormula(element.course.text, element.kind === 'force' ? FORCE : TORQUE, motions);
    if (made.external) values.set(element.id, made.external);
    all.push(made);
    if (made.problem) findings.push({ code: 'formula', severity: 'error', id: element.id, text: made.problem.text });
  }
  return { values, edges: (by, duration) => all.flatMap(({ edges }) => edges(by, duration)), findings };
}
