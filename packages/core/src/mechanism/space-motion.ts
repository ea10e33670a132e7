import type { SpacePoint, SpaceTree } from './planes';
import type { Positions, Rates } from './state';

/** How all bodies of a tree move in the world: one pass outward from the ground (Featherstone; in world axes). */
export class SpaceMotion {
  /** By body, in world axes: angular velocity and acceleration, velocity and acceleration of the centre of mass. */
  readonly w: Float64Array;
  readonly alpha: Float64Array;
  readonly v: Float64Array;
  readonly a: Float64Array;
  private readonly seenQ: Float64Array;
  private readonly seenRates: Float64Array;
  /** Whether what stands here came of {@link coast}. */
  private coasts = false;

  constructor(readonly tree: SpaceTree) {
    const size = 3 * tree.bodies.length;
    this.w = new Float64Array(size);
    this.alpha = new Float64Array(size);
    this.v = new Float64Array(size);
    this.a = new Float64Array(size);
    this.seenQ = new Float64Array(size);
    this.seenRates = new Float64Array(size);
  }

  /** As {@link move} without second derivatives; nothing is done where state and rates are those of the last time. */
  coast(q: Positions, rates: Rates): void {
    const { seenQ, seenRates } = this;
    let same = this.coasts;
    for (let j = 0; j < seenQ.length && same; j++) same = seenQ[j] === q[j] && seenRates[j] === rates[j];
    if (same) return this.tree.pose(q);
    for (let j = 0; j < seenQ.length; j++) {
      seenQ[j] = q[j]!;
      seenRates[j] = rates[j]!;
    }
    this.move(q, rates, null);
    this.coasts = true;
  }

  /**
   * Velocities and accelerations for a state, its rates and their rates.
   * @param change second derivatives of the unknowns; none gives what accelerates by the velocities alone
   */
  move(q: Positions, rates: Rates | null, change: Rates | null): void {
    const { tree } = this;
    this.coasts = false;
    tree.pose(q);
    for (let i = 0; i < tree.order.length; i++) this.moveBody(tree.order[i]!, rates, change);
  }

  private moveBody(body: number, rates: Rates | null, change: Rates | null): void {
    const { tree, w, alpha, v, a } = this;
    const { base, plane } = tree.bodies[body]!;
    const { carrier: c } = tree.planes[plane]!;
    const A = tree.planeAxes;
    const p = 9 * plane;
    const b = 3 * body;
    const x1 = rates ? rates[base]! : 0;
    const y1 = rates ? rates[base + 1]! : 0;
    const t1 = rates ? rates[base + 2]! : 0;
    const x2 = change ? change[base]! : 0;
    const y2 = change ? change[base + 1]! : 0;
    const t2 = change ? change[base + 2]! : 0;
    const [nx, ny, nz] = [A[p + 2]!, A[p + 5]!, A[p + 8]!];
    // Seen from the plane.
    const ux = A[p]! * x1 + A[p + 1]! * y1;
    const uy = A[p + 3]! * x1 + A[p + 4]! * y1;
    const uz = A[p + 6]! * x1 + A[p + 7]! * y1;
    const fx = A[p]! * x2 + A[p + 1]! * y2;
    const fy = A[p + 3]! * x2 + A[p + 4]! * y2;
    const fz = A[p + 6]! * x2 + A[p + 7]! * y2;
    if (c < 0) {
      w[b] = nx * t1;
      w[b + 1] = ny * t1;
      w[b + 2] = nz * t1;
      alpha[b] = nx * t2;
      alpha[b + 1] = ny * t2;
      alpha[b + 2] = nz * t2;
      v[b] = ux;
      v[b + 1] = uy;
      v[b + 2] = uz;
      a[b] = fx;
      a[b + 1] = fy;
      a[b + 2] = fz;
      return;
    }
    const k = 3 * c;
    const [wx, wy, wz] = [w[k]!, w[k + 1]!, w[k + 2]!];
    const [ax, ay, az] = [alpha[k]!, alpha[k + 1]!, alpha[k + 2]!];
    // From centre of mass to centre of mass: the plane rides on its carrier as that body's own points do.
    const dx = tree.at[b]! - tree.at[k]!;
    const dy = tree.at[b + 1]! - tree.at[k + 1]!;
    const dz = tree.at[b + 2]! - tree.at[k + 2]!;
    w[b] = wx + nx * t1;
    w[b + 1] = wy + ny * t1;
    w[b + 2] = wz + nz * t1;
    alpha[b] = ax + nx * t2 + (wy * nz - wz * ny) * t1;
    alpha[b + 1] = ay + ny * t2 + (wz * nx - wx * nz) * t1;
    alpha[b + 2] = az + nz * t2 + (wx * ny - wy * nx) * t1;
    const sx = wy * dz - wz * dy;
    const sy = wz * dx - wx * dz;
    const sz = wx * dy - wy * dx;
    v[b] = v[k]! + sx + ux;
    v[b + 1] = v[k + 1]! + sy + uy;
    v[b + 2] = v[k + 2]! + sz + uz;
    const [rx, ry, rz] = [sx + 2 * ux, sy + 2 * uy, sz + 2 * uz];
    a[b] = a[k]! + ay * dz - az * dy + wy * rz - wz * ry + fx;
    a[b + 1] = a[k + 1]! + az * dx - ax * dz + wz * rx - wx * rz + fy;
    a[b + 2] = a[k + 2]! + ax * dy - ay * dx + wx * ry - wy * rx + fz;
  }

  /** Velocity of a point that stands at `at`, m/s; into `out`. */
  velocityOf({ body, plane }: SpacePoint, at: ArrayLike<number>, out: Float64Array): void {
    const by = body >= 0 ? body : this.tree.planes[plane]!.carrier;
    if (by < 0) return void out.fill(0);
    const { w, v, tree } = this;
    const b = 3 * by;
    const [x, y, z] = [at[0]! - tree.at[b]!, at[1]! - tree.at[b + 1]!, at[2]! - tree.at[b + 2]!];
    out[0] = v[b]! + w[b + 1]! * z - w[b + 2]! * y;
    out[1] = v[b + 1]! + w[b + 2]! * x - w[b]! * z;
    out[2] = v[b + 2]! + w[b]! * y - w[b + 1]! * x;
  }

  /** Acceleration of a point that stands at `at`, m/s²; into `out`. */
  accelerationOf({ body, plane }: SpacePoint, at: ArrayLike<number>, out: Float64Array): void {
    const by = body >= 0 ? body : this.tree.planes[plane]!.carrier;
    if (by < 0) return void out.fill(0);
    const { w, alpha, a, tree } = this;
    const b = 3 * by;
    const [x, y, z] = [at[0]! - tree.at[b]!, at[1]! - tree.at[b + 1]!, at[2]! - tree.at[b + 2]!];
    const [wx, wy, wz] = [w[b]!, w[b + 1]!, w[b + 2]!];
    const [sx, sy, sz] = [wy * z - wz * y, wz * x - wx * z, wx * y - wy * x];
    out[0] = a[b]! + alpha[b + 1]! * z - alpha[b + 2]! * y + wy * sz - wz * sy;
    out[1] = a[b + 1]! + alpha[b + 2]! * x - alpha[b]! * z + wz * sx - wx * sz;
    out[2] = a[b + 2]! + alpha[b]! * y - alpha[b + 1]! * x + wx * sy - wy * sx;
  }
}
