import { dense, solveDense, SparseLu } from '../numeric';
import type { Cluster } from './clusters';
import type { MechanismModel } from './model';
import { copyOf, ratesOf, retract, type Positions, type Rates } from './state';

/** Residuals below this share of the typical length count as closed. */
export const CLOSED = 1e-10;

/** Scratch space and evaluation of the equations of a mechanism. */
export class Equations {
  readonly model: MechanismModel;
  /** Values of the Jacobian by slot. */
  readonly values: Float64Array;
  readonly phi: Float64Array;
  readonly gamma: Float64Array;
  /** Makes residuals plain numbers: lengths as shares of the typical length, angles as they are. */
  readonly rowScale: Float64Array;

  constructor(model: MechanismModel) {
    this.model = model;
    this.values = new Float64Array(model.entryRows.length);
    this.phi = new Float64Array(model.rows);
    this.gamma = new Float64Array(model.rows);
    this.rowScale = new Float64Array(model.rows);
    for (const { firstRow, rows } of model.constraints)
      rows.forEach((measure, i) => (this.rowScale[firstRow + i] = measure === 'length' ? 1 / model.scale : 1));
  }

  /**
   * Evaluates Φ; the drives' rows hold their position less what they are led to (`led`, by drive).
   * @param cluster evaluates this part alone
   */
  residual(q: Positions, led: ArrayLike<number> | null, cluster?: Cluster): void {
    const { constraints, drives } = this.model;
    for (const constraint of cluster?.constraints ?? constraints) constraint.residual(q, this.phi);
    if (!led) return;
    for (let k = 0; k < (cluster ?? this.model).drives.length; k++) {
      const i = cluster ? cluster.drives[k]! : k;
      const { row } = drives[i]!;
      this.phi[row] = this.phi[row]! - led[i]!;
    }
  }

  /** Evaluates Φq; of one cluster alone the rest of it is kept. */
  jacobian(q: Positions, cluster?: Cluster): void {
    const constraints = cluster?.constraints ?? this.model.constraints;
    const slots = cluster?.slots;
    if (slots) for (let i = 0; i < slots.length; i++) this.values[slots[i]!] = 0;
    else this.values.fill(0);
    for (const constraint of constraints) constraint.jacobian(q, this.values);
  }

  accelerations(q: Positions, v: Rates, cluster?: Cluster): void {
    for (const constraint of cluster?.constraints ?? this.model.constraints) constraint.gamma(q, v, this.gamma);
  }

  /** Largest residual of the given rows, lengths as shares of the typical length. */
  largest(rows: ArrayLike<number> | number): number {
    let most = 0;
    const count = typeof rows === 'number' ? rows : rows.length;
    for (let i = 0; i < count; i++) {
      const row = typeof rows === 'number' ? i : rows[i]!;
      const size = Math.abs(this.phi[row]!) * this.rowScale[row]!;
      if (!(size <= most)) most = size;
    }
    return most;
  }

  /** Some rows of the Jacobian as a dense matrix, lengths as shares of the typical length. */
  denseRows(rows: readonly number[]) {
    const { size } = this.model;
    const all = this.denseJacobian(this.model.rows);
    const some = dense(rows.length, size);
    rows.forEach((row, i) => some.data.set(all.data.subarray(row * size, (row + 1) * size), i * size));
    return some;
  }

  /** The Jacobian as a dense matrix of the first `rows` rows, lengths as shares of the typical length. */
  denseJacobian(rows: number) {
    const { size, entryRows, entryColumns, units } = this.model;
    const matrix = dense(rows, size);
    for (let k = 1; k < entryRows.length; k++) {
      const row = entryRows[k]!;
      const column = entryColumns[k]!;
      if (row >= rows) continue;
      matrix.data[row * size + column]! += this.values[k]! * this.rowScale[row]! * units[column]!;
    }
    return matrix;
  }
}

/** What Newton's damped iteration came to. */
export interface Closure {
  closed: boolean;
  /** Largest residual left, lengths as shares of the typical length. */
  error: number;
}

