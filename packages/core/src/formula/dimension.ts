/** Powers of metre, kilogram, second and radian. The radian is kept, so that a plain number is not taken for an angle. */
export type Dimension = readonly [length: number, mass: number, time: number, angle: number];

export const NUMBER: Dimension = [0, 0, 0, 0];
export const LENGTH: Dimension = [1, 0, 0, 0];
export const TIME: Dimension = [0, 0, 1, 0];
export const ANGLE: Dimension = [0, 0, 0, 1];
export const FORCE: Dimension = [1, 1, -2, 0];
export const TORQUE: Dimension = [2, 1, -2, 0];

export const times = (a: Dimension, b: Dimension): Dimension => [a[0] + b[0], a[1] + b[1], a[2] + b[2], a[3] + b[3]];
export const power = (a: Dimension, n: number): Dimension => [a[0] * n, a[1] * n, a[2] * n, a[3] * n];
export const over = (a: Dimension, b: Dimension): Dimension => times(a, power(b, -1));

const near = (a: number, b: number) => Math.abs(a - b) < 1e-9;

/**
 * Whether two things can be added or compared. A radian more or less does not count beside other units
 * (radius times angle is a length), but an angle is no plain number.
 */
export function alike(a: Dimension, b: Dimension): boolean {
  const rest = [0, 1, 2].every((i) => near(a[i]!, b[i]!));
  const bare = [0, 1, 2].every((i) => near(a[i]!, 0));
  return rest && (!bare || near(a[3], b[3]));
}

const NOUNS: [Dimension, string][] = [
  [NUMBER, 'a plain number'],
  [LENGTH, 'a length'],
  [[1, 0, -1, 0], 'a velocity'],
  [[1, 0, -2, 0], 'an acceleration'],
  [[1, 0, -3, 0], 'a jerk'],
  [TIME, 'a time'],
  [ANGLE, 'an angle'],
  [[0, 0, -1, 1], 'an angular velocity'],
  [[0, 0, -2, 1], 'an angular acceleration'],
  [[0, 0, -1, 0], 'a frequency (1/s)'],
  [[0, 1, 0, 0], 'a mass'],
  [[2, 1, 0, 0], 'a moment of inertia'],
  [FORCE, 'a force'],
  [TORQUE, 'a torque'],
  [[1, 0, 0, -1], 'a length per angle'],
];

const SIGNS = ['m', 'kg', 's', 'rad'] as const;

/** What a dimension is called: “a velocity”, or its units where it has no name of its own. */
export function describeDimension(dimension: Dimension): string {
  const known = NOUNS.find(([other]) => other.every((value, i) => near(value, dimension[i]!)));
  if (known) return known[1];
  const units = dimension.flatMap((value, i) =>
    near(value, 0) ? [] : [near(value, 1) ? SIGNS[i]! : `${SIGNS[i]!}^${Number(value.toFixed(3))}`],
  );
  return `a quantity in ${units.join('·')}`;
}
