import type { Places } from '../geometry';
import type { Sensor } from '../machine';

/** Poses of bodies at the start and at the end of a step. */
export interface StepPoses {
  before: Places;
  now: Places;
}

export type Seeing = Extract<Sensor['sensing'], { kind: 'beam' | 'area' | 'proximity' }>;

/** How far a body that carries a sensor may go in a step, m: parts so much farther off are looked at too. */
export const MOVED = 0.05;

/** What a sensor that sees parts or bodies sees, in the front plane or in space. */
export interface Sight {
  /** Whether it watches bodies too, and whether it stands on the ground. */
  readonly watchesBodies: boolean;
  readonly stands: boolean;
  /** The part seen last. */
  readonly part: number | null;
  /** Finds the parts that may come within a distance (m) of it in the last step; gives how many. */
  look(poses: StepPoses, reach: number): number;
  /** Whether it sees something at a share of the step: of the parts last found, and of bodies. */
  sees(poses: StepPoses, share: number, reach: number): boolean;
  /** Whether all parts last found rest. */
  allRest(): boolean;
  /** Looks that are needed in the step, so that nothing small goes by between two of them. */
  looks(): number;
}
