import { emptyCurvePoint, type Curve } from '../geometry';
import { armX, armY, type Attachment, type Constraint, type JacobianPattern, type Positions } from './state';

/** A path carried by a body: the curve in the frame of the body's centre of mass. */
export interface CarriedCurve {
  base: number;
  curve: Curve;
}

/** What a followed curve does at an arc length, in world directions and seen from the carrier's centre of mass. */
interface Followed {
  /** Arm from the carrier's centre of mass to the point. */
  x: number;
  y: number;
  /** First and second derivative by the arc length of the curve. */
  x1: number;
  y1: number;
  x2: number;
  y2: number;
}

/**
 * A point of b follows a curve carried by another body; `offset` shifts it along the curve's left normal,
 * as the centre of a roller runs beside a cam. The arc length is an unknown of its own (`column`).
 */
export function guideConstraint(
  owner: string,
  firstRow: number,
  { base, curve }: CarriedCurve,
  column: number,
  b: Attachment,
  offset: number,
  pattern: JacobianPattern,
): Constraint {
  const p = emptyCurvePoint();
  const f: Followed = { x: 0, y: 0, x1: 0, y1: 0, x2: 0, y2: 0 };
  const follow = (q: Positions) => {
    curve.at(q[column]!, p);
    const c = Math.cos(q[base + 2]!);
    const s = Math.sin(q[base + 2]!);
    const lx = p.x - offset * p.ty;
    const ly = p.y + offset * p.tx;
    const stretch = 1 - offset * p.curvature;
    const along = -offset * p.curvatureRate;
    const across = stretch * p.curvature;
    const ax = along * p.tx - across * p.ty;
    const ay = along * p.ty + across * p.tx;
    f.x = c * lx - s * ly;
    f.y = s * lx + c * ly;
    f.x1 = stretch * (c * p.tx - s * p.ty);
    f.y1 = stretch * (s * p.tx + c * p.ty);
    f.x2 = c * ax - s * ay;
    f.y2 = s * ax + c * ay;
  };
  const slots = [0, 1].map((i) => [
    pattern.slot(firstRow + i, base + i),
    pattern.slot(firstRow + i, base + 2),
    pattern.slot(firstRow + i, b.base + i),
    pattern.slot(firstRow + i, b.base + 2),
    pattern.slot(firstRow + i, column),
  ]) as [number[], number[]];
  const [sx, sy] = slots;
  return {
    owner,
    firstRow,
    rows: ['length', 'length'],
    residual(q, out) {
      follow(q);
      out[firstRow] = q[b.base]! + armX(q, b) - q[base]! - f.x;
      out[firstRow + 1] = q[b.base + 1]! + armY(q, b) - q[base + 1]! - f.y;
    },
    jacobian(q, values) {
      follow(q);
      values[sx[0]!]! -= 1;
      values[sx[1]!]! += f.y;
      values[sx[2]!]! += 1;
      values[sx[3]!]! -= armY(q, b);
      values[sx[4]!]! -= f.x1;
      values[sy[0]!]! -= 1;
      values[sy[1]!]! -= f.x;
      values[sy[2]!]! += 1;
      values[sy[3]!]! += armX(q, b);
      values[sy[4]!]! -= f.y1;
    },
    gamma(q, v, out) {
      follow(q);
      const [wa, wb, rate] = [v[base + 2]!, v[b.base + 2]!, v[column]!];
      out[firstRow] = wb * wb * armX(q, b) - wa * wa * f.x - 2 * wa * rate * f.y1 + rate * rate * f.x2;
      out[firstRow + 1] = wb * wb * armY(q, b) - wa * wa * f.y + 2 * wa * rate * f.x1 + rate * rate * f.y2;
    },
  };
}

/**
 * A flat face of b touches a curve carried by another body: the point at the arc length lies in the face,
 * and the tangent there runs along it. `angle` is the direction of the face in the frame of b.
 */
