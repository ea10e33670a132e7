import type { Dimension } from './dimension';
import type { FormulaError } from './error';
import type { Registers, Step } from './jet';
import type { Operand } from './operand';
import type { Expression } from './parse';

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

/** What the functions of the language need of the walk through a formula: they lay down steps of their own. */
export interface CallContext {
  readonly scope: FormulaScope;
  readonly steps: Step[];
  /** States that change where the formula is not smooth. */
  readonly switches: ((r: Registers) => number)[];
  /** Axes spoken of, by name. */
  readonly used: string[];
  /** Times in s known not to be smooth. */
  readonly hints: number[];
  /** The next free register. */
  next: number;
  value(e: Expression): Operand;
  /** The value of an expression that must not change. @throws FormulaError */
  constant(e: Expression, what: string): { value: number; dimension: Dimension };
  wrong(e: Expression, message: string): FormulaError;
  slot(): number;
  jetOf(operand: Operand): number;
  emit(dimension: Dimension, orders: number, step: (o: number) => Step): Operand;
  sameUnits(a: Operand, b: Operand, ea: Expression, eb: Expression, what: string): void;
  raise(a: Operand, n: number, e: Expression): Operand;
  finite(value: number, e: Expression): number;
}
