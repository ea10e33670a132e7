import {
  addBar,
  addJoint,
  addElement,
  bodyPoint,
  groundPoint,
  newAxis,
  newMachine,
  simulate,
  type Axis,
  type Body,
  type Joint,
  type Machine,
  type Run,
} from '../src';

/** Mechanisms that several tests share. Lengths in m. */
export const RAD = Math.PI / 180;

/** An axis that drives a joint at a constant speed from a start position. */
export function drive(
  machine: Machine,
  joint: Joint,
  source: Axis['motion']['source'],
  level: Axis['motion']['level'] = 'velocity',
  position = 0,
): Axis {
  const axis = newAxis(joint.kind === 'pin' ? 'rotary' : 'linear', machine.axes, 1);
  axis.joint = joint.id;
  axis.gearbox = null;
  axis.travel = null;
  axis.load = { ...axis.load, inertia: 0 };
  axis.motion = { over: 'time', engage: null, level, source, initial: { position, velocity: 0 } };
  machine.axes.push(axis);
  return axis;
}

/** A body whose mass, centre (in its frame) and inertia are typed. */
export function weigh(body: Body, mass: number, centre: [number, number], inertia: number): Body {
  body.mass = { given: 'typed', mass, centre, inertia };
  return body;
}

export interface FourBar {
  machine: Machine;
  crank: Body;
  coupler: Body;
  rocker: Body;
  pins: [Joint, Joint, Joint, Joint];
  axis: Axis;
}

/** A four-bar with its ground along x, drawn at a crank angle; `crossed` draws the other closure. */
export function fourBar(
  [ground, r2, r3, r4]: readonly [number, number, number, number],
  theta2: number,
  { crossed = false, speed = 2 * Math.PI, cycle = 1 } = {},
): FourBar {
  const machine = newMachine('Four-bar');
  machine.cycle = { given: 'time', time: cycle };
  const m = machine.mechanism;
  const a: [number, number] = [r2 * Math.cos(theta2), r2 * Math.sin(theta2)];
  // Roughly drawn: the joint of coupler and rocker by the two circles.
  const d = Math.hypot(ground - a[0], a[1]);
  const along = (d * d + r3 * r3 - r4 * r4) / (2 * d);
  const height = Math.sqrt(Math.max(0, r3 * r3 - along * along)) * (crossed ? -1 : 1);
  const [ux, uy] = [(ground - a[0]) / d, -a[1] / d];
  const b: [number, number] = [a[0] + along * ux - height * uy, a[1] + along * uy + height * ux];
  const crank = addBar(m, [0, 0], a, 'Crank');
  const coupler = addBar(m, a, b, 'Coupler');
  const rocker = addBar(m, [ground, 0], b, 'Rocker');
  const pins: FourBar['pins'] = [
    addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, crank.id, [0, 0]), { name: 'A' }),
    addJoint(m, 'pin', bodyPoint(m, crank.id, a), bodyPoint(m, coupler.id, a), { name: 'B' }),
    addJoint(m, 'pin', bodyPoint(m, coupler.id, b), bodyPoint(m, rocker.id, b), { name: 'C' }),
    addJoint(m, 'pin', groundPoint(m, [ground, 0]), bodyPoint(m, rocker.id, [ground, 0]), { name: 'D' }),
  ];
  (pins[0] as Extract<Joint, { kind: 'pin' }>).zero = 0;
  const axis = drive(machine, pins[0], { kind: 'constant', value: speed }, 'velocity', theta2);
  return { machine, crank, coupler, rocker, pins, axis };
}

/** Sample nearest to a time. */
export function sampleAt(run: Run, time: number): number {
  let best = 0;
  run.times.forEach((t, k) => {
    if (Math.abs(t - time) < Math.abs(run.times[best]! - time)) best = k;
  });
  return best;
}

export const channelsOf = (run: Run, joint: Joint) => run.mechanism!.joints.find(({ id }) => id === joint.id)!;

/** Angle of a body over the run. */
export function angleOf(run: Run, body: Body): Float64Array {
  const index = run.mechanism!.bodies.findIndex(({ id }) => id === body.id);
  return run.mechanism!.q[3 * index + 2]!;
}

/** A pendulum: a bar on a pin of the ground. */
export function pendulum(
  length: number,
  angle: number,
  mass = 1,
  inertia = 1e-12,
): { machine: Machine; body: Body; pin: Joint } {
  const machine = newMachine('Pendulum');
  const m = machine.mechanism;
  const end: [number, number] = [length * Math.sin(angle), -length * Math.cos(angle)];
  const body = weigh(addBar(m, [0, 0], end, 'Bob'), mass, [length, 0], inertia);
  const pin = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, body.id, [0, 0]), { name: 'Pivot' });
  return { machine, body, pin };
}

export { addElement, simulate };
