/** A pivot that has shrunk to this share, seen beside what stood in its row, is not trusted: the order is sought anew. */
const TRUST = 1e-4;
/** A row of which less than this share is left counts as none. */
const SINGULAR = 1e-11;
/** While the order is sought, a pivot must reach this share of the largest entry of its row. */
const THRESHOLD = 0.1;

/** A matrix whose pattern stays while its values change: entry k stands at (rows[k], columns[k]); repeated places add up. */
export interface SparsePattern {
  size: number;
  rows: Int32Array;
  columns: Int32Array;
}

/** Where a matrix that is part of something larger finds what is its own there; what is left out is in the same order. */
export interface SparsePlaces {
  /** By entry: its value among the values given. */
  values?: Int32Array;
  /** By row, and by column: its number among the vectors given. */
  rows?: Int32Array;
  columns?: Int32Array;
}

/**
 * LU factors of a sparse square matrix whose pattern stays. The order of elimination is found once, by fill
 * (Markowitz' count with threshold pivoting; Duff, Erisman and Reid, Direct Methods for Sparse Matrices),
 * and used again for new values as long as its pivots can be trusted.
 */
export class SparseLu {
  readonly size: number;
  private readonly pattern: SparsePattern;
  /** Elimination order, as vectors are numbered: step k uses row rowOrder[k] and column columnOrder[k]. */
  private rowOrder: Int32Array = new Int32Array();
  private columnOrder: Int32Array = new Int32Array();
  /** Factors by rows in elimination order: L strictly below, U above the diagonal, columns rising. */
  private rowStart = new Int32Array();
  private columnOf = new Int32Array();
  private diagonalAt = new Int32Array();
  private factors = new Float64Array();
  /** Where each entry of the matrix goes among the factors. */
  private target = new Int32Array();
  /** What each step of the elimination changes among the factors, in the order of these steps. */
  private changed = new Int32Array();
  private work = new Float64Array();
  private readonly shares: Float64Array;
  private readonly largests: Float64Array;
  private ordered = false;
  private readonly valueAt: Int32Array;

  constructor(
    pattern: SparsePattern,
    private readonly places: SparsePlaces = {},
  ) {
    this.pattern = pattern;
    this.valueAt = places.values ?? Int32Array.from(pattern.rows, (_, k) => k);
    this.size = pattern.size;
    this.work = new Float64Array(pattern.size);
    this.shares = new Float64Array(pattern.size);
    this.largests = new Float64Array(pattern.size);
  }

  /**
   * Factors the matrix with these values.
   * @returns false where it is singular to working accuracy
   */
  factor(values: ArrayLike<number>): boolean {
    if (this.ordered && this.refactor(values, TRUST)) return true;
    this.ordered = this.order(values);
    // Just ordered, pivots are the best there are: how large they are in their rows is what later ones are held against.
    this.shares.fill(1);
    if (!this.ordered || !this.refactor(values, SINGULAR)) return false;
    this.keepShares();
    return true;
  }

  /** How small the smallest pivot of the last factors is beside what stood in its row: near zero close to singular. */
  weakest(): number {
    const { size, factors, diagonalAt, largests } = this;
    let least = 1;
    for (let i = 0; i < size; i++) {
      const share = Math.abs(factors[diagonalAt[i]!]!) / largests[i]!;
      if (!(share >= least)) least = share;
    }
    return least;
  }

  /** Solves A x = b into `x` (which may be `b`). */
  solve(b: ArrayLike<number>, x: Float64Array): void {
    const { size, work, factors, rowStart, columnOf, diagonalAt, rowOrder, columnOrder } = this;
    for (let k = 0; k < size; k++) {
      let sum = b[rowOrder[k]!]!;
      for (let p = rowStart[k]!; p < diagonalAt[k]!; p++) sum -= factors[p]! * work[columnOf[p]!]!;
      work[k] = sum;
    }
    for (let k = size - 1; k >= 0; k--) {
      let sum = work[k]!;
      for (let p = diagonalAt[k]! + 1; p < rowStart[k + 1]!; p++) sum -= factors[p]! * work[columnOf[p]!]!;
      work[k] = sum / factors[diagonalAt[k]!]!;
    }
    for (let k = 0; k < size; k++) x[columnOrder[k]!] = work[k]!;
  }

