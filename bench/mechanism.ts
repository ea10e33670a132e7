// Inverse dynamics of a four-bar by the general solver against the same in closed form, and chains of closed loops.
import {
  addBar,
  addJoint,
  assemble,
  bodyPoint,
  compileEfforts,
  compileMechanism,
  groundPoint,
  InverseDynamics,
  Kinematics,
  mobilityAt,
  newMachine,
  type Machine,
} from '@yoke/core';
import { median } from './median';

const [GROUND, CRANK, ROCKER] = [0.3, 0.08, 0.2];
/** Where the rocker's head is drawn, seen from its foot. */
const HEAD: [number, number] = [0.28 * ROCKER, 0.96 * ROCKER];
const COUPLER = Math.hypot(GROUND + HEAD[0] - CRANK * Math.cos(1), HEAD[1] - CRANK * Math.sin(1));
const SPEED = 2 * Math.PI;
const POSES = 1000;

/** A row of four-bars, each driven by the rocker of the one before: 1 + 2·stages bodies. */
function chain(stages: number): Machine {
  const machine = newMachine('Chain');
  const m = machine.mechanism;
  let foot: [number, number] = [0, 0];
  let end: [number, number] = [CRANK * Math.cos(1), CRANK * Math.sin(1)];
  let link = addBar(m, foot, end);
  addJoint(m, 'pin', groundPoint(m, foot), bodyPoint(m, link.id, foot));
  for (let k = 0; k < stages; k++) {
    // The first four-bar turns the crank's turn into a swing; those that follow pass the swing on.
    const next: [number, number] = [foot[0] + GROUND, 0];
    const top: [number, number] = [next[0] + HEAD[0], HEAD[1]];
    const coupler = addBar(m, end, top);
    const rocker = addBar(m, next, top);
    addJoint(m, 'pin', bodyPoint(m, link.id, end), bodyPoint(m, coupler.id, end));
    addJoint(m, 'pin', bodyPoint(m, coupler.id, top), bodyPoint(m, rocker.id, top));
    addJoint(m, 'pin', groundPoint(m, next), bodyPoint(m, rocker.id, next));
    foot = next;
    end = top;
    link = rocker;
  }
  return machine;
}

/** Led through a small swing of its crank; gives ms for each pose. */
function timePerPose(stages: number, poses: number): { bodies: number; ms: number } {
  const { mechanism } = chain(stages);
  const model = compileMechanism(mechanism, [{ axisId: 'axis', joint: mechanism.joints[0]!.id }]);
  const { q } = assemble(model);
  const { rows } = mobilityAt(model, q);
  const efforts = compileEfforts(model, { cycleTime: 1 });
  const run = () => {
    const kinematics = new Kinematics(model, q, rows);
    const dynamics = new InverseDynamics(kinematics, efforts);
    for (let k = 0; k < poses; k++) {
      const t = (2 * Math.PI * k) / poses;
      if (kinematics.moveTo([0.05 * Math.sin(t)], k > 0 ? 1 / poses : 0) < 1) throw new Error('The chain is stuck.');
      kinematics.derive([0.05 * 2 * Math.PI * Math.cos(t)], [-0.05 * (2 * Math.PI) ** 2 * Math.sin(t)]);
      dynamics.solve(t);
    }
  };
  return { bodies: mechanism.bodies.length, ms: median(run, 7) / poses };
}

