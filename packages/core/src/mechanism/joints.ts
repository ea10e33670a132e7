import { alongRail, onRail } from './rail';
import { armX, armY, type Attachment, type Constraint, type JacobianPattern } from './state';

/** Two points in one place (Nikravesh, Computer-Aided Analysis of Mechanical Systems: revolute joint). */
export function pinConstraint(
  owner: string,
  firstRow: number,
  a: Attachment,
  b: Attachment,
  pattern: JacobianPattern,
): Constraint {
  const slots = [firstRow, firstRow + 1].map((row, i) => [
    pattern.slot(row, a.base + i),
    pattern.slot(row, a.base + 2),
    pattern.slot(row, b.base + i),
    pattern.slot(row, b.base + 2),
  ]);
  const [sx, sy] = slots as [number[], number[]];
  return {
    owner,
    firstRow,
    rows: ['length', 'length'],
    residual(q, out) {
      out[firstRow] = q[b.base]! + armX(q, b) - q[a.base]! - armX(q, a);
      out[firstRow + 1] = q[b.base + 1]! + armY(q, b) - q[a.base + 1]! - armY(q, a);
    },
    jacobian(q, values) {
      values[sx[0]!]! -= 1;
      values[sx[1]!]! += armY(q, a);
      values[sx[2]!]! += 1;
      values[sx[3]!]! -= armY(q, b);
      values[sy[0]!]! -= 1;
      values[sy[1]!]! -= armX(q, a);
      values[sy[2]!]! += 1;
      values[sy[3]!]! += armX(q, b);
    },
    gamma(q, v, out) {
      const wa = v[a.base + 2]! ** 2;
      const wb = v[b.base + 2]! ** 2;
      out[firstRow] = wb * armX(q, b) - wa * armX(q, a);
      out[firstRow + 1] = wb * armY(q, b) - wa * armY(q, a);
    },
  };
}

/** The angle of b against a stays. */
export function angleConstraint(
  owner: string,
  firstRow: number,
  a: Attachment,
  b: Attachment,
  turn: number,
  pattern: JacobianPattern,
): Constraint {
  const sa = pattern.slot(firstRow, a.base + 2);
  const sb = pattern.slot(firstRow, b.base + 2);
  return {
    owner,
    firstRow,
    rows: ['angle'],
    residual: (q, out) => void (out[firstRow] = q[b.base + 2]! - q[a.base + 2]! - turn),
    jacobian(_q, values) {
      values[sa]! -= 1;
      values[sb]! += 1;
    },
    gamma: (_q, _v, out) => void (out[firstRow] = 0),
  };
}

/** A point of b stays on a line of a, in direction `angle` of the frame of a (Nikravesh: translational joint, first row). */
export function lineConstraint(
  owner: string,
  firstRow: number,
  a: Attachment,
  b: Attachment,
  angle: number,
  pattern: JacobianPattern,
): Constraint {
  const sa = pattern.body(firstRow, a.base);
  const sb = pattern.body(firstRow, b.base);
  return {
    owner,
    firstRow,
    rows: ['length'],
    residual(q, out) {
      const { ux, uy, dx, dy } = onRail(q, a, b, angle);
      out[firstRow] = ux * dy - uy * dx;
    },
    jacobian(q, values) {
      const { ux, uy, ax, ay, bx, by, dx, dy } = onRail(q, a, b, angle);
      values[sa[0]]! += uy;
      values[sa[1]]! -= ux;
      values[sa[2]]! -= ux * dx + uy * dy + uy * ay + ux * ax;
      values[sb[0]]! -= uy;
      values[sb[1]]! += ux;
      values[sb[2]]! += uy * by + ux * bx;
    },
    gamma(q, v, out) {
      const { ux, uy, dx, dy, wa, vx, vy, cx, cy } = alongRail(q, v, a, b, angle);
      out[firstRow] = wa * wa * (ux * dy - uy * dx) + 2 * wa * (ux * vx + uy * vy) - (ux * cy - uy * cx);
    },
  };
}