  /** Solves Aᵀ x = b into `x` (which may be `b`). */
  solveTransposed(b: ArrayLike<number>, x: Float64Array): void {
    const { size, work, factors, rowStart, columnOf, diagonalAt, rowOrder, columnOrder } = this;
    for (let k = 0; k < size; k++) work[k] = b[columnOrder[k]!]!;
    for (let k = 0; k < size; k++) {
      const value = work[k]! / factors[diagonalAt[k]!]!;
      work[k] = value;
      if (value !== 0)
        for (let p = diagonalAt[k]! + 1; p < rowStart[k + 1]!; p++)
          work[columnOf[p]!] = work[columnOf[p]!]! - factors[p]! * value;
    }
    for (let k = size - 1; k >= 0; k--) {
      const value = work[k]!;
      if (value !== 0)
        for (let p = rowStart[k]!; p < diagonalAt[k]!; p++)
          work[columnOf[p]!] = work[columnOf[p]!]! - factors[p]! * value;
    }
    for (let k = 0; k < size; k++) x[rowOrder[k]!] = work[k]!;
  }

  private refactor(values: ArrayLike<number>, trust: number): boolean {
    const { size, factors, rowStart, columnOf, diagonalAt, target, changed, shares, largests, valueAt } = this;
    factors.fill(0);
    for (let k = 0; k < target.length; k++) factors[target[k]!] = factors[target[k]!]! + values[valueAt[k]!]!;
    let next = 0;
    for (let i = 0; i < size; i++) {
      const begin = rowStart[i]!;
      const end = rowStart[i + 1]!;
      const diagonal = diagonalAt[i]!;
      let largest = 0;
      for (let p = begin; p < end; p++) {
        const magnitude = Math.abs(factors[p]!);
        if (magnitude > largest) largest = magnitude;
      }
      for (let p = begin; p < diagonal; p++) {
        const k = columnOf[p]!;
        const above = diagonalAt[k]!;
        const last = rowStart[k + 1]!;
        const factor = factors[p]! / factors[above]!;
        factors[p] = factor;
        if (factor === 0) {
          next += last - above - 1;
          continue;
        }
        for (let q = above + 1; q < last; q++) {
          const at = changed[next++]!;
          factors[at] = factors[at]! - factor * factors[q]!;
        }
      }
      const pivot = Math.abs(factors[diagonal]!);
      largests[i] = largest;
      if (!(pivot > trust * shares[i]! * largest) || !Number.isFinite(pivot)) return false;
    }
    return true;
  }

  /** Keeps how large the pivots are beside the largest entries that stood in their rows. */
  private keepShares(): void {
    const { size, factors, diagonalAt, shares, largests } = this;
    for (let i = 0; i < size; i++) shares[i] = Math.min(1, Math.abs(factors[diagonalAt[i]!]!) / largests[i]!);
  }