export function flatConstraint(
  owner: string,
  firstRow: number,
  { base, curve }: CarriedCurve,
  column: number,
  b: Attachment,
  angle: number,
  pattern: JacobianPattern,
): Constraint {
  const p = emptyCurvePoint();
  const touch = [pattern.body(firstRow, base), pattern.body(firstRow, b.base)] as const;
  const touchS = pattern.slot(firstRow, column);
  const row2 = firstRow + 1;
  const along = [pattern.slot(row2, base + 2), pattern.slot(row2, b.base + 2), pattern.slot(row2, column)] as const;
  const g = { fx: 0, fy: 0, gx: 0, gy: 0, rx: 0, ry: 0, tx: 0, ty: 0, dx: 0, dy: 0, bx: 0, by: 0 };
  const read = (q: Positions) => {
    curve.at(q[column]!, p);
    const c = Math.cos(q[base + 2]!);
    const s = Math.sin(q[base + 2]!);
    const face = q[b.base + 2]! + angle;
    g.fx = Math.cos(face);
    g.fy = Math.sin(face);
    g.gx = -g.fy;
    g.gy = g.fx;
    g.rx = c * p.x - s * p.y;
    g.ry = s * p.x + c * p.y;
    g.tx = c * p.tx - s * p.ty;
    g.ty = s * p.tx + c * p.ty;
    g.bx = armX(q, b);
    g.by = armY(q, b);
    g.dx = q[base]! + g.rx - q[b.base]! - g.bx;
    g.dy = q[base + 1]! + g.ry - q[b.base + 1]! - g.by;
  };
  return {
    owner,
    firstRow,
    rows: ['length', 'angle'],
    residual(q, out) {
      read(q);
      out[firstRow] = g.gx * g.dx + g.gy * g.dy;
      out[row2] = g.gx * g.tx + g.gy * g.ty;
    },
    jacobian(q, values) {
      read(q);
      const [sa, sb] = touch;
      values[sa[0]]! += g.gx;
      values[sa[1]]! += g.gy;
      values[sa[2]]! += -g.gx * g.ry + g.gy * g.rx;
      values[sb[0]]! -= g.gx;
      values[sb[1]]! -= g.gy;
      values[sb[2]]! += -(g.fx * g.dx + g.fy * g.dy) + g.gx * g.by - g.gy * g.bx;
      values[touchS]! += g.gx * g.tx + g.gy * g.ty;
      const gn = -g.gx * g.ty + g.gy * g.tx;
      values[along[0]]! += gn;
      values[along[1]]! -= g.fx * g.tx + g.fy * g.ty;
      values[along[2]]! += p.curvature * gn;
    },
    gamma(q, v, out) {
      read(q);
      const [wa, wb, rate] = [v[base + 2]!, v[b.base + 2]!, v[column]!];
      const nx = -g.ty;
      const ny = g.tx;
      const vx = v[base]! - wa * g.ry + rate * g.tx - v[b.base]! + wb * g.by;
      const vy = v[base + 1]! + wa * g.rx + rate * g.ty - v[b.base + 1]! - wb * g.bx;
      const curve2 = rate * rate * p.curvature + 2 * wa * rate;
      const cx = -wa * wa * g.rx + curve2 * nx + wb * wb * g.bx;
      const cy = -wa * wa * g.ry + curve2 * ny + wb * wb * g.by;
      out[firstRow] =
        wb * wb * (g.gx * g.dx + g.gy * g.dy) + 2 * wb * (g.fx * vx + g.fy * vy) - (g.gx * cx + g.gy * cy);
      const spin = wa + rate * p.curvature;
      const gt = g.gx * g.tx + g.gy * g.ty;
      const gn = g.gx * nx + g.gy * ny;
      const fn = g.fx * nx + g.fy * ny;
      const bent = rate * rate * p.curvatureRate * gn - spin * spin * gt;
      out[row2] = wb * wb * gt + 2 * wb * spin * fn - bent;
    },
  };
}
