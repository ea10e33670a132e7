import type { Collider, RigidBody } from '@dimforge/rapier2d-compat';
import { boundsOf, type Place2, type Point2, type RoundShape } from '../geometry';
import type { MassProperties } from '../machine';

/** A loose part in a run. */
export interface LoosePart {
  /** Counts from 0 in the order of release. */
  number: number;
  kind: string;
  source: string;
  /** Gripper that holds it, or null. */
  heldBy: string | null;
  /** Pose of its frame at the start and at the end of the last step. */
  before: Place2;
  now: Place2;
  /** Convex pieces in its frame, for sensors. */
  pieces: readonly RoundShape[];
  mass: MassProperties;
  /** Largest distance of its outline from its frame, m. */
  size: number;
}

/** An upright box in the frame of a body: its middle, and half its width and height; m. */
export interface Box {
  x: number;
  y: number;
  w: number;
  h: number;
}

/** A body of the physics library with what it touches others by. */
export interface Body {
  body: RigidBody;
  faces: Face[];
  /** A box round all of them. */
  box: Box;
}

/** A collider with the groups it is in and meets, as the library packs them, and a box round it. */
export interface Face {
  collider: Collider;
  groups: number;
  box: Box;
}

/** Whether two colliders meet at all, by their groups. */
export const mayMeet = (a: Face, b: Face): boolean =>
  ((a.groups >>> 16) & b.groups & 0xffff) !== 0 && ((b.groups >>> 16) & a.groups & 0xffff) !== 0;

export const newBody = (body: RigidBody): Body => ({
  body,
  faces: [],
  box: { x: 0, y: 0, w: -Infinity, h: -Infinity },
});

/** The box round some pieces. */
export function boxRound(pieces: readonly RoundShape[]): Box {
  const all = pieces.map(boundsOf);
  const [l, b] = [Math.min(...all.map((box) => box[0])), Math.min(...all.map((box) => box[1]))];
  const [r, t] = [Math.max(...all.map((box) => box[2])), Math.max(...all.map((box) => box[3]))];
  return { x: (l + r) / 2, y: (b + t) / 2, w: (r - l) / 2, h: (t - b) / 2 };
}

/** The box round two boxes. */
export function boxRoundBoth(a: Box, b: Box): Box {
  if (a.w < 0) return b;
  const [left, right] = [Math.min(a.x - a.w, b.x - b.w), Math.max(a.x + a.w, b.x + b.w)];
  const [low, high] = [Math.min(a.y - a.h, b.y - b.h), Math.max(a.y + a.h, b.y + b.h)];
  return { x: (left + right) / 2, y: (low + high) / 2, w: (right - left) / 2, h: (high - low) / 2 };
}

/** Largest distance of a box from the origin of its frame, m; 0 where nothing is in it. */
export const reachOfBox = ({ x, y, w, h }: Box): number => (w < 0 ? 0 : Math.hypot(Math.abs(x) + w, Math.abs(y) + h));

/** The upright box round a box of a body that stands at a pose. */
export function boxAt({ x, y, w, h }: Box, pose: Place2): Box {
  const [c, s] = [Math.cos(pose.angle), Math.sin(pose.angle)];
  return {
    x: pose.x + c * x - s * y,
    y: pose.y + s * x + c * y,
    w: Math.abs(c) * w + Math.abs(s) * h,
    h: Math.abs(s) * w + Math.abs(c) * h,
  };
}

/** Whether two boxes come nearer to each other than a distance, m. */
export const areNear = (a: Box, b: Box, within: number): boolean =>
  Math.abs(a.x - b.x) < a.w + b.w + within && Math.abs(a.y - b.y) < a.h + b.h + within;

/** Largest distance of pieces from the origin of their frame, m. */
export const reachOf = (pieces: readonly RoundShape[]): number =>
  Math.max(0, ...pieces.flatMap(({ corners, radius }) => corners.map(([x, y]) => Math.hypot(x, y) + radius)));

/** Where the centre of mass of a part is, or would be at another pose. */
export function centreOf({ mass, now }: LoosePart, at: Place2 = now): Point2 {
  const [x, y] = mass.centre;
  const c = Math.cos(at.angle);
  const s = Math.sin(at.angle);
  return [at.x + c * x - s * y, at.y + s * x + c * y];
}

/** Whether a part did not move in the last step: it rests, and the library leaves what it touches as it was. */
export const rests = ({ before, now }: LoosePart): boolean => before === now;
