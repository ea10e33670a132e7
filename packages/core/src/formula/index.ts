export * from './dimension';
export { FormulaError } from './error';
export {
  compileFormula,
  constantFormula,
  constantNameProblem,
  requireUnits,
  type Formula,
  type FormulaConstant,
  type FormulaScope,
} from './compile';
export { FUNCTIONS, LOOKUP_WAYS, VARIABLES, type FunctionHelp } from './language';
export { LONGEST_FORMULA } from './parse';
export { UNITS } from './units';
export { INPUT } from './input';
