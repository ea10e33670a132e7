import type { Axis } from '../machine';
import type { MachineMotions, Motion } from '../motion';

/** What a tool point does along its path, sample by sample. SI units. */
export interface LeadSamples {
  times: Float64Array;
  /** Length along the path, speed, acceleration along it. */
  arc: Float64Array;
  speed: Float64Array;
  tangential: Float64Array;
  /** Acceleration across the path, towards its centre of curvature: κ v². */
  normal: Float64Array;
  curvature: Float64Array;
  /** Size of the whole acceleration. */
  total: Float64Array;
}

/** Where the acceleration of the tool point is greatest, and whether the law or the curvature makes it so. */
export interface LeadPeak {
  time: number;
  arc: number;
  value: number;
  cause: 'law' | 'curvature';
  /** Radius of the path there, m; infinite where it is straight. */
  radius: number;
  /** Where it is: in the plane of the path, or of a path in space in the world, m. */
  place: [number, number, number];
}

/** The motion an axis must make, as rows of time, position, velocity and acceleration. */
export interface RequiredMotion {
  axisId: string;
  rows: number[][];
}

/** A stretch of the path that the mechanism cannot follow, by arc length in m. */
export interface UnreachableStretch {
  from: number;
  to: number;
}

/** What leading a tool point along a path gives. */
export interface LeadResult {
  samples: LeadSamples | null;
  peak: LeadPeak | null;
  length: number;
  required: RequiredMotion[];
  /** Axes that stand still, and where, m or rad. */
  still: { axisId: string; position: number }[];
  unreachable: UnreachableStretch[];
  /** What stands in the way or is worth knowing, in words. */
  problems: string[];
  notes: string[];
}

/** What a tool point is led by, and by which axes. */
export interface Following {
  /** Length along the path over time. */
  motion: Motion;
  motions: MachineMotions;
  times: Float64Array;
  axes: readonly Axis[];
}
