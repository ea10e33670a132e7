import type { Dimension } from './dimension';

/** A part of a formula made ready: a number, or a jet in a register. */
export type Operand =
  | { kind: 'constant'; value: number; dimension: Dimension }
  | { kind: 'jet'; at: number; dimension: Dimension; orders: number; scaled?: Scaled };

/** How a jet was made from another by the step of this number: times `by`, plus `plus`. */
export interface Scaled {
  step: number;
  base: number;
  by: number;
  plus: number;
}

/** How many derivatives of a part are exact. */
export const ordersOf = (operand: Operand): number => (operand.kind === 'jet' ? operand.orders : 3);
