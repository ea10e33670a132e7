import type { Mobility } from '../mechanism';

/** How a mechanism was run: led by its drives, moved by forces where freedoms are left, or not at all. */
export type MechanismMode = 'led' | 'free' | 'none';

/** Forces (N) by their components in the plane, and moments (N·m), over a run. */
export interface WrenchRun {
  force: [x: Float64Array, y: Float64Array];
  /** Along z of the world, of what stands between points in space: of that all three are along the axes of the world. */
  across: Float64Array | null;
  moment: Float64Array;
}

/** What ties and moves a joint over the run; forces act on the body of its second point, in directions of the plane. */
export interface JointRun {
  id: string;
  /** Position of the joint with its rate and change: rad or m; null for a weld. */
  position: Float64Array | null;
  rate: Float64Array | null;
  change: Float64Array | null;
  /** Reaction on the body of b, its moment about the joint's point. */
  reaction: WrenchRun;
  /** Arc length run through since the start of the cycle, m; guides and cams only. */
  travelled: Float64Array | null;
  /** Force in N with which a cam presses its follower; negative where it would have to pull. */
  contact: Float64Array | null;
}

/**
 * What a joint carries in all six directions, on the body of its second point and about that point: along the rail (or
 * along x of the plane), across it in the plane, and square to the plane. What acts along or about the freedom of the
 * joint itself is its drive and friction.
 */
export interface BearingRun {
  id: string;
  /** Joints that share it: rigid bodies cannot say how, so it is what all of them carry together. */
  with: readonly string[];
  force: [along: Float64Array, across: Float64Array, square: Float64Array];
  moment: [along: Float64Array, across: Float64Array, square: Float64Array];
}

/** What a drive of the mechanism gives over the run. */
export interface DriveRun {
  axisId: string;
  jointId: string;
  /** N or N·m along the positive direction of the axis. */
  effort: Float64Array;
  /** Inertia of the mechanism felt by the axis at each pose, kg or kg·m². */
  reflected: Float64Array;
  /** Effort that would hold the mechanism at rest at each pose, N or N·m. */
  holding: Float64Array;
}

/** What an element did over the run. */
export interface ElementRun {
  id: string;
  force: Float64Array;
  length: Float64Array;
  /** Components of a force in the world, N; nothing for torques. */
  vector: [x: Float64Array, y: Float64Array, z: Float64Array];
  power: Float64Array;
}

/** Energies (J) and powers (W) of the whole mechanism. */
export interface MechanismEnergy {
  kinetic: Float64Array;
  /** Of height. */
  potential: Float64Array;
  /** Of springs. */
  elastic: Float64Array;
  /** What the drives put in. */
  drives: Float64Array;
  /** What forces and torques put in. */
  loads: Float64Array;
  /** What friction and dampers take; not negative. */
  lost: Float64Array;
  /** Drives + loads − lost − change of the energies: zero but for rounding (led), or for the step (free). */
  residual: Float64Array;
}

/** Something about a mechanism's run that the engineer should know. */
export type MechanismFinding =
  | { code: 'broken'; severity: 'error'; text: string }
  | { code: 'formula'; severity: 'error'; id: string; text: string }
  | { code: 'not-grounded'; severity: 'error'; bodies: string[] }
  | { code: 'apart'; severity: 'error'; gaps: { owner: string; measure: 'length' | 'angle'; gap: number }[] }
  | { code: 'redundant'; severity: 'warning'; owners: string[] }
  | { code: 'fighting'; severity: 'error'; owners: string[] }
  | { code: 'free'; severity: 'info'; count: number; bodies: string[][] }
  | { code: 'no-mass'; severity: 'error'; bodies: string[] }
  | { code: 'flat-tensor'; severity: 'info'; bodies: string[] }
  | { code: 'shared-load'; severity: 'info'; joints: string[] }
  | { code: 'start-far'; severity: 'error'; axisId: string; wanted: number; reached: number }
  | { code: 'unreachable'; severity: 'error'; time: number; axisId: string; position: number; bodies: string[] }
  | { code: 'singular'; severity: 'error'; time: number }
  | { code: 'stiff'; severity: 'error'; time: number }
  | { code: 'no-number'; severity: 'error'; what: string; time: number }
  | { code: 'past-stop'; severity: 'error'; time: number; id: string; limit: number; position: number }
  | { code: 'past-end'; severity: 'error'; time: number; id: string }
  | { code: 'lift-off'; severity: 'error'; id: string; from: number; to: number; force: number; time: number }
  | { code: 'undercut'; severity: 'error'; id: string; time: number; radius: number }
  | { code: 'indexer-radius'; severity: 'error'; id: string; radius: number; wanted: number }
  | { code: 'gear-distance'; severity: 'warning'; id: string; distance: number; wanted: number }
  | { code: 'corner'; severity: 'error'; id: string; time: number; angle: number; speed: number }
  | { code: 'wheel-step'; severity: 'warning'; id: string; time: number; before: number; after: number }
  | { code: 'start-velocity'; severity: 'warning'; id: string; wanted: number; got: number }
  | { code: 'stops-hit'; severity: 'info'; id: string; count: number; time: number };

/** One simulated cycle of a mechanism. Arrays go with the times of the run; what was not reached is NaN. */
export interface MechanismRun {
  mode: MechanismMode;
  /** Samples that were reached. */
  reached: number;
  /** Bodies in order of the state, with the centre of mass in the frame of each. */
  bodies: { id: string; centre: [number, number]; mass: number; inertia: number }[];
  /** Places, velocities and accelerations of the unknowns: x, y, θ of each centre of mass, then arc lengths. */
  q: Float64Array[];
  v: Float64Array[];
  a: Float64Array[];
  /** State of the assembled drawing, before the drives lead it. */
  assembled: number[];
  joints: JointRun[];
  /** Loads of joints in space, where anything lies beside its plane; what is shared inside a loop has none. */
  bearings: BearingRun[];
  drives: DriveRun[];
  elements: ElementRun[];
  energy: MechanismEnergy;
  mobility: Mobility | null;
  findings: MechanismFinding[];
}