  /** Finds the order of elimination and the pattern of the factors for these values. */
  private order(values: ArrayLike<number>): boolean {
    const { size } = this;
    const { rows, columns } = this.pattern;
    const row: Map<number, number>[] = Array.from({ length: size }, () => new Map());
    const inColumn: Set<number>[] = Array.from({ length: size }, () => new Set());
    for (let k = 0; k < rows.length; k++) {
      const r = row[rows[k]!]!;
      r.set(columns[k]!, (r.get(columns[k]!) ?? 0) + values[this.valueAt[k]!]!);
      inColumn[columns[k]!]!.add(rows[k]!);
    }
    const scale = row.map((r) => Math.max(...[...r.values()].map(Math.abs), 0));
    const left = new Set(row.keys());
    const rowOrder = new Int32Array(size);
    const columnOrder = new Int32Array(size);
    const lower: number[][] = Array.from({ length: size }, () => []);
    for (let k = 0; k < size; k++) {
      let best = Infinity;
      let bestSize = 0;
      let pivotRow = -1;
      let pivotColumn = -1;
      for (const i of left) {
        const r = row[i]!;
        let largest = 0;
        for (const value of r.values()) largest = Math.max(largest, Math.abs(value));
        if (largest <= SINGULAR * scale[i]!) return false;
        for (const [j, value] of r) {
          const magnitude = Math.abs(value);
          if (magnitude < THRESHOLD * largest || magnitude === 0) continue;
          const count = (r.size - 1) * (inColumn[j]!.size - 1);
          if (count < best || (count === best && magnitude / scale[i]! > bestSize)) {
            best = count;
            bestSize = magnitude / scale[i]!;
            pivotRow = i;
            pivotColumn = j;
          }
        }
        if (best === 0) break;
      }
      if (pivotRow < 0) return false;
      rowOrder[k] = pivotRow;
      columnOrder[k] = pivotColumn;
      left.delete(pivotRow);
      const source = row[pivotRow]!;
      const pivot = source.get(pivotColumn)!;
      for (const j of source.keys()) inColumn[j]!.delete(pivotRow);
      for (const i of inColumn[pivotColumn]!) {
        const r = row[i]!;
        const factor = r.get(pivotColumn)! / pivot;
        r.delete(pivotColumn);
        lower[i]!.push(pivotColumn);
        for (const [j, value] of source) {
          if (j === pivotColumn) continue;
          r.set(j, (r.get(j) ?? 0) - factor * value);
          inColumn[j]!.add(i);
        }
      }
    }
    this.keep(rowOrder, columnOrder, row, lower);
    return true;
  }

  private keep(
    rowOrder: Int32Array<ArrayBuffer>,
    columnOrder: Int32Array<ArrayBuffer>,
    upper: readonly Map<number, number>[],
    lower: readonly number[][],
  ): void {
    const { size } = this;
    const columnPlace = new Int32Array(size);
    const rowPlace = new Int32Array(size);
    columnOrder.forEach((j, k) => (columnPlace[j] = k));
    rowOrder.forEach((i, k) => (rowPlace[i] = k));
    const starts = new Int32Array(size + 1);
    const all: number[] = [];
    const diagonal = new Int32Array(size);
    const slots: Map<number, number>[] = [];
    for (let k = 0; k < size; k++) {
      const i = rowOrder[k]!;
      const places = [...lower[i]!, ...upper[i]!.keys()].map((j) => columnPlace[j]!).sort((a, b) => a - b);
      const slot = new Map<number, number>();
      for (const place of places) {
        slot.set(place, all.length);
        if (place === k) diagonal[k] = all.length;
        all.push(place);
      }
      slots.push(slot);
      starts[k + 1] = all.length;
    }
    const { rows: rowAt, columns: columnAt } = this.places;
    this.rowOrder = rowAt ? rowOrder.map((i) => rowAt[i]!) : rowOrder;
    this.columnOrder = columnAt ? columnOrder.map((j) => columnAt[j]!) : columnOrder;
    this.rowStart = starts;
    this.columnOf = Int32Array.from(all);
    this.diagonalAt = diagonal;
    this.factors = new Float64Array(all.length);
    const changed: number[] = [];
    slots.forEach((slot, i) => {
      for (let p = starts[i]!; p < diagonal[i]!; p++) {
        const k = all[p]!;
        for (let q = diagonal[k]! + 1; q < starts[k + 1]!; q++) changed.push(slot.get(all[q]!)!);
      }
    });
    this.changed = Int32Array.from(changed);
    const { rows, columns } = this.pattern;
    this.target = Int32Array.from(rows, (r, k) => slots[rowPlace[r]!]!.get(columnPlace[columns[k]!]!)!);
  }
}
