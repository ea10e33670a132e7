import type { Mechanism } from './mechanism';

type Vector = Mechanism['gravity']['vector'];

/** Gravity as it is typed. */
export interface GravityFacts {
  /** m/s² */
  strength: number;
  /** Direction in the front plane, rad. */
  direction: number;
  /** Angle out of the front plane, towards who looks at it, rad. */
  tilt: number;
}

/** How strong gravity is and where it pulls; downwards where it is none. */
export function gravityFacts([x, y, z]: Readonly<Vector>): GravityFacts {
  const flat = Math.hypot(x, y);
  const direction = flat > 0 ? Math.atan2(y, x) : -Math.PI / 2;
  return { strength: Math.hypot(flat, z), direction, tilt: Math.atan2(z, flat) };
}

/** The vector of gravity that is typed. What is nothing but the rounding of a right angle is nothing. */
export function gravityVector({ strength, direction, tilt }: GravityFacts): Vector {
  const part = (share: number) => (Math.abs(share) < 1e-15 ? 0 : strength * share);
  const flat = Math.cos(tilt);
  return [part(flat * Math.cos(direction)), part(flat * Math.sin(direction)), part(Math.sin(tilt))];
}
