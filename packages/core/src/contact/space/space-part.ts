import { carriedPoint, roundOf, type ConvexSolid, type Place3, type Point3, type Round3 } from '../../geometry';
import type { PartKind, Loose } from '../../machine';
import { principalOf, spaceMass, type SpaceMass } from './part-mass';
import { solidOf, spacePieces, type ContactPiece } from './pieces';

/** A kind of part made ready: with what it touches, and what it holds. */
export interface SpaceKind {
  pieces: readonly ContactPiece[];
  /** The same, as distances are taken to them, and balls round them. */
  solids: readonly ConvexSolid[];
  rounds: readonly Round3[];
  mass: SpaceMass;
  principal: ReturnType<typeof principalOf>;
  /** Largest distance of it from its frame, m. */
  size: number;
}

/** Makes a kind of part ready. */
export function spaceKind(kind: PartKind, loose: Loose): SpaceKind {
  const pieces = spacePieces(kind);
  const solids = pieces.map(solidOf);
  const rounds = solids.map(roundOf);
  const size = Math.max(0, ...rounds.map(({ at, size: own }) => Math.hypot(...at) + own));
  const mass = spaceMass(kind, loose.materials);
  return { pieces, solids, rounds, mass, principal: principalOf(mass.tensor), size };
}

/** A loose part in a run, in space. */
export interface SpacePart {
  /** Counts from 0 in the order of release. */
  number: number;
  kind: string;
  source: string;
  /** Gripper that holds it, or null. */
  heldBy: string | null;
  /** Where its frame stands at the start and at the end of the last step; the very same where it rests. */
  before: Place3;
  now: Place3;
  made: SpaceKind;
}

/** Where the centre of mass of a part is, or would be at another place. */
export const centreOfPart = ({ made, now }: SpacePart, at: Place3 = now): Point3 => carriedPoint(at, made.mass.centre);

/** Whether a part did not move in the last step. */
export const partRests = ({ before, now }: SpacePart): boolean => before === now;
