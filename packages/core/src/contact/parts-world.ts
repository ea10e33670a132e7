import type { Places } from '../geometry';
import type { PartSource } from '../machine';
import type { Lost } from './taking';

/** A loose part in a run, in a plane or in space. */
export interface AnyPart {
  /** Counts from 0 in the order of release. */
  readonly number: number;
  readonly kind: string;
  readonly source: string;
  /** Gripper that holds it, or null. */
  readonly heldBy: string | null;
}

/** Grippers of a world of parts. */
export interface AnyGrips {
  /** Parts that a gripper let go of in the last step because it could not hold them. */
  readonly lost: readonly Lost[];
  /** Parts that began to slip between fingers in the last step: how far, m, and how hard these press, N. */
  readonly slips: readonly { gripper: string; part: number; way: number; presses: number }[];
  /** Closes a gripper: from now on it takes the nearest part within reach. Returns the part it holds, or null. */
  close(id: string): AnyPart | null;
  /** Opens a gripper. Returns the part that it let go of. */
  open(id: string): AnyPart | null;
  /** The part a gripper holds. */
  holding(id: string): AnyPart | null;
  /** The nearest part a gripper could take, with its distance in m. */
  nearest(id: string): { part: AnyPart; distance: number } | null;
}

/** A place at which a source is about to release a part. */
export interface ReleasePlace {
  /** Whether a part there would overlap another one. */
  blocked(): boolean;
  /** Releases it. @param ago how long before the end of the last step, s: it has fallen since */
  release(ago: number): AnyPart;
}

/** Draws numbers evenly from −most to +most. */
export interface Draws {
  within(most: number): number;
}

/** Loose parts as a run goes about them, whether they move in the front plane or in space. */
export interface PartsWorld {
  readonly parts: readonly AnyPart[];
  readonly grips: AnyGrips;
  /** Numbers of a part in a frame of the record: see {@link write}. */
  readonly width: number;
  /**
   * Moves everything on by one step.
   * @param poses where the bodies of the mechanism are at its end
   * @param beltSpeed mean speed of a belt during the step, m/s
   */
  advance(poses: Places, beltSpeed: (belt: string) => number): void;
  /** Where a source releases now, its scatter drawn: one place, or as many as its pattern has. */
  places(source: PartSource, poses: Places, draws: Draws): ReleasePlace[];
  remove(part: AnyPart): void;
  /** The sink that a part is in at a share of the last step, or null. */
  sinkOf(part: AnyPart, share: number): string | null;
  /** Whether a part has fallen out of the machine. */
  isOut(part: AnyPart): boolean;
  /** Whether a part did not move in the last step. */
  rests(part: AnyPart): boolean;
  /** How far a part went in the last step, m. */
  wayOf(part: AnyPart): number;
  /** Belts that a part lies on. */
  beltsUnder(part: AnyPart): string[];
  /**
   * How far each platform has given way along the axes of the world, m; behind them each finger of each gripper that has
   * some: how far it has closed, as the first of three numbers.
   */
  shifts(): readonly (readonly number[])[];
  /** Force along its way that parts hold a belt back (negative) or drive it with, N. */
  pushOnBelt(id: string): number;
  /** Writes the number of a part and where it stands, m and rad or a quaternion. */
  write(part: AnyPart, data: Float32Array, at: number): void;
  /** Frees the memory of the library. */
  free(): void;
}
