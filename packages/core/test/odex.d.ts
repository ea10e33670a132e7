/** What the tests use of the package; its own sources are not written for strict checking. */
export class Solver {
  constructor(size: number);
  absoluteTolerance: number;
  relativeTolerance: number;
  solve(f: (x: number, y: number[]) => number[], from: number, start: number[], to: number): { y: number[] };
}
