// Inverse dynamics of arms in space by the general solver against recursive Newton–Euler by hand for the same arm, and
// how time grows along chains of planes on bodies, driven and free.
import {
  addBar,
  addJoint,
  addPlane,
  assemble,
  bodyPoint,
  CarriedSystem,
  compileMechanism,
  Equations,
  groundPoint,
  mobilityAt,
  newMachine,
  ratesOf,
  turnOf,
  type Mechanism,
} from '@yoke/core';
import { ledChain } from './led-chain';
import { median } from './median';

const LENGTH = 0.2;
const MASS = 1.2;
const G = 9.80665;

/** Bars that turn on one another, each in a plane carried by the one before and square to its. */
function arm(links: number): Mechanism {
  const { mechanism: m } = newMachine('Arm');
  let plane = m.planes[0]!.id;
  for (let i = 0; i < links; i++) {
    const link = addBar(m, [0, 0], [LENGTH, 0], undefined, 0.02, plane);
    const tensor = { xx: 0.001, yy: 0.004, xy: 0, xz: 0, yz: 0 };
    link.mass = { given: 'typed', mass: MASS, centre: [LENGTH / 2, 0], inertia: 0.004, height: 0, tensor };
    addJoint(m, 'pin', groundPoint(m, [0, 0], plane), bodyPoint(m, link.id, [0, 0]));
    plane = addPlane(m, { on: link.id, at: [LENGTH, 0, 0], turn: turnOf(i % 2 === 0 ? 'top' : 'bottom') }).id;
  }
  return m;
}

const ANGLE = (i: number, t: number) => 0.3 * Math.sin(t + i);
const RATE = (i: number, t: number) => 0.3 * Math.cos(t + i);

const general = (links: number, poses: number) => ledChain(arm(links), { at: ANGLE, rate: RATE }, poses);

/** The same in the axes of each link (Luh, Walker and Paul), written for this arm alone. */
function byHand(links: number, poses: number): { ms: number; last: number[] } {
  const size = 3 * links;
  const [w, al, a, f, n] = Array.from({ length: 5 }, () => new Float64Array(size)) as [Float64Array, Float64Array, Float64Array, Float64Array, Float64Array]; // prettier-ignore
  const last = new Array<number>(links).fill(0);
  const R = Array.from({ length: links }, () => new Float64Array(9));
  const run = () => {
    for (let k = 0; k < poses; k++) {
      const t = (2 * Math.PI * k) / poses;
      for (let i = 0; i < links; i++) {
        const [c, s] = [Math.cos(ANGLE(i, t)), Math.sin(ANGLE(i, t))];
        // From the axes of a link to those of the one before: its plane, then its turn.
        const top = i % 2 === 1;
        const r = R[i]!;
        r[0] = c;
        r[1] = -s;
        // The first is turned about z alone; of the others every second plane is seen from the top of the one before.
        const up = i === 0 ? 0 : top ? 1 : -1;
        r[3] = i === 0 ? s : 0;
        r[4] = i === 0 ? c : 0;
        r[5] = up;
        r[6] = -up * s;
        r[7] = -up * c;
        r[8] = i === 0 ? 1 : 0;
        const o = 3 * i;
        const p = o - 3;
        let wx = 0;
        let wy = 0;
        let wz = 0;
        let lx = 0;
        let ly = 0;
        let lz = 0;
        // Acceleration of the joint, gravity as one.
        let ax = 0;
        let ay = G;
        let az = 0;
        if (i > 0) {
          wx = w[p]!;
          wy = w[p + 1]!;
          wz = w[p + 2]!;
          lx = al[p]!;
          ly = al[p + 1]!;
          lz = al[p + 2]!;
          ax = a[p]! - (wy * wy + wz * wz) * LENGTH;
          ay = a[p + 1]! + (lz + wx * wy) * LENGTH;
          az = a[p + 2]! + (wx * wz - ly) * LENGTH;
        }
        const u = RATE(i, t);
        w[o] = r[0]! * wx + r[3]! * wy + r[6]! * wz;
        w[o + 1] = r[1]! * wx + r[4]! * wy + r[7]! * wz;
        w[o + 2] = r[2]! * wx + r[5]! * wy + r[8]! * wz + u;
        al[o] = r[0]! * lx + r[3]! * ly + r[6]! * lz + w[o + 1]! * u;
        al[o + 1] = r[1]! * lx + r[4]! * ly + r[7]! * lz - w[o]! * u;
        al[o + 2] = r[2]! * lx + r[5]! * ly + r[8]! * lz - ANGLE(i, t);
        a[o] = r[0]! * ax + r[3]! * ay + r[6]! * az;
        a[o + 1] = r[1]! * ax + r[4]! * ay + r[7]! * az;
        a[o + 2] = r[2]! * ax + r[5]! * ay + r[8]! * az;
      }
      for (let i = links - 1; i >= 0; i--) {
        const o = 3 * i;
        const h = LENGTH / 2;
        const wx = w[o]!;
        const wy = w[o + 1]!;
        const wz = w[o + 2]!;
        const lx = al[o]!;
        const ly = al[o + 1]!;
        const lz = al[o + 2]!;
        let fx = MASS * (a[o]! - (wy * wy + wz * wz) * h);
        let fy = MASS * (a[o + 1]! + lz * h + wx * wy * h);
        let fz = MASS * (a[o + 2]! - ly * h + wx * wz * h);
        let nx = 0.001 * lx + (0.004 - 0.004) * wy * wz;
        let ny = 0.004 * ly + (0.001 - 0.004) * wz * wx - h * fz;
        let nz = 0.004 * lz + (0.004 - 0.001) * wx * wy + h * fy;
        if (i < links - 1) {
          const r = R[i + 1]!;
          const gx = f[o + 3]!;
          const gy = f[o + 4]!;
          const gz = f[o + 5]!;
          const mx = n[o + 3]!;
          const my = n[o + 4]!;
          const mz = n[o + 5]!;
          const bx = r[0]! * gx + r[1]! * gy + r[2]! * gz;
          const by = r[3]! * gx + r[4]! * gy + r[5]! * gz;
          const bz = r[6]! * gx + r[7]! * gy + r[8]! * gz;
          fx += bx;
          fy += by;
          fz += bz;
          nx += r[0]! * mx + r[1]! * my + r[2]! * mz;
          ny += r[3]! * mx + r[4]! * my + r[5]! * mz - LENGTH * bz;
          nz += r[6]! * mx + r[7]! * my + r[8]! * mz + LENGTH * by;
        }
        f[o] = fx;
        f[o + 1] = fy;
        f[o + 2] = fz;
        n[o] = nx;
        n[o + 1] = ny;
        n[o + 2] = nz;
        last[i] = nz;
      }
    }
  };
  run();
  return { ms: median(run, 5) / poses, last: [...last] };
}

