import { SpaceForces, levelled, type Effort } from '../dynamics';
import { gravityOf, planeOf, type Joint } from '../machine';
import {
  BodyLoads,
  loadPaths,
  SpaceMotion,
  type LoadPath,
  type MechanismModel,
  type MechanismState,
  type Positions,
  type SpacePoint,
} from '../mechanism';
import type { BearingRun } from './mechanism-run';

/** Whether anything of a mechanism lies beside its plane: then what joints carry across the plane is worked out. */
export function hasDepth({ mechanism: m, space, tree }: MechanismModel): boolean {
  return (
    space !== null ||
    m.gravity.vector[2] !== 0 ||
    tree.bodies.some(({ over }) => over !== 0) ||
    m.bodies.some(({ level, points }) => level !== 0 || points.some(({ height }) => height)) ||
    m.ground.some(({ height }) => height) ||
    m.elements.some((element) => element.kind === 'force' && element.along !== undefined)
  );
}

/** Whether what a joint does is a force in space: a rod, a ball joint, a cylinder between two planes. */
export function standsInSpace({ mechanism }: MechanismModel, joint: Joint): boolean {
  if (joint.kind === 'rod' || joint.kind === 'ball') return true;
  return joint.kind === 'cylinder' && planeOf(mechanism, joint.a) !== planeOf(mechanism, joint.b);
}

/** One joint whose load in all six directions is known, or known together with others. */
interface Bearing {
  joint: number;
  /** Second point of the joint: loads are about it. */
  point: SpacePoint;
  path: LoadPath;
  /** +1 where what hangs on it is on the side of its second point, −1 else. */
  side: number;
  run: BearingRun;
}

/**
 * What joints carry, in the frame of rail or shaft: what all that hangs on them needs, less what acts on it from
 * outside and is known by itself (loads, springs, rods, balls, cylinders).
 */
export class BearingLoads {
  private readonly motion: SpaceMotion;
  private readonly forces: SpaceForces;
  private readonly loads: BodyLoads;
  private readonly bearings: readonly Bearing[];
  private readonly model: MechanismModel;
  private readonly efforts: readonly Effort[];
  private readonly spot = new Float64Array(3);

  constructor(model: MechanismModel, efforts: readonly Effort[], count: number) {
    this.model = model;
    this.efforts = efforts;
    this.motion = new SpaceMotion(model.tree);
    this.forces = new SpaceForces(this.motion, gravityOf(model.mechanism));
    this.loads = new BodyLoads(model.tree);
    const unreached = () => new Float64Array(count).fill(NaN);
    this.bearings = loadPaths(model.mechanism).flatMap((path, joint): Bearing[] => {
      if (!path) return [];
      const own = model.joints[joint]!.joint;
      const second = model.mechanism.bodies.findIndex(({ id }) => id === own.b.body);
      const run: BearingRun = {
        id: own.id,
        with: path.joints.filter((other) => other !== joint).map((other) => model.joints[other]!.joint.id),
        force: [unreached(), unreached(), unreached()],
        moment: [unreached(), unreached(), unreached()],
      };
      return [{ joint, point: model.tree.point(own.b), path, side: path.beyond.includes(second) ? 1 : -1, run }];
    });
  }

  get runs(): BearingRun[] {
    return this.bearings.map(({ run }) => run);
  }

  /** Takes down sample k; efforts and multipliers must belong to the state. */
  take(k: number, { q, v, a }: MechanismState, lambda: Float64Array): void {
    const { motion, loads, forces } = this;
    motion.move(q, v, a);
    loads.clear();
    for (const effort of this.efforts) effort.load?.(loads);
    this.loadRods(q, lambda);
    forces.inward(true, loads);
    for (const bearing of this.bearings) this.takeJoint(bearing, k, q);
  }

  /** Rods, balls and cylinders: what they do is known from their multipliers. */
  private loadRods(q: Positions, lambda: Float64Array): void {
    const { model, loads } = this;
    const { tree } = model;
    for (const made of model.joints) {
      const { joint } = made;
      if (joint.kind !== 'rod' && joint.kind !== 'ball' && joint.kind !== 'cylinder') continue;
      const [a, b] = [tree.point(joint.a), tree.point(joint.b)];
      const force = tieForce(model, made, q, lambda, this.efforts);
      const flat = joint.kind === 'cylinder' && tree.planeOfPoint(a) === tree.planeOfPoint(b);
      const [from, to] = flat ? levelled(tree, a, b) : [tree.spotOf(a), tree.spotOf(b)];
      loads.push(tree.bearerOf(b), force, to);
      loads.push(tree.bearerOf(a), force, from, -1);
    }
  }

