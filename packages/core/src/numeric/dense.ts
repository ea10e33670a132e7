/** A dense matrix by rows. */
export interface Dense {
  rows: number;
  columns: number;
  data: Float64Array;
}

export const dense = (rows: number, columns: number): Dense => ({
  rows,
  columns,
  data: new Float64Array(rows * columns),
});

/** What elimination with complete pivoting finds out about a matrix. */
export interface RankAnalysis {
  rank: number;
  /** Basis of the null space, one vector of length `columns` for each free column, that column at 1. */
  nullSpace: Float64Array[];
  /** For each dependent row: its index, and the shares of the independent rows it is made of. */
  dependentRows: { row: number; of: { row: number; share: number }[] }[];
  /** Independent rows, rising. */
  independentRows: number[];
}

/**
 * Rank, null space and dependent rows of a matrix by Gauss–Jordan elimination with complete pivoting.
 * The matrix should be scaled so that its entries are of the order of one.
 * What does not hang together is taken apart first: elimination takes the cube of the size of the largest part.
 * @param tolerance pivots below this share of the largest entry count as zero
 */
export function analyseRank(matrix: Dense, tolerance = 1e-9): RankAnalysis {
  const { data, columns } = matrix;
  const least = tolerance * data.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
  const parts = partsOf(matrix);
  if (parts.length < 2) return eliminate(matrix, least);
  const whole: RankAnalysis = { rank: 0, nullSpace: [], dependentRows: [], independentRows: [] };
  for (const part of parts) {
    const own = dense(part.rows.length, part.columns.length);
    part.rows.forEach((row, r) =>
      part.columns.forEach((column, c) => (own.data[r * own.columns + c] = data[row * columns + column]!)),
    );
    const found = eliminate(own, least);
    whole.rank += found.rank;
    for (const small of found.nullSpace) {
      const wide = new Float64Array(columns);
      part.columns.forEach((column, c) => (wide[column] = small[c]!));
      whole.nullSpace.push(wide);
    }
    const back = (row: number) => part.rows[row]!;
    for (const { row, of } of found.dependentRows)
      whole.dependentRows.push({ row: back(row), of: of.map((own) => ({ ...own, row: back(own.row) })) });
    whole.independentRows.push(...found.independentRows.map(back));
  }
  whole.independentRows.sort((x, y) => x - y);
  return whole;
}

/** Rows and columns of a matrix that hang together by entries other than zero, part by part. */
function partsOf({ rows, columns, data }: Dense): { rows: number[]; columns: number[] }[] {
  const group = Array.from({ length: rows + columns }, (_, i) => i);
  const root = (i: number): number => {
    let at = i;
    while (group[at] !== at) at = group[at]!;
    group[i] = at;
    return at;
  };
  for (let i = 0; i < rows; i++)
    for (let j = 0; j < columns; j++) if (data[i * columns + j] !== 0) group[root(i)] = root(rows + j);
  const parts = new Map<number, { rows: number[]; columns: number[] }>();
  for (let i = 0; i < rows + columns; i++) {
    const at = root(i);
    const part = parts.get(at) ?? { rows: [], columns: [] };
    parts.set(at, part);
    if (i < rows) part.rows.push(i);
    else part.columns.push(i - rows);
  }
  return [...parts.values()];
}

