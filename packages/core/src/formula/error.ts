/** A formula that cannot be used: what is wrong, and the place in its text (characters, end not included). */
export class FormulaError extends Error {
  override name = 'FormulaError';
  constructor(
    message: string,
    readonly from: number,
    readonly to: number,
  ) {
    super(message);
  }
}
