import type { BodyLoads, Positions, Rates, SpaceMotion, SpaceTree } from '../mechanism';

const momentum: [number, number, number] = [0, 0, 0];

/**
 * Forces and moments that the bodies of a tree need for how they move: one pass inward (recursive Newton–Euler;
 * Featherstone, Rigid Body Dynamics Algorithms), in world axes.
 */
export class SpaceForces {
  /** By body: force (N) and moment about its centre of mass (N·m) that it and all that it carries need. */
  readonly force: Float64Array;
  readonly moment: Float64Array;
  private readonly tree: SpaceTree;

  /**
   * @param motion of the bodies, filled by the caller
   * @param gravity acceleration of free fall along the axes of the world, m/s²
   */
  constructor(
    private readonly motion: SpaceMotion,
    private readonly gravity: readonly [number, number, number],
  ) {
    this.tree = motion.tree;
    this.force = new Float64Array(3 * this.tree.bodies.length);
    this.moment = new Float64Array(3 * this.tree.bodies.length);
  }

  /**
   * Fills {@link force} and {@link moment} for the motion as it stands.
   * @param moving whether inertia counts; else what would hold everything at rest
   * @param loads what acts from outside: taken off, what is left is what joints give
   */
  inward(moving: boolean, loads?: BodyLoads): void {
    const { tree, force, moment } = this;
    for (let b = 0; b < tree.bodies.length; b++) this.own(b, moving);
    if (loads)
      for (let i = 0; i < force.length; i++) {
        force[i] = force[i]! - loads.force[i]!;
        moment[i] = moment[i]! - loads.moment[i]!;
      }
    for (let i = tree.order.length - 1; i >= 0; i--) {
      const b = tree.order[i]!;
      const { carrier } = tree.planes[tree.bodies[b]!.plane]!;
      if (carrier < 0) continue;
      const [k, c] = [3 * b, 3 * carrier];
      const [fx, fy, fz] = [force[k]!, force[k + 1]!, force[k + 2]!];
      const x = tree.at[k]! - tree.at[c]!;
      const y = tree.at[k + 1]! - tree.at[c + 1]!;
      const z = tree.at[k + 2]! - tree.at[c + 2]!;
      force[c] = force[c]! + fx;
      force[c + 1] = force[c + 1]! + fy;
      force[c + 2] = force[c + 2]! + fz;
      moment[c] = moment[c]! + moment[k]! + y * fz - z * fy;
      moment[c + 1] = moment[c + 1]! + moment[k + 1]! + z * fx - x * fz;
      moment[c + 2] = moment[c + 2]! + moment[k + 2]! + x * fy - y * fx;
    }
  }

  /** What a body alone needs. */
  private own(b: number, moving: boolean): void {
    const { motion, gravity, force, moment, tree } = this;
    const { mass } = tree.bodies[b]!;
    const k = 3 * b;
    for (let i = 0; i < 3; i++) {
      force[k + i] = mass * ((moving ? motion.a[k + i]! : 0) - gravity[i]!);
      moment[k + i] = 0;
    }
    if (!moving) return;
    // Euler's equation: I α + ω × I ω.
    const { w, alpha } = motion;
    turningMomentum(tree, b, alpha, k, momentum);
    for (let i = 0; i < 3; i++) moment[k + i] = momentum[i]!;
    turningMomentum(tree, b, w, k, momentum);
    const [hx, hy, hz] = momentum;
    const [wx, wy, wz] = [w[k]!, w[k + 1]!, w[k + 2]!];
    moment[k] = moment[k]! + wy * hz - wz * hy;
    moment[k + 1] = moment[k + 1]! + wz * hx - wx * hz;
    moment[k + 2] = moment[k + 2]! + wx * hy - wy * hx;
  }

  /** Takes off generalised forces what motion with these velocities needs by itself, gravity among it. */
  takeCoasting(q: Positions, v: Rates, f: Float64Array): void {
    this.motion.coast(q, v);
    this.inward(true);
    this.takeFrom(f);
  }

