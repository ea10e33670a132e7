/**
 * Symmetric positive definite matrix of small bandwidth, row by row: entry (i, j), i − width ≤ j ≤ i,
 * stands at `i · (width + 1) + (j − i + width)`.
 */
export interface Banded {
  size: number;
  width: number;
  data: Float64Array;
}

export const banded = (size: number, width: number): Banded => ({
  size,
  width,
  data: new Float64Array(size * (width + 1)),
});

/** Adds to the entry (i, j) and its mirror image, which is not kept. */
export function addBanded({ width, data }: Banded, i: number, j: number, value: number): void {
  const [row, column] = i >= j ? [i, j] : [j, i];
  data[row * (width + 1) + column - row + width]! += value;
}

/**
 * Factors the matrix in place into L·D·Lᵀ.
 * @returns false where a pivot is not positive: the matrix is not positive definite
 */
export function factorBanded({ size, width, data }: Banded): boolean {
  const row = width + 1;
  for (let i = 0; i < size; i++) {
    const from = Math.max(0, i - width);
    for (let j = from; j < i; j++) {
      let sum = data[i * row + j - i + width]!;
      for (let k = Math.max(from, j - width); k < j; k++)
        sum -= data[i * row + k - i + width]! * data[j * row + k - j + width]!;
      data[i * row + j - i + width] = sum;
    }
    let pivot = data[i * row + width]!;
    for (let j = from; j < i; j++) {
      const at = i * row + j - i + width;
      const scaled = data[at]! / data[j * row + width]!;
      pivot -= scaled * data[at]!;
      data[at] = scaled;
    }
    if (!(pivot > 0)) return false;
    data[i * row + width] = pivot;
  }
  return true;
}

/** Solves with a factored matrix, in place. */
export function solveBanded({ size, width, data }: Banded, b: Float64Array): void {
  const row = width + 1;
  for (let i = 0; i < size; i++)
    for (let j = Math.max(0, i - width); j < i; j++) b[i]! -= data[i * row + j - i + width]! * b[j]!;
  for (let i = 0; i < size; i++) b[i]! /= data[i * row + width]!;
  for (let i = size - 1; i >= 0; i--)
    for (let j = Math.max(0, i - width); j < i; j++) b[j]! -= data[i * row + j - i + width]! * b[i]!;
}
