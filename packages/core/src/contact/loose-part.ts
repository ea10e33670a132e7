import type { Collider, RigidBody } from '@dimforge/rapier2d-compat';
import { placed, type Place2, type Point2, type RoundShape } from '../geometry';
import type { MassProperties } from '../mechanism';

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

/** A body of the physics library with what it touches others by. */
export interface Body {
  body: RigidBody;
  colliders: Collider[];
  /** Largest distance of what it touches others by from its origin, m. */
  size: number;
}

/** Largest distance of pieces from the origin of their frame, m. */
export const reachOf = (pieces: readonly RoundShape[]): number =>
  Math.max(0, ...pieces.flatMap(({ corners, radius }) => corners.map(([x, y]) => Math.hypot(x, y) + radius)));

/** Where the centre of mass of a part is. */
export const centreOf = ({ mass, now }: LoosePart): Point2 =>
  placed({ corners: [mass.centre], radius: 0 }, now).corners[0]!;
