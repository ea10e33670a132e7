import { compileEfforts, InverseDynamics } from '../dynamics';
import { addJoint, cycleTime, type Machine, type Place } from '../machine';
import { compileMechanism, Kinematics, leadPose, mobilityAt, placeAt, type Positions } from '../mechanism';

/** What a cylinder between two points would need to lead a mechanism from one pose to another. */
export interface StrokeNeed {
  /** Travel of the rod, m. */
  stroke: number;
  /** Shortest and longest distance of its ends on the way, m. */
  shortest: number;
  longest: number;
  /** Distance of the ends along the way, m, and the force that holds the mechanism there, N; positive pushes. */
  lengths: Float64Array;
  forces: Float64Array;
}

const STATIONS = 61;

/**
 * Finds the stroke, least length and holding force of a cylinder between two points that leads a mechanism from one
 * pose to another. All drives are taken off; gravity, springs and loads count, at rest.
 * @param from, to states of the mechanism (as its poses stand in the model), both closed
 * @returns the need, or a sentence that says why there is none
 */
export function strokeNeed(
  machine: Machine,
  ends: readonly [Place, Place],
  from: Positions,
  to: Positions,
): StrokeNeed | string {
  const mechanism = structuredClone(machine.mechanism);
  const joint = addJoint(mechanism, 'cylinder', ends[0], ends[1], { name: 'Cylinder wanted' });
  if (joint.kind === 'cylinder') joint.zero = 0;
  const model = compileMechanism(mechanism, [{ axisId: 'wanted', joint: joint.id }]);
  const distance = (q: Positions) => {
    const [a, b] = [placeAt(model, q, ends[0]), placeAt(model, q, ends[1])];
    return Math.hypot(b[0] - a[0], b[1] - a[1]);
  };
  const [first, last] = [distance(from), distance(to)];
  if (Math.abs(last - first) < 1e-6 * model.scale)
    return 'The two points are as far apart in the one pose as in the other: a cylinder there would do nothing. Choose other points or poses.';
  const mobility = mobilityAt(model, from);
  if (mobility.remaining > 0)
    return `A cylinder there leaves ${mobility.remaining === 1 ? 'one freedom' : `${mobility.remaining} freedoms`} of the mechanism undetermined: tie or drive the rest first.`;
  if (mobility.fighting.length > 0)
    return 'The two points cannot move against each other: choose points of bodies that do.';
  const kinematics = new Kinematics(model, from, mobility.rows);
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
    shortest: Math.min(first, last),
    longest: Math.max(first, last),
    lengths,
    forces,
  };
}
