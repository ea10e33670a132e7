export * from './dimension';
export { FormulaError } from './error';
export { compileFormula, constantFormula, requireUnits, type Formula } from './compile';
export { constantNameProblem } from './names';
export type { FormulaConstant, FormulaScope } from './context';
export { FUNCTIONS, LOOKUP_WAYS, VARIABLES, type FunctionHelp } from './language';
export { LONGEST_FORMULA } from './parse';
export { UNITS } from './units';
export { INPUT } from './input';
