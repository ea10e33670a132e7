import { compileEfforts, InverseDynamics, type Effort } from '../src/dynamics';
import { newMachine, type Body, type Mechanism } from '../src/machine';
import { assemble, compileMechanism, Kinematics, mobilityAt, type MechanismModel } from '../src/mechanism';

/** A mechanism with nothing in it. */
export const blank = (): Mechanism => newMachine('Space').mechanism;

/** Gives a body a mass in one point of its frame, without any size. */
export function pointMass(body: Body, mass: number, centre: [number, number] = [0, 0], height = 0): Body {
  const none = { xx: 0, yy: 0, xy: 0, xz: 0, yz: 0 };
  body.mass = { given: 'typed', mass, centre, inertia: 0, height, tensor: none };
  return body;
}

/** Gives a body a mass with these principal moments about its centre. */
export function solid(
  body: Body,
  mass: number,
  [xx, yy, zz]: [number, number, number],
  centre: [number, number] = [0, 0],
): Body {
  body.mass = { given: 'typed', mass, centre, inertia: zz, height: 0, tensor: { xx, yy, xy: 0, xz: 0, yz: 0 } };
  return body;
}

/** A mechanism led by joints, at a pose of one's choice. */
export interface LedPose {
  model: MechanismModel;
  kinematics: Kinematics;
  dynamics: InverseDynamics;
  efforts: readonly Effort[];
  /** Efforts of the drives, in their order. */
  drive(i: number): number;
}

/**
 * Leads joints to positions, with velocities and accelerations, and works out what drives must give.
 * @param led by joint: position, velocity, acceleration
 */
export function leadTo(m: Mechanism, led: Record<string, [number, number, number]>): LedPose {
  const joints = Object.keys(led);
  const model = compileMechanism(m, joints.map((joint) => ({ axisId: joint, joint }))); // prettier-ignore
  const { q, assembled, apart } = assemble(model);
  if (!assembled) throw new Error(`stays apart: ${JSON.stringify(apart)}`);
  const mobility = mobilityAt(model, q);
  const kinematics = new Kinematics(model, q, mobility.rows);
  const share = kinematics.moveTo(joints.map((joint) => led[joint]![0]), 0); // prettier-ignore
  if (share < 1) throw new Error(`stuck at ${share}`);
  if (!kinematics.derive(joints.map((j) => led[j]![1]), joints.map((j) => led[j]![2]))) throw new Error('singular'); // prettier-ignore
  const efforts = compileEfforts(model, { cycleTime: 1 });
  const dynamics = new InverseDynamics(kinematics, efforts);
  dynamics.solve(0);
  return { model, kinematics, dynamics, efforts, drive: (i) => -dynamics.lambda[model.drives[i]!.row]! };
}
