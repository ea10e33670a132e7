import { alongRail, onRail } from './rail';
import { armX, armY, type Attachment, type Coordinate, type Positions } from './state';

/** Angle of b against a, less `zero`. */
export function turnCoordinate(a: Attachment, b: Attachment, zero: number): Coordinate {
  return {
    angular: true,
    columns: [a.base + 2, b.base + 2],
    value: (q) => q[b.base + 2]! - q[a.base + 2]! - zero,
    gradient(_q, out) {
      out[0] = -1;
      out[1] = 1;
    },
    bend: () => 0,
  };
}

/** How far b has gone from a along a direction fixed to a (`angle` in the frame of a), less `zero`. */
export function railCoordinate(a: Attachment, b: Attachment, angle: number, zero: number): Coordinate {
  return {
    angular: false,
    columns: [a.base, a.base + 1, a.base + 2, b.base, b.base + 1, b.base + 2],
    value(q) {
      const { ux, uy, dx, dy } = onRail(q, a, b, angle);
      return ux * dx + uy * dy - zero;
    },
    gradient(q, out) {
      const { ux, uy, ax, ay, bx, by, dx, dy } = onRail(q, a, b, angle);
      out[0] = -ux;
      out[1] = -uy;
      out[2] = -uy * dx + ux * dy - (-ux * ay + uy * ax);
      out[3] = ux;
      out[4] = uy;
      out[5] = -ux * by + uy * bx;
    },
    bend(q, v) {
      const { ux, uy, dx, dy, wa, vx, vy, cx, cy } = alongRail(q, v, a, b, angle);
      return -wa * wa * (ux * dx + uy * dy) + 2 * wa * (-uy * vx + ux * vy) + ux * cx + uy * cy;
    },
  };
}

/** Distance of b from a, less `zero`. */
export function distanceCoordinate(a: Attachment, b: Attachment, zero: number): Coordinate {
  const d = { x: 0, y: 0, length: 0, ax: 0, ay: 0, bx: 0, by: 0 };
  const read = (q: Positions) => {
    d.ax = armX(q, a);
    d.ay = armY(q, a);
    d.bx = armX(q, b);
    d.by = armY(q, b);
    d.x = q[b.base]! + d.bx - q[a.base]! - d.ax;
    d.y = q[b.base + 1]! + d.by - q[a.base + 1]! - d.ay;
    d.length = Math.hypot(d.x, d.y);
  };
  return {
    angular: false,
    columns: [a.base, a.base + 1, a.base + 2, b.base, b.base + 1, b.base + 2],
    value(q) {
      read(q);
      return d.length - zero;
    },
    gradient(q, out) {
      read(q);
      // With both ends in one place any direction is as good; along x keeps the equations finite.
      const ex = d.length > 0 ? d.x / d.length : 1;
      const ey = d.length > 0 ? d.y / d.length : 0;
      out[0] = -ex;
      out[1] = -ey;
      out[2] = ex * d.ay - ey * d.ax;
      out[3] = ex;
      out[4] = ey;
      out[5] = -ex * d.by + ey * d.bx;
    },
    bend(q, v) {
      read(q);
      if (d.length === 0) return 0;
      const [wa, wb] = [v[a.base + 2]!, v[b.base + 2]!];
      const ex = d.x / d.length;
      const ey = d.y / d.length;
      const vx = v[b.base]! - wb * d.by - v[a.base]! + wa * d.ay;
      const vy = v[b.base + 1]! + wb * d.bx - v[a.base + 1]! - wa * d.ax;
      const across = ex * vy - ey * vx;
      const cx = -wb * wb * d.bx + wa * wa * d.ax;
      const cy = -wb * wb * d.by + wa * wa * d.ay;
      return (across * across) / d.length + ex * cx + ey * cy;
    },
  };
}

/** Arc length on a path, less `zero`. */
export function pathCoordinate(column: number, zero: number): Coordinate {
  return {
    angular: false,
    columns: [column],
    value: (q) => q[column]! - zero,
    gradient(_q, out) {
      out[0] = 1;
    },
    bend: () => 0,
  };
}