/**
 * Brings a state onto the constraints by the smallest weighted change: damped Newton
 * (Levenberg–Marquardt), which also copes with redundant and contradictory equations.
 * @param rows rows that count
 * @param led what the drives are led to, by drive; null leaves them out
 * @param weight how unwillingly each unknown changes; lengths and angles are made comparable inside
 */
export function close(
  equations: Equations,
  q: Positions,
  rows: readonly number[],
  led: ArrayLike<number> | null,
  weight?: ArrayLike<number>,
): Closure {
  const { model, phi } = equations;
  const { size, units } = model;
  const m = rows.length;
  let damping = 1e-10;
  const trial = copyOf(q);
  const step = ratesOf(model);
  const error = (state: Positions) => {
    equations.residual(state, led);
    return equations.largest(rows);
  };
  const squares = () => {
    let sum = 0;
    for (const row of rows) sum += (phi[row]! * equations.rowScale[row]!) ** 2;
    return sum;
  };
  let worst = error(q);
  for (let turn = 0; turn < 80 && worst > CLOSED * 0.01; turn++) {
    const before = squares();
    equations.jacobian(q);
    const full = equations.denseJacobian(model.rows);
    const normal = dense(m, m);
    const inverse = Float64Array.from({ length: size }, (_, j) => 1 / (weight?.[j] ?? 1));
    for (let i = 0; i < m; i++)
      for (let k = 0; k <= i; k++) {
        let sum = 0;
        for (let j = 0; j < size; j++)
          sum += full.data[rows[i]! * size + j]! * inverse[j]! * full.data[rows[k]! * size + j]!;
        normal.data[i * m + k] = normal.data[k * m + i] = sum + (i === k ? damping : 0);
      }
    const right = Float64Array.from(rows, (row) => -phi[row]! * equations.rowScale[row]!);
    if (!solveDense(normal, right)) {
      damping = Math.max(damping * 100, 1e-8);
      if (damping > 1e6) break;
      continue;
    }
    let largest = 0;
    for (let j = 0; j < size; j++) {
      let sum = 0;
      for (let i = 0; i < m; i++) sum += full.data[rows[i]! * size + j]! * right[i]!;
      step[j] = sum * inverse[j]!;
      largest = Math.max(largest, Math.abs(step[j]!));
    }
    // No body turns by more than half a radian at once, so that the nearest closure is found.
    const share = largest > 0.5 ? 0.5 / largest : 1;
    let accepted = false;
    for (let cut = share; cut > share / 300; cut /= 3) {
      retract(model, q, step, trial, cut, units);
      const next = error(trial);
      if (squares() < before || next < CLOSED) {
        q.set(trial);
        worst = next;
        accepted = true;
        break;
      }
    }
    if (accepted) damping = Math.max(1e-12, damping / 10);
    else {
      damping = Math.max(damping * 100, 1e-8);
      error(q);
      if (damping > 1e4) break;
    }
  }
  worst = error(q);
  return { closed: worst <= CLOSED * 100, error: worst };
}

/** Entries of the Jacobian that stand in some of its rows: which one, in which of those rows, in which column. */
export function* entriesOf(
  model: MechanismModel,
  rows: readonly number[],
): Generator<{ k: number; at: number; column: number }> {
  const place = new Map(rows.map((row, i) => [row, i]));
  for (let k = 1; k < model.entryRows.length; k++) {
    const at = place.get(model.entryRows[k]!);
    if (at !== undefined) yield { k, at, column: model.entryColumns[k]! };
  }
}

/** The square system of a cluster whose freedoms are all driven or held: its Φq with a fixed sparse pattern. */
export class SquareSystem {
  private readonly lu: SparseLu;

  constructor(
    model: MechanismModel,
    readonly cluster: Cluster,
  ) {
    const entries = [...entriesOf(model, cluster.rows)];
    const place = new Map(cluster.columns.map((column, i) => [column, i]));
    this.lu = new SparseLu(
      {
        size: cluster.columns.length,
        rows: Int32Array.from(entries, ({ at }) => at),
        columns: Int32Array.from(entries, ({ column }) => place.get(column)!),
      },
      {
        values: Int32Array.from(entries, ({ k }) => k),
        rows: Int32Array.from(cluster.rows),
        columns: Int32Array.from(cluster.columns),
      },
    );
  }

