import { compileEfforts, InverseDynamics } from '../dynamics';
import { addJoint, cycleTime, GROUND, newDrive, pointIn, type Axis, type LocalPlace, type Machine } from '../machine';
import {
  compileMechanism,
  copyOf,
  Kinematics,
  leadPose,
  mobilityAt,
  setFramePoses,
  type Pose,
  type Positions,
} from '../mechanism';
import { dropRivals } from './rivals';

/** What a cylinder between two points would need to lead a mechanism from one pose to another. */
export interface StrokeNeed {
  /** Travel of the rod, m. */
  stroke: number;
  /** Whether the rod comes out on the way. */
  extends: boolean;
  /** Shortest and longest distance of its ends on the way, m. */
  shortest: number;
  longest: number;
  /** Distance of the ends along the way, m, and the force that holds the mechanism there, N; positive pushes. */
  lengths: Float64Array;
  forces: Float64Array;
}

const STATIONS = 61;

/** What a place is fixed to: a body, or the ground; on the frame of a plane what carries that. */
function carrierOf({ mechanism }: Machine, { body, plane }: LocalPlace): string {
  if (body !== GROUND) return body;
  return mechanism.planes.find(({ id }) => id === plane)?.on ?? GROUND;
}

/**
 * Finds the stroke, least length and holding force of a cylinder between two points that leads a mechanism from one
 * pose to another. All drives are taken off; gravity, springs and loads count, at rest.
 * @param ends anywhere on bodies or the ground
 * @param from, to poses of all bodies, both closed
 * @returns the need, or a sentence that says why there is none
 */
export function strokeNeed(
  machine: Machine,
  ends: readonly [LocalPlace, LocalPlace],
  from: readonly Pose[],
  to: readonly Pose[],
): StrokeNeed | string {
  const [one, other] = ends.map((end) => carrierOf(machine, end));
  if (one === other) return 'Both points are on one body: choose points that move against each other.';
  const mechanism = structuredClone(machine.mechanism);
  const places = [pointIn(mechanism, ends[0]), pointIn(mechanism, ends[1])] as const;
  const joint = addJoint(mechanism, 'cylinder', ...places, { name: 'Cylinder wanted' });
  if (joint.kind === 'cylinder') joint.zero = 0;
  const model = compileMechanism(mechanism, [{ axisId: 'wanted', joint: joint.id }]);
  const distance = (q: Positions) => model.joint(joint.id)!.coordinate!.value(q);
  const stateOf = (poses: readonly Pose[]) => {
    const q = copyOf(model.start);
    setFramePoses(model, poses, q);
    return q;
  };
  const begin = stateOf(from);
  const [first, last] = [distance(begin), distance(stateOf(to))];
  if (Math.abs(last - first) < 1e-6 * model.scale)
    return 'The two points are as far apart in the one pose as in the other: a cylinder there would do nothing. Choose other points or poses.';
  const mobility = mobilityAt(model, begin);
  if (mobility.remaining > 0)
    return `A cylinder there leaves ${mobility.remaining === 1 ? 'one freedom' : `${mobility.remaining} freedoms`} of the mechanism undetermined: tie or drive the rest first.`;
  if (mobility.fighting.length > 0)
    return 'The two points cannot move against each other: choose points of bodies that do.';
  const kinematics = new Kinematics(model, begin, mobility.rows);
  const efforts = compileEfforts(model, { cycleTime: cycleTime(machine) });
  const dynamics = new InverseDynamics(kinematics, efforts);
  const held = new Float64Array(model.rows);
  const lengths = new Float64Array(STATIONS);
  const forces = new Float64Array(STATIONS);
  for (let i = 0; i < STATIONS; i++) {
    const length = first + ((last - first) * i) / (STATIONS - 1);
    if (kinematics.moveTo([length]) < 1 && leadPose(model, kinematics.state.q, mobility.rows, [length]) < 1)
      return `A cylinder there runs into a dead position at ${(length * 1000).toFixed(1)} mm between its ends: choose other points.`;
    if (!kinematics.derive([0], [0])) return 'A cylinder there passes a dead position on its way: choose other points.';
    dynamics.hold(0, held);
    lengths[i] = length;
    forces[i] = -held[model.drives[0]!.row]!;
  }
  return {
    stroke: Math.abs(last - first),
    extends: last > first,
    shortest: Math.min(first, last),
    longest: Math.max(first, last),
    lengths,
    forces,
  };
}

/**
 * Makes the cylinder that a stroke asks for, and its drive: it goes from the first pose to the second and back within
 * the cycle. The first pose becomes the start pose. Drives that would lead the same freedom are taken off.
 * @returns the joint's and the axis' identifiers, and the names of the drives taken off
 */
export function makeCylinder(
  machine: Machine,
  ends: readonly [LocalPlace, LocalPlace],
  from: readonly Pose[],
  need: StrokeNeed,
): { joint: string; axis: string; off: string[] } {
  const { mechanism } = machine;
  mechanism.bodies.forEach((body, i) => (body.pose = { ...from[i]! }));
  const joint = addJoint(mechanism, 'cylinder', pointIn(mechanism, ends[0]), pointIn(mechanism, ends[1]));
  if (joint.kind === 'cylinder') joint.zero = need.shortest;
  const axis: Axis = newDrive(
    machine,
    joint,
    need.extends ? 0 : need.stroke,
    need.extends ? need.stroke : -need.stroke,
  );
  axis.travel = { min: 0, max: need.stroke };
  axis.home = axis.plan.start;
  machine.axes.push(axis);
  const off = dropRivals(machine, [axis.id, joint.id]);
  return { joint: joint.id, axis: axis.id, off: off.map(({ name }) => name) };
}
