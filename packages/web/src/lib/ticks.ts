import type { DrawnField } from '@yoke/core';

/** A round number (1, 2 or 5 times a power of ten) not below `least`. */
export function niceStep(least: number): number {
  const power = 10 ** Math.floor(Math.log10(least));
  return [1, 2, 5, 10].map((digit) => digit * power).find((step) => step >= least * (1 - 1e-9)) ?? 10 * power;
}

/** Multiples of a round step between `from` and `to`, at most about `most` of them. */
export function niceTicks(from: number, to: number, most: number): number[] {
  const step = niceStep((to - from) / Math.max(1, most));
  const first = Math.ceil(from / step - 1e-9);
  const last = Math.floor(to / step + 1e-9);
  return Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => Number(((first + i) * step).toPrecision(12)));
}

/**
 * The nearest of `marks` within `reach` of a value; else the nearest multiple of `grid` (where it is not 0).
 */
export function snapTo(value: number, marks: readonly number[], reach: number, grid: number): number {
  let best = value;
  let distance = reach;
  for (const mark of marks) {
    if (Math.abs(mark - value) <= distance) {
      best = mark;
      distance = Math.abs(mark - value);
    }
  }
  if (best !== value || marks.includes(value)) return best;
  return grid > 0 ? Number((Math.round(value / grid) * grid).toPrecision(12)) : value;
}

/** A place or angle without the noise of rounding: zero where it is next to nothing. */
export function tidy(value: number): number {
  return Math.abs(value) < 1e-10 ? 0 : Number(value.toPrecision(11));
}

/** Fields whose numbers are shown without the last figures, which computing left in them. */
export const tidied = (fields: readonly DrawnField[]): DrawnField[] =>
  fields.map((field) =>
    field.as === 'quantity' && field.value !== null ? { ...field, value: tidy(field.value) } : field,
  );