/** As {@link analyseRank}, all of it at once. Pivots below `least` count as zero. */
function eliminate(matrix: Dense, least: number): RankAnalysis {
  const { rows, columns } = matrix;
  const a = Float64Array.from(matrix.data);
  const rowAt = Int32Array.from({ length: rows }, (_, i) => i);
  const columnAt = Int32Array.from({ length: columns }, (_, i) => i);
  const get = (i: number, j: number) => a[rowAt[i]! * columns + columnAt[j]!]!;
  let rank = 0;
  for (; rank < Math.min(rows, columns); rank++) {
    let best = least;
    let pi = -1;
    let pj = -1;
    for (let i = rank; i < rows; i++) {
      const base = rowAt[i]! * columns;
      for (let j = rank; j < columns; j++) {
        const size = Math.abs(a[base + columnAt[j]!]!);
        if (size > best) {
          best = size;
          pi = i;
          pj = j;
        }
      }
    }
    if (pi < 0) break;
    [rowAt[rank], rowAt[pi]] = [rowAt[pi]!, rowAt[rank]!];
    [columnAt[rank], columnAt[pj]] = [columnAt[pj]!, columnAt[rank]!];
    const pivotBase = rowAt[rank]! * columns;
    const pivot = a[pivotBase + columnAt[rank]!]!;
    for (let i = rank + 1; i < rows; i++) {
      const base = rowAt[i]! * columns;
      const factor = a[base + columnAt[rank]!]! / pivot;
      if (factor === 0) continue;
      for (let j = rank + 1; j < columns; j++) {
        const c = columnAt[j]!;
        a[base + c] = a[base + c]! - factor * a[pivotBase + c]!;
      }
      // The factor is kept in place of the zero it made: it tells which rows this one is made of.
      a[base + columnAt[rank]!] = factor;
    }
  }
  const nullSpace: Float64Array[] = [];
  for (let f = rank; f < columns; f++) {
    const x = new Float64Array(columns);
    x[columnAt[f]!] = 1;
    for (let i = rank - 1; i >= 0; i--) {
      let sum = get(i, f);
      for (let j = i + 1; j < rank; j++) sum += get(i, j) * x[columnAt[j]!]!;
      x[columnAt[i]!] = -sum / get(i, i);
    }
    nullSpace.push(x);
  }
  const dependentRows = Array.from({ length: rows - rank }, (_, d) => {
    // Row = Σ factor·(reduced row); reduced rows turn back into rows by the unit lower triangle.
    const share = new Float64Array(rank);
    for (let j = rank - 1; j >= 0; j--) {
      let sum = get(rank + d, j);
      for (let i = j + 1; i < rank; i++) sum -= share[i]! * get(i, j);
      share[j] = sum;
    }
    return {
      row: rowAt[rank + d]!,
      of: [...share.entries()]
        .filter(([, value]) => Math.abs(value) > 1e-7)
        .map(([i, value]) => ({ row: rowAt[i]!, share: value })),
    };
  });
  return { rank, nullSpace, dependentRows, independentRows: [...rowAt.slice(0, rank)].sort((x, y) => x - y) };
}

/**
 * Solves A x = b for a square matrix by elimination with row pivoting; A and b are overwritten, b becomes x.
 * @returns whether A is regular
 */
export function solveDense({ rows: n, data: a }: Dense, b: Float64Array): boolean {
  for (let k = 0; k < n; k++) {
    let p = k;
    for (let i = k + 1; i < n; i++) if (Math.abs(a[i * n + k]!) > Math.abs(a[p * n + k]!)) p = i;
    const pivot = a[p * n + k]!;
    if (pivot === 0 || !Number.isFinite(pivot)) return false;
    if (p !== k) {
      for (let j = k; j < n; j++) [a[k * n + j], a[p * n + j]] = [a[p * n + j]!, a[k * n + j]!];
      [b[k], b[p]] = [b[p]!, b[k]!];
    }
    for (let i = k + 1; i < n; i++) {
      const factor = a[i * n + k]! / pivot;
      if (factor === 0) continue;
      for (let j = k + 1; j < n; j++) a[i * n + j] = a[i * n + j]! - factor * a[k * n + j]!;
      b[i] = b[i]! - factor * b[k]!;
    }
  }
  for (let i = n - 1; i >= 0; i--) {
    let sum = b[i]!;
    for (let j = i + 1; j < n; j++) sum -= a[i * n + j]! * b[j]!;
    b[i] = sum / a[i * n + i]!;
  }
  return true;
}
