import { quaternionOf, type Point3, type Rotation } from './space';

/** How something stands in space: its origin in m, and the unit quaternion that turns its axes. */
export interface Place3 {
  readonly x: number;
  readonly y: number;
  readonly z: number;
  readonly qw: number;
  readonly qx: number;
  readonly qy: number;
  readonly qz: number;
}

export const STILL3: Place3 = { x: 0, y: 0, z: 0, qw: 1, qx: 0, qy: 0, qz: 0 };

/** The place of a frame given by its origin and its axes. */
export function place3(at: Point3, axes: Rotation): Place3 {
  const [qw, qx, qy, qz] = quaternionOf(axes);
  return { x: at[0], y: at[1], z: at[2], qw, qx, qy, qz };
}

/** The axes of a place, row by row. */
export function axesOf({ qw, qx, qy, qz }: Place3): number[] {
  return [
    1 - 2 * (qy * qy + qz * qz),
    2 * (qx * qy - qw * qz),
    2 * (qx * qz + qw * qy),
    2 * (qx * qy + qw * qz),
    1 - 2 * (qx * qx + qz * qz),
    2 * (qy * qz - qw * qx),
    2 * (qx * qz - qw * qy),
    2 * (qy * qz + qw * qx),
    1 - 2 * (qx * qx + qy * qy),
  ];
}

/** A direction of a frame as the world sees it. */
export function turnedBy({ qw, qx, qy, qz }: Place3, [x, y, z]: Point3): [number, number, number] {
  const tx = 2 * (qy * z - qz * y);
  const ty = 2 * (qz * x - qx * z);
  const tz = 2 * (qx * y - qy * x);
  return [x + qw * tx + qy * tz - qz * ty, y + qw * ty + qz * tx - qx * tz, z + qw * tz + qx * ty - qy * tx];
}

/** Where a point of a frame is in the world. */
export function carriedPoint(place: Place3, point: Point3): [number, number, number] {
  const [x, y, z] = turnedBy(place, point);
  return [place.x + x, place.y + y, place.z + z];
}

/** Where a point of the world is in a frame. */
export function pointWithin({ x, y, z, qw, qx, qy, qz }: Place3, point: Point3): [number, number, number] {
  return turnedBy({ x: 0, y: 0, z: 0, qw, qx: -qx, qy: -qy, qz: -qz }, [point[0] - x, point[1] - y, point[2] - z]);
}

/** A place that stands in the frame of another, as the world sees it. */
export function placeIn(frame: Place3, own: Place3): Place3 {
  const [x, y, z] = carriedPoint(frame, [own.x, own.y, own.z]);
  const { qw: a, qx: b, qy: c, qz: d } = frame;
  const { qw: e, qx: f, qy: g, qz: h } = own;
  return {
    x,
    y,
    z,
    qw: a * e - b * f - c * g - d * h,
    qx: a * f + b * e + c * h - d * g,
    qy: a * g - b * h + c * e + d * f,
    qz: a * h + b * g - c * f + d * e,
  };
}

/** Where a place of the world stands as a frame sees it. */
export function seenFrom(frame: Place3, place: Place3): Place3 {
  const back: Place3 = { ...STILL3, qw: frame.qw, qx: -frame.qx, qy: -frame.qy, qz: -frame.qz };
  const [x, y, z] = pointWithin(frame, [place.x, place.y, place.z]);
  return { ...placeIn(back, place), x, y, z };
}

/** A place between two that are near to each other: straight on, and turning evenly along the short way. */
export function between3(a: Place3, b: Place3, share: number): Place3 {
  if (share >= 1 || a === b) return b;
  const side = a.qw * b.qw + a.qx * b.qx + a.qy * b.qy + a.qz * b.qz < 0 ? -1 : 1;
  const mix = (from: number, to: number) => from + share * (side * to - from);
  const [w, x, y, z] = [mix(a.qw, b.qw), mix(a.qx, b.qx), mix(a.qy, b.qy), mix(a.qz, b.qz)];
  const size = Math.sqrt(w * w + x * x + y * y + z * z);
  return {
    x: a.x + share * (b.x - a.x),
    y: a.y + share * (b.y - a.y),
    z: a.z + share * (b.z - a.z),
    qw: w / size,
    qx: x / size,
    qy: y / size,
    qz: z / size,
  };
}

/** Angle in rad by which one place is turned against another, from 0 to π. */
export function angleBetween(a: Place3, b: Place3): number {
  const dot = Math.abs(a.qw * b.qw + a.qx * b.qx + a.qy * b.qy + a.qz * b.qz);
  return 2 * Math.acos(Math.min(1, dot));
}
