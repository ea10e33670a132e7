export * from './quantity';
export { Scatter } from './numeric';
export * from './law';
export {
  compileFormula,
  constantFormula,
  constantNameProblem,
  describeDimension,
  FormulaError,
  FUNCTIONS,
  INPUT,
  LENGTH,
  ANGLE,
  LOOKUP_WAYS,
  UNITS,
  VARIABLES,
  type Formula,
  type FormulaScope,
} from './formula';
export * from './motion';
export * from './geometry';
export * from './machine';
export * from './mechanism';
export * from './dynamics';
export * from './contact';
export * from './sequence';
export * from './run';
export * from './cycle';
export * from './sizing';
export * from './format';