/** Torque at the crank of the same four-bar in closed form, by virtual work; bars with their own mass and inertia. */
function closedForm(masses: readonly { mass: number; inertia: number }[]): (angle: number) => number {
  const g = 9.80665;
  const lengths = [CRANK, COUPLER, ROCKER];
  return (angle) => {
    const [ax, ay] = [CRANK * Math.cos(angle), CRANK * Math.sin(angle)];
    const [dx, dy] = [GROUND - ax, -ay];
    const d = Math.hypot(dx, dy);
    const along = (d * d + COUPLER ** 2 - ROCKER ** 2) / (2 * d);
    const height = Math.sqrt(COUPLER ** 2 - along ** 2);
    const bx = ax + (along * dx - height * dy) / d;
    const by = ay + (along * dy + height * dx) / d;
    const t3 = Math.atan2(by - ay, bx - ax);
    const t4 = Math.atan2(by, bx - GROUND);
    const s = Math.sin(t3 - t4);
    const w3 = (-CRANK * Math.sin(angle - t4)) / (COUPLER * s);
    const w4 = (-CRANK * Math.sin(angle - t3)) / (ROCKER * s);
    // Second derivatives by the crank angle, from the loop differentiated twice.
    const p = -CRANK * Math.cos(angle) - COUPLER * Math.cos(t3) * w3 ** 2 + ROCKER * Math.cos(t4) * w4 ** 2;
    const r = -CRANK * Math.sin(angle) - COUPLER * Math.sin(t3) * w3 ** 2 + ROCKER * Math.sin(t4) * w4 ** 2;
    const det = COUPLER * ROCKER * s;
    const a3 = (ROCKER * (-Math.cos(t4) * p - Math.sin(t4) * r)) / -det;
    const a4 = (COUPLER * (-Math.cos(t3) * p - Math.sin(t3) * r)) / -det;
    const bodies = [
      { x: 0, y: 0, x1: 0, y1: 0, x2: 0, y2: 0, t: angle, w: 1, a: 0 },
      { x: ax, y: ay, x1: -ay, y1: ax, x2: -ax, y2: -ay, t: t3, w: w3, a: a3 },
      { x: GROUND, y: 0, x1: 0, y1: 0, x2: 0, y2: 0, t: t4, w: w4, a: a4 },
    ];
    let torque = 0;
    bodies.forEach((b, i) => {
      const [c, q] = [(Math.cos(b.t) * lengths[i]!) / 2, (Math.sin(b.t) * lengths[i]!) / 2];
      const vx = b.x1 - q * b.w;
      const vy = b.y1 + c * b.w;
      const accX = (b.x2 - q * b.a - c * b.w ** 2) * SPEED ** 2;
      const accY = (b.y2 + c * b.a - q * b.w ** 2) * SPEED ** 2;
      const { mass, inertia } = masses[i]!;
      torque += mass * (accX * vx + (accY + g) * vy) + inertia * b.a * SPEED ** 2 * b.w;
    });
    return torque;
  };
}

/** Prints the figures. */
export function benchMechanism(): void {
  const { mechanism } = chain(1);
  const model = compileMechanism(mechanism, [{ axisId: 'axis', joint: mechanism.joints[0]!.id }]);
  const { q } = assemble(model);
  const { rows } = mobilityAt(model, q);
  const efforts = compileEfforts(model, { cycleTime: 1 });
  const start = Math.atan2(mechanism.bodies[0]!.points[1]!.at[1], 1) + mechanism.bodies[0]!.pose.angle;
  const exact = closedForm(model.bodies);
  const torques = new Float64Array(POSES);
  const general = () => {
    const kinematics = new Kinematics(model, q, rows);
    const dynamics = new InverseDynamics(kinematics, efforts);
    for (let k = 0; k < POSES; k++) {
      kinematics.moveTo([(SPEED * k) / POSES], k > 0 ? 1 / POSES : 0);
      kinematics.derive([SPEED], [0]);
      dynamics.solve(k / POSES);
      torques[k] = -dynamics.lambda[model.drives[0]!.row]!;
    }
  };
  const hand = () => {
    let sum = 0;
    for (let k = 0; k < POSES; k++) sum += exact(start + (SPEED * k) / POSES);
    return sum;
  };
  const [slow, fast] = [median(general, 40), median(hand, 40)];
  const largest = torques.reduce(
    (most, torque, k) => Math.max(most, Math.abs(torque - exact(start + (SPEED * k) / POSES))),
    0,
  );
  console.log(
    `inverse dynamics of a four-bar, ${POSES} poses: general solver ${slow.toFixed(2)} ms, closed form by hand ${fast.toFixed(3)} ms; ratio ${(slow / fast).toFixed(1)}; largest difference of the torques ${largest.toExponential(1)} N·m`,
  );
  const sizes = [5, 15, 50].map((stages) => timePerPose(stages, 150));
  for (const { bodies, ms } of sizes)
    console.log(
      `chain of ${bodies} bodies with closed loops: ${(ms * 1000).toFixed(0)} µs a pose; ratio to the shortest ${(ms / sizes[0]!.ms).toFixed(1)}`,
    );
  const [first, , last] = sizes as [(typeof sizes)[0], (typeof sizes)[0], (typeof sizes)[0]];
  console.log(
    `growth exponent of time with bodies: ${(Math.log(last.ms / first.ms) / Math.log(last.bodies / first.bodies)).toFixed(2)} (wanted: below 1.5)`,
  );
}