/** Accelerations of an arm that nothing drives: ms for each pose. */
function free(links: number, poses: number): number {
  const m = arm(links);
  const model = compileMechanism(m);
  const { q } = assemble(model);
  const { rows } = mobilityAt(model, q);
  const system = new CarriedSystem(model, model.tree, rows);
  const equations = new Equations(model);
  const force = new Float64Array(model.size).fill(1);
  const [x, lambda] = [ratesOf(model), new Float64Array(model.rows)];
  const run = () => {
    for (let k = 0; k < poses; k++) {
      equations.jacobian(q);
      if (!system.factor(equations.values, q)) throw new Error('singular');
      system.solve(force, null, x, lambda);
    }
  };
  run();
  return median(run, 5) / poses;
}

export function benchSpace(): void {
  const LINKS = 4;
  const own = general(LINKS, 1000);
  const hand = byHand(LINKS, 1000);
  const apart = Math.max(...own.last.map((torque, i) => Math.abs(torque - hand.last[i]!)));
  if (!(apart < 1e-9)) throw new Error(`The arm by hand gives other torques: ${apart} N·m apart.`);
  console.log(`Arm of ${LINKS} in space: ${(own.ms * 1000).toFixed(1)} µs a pose, ${(own.ms / hand.ms).toFixed(1)} times recursive Newton–Euler by hand (10 wanted)`); // prettier-ignore
  for (const [name, time] of [
    ['driven', (links: number) => general(links, 200).ms],
    ['free', (links: number) => free(links, 200)],
  ] as const) {
    const times = [10, 30, 100].map(time);
    const exponent = Math.log(times[2]! / times[0]!) / Math.log(10);
    console.log(`Chains of 10, 30, 100 bodies on one another, ${name}: ${times.map((ms) => ms.toFixed(3)).join(', ')} ms a pose; exponent ${exponent.toFixed(2)} (below 1.5 wanted)`); // prettier-ignore
  }
}
