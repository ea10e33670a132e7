import { armX, armY, type Attachment, type Positions, type Rates } from './state';

/** Where two points of a rail are: along it and across it, with their arms. */
export interface OnRail {
  /** Direction of the rail in the world. */
  ux: number;
  uy: number;
  /** Arms of the two points from their centres of mass, in the world, m. */
  ax: number;
  ay: number;
  bx: number;
  by: number;
  /** From the point of a to that of b, in the world, m. */
  dx: number;
  dy: number;
}

/** The same in motion. */
export interface AlongRail extends OnRail {
  /** How fast the carrier of the rail turns, rad/s. */
  wa: number;
  /** Velocity of b's point against a's, m/s, and its acceleration where all unknowns go on evenly, m/s². */
  vx: number;
  vy: number;
  cx: number;
  cy: number;
}

// Asked for at every pose: one object each serves until the next call.
const still: OnRail = { ux: 1, uy: 0, ax: 0, ay: 0, bx: 0, by: 0, dx: 0, dy: 0 };
const moving: AlongRail = { ...still, wa: 0, vx: 0, vy: 0, cx: 0, cy: 0 };

function place<R extends OnRail>(out: R, q: Positions, a: Attachment, b: Attachment, angle: number): R {
  const direction = q[a.base + 2]! + angle;
  out.ux = Math.cos(direction);
  out.uy = Math.sin(direction);
  out.ax = armX(q, a);
  out.ay = armY(q, a);
  out.bx = armX(q, b);
  out.by = armY(q, b);
  out.dx = q[b.base]! + out.bx - q[a.base]! - out.ax;
  out.dy = q[b.base + 1]! + out.by - q[a.base + 1]! - out.ay;
  return out;
}

/**
 * A point of b on a rail that a carries.
 * @param angle direction of the rail in the frame of a, rad
 * @returns an object that holds until the next call
 */
export const onRail = (q: Positions, a: Attachment, b: Attachment, angle: number): OnRail =>
  place(still, q, a, b, angle);

/** As {@link onRail}, for velocities v. */
export function alongRail(q: Positions, v: Rates, a: Attachment, b: Attachment, angle: number): AlongRail {
  const r = place(moving, q, a, b, angle);
  const [wa, wb] = [v[a.base + 2]!, v[b.base + 2]!];
  r.wa = wa;
  r.vx = v[b.base]! - wb * r.by - v[a.base]! + wa * r.ay;
  r.vy = v[b.base + 1]! + wb * r.bx - v[a.base + 1]! - wa * r.ax;
  r.cx = -wb * wb * r.bx + wa * wa * r.ax;
  r.cy = -wb * wb * r.by + wa * wa * r.ay;
  return r;
}