  private takeJoint({ joint, point, path, side, run }: Bearing, k: number, q: Positions): void {
    const { model, forces } = this;
    const { tree } = model;
    const { joint: own, a, guide } = model.joints[joint]!;
    tree.placeOf(point, this.spot);
    const at = this.spot;
    const [force, moment] = [
      [0, 0, 0],
      [0, 0, 0],
    ];
    for (const body of path.beyond) {
      const b = 3 * body;
      const [fx, fy, fz] = [forces.force[b]!, forces.force[b + 1]!, forces.force[b + 2]!];
      const [x, y, z] = [tree.at[b]! - at[0]!, tree.at[b + 1]! - at[1]!, tree.at[b + 2]! - at[2]!];
      force[0]! += fx;
      force[1]! += fy;
      force[2]! += fz;
      moment[0]! += forces.moment[b]! + y * fz - z * fy;
      moment[1]! += forces.moment[b + 1]! + z * fx - x * fz;
      moment[2]! += forces.moment[b + 2]! + x * fy - y * fx;
    }
    // Along the rail, or along x of the plane; about the normal from there.
    const along = own.kind === 'slide' || own.kind === 'slot' ? own.angle + (guide ? 0 : q[a.base + 2]!) : 0;
    const o = 9 * tree.planeOfPoint(point);
    const A = tree.planeAxes;
    const [c, s] = [Math.cos(along), Math.sin(along)];
    for (const [from, to] of [
      [force, run.force],
      [moment, run.moment],
    ] as const) {
      const [x, y, z] = [0, 1, 2].map((i) => side * (A[o + i]! * from[0]! + A[o + 3 + i]! * from[1]! + A[o + 6 + i]! * from[2]!)); // prettier-ignore
      to[0][k] = c * x! + s * y!;
      to[1][k] = c * y! - s * x!;
      to[2][k] = z!;
    }
  }
}

/** Force of a rod, ball joint or cylinder on the body of its second point, along the axes of the world, N. */
export function tieForce(
  model: MechanismModel,
  { joint, constraints }: MechanismModel['joints'][number],
  q: Positions,
  lambda: Float64Array,
  efforts: readonly Effort[],
): [number, number, number] {
  const { tree } = model;
  tree.pose(q);
  if (joint.kind !== 'rod' && joint.kind !== 'ball' && joint.kind !== 'cylinder') return [0, 0, 0];
  const [one, other] = [tree.point(joint.a), tree.point(joint.b)];
  if (joint.kind === 'ball') {
    const row = constraints[0]!.firstRow;
    const [R, r] = other.body >= 0 ? [tree.axes, 9 * other.body] : [tree.planeAxes, 9 * other.plane];
    const along = (k: number) =>
      -(lambda[row]! * R[r + 3 * k]! + lambda[row + 1]! * R[r + 3 * k + 1]! + lambda[row + 2]! * R[r + 3 * k + 2]!);
    return [along(0), along(1), along(2)];
  }
  const flat = joint.kind === 'cylinder' && tree.planeOfPoint(one) === tree.planeOfPoint(other);
  const [from, to] = flat ? levelled(tree, one, other) : [tree.spotOf(one), tree.spotOf(other)];
  const [x, y, z] = [to[0]! - from[0]!, to[1]! - from[1]!, to[2]! - from[2]!];
  const length = Math.hypot(x, y, z) || 1;
  let push = 0;
  if (joint.kind === 'rod') push = -lambda[constraints[0]!.firstRow]!;
  else {
    for (const { joint: own, row } of [...model.drives, ...model.stops])
      if (own.joint.id === joint.id) push -= lambda[row]!;
    for (const { kind, id, result } of efforts) if (kind === 'friction' && id === joint.id) push += result.force;
  }
  return [(push * x) / length, (push * y) / length, (push * z) / length];
}