  /** Takes off generalised forces what all of it needs to move with these velocities and accelerations. */
  takeMoving(q: Positions, v: Rates, a: Rates, f: Float64Array): void {
    this.motion.move(q, v, a);
    this.inward(true);
    this.takeFrom(f);
  }

  /** Takes off generalised forces what holds all of it at rest. */
  takeResting(q: Positions, f: Float64Array): void {
    this.tree.pose(q);
    this.inward(false);
    this.takeFrom(f);
  }

  /** Takes what {@link inward} found off generalised forces: M q'' + h, along x, y and θ of every body. */
  takeFrom(f: Float64Array): void {
    const { tree, force, moment } = this;
    const A = tree.planeAxes;
    for (let b = 0; b < tree.bodies.length; b++) {
      const { base, plane } = tree.bodies[b]!;
      const p = 9 * plane;
      const k = 3 * b;
      const [fx, fy, fz] = [force[k]!, force[k + 1]!, force[k + 2]!];
      f[base] = f[base]! - (A[p]! * fx + A[p + 3]! * fy + A[p + 6]! * fz);
      f[base + 1] = f[base + 1]! - (A[p + 1]! * fx + A[p + 4]! * fy + A[p + 7]! * fz);
      f[base + 2] = f[base + 2]! - (A[p + 2]! * moment[k]! + A[p + 5]! * moment[k + 1]! + A[p + 8]! * moment[k + 2]!);
    }
  }
}

/** Angular momentum of a body about its centre of mass for an angular velocity in the world; into `out`. */
export function turningMomentum(
  tree: SpaceTree,
  b: number,
  w: ArrayLike<number>,
  o: number,
  out: [number, number, number],
): void {
  const R = tree.axes;
  const r = 9 * b;
  const { xx, yy, zz, xy, xz, yz } = tree.bodies[b]!.tensor;
  const [w0, w1, w2] = [w[o]!, w[o + 1]!, w[o + 2]!];
  const wx = R[r]! * w0 + R[r + 3]! * w1 + R[r + 6]! * w2;
  const wy = R[r + 1]! * w0 + R[r + 4]! * w1 + R[r + 7]! * w2;
  const wz = R[r + 2]! * w0 + R[r + 5]! * w1 + R[r + 8]! * w2;
  const hx = xx * wx + xy * wy + xz * wz;
  const hy = xy * wx + yy * wy + yz * wz;
  const hz = xz * wx + yz * wy + zz * wz;
  for (let i = 0; i < 3; i++) out[i] = R[r + 3 * i]! * hx + R[r + 3 * i + 1]! * hy + R[r + 3 * i + 2]! * hz;
}

/** Kinetic energy in J of bodies that move with these velocities; `at` rates at a state, by unknowns. */
export function kineticEnergyInSpace(motion: SpaceMotion, q: Positions, v: Rates): number {
  motion.move(q, v, null);
  const { tree, w, v: speed } = motion;
  let sum = 0;
  for (let b = 0; b < tree.bodies.length; b++) {
    const k = 3 * b;
    turningMomentum(tree, b, w, k, momentum);
    for (let i = 0; i < 3; i++) sum += tree.bodies[b]!.mass * speed[k + i]! ** 2 + w[k + i]! * momentum[i]!;
  }
  return sum / 2;
}

/** How quickly kinetic energy grows, W: velocities and accelerations as the motion has them. */
export function kineticPowerInSpace({ tree, w, alpha, v, a }: SpaceMotion): number {
  let sum = 0;
  for (let b = 0; b < tree.bodies.length; b++) {
    const k = 3 * b;
    // What the tensor turns along with ω does no work: ω · (ω × I ω) = 0.
    turningMomentum(tree, b, alpha, k, momentum);
    for (let i = 0; i < 3; i++) sum += tree.bodies[b]!.mass * v[k + i]! * a[k + i]! + w[k + i]! * momentum[i]!;
  }
  return sum;
}
