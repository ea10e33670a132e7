import type { Place } from '../machine';
import type { MechanismModel } from './model';
import { armX, armY, baseOfBody, type Positions } from './state';

/** Pose of the frame of a body: m and rad. */
export interface Pose {
  x: number;
  y: number;
  angle: number;
}

/** Poses of the frames of all bodies for places of their centres of mass, as they stand in the state. */
export function framePoses(bodies: readonly { centre: readonly [number, number] }[], q: ArrayLike<number>): Pose[] {
  return bodies.map(({ centre }, i) => framePose({ centre, base: baseOfBody(i) }, q));
}

/** Pose of the frame of one body. */
export function framePose(
  { centre, base }: { centre: readonly [number, number]; base: number },
  q: ArrayLike<number>,
): Pose {
  const angle = q[base + 2]!;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  return {
    x: q[base]! - c * centre[0] + s * centre[1],
    y: q[base + 1]! - s * centre[0] - c * centre[1],
    angle,
  };
}

/** The state that puts the frames of all bodies at these poses; arc lengths are taken from `q`, which is changed in place. */
export function setFramePoses(model: MechanismModel, poses: readonly Pose[], q: Positions): void {
  model.bodies.forEach(({ base, centre }, i) => {
    const { x, y, angle } = poses[i]!;
    q[base] = x + Math.cos(angle) * centre[0] - Math.sin(angle) * centre[1];
    q[base + 1] = y + Math.sin(angle) * centre[0] + Math.cos(angle) * centre[1];
    q[base + 2] = angle;
  });
}

/** Where a point is in the world for a state. */
export function placeAt(model: MechanismModel, q: Positions, place: Place): [number, number] {
  const p = model.attach(place);
  return [q[p.base]! + armX(q, p), q[p.base + 1]! + armY(q, p)];
}

/** How far two places are apart for a state, m: within a plane as they lie there, else in space. */
export function distanceAt(model: MechanismModel, q: Positions, a: Place, b: Place): number {
  const { tree } = model;
  const [one, other] = [tree.point(a), tree.point(b)];
  if (tree.planeOfPoint(one) === tree.planeOfPoint(other)) {
    const [[ax, ay], [bx, by]] = [placeAt(model, q, a), placeAt(model, q, b)];
    return Math.hypot(bx - ax, by - ay);
  }
  tree.pose(q);
  const [from, to] = [tree.spotOf(one), tree.spotOf(other)];
  return Math.hypot(to[0]! - from[0]!, to[1]! - from[1]!, to[2]! - from[2]!);
}
