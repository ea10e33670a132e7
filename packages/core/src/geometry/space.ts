/** A place or direction in space. */
export type Point3 = readonly [x: number, y: number, z: number];
/** A rotation, row by row: columns are the turned axes in the axes that they are seen from. */
export type Rotation = readonly number[];

export const UNTURNED: Rotation = [1, 0, 0, 0, 1, 0, 0, 0, 1];

export const plus = (a: Point3, b: Point3, share = 1): [number, number, number] => [
  a[0] + share * b[0],
  a[1] + share * b[1],
  a[2] + share * b[2],
];
export const minus = (a: Point3, b: Point3): [number, number, number] => plus(a, b, -1);
export const dot = (a: Point3, b: Point3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const cross = (a: Point3, b: Point3): [number, number, number] => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
export const length3 = (a: Point3): number => Math.hypot(a[0], a[1], a[2]);
export const unit3 = (a: Point3): [number, number, number] => {
  const size = length3(a);
  return [a[0] / size, a[1] / size, a[2] / size];
};

/** Axis of a rotation: its column 0, 1 or 2. */
export const axisOf = (r: Rotation, column: 0 | 1 | 2): [number, number, number] => [
  r[column]!,
  r[column + 3]!,
  r[column + 6]!,
];
export const turned = (r: Rotation, v: Point3): [number, number, number] => [
  r[0]! * v[0] + r[1]! * v[1] + r[2]! * v[2],
  r[3]! * v[0] + r[4]! * v[1] + r[5]! * v[2],
  r[6]! * v[0] + r[7]! * v[1] + r[8]! * v[2],
];
/** A direction seen from the turned axes. */
export const turnedBack = (r: Rotation, v: Point3): [number, number, number] => [
  r[0]! * v[0] + r[3]! * v[1] + r[6]! * v[2],
  r[1]! * v[0] + r[4]! * v[1] + r[7]! * v[2],
  r[2]! * v[0] + r[5]! * v[1] + r[8]! * v[2],
];
/** One rotation after another: `b` as seen from the axes that `a` turns. */
export const timesRotation = (a: Rotation, b: Rotation): number[] => {
  const columns = ([0, 1, 2] as const).map((k) => turned(a, axisOf(b, k)));
  return [0, 1, 2].flatMap((row) => columns.map((column) => column[row as 0 | 1 | 2]));
};
/** A rotation about z, rad. */
export const aboutZ = (angle: number): Rotation => {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  return [c, -s, 0, s, c, 0, 0, 0, 1];
};

/** The rotation of a quaternion w, x, y, z of any length but none. */
export function rotationOf(quaternion: readonly [number, number, number, number]): number[] {
  const size = Math.hypot(...quaternion);
  const [w, x, y, z] = quaternion.map((part) => part / size) as [number, number, number, number];
  return [
    1 - 2 * (y * y + z * z),
    2 * (x * y - w * z),
    2 * (x * z + w * y),
    2 * (x * y + w * z),
    1 - 2 * (x * x + z * z),
    2 * (y * z - w * x),
    2 * (x * z - w * y),
    2 * (y * z + w * x),
    1 - 2 * (x * x + y * y),
  ];
}

/** The unit quaternion of a rotation, with w ≥ 0; by its largest part (Shepperd), so that no direction is a bad one. */
export function quaternionOf(r: Rotation): [w: number, x: number, y: number, z: number] {
  const trace = r[0]! + r[4]! + r[8]!;
  const squares = [trace, r[0]!, r[4]!, r[8]!];
  const most = squares.indexOf(Math.max(...squares));
  const size = Math.sqrt(Math.max(0, 1 + 2 * squares[most]! - trace)) * 2;
  // Parts beside the largest one, from sums and differences of the entries off the diagonal.
  const [wx, wy, wz] = [r[7]! - r[5]!, r[2]! - r[6]!, r[3]! - r[1]!];
  const [xy, xz, yz] = [r[1]! + r[3]!, r[2]! + r[6]!, r[5]! + r[7]!];
  const rows = [
    [(size * size) / 4, wx, wy, wz],
    [wx, (size * size) / 4, xy, xz],
    [wy, xy, (size * size) / 4, yz],
    [wz, xz, yz, (size * size) / 4],
  ];
  const [w, x, y, z] = rows[most]!.map((part) => part / size) as [number, number, number, number];
  const sign = w < 0 ? -1 : 1;
  return [sign * w, sign * x, sign * y, sign * z];
}
