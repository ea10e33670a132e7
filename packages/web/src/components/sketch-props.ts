import type { Axis, UnitSystem } from '@yoke/core';

/** What a drawing of an axis needs, in pixels and SI units. */
export interface SketchProps {
  axis: Axis;
  colour: string;
  position: number;
  /** Range of positions the drawing must show. */
  range: { low: number; high: number };
  width: number;
  height: number;
  /** Velocity and effort as shares of their largest values, with their signs. */
  velocityShare: number;
  effortShare: number;
  /** The position in words. */
  label: string;
  units: UnitSystem;
}