  /** Factors Φq, with its entries by slot; false at a singular pose. */
  factor(values: Float64Array): boolean {
    return this.lu.factor(values);
  }

  /** As {@link SparseLu.weakest}, of the last factors. */
  weakest(): number {
    return this.lu.weakest();
  }

  /** Solves Φq x = b, with b by all rows of the mechanism, for the unknowns of the cluster. */
  solve(b: Float64Array, x: Rates): void {
    this.lu.solve(b, x);
  }

  /** Solves Φqᵀ λ = f for the rows of the cluster, with f by all unknowns of the mechanism. */
  solveTransposed(f: Float64Array, lambda: Float64Array): void {
    this.lu.solveTransposed(f, lambda);
  }
}

/** Equations of motion of a mechanism with freedoms left, at one pose after another. */
export interface MotionSystem {
  readonly rows: readonly number[];
  /** Sets mass and moment of inertia about the normal of its plane for every unknown. */
  weigh(diagonal: ArrayLike<number>): void;
  /** Factors at a pose, with the entries of Φq by slot; false where it is singular. */
  factor(values: Float64Array, q: Positions): boolean;
  /** As {@link SparseLu.weakest}, of the last factors. */
  weakest(): number;
  /** Solves M x + Φqᵀ λ = f, Φq x = b; b and λ by all rows of the mechanism. */
  solve(f: Float64Array | null, b: Float64Array | null, x: Rates, lambda: Float64Array): void;
}

/** The system of mass matrix and independent rows, where the mass matrix is diagonal: [M Φqᵀ; Φq 0]. */
export class BorderedSystem implements MotionSystem {
  readonly rows: readonly number[];
  private readonly lu: SparseLu;
  private readonly entries: Int32Array;
  private readonly packed: Float64Array;
  /** Unknowns that have a mass of their own, or may be given one. */
  private readonly weighed: readonly number[];
  private readonly right: Float64Array;
  private readonly size: number;

  constructor(model: MechanismModel, rows: readonly number[], diagonal: ArrayLike<number>) {
    this.rows = rows;
    this.size = model.size;
    const entries: number[] = [];
    const entryRows: number[] = [];
    const entryColumns: number[] = [];
    for (const { k, at, column } of entriesOf(model, rows)) {
      entries.push(k, k);
      entryRows.push(model.size + at, column);
      entryColumns.push(column, model.size + at);
    }
    const weighed = Array.from({ length: model.size }, (_, j) => j).filter(
      (j) => diagonal[j] !== 0 || j < 3 * model.bodies.length,
    );
    for (const j of weighed) {
      entryRows.push(j);
      entryColumns.push(j);
    }
    this.entries = Int32Array.from(entries);
    this.packed = new Float64Array(entryRows.length);
    this.weighed = weighed;
    this.weigh(diagonal);
    this.right = new Float64Array(model.size + rows.length);
    this.lu = new SparseLu({
      size: model.size + rows.length,
      rows: Int32Array.from(entryRows),
      columns: Int32Array.from(entryColumns),
    });
  }

  weigh(diagonal: ArrayLike<number>): void {
    const { weighed, entries, packed } = this;
    for (let i = 0; i < weighed.length; i++) packed[entries.length + i] = diagonal[weighed[i]!]!;
  }

  factor(values: Float64Array, _q?: Positions): boolean {
    for (let k = 0; k < this.entries.length; k++) this.packed[k] = values[this.entries[k]!]!;
    return this.lu.factor(this.packed);
  }

  weakest(): number {
    return this.lu.weakest();
  }

  solve(f: Float64Array | null, b: Float64Array | null, x: Rates, lambda: Float64Array): void {
    const { right, size, rows } = this;
    for (let j = 0; j < size; j++) right[j] = f ? f[j]! : 0;
    for (let i = 0; i < rows.length; i++) right[size + i] = b ? b[rows[i]!]! : 0;
    this.lu.solve(right, right);
    for (let j = 0; j < size; j++) x[j] = right[j]!;
    lambda.fill(0);
    for (let i = 0; i < rows.length; i++) lambda[rows[i]!] = right[size + i]!;
  }
}
