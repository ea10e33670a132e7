import { cross, dot, length3, minus, plus, turned, type Point3, type Rotation } from '../geometry';
import type { Face } from './faces';

/** The line of a face: a place on it and its direction; balls have none. */
export interface FaceLine {
  at: Point3;
  axis: Point3 | null;
  /** Whether the axis is the way out of a flat face, and not a line in the middle of what is round. */
  flat: boolean;
}

/** The line of a face: the axis of what is round, the way out of what is flat. */
export function lineOf(face: Face): FaceLine {
  if (face.kind === 'flat') return { at: face.at, axis: face.normal, flat: true };
  return { at: face.at, axis: 'axis' in face ? face.axis : null, flat: false };
}

/** A line as it stands in the world. */
export const lineIn = ({ at, axes }: { at: Point3; axes: Rotation }, line: FaceLine): FaceLine => ({
  at: plus(at, turned(axes, line.at)),
  axis: line.axis && turned(axes, line.axis),
  flat: line.flat,
});

/** How two faces stand to each other: m and rad. */
export interface Measured {
  /** From middle to middle. */
  middles: number;
  /** Between axes, or ways out: 0 to a right angle; null where one of them is a ball. */
  angle: number | null;
  /** Of axes from each other, of a flat face from what lies along it; null where no one distance can be told. */
  apart: number | null;
}

/** Directions nearer than this (sine) are parallel. */
const PARALLEL = 1e-4;

/** Measures two faces against each other. */
export function measured(one: FaceLine, other: FaceLine): Measured {
  const way = minus(other.at, one.at);
  const middles = length3(way);
  if (!one.axis || !other.axis) {
    const line = one.axis ? one : other.axis ? other : null;
    if (!line) return { middles, angle: null, apart: middles };
    // A ball from a plane, or from an axis.
    const along = Math.abs(dot(way, line.axis!));
    return { middles, angle: null, apart: line.flat ? along : Math.sqrt(Math.max(0, middles ** 2 - along ** 2)) };
  }
  const across = cross(one.axis, other.axis);
  const angle = Math.atan2(length3(across), Math.abs(dot(one.axis, other.axis)));
  const parallel = Math.sin(angle) < PARALLEL;
  if (one.flat && other.flat) return { middles, angle, apart: parallel ? Math.abs(dot(way, one.axis)) : null };
  if (one.flat !== other.flat) {
    const [plane, line] = one.flat ? [one.axis, other.axis] : [other.axis, one.axis];
    const along = Math.abs(dot(plane, line)) < PARALLEL;
    return { middles, angle: Math.PI / 2 - angle, apart: along ? Math.abs(dot(way, plane)) : null };
  }
  const apart = parallel
    ? Math.sqrt(Math.max(0, middles ** 2 - dot(way, one.axis) ** 2))
    : Math.abs(dot(way, across)) / length3(across);
  return { middles, angle, apart };
}
