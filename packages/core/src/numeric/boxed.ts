import type { Dense } from './dense';

/** Pivots below this share of the largest diagonal entry belong to directions that the others hold already. */
const DEPENDENT = 1e-11;

/**
 * Solves A x = b for a symmetric, positive semidefinite A by elimination with pivots from the diagonal, where b lies
 * in the range of A; what the others determine already stays 0.
 */
export function solveSemidefinite({ rows: n, data }: Dense, b: ArrayLike<number>): Float64Array {
  const a = Float64Array.from(data);
  const right = Float64Array.from(b);
  const order: number[] = [];
  const left = new Set(Array.from({ length: n }, (_, i) => i));
  const largest = Math.max(0, ...Array.from(left, (i) => a[i * n + i]!));
  while (left.size > 0) {
    const p = [...left].reduce((best, i) => (a[i * n + i]! > a[best * n + best]! ? i : best));
    if (!(a[p * n + p]! > DEPENDENT * largest)) break;
    left.delete(p);
    order.push(p);
    for (const i of left) {
      const factor = a[i * n + p]! / a[p * n + p]!;
      for (const j of left) a[i * n + j] = a[i * n + j]! - factor * a[p * n + j]!;
      right[i] = right[i]! - factor * right[p]!;
    }
  }
  const x = new Float64Array(n);
  for (let k = order.length - 1; k >= 0; k--) {
    const p = order[k]!;
    let sum = right[p]!;
    for (let l = k + 1; l < order.length; l++) sum -= a[p * n + order[l]!]! * x[order[l]!]!;
    x[p] = sum / a[p * n + p]!;
  }
  return x;
}

/**
 * Minimises ½ fᵀWf + bᵀf with |fᵢ| ≤ limitᵢ for a symmetric, positive semidefinite W: within its limits each f brings
 * its (Wf + b)ᵢ to zero, at a limit it only opposes it. Projected Gauss–Seidel sweeps find which are at their
 * limits, the others are solved for (active sets; Murty, "Linear Complementarity").
 * @param f where to begin; holds the answer
 */
export function minimiseInBox(w: Dense, b: ArrayLike<number>, limit: ArrayLike<number>, f: Float64Array): void {
  const n = w.rows;
  const slope = (i: number) => {
    let sum = b[i]!;
    for (let j = 0; j < n; j++) sum += w.data[i * n + j]! * f[j]!;
    return sum;
  };
  const clamp = (i: number, value: number) => Math.min(limit[i]!, Math.max(-limit[i]!, value));
  for (let i = 0; i < n; i++) f[i] = clamp(i, f[i]!);
  for (let turn = 0; turn < 20 + 2 * n; turn++) {
    for (let sweep = 0; sweep < 8; sweep++)
      for (let i = 0; i < n; i++) {
        const own = w.data[i * n + i]!;
        if (own > 0) f[i] = clamp(i, f[i]! - slope(i) / own);
      }
    const free = Array.from({ length: n }, (_, i) => i).filter((i) => Math.abs(f[i]!) < limit[i]!);
    const part = { rows: free.length, columns: free.length, data: new Float64Array(free.length ** 2) };
    free.forEach((i, k) => free.forEach((j, l) => (part.data[k * free.length + l] = w.data[i * n + j]!)));
    const step = solveSemidefinite(
      part,
      free.map((i) => -slope(i)),
    );
    // As far as the first limit; then others may be at theirs.
    let share = 1;
    free.forEach((i, k) => {
      const room = step[k]! > 0 ? limit[i]! - f[i]! : f[i]! + limit[i]!;
      if (Math.abs(step[k]!) * share > room) share = room / Math.abs(step[k]!);
    });
    free.forEach((i, k) => (f[i] = clamp(i, f[i]! + share * step[k]!)));
    if (share < 1) continue;
    const settled = free.length === n || range(n).every((i) => free.includes(i) || f[i]! * slope(i) <= 0);
    if (settled) return;
  }
}

const range = (n: number) => Array.from({ length: n }, (_, i) => i);
