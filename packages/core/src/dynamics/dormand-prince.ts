import { copyOf, positionsOf, ratesOf, retract, type Layout, type Positions, type Rates } from '../mechanism';

/** Coefficients of Dormand and Prince's 5(4) pair (Hairer, Nørsett, Wanner, Solving Ordinary Differential Equations I). */
const NODES = [0, 1 / 5, 3 / 10, 4 / 5, 8 / 9, 1, 1];
const STAGES = [
  [],
  [1 / 5],
  [3 / 40, 9 / 40],
  [44 / 45, -56 / 15, 32 / 9],
  [19372 / 6561, -25360 / 2187, 64448 / 6561, -212 / 729],
  [9017 / 3168, -355 / 33, 46732 / 5247, 49 / 176, -5103 / 18656],
  [35 / 384, 0, 500 / 1113, 125 / 192, -2187 / 6784, 11 / 84],
];
const ERROR = [71 / 57600, 0, -71 / 16695, 71 / 1920, -17253 / 339200, 22 / 525, -1 / 40];

/** Writes accelerations of q and v at a time. */
export type Accelerate = (time: number, q: Positions, v: Rates, a: Rates) => void;

/** Where a step leads to. */
export interface Trial {
  q: Positions;
  v: Rates;
  /** As a share of the tolerance. */
  error: number;
}

/** Steps of a system of second order, q̈ = a(t, q, q̇). */
export class DormandPrince {
  private readonly stages: Float64Array[];
  private readonly q: Positions;
  private readonly v: Rates;
  private readonly a: Rates;
  private readonly way: Rates;
  private readonly layout: Layout;

  /**
   * @param n number of unknowns; behind them q and v hold places that stay as they are
   * @param units size of each unknown that its errors are seen beside
   */
  constructor(
    private readonly n: number,
    private readonly units: Float64Array,
    private readonly tolerance: number,
  ) {
    this.stages = Array.from({ length: 7 }, () => new Float64Array(2 * n));
    this.layout = { size: n };
    this.q = positionsOf(this.layout);
    this.v = ratesOf(this.layout);
    this.a = ratesOf(this.layout);
    this.way = ratesOf(this.layout);
  }

  /**
   * Tries a step of h. Accelerations are last asked for where it ends.
   * @returns null where its error is no number
   */
  step(time: number, h: number, from: { q: Positions; v: Rates }, accelerate: Accelerate): Trial | null {
    const { n, stages, q, v, a, way } = this;
    q.set(from.q);
    v.set(from.v);
    for (let s = 0; s < 7; s++) {
      for (let j = 0; j < n; j++) {
        let dq = 0;
        let dv = 0;
        for (let k = 0; k < s; k++) {
          const c = STAGES[s]![k]!;
          if (c === 0) continue;
          dq += c * stages[k]![j]!;
          dv += c * stages[k]![n + j]!;
        }
        way[j] = dq;
        v[j] = from.v[j]! + h * dv;
      }
      retract(this.layout, from.q, way, q, h);
      accelerate(time + NODES[s]! * h, q, v, a);
      stages[s]!.set(v.subarray(0, n), 0);
      stages[s]!.set(a.subarray(0, n), n);
    }
    let sum = 0;
    for (let j = 0; j < 2 * n; j++) {
      let e = 0;
      for (let k = 0; k < 7; k++) e += ERROR[k]! * stages[k]![j]!;
      const size = this.units[j % n]! + Math.abs(j < n ? q[j]! : v[j - n]!);
      sum += ((h * e) / (this.tolerance * size)) ** 2;
    }
    const error = Math.sqrt(sum / (2 * n));
    return Number.isFinite(error) ? { q: copyOf(q), v: copyOf(v), error } : null;
  }
}
