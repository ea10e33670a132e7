// Inverse dynamics of a gantry with a turning head by the general solver against recursive Newton–Euler by hand for
// chains of slides and turns (Luh, Walker and Paul; in the axes of each link).
import {
  addBar,
  addJoint,
  addPlane,
  bodyPoint,
  groundPoint,
  newMachine,
  rotationOf,
  turnOf,
  type Mechanism,
  type View,
} from '@yoke/core';
import { ledChain } from './led-chain';
import { median } from './median';

const LENGTH = 0.4;
const MASS = 3;
const G = 9.80665;
const TENSOR = { xx: 0.002, yy: 0.04, zz: 0.04 };

/** Bridge, carriage, lift, head: in which view of the one before each has its plane, and whether it slides. */
const LINKS: readonly { view: View; slides: boolean; direction: number }[] = [
  { view: 'front', slides: true, direction: 0 },
  { view: 'right', slides: true, direction: 0 },
  { view: 'right', slides: true, direction: Math.PI / 2 },
  { view: 'top', slides: false, direction: 0 },
];

function gantry(): Mechanism {
  const { mechanism: m } = newMachine('Gantry');
  let plane = m.planes[0]!.id;
  LINKS.forEach(({ slides, direction }, i) => {
    const link = addBar(m, [0, 0], [LENGTH, 0], undefined, 0.05, plane);
    const tensor = { xx: TENSOR.xx, yy: TENSOR.yy, xy: 0, xz: 0, yz: 0 };
    link.mass = { given: 'typed', mass: MASS, centre: [LENGTH / 2, 0], inertia: TENSOR.zz, height: 0, tensor };
    const [from, to] = [groundPoint(m, [0, 0], plane), bodyPoint(m, link.id, [0, 0])];
    addJoint(m, slides ? 'slide' : 'pin', from, to, slides ? { direction } : {});
    const next = LINKS[i + 1];
    if (next) plane = addPlane(m, { on: link.id, at: [LENGTH, 0, 0], turn: turnOf(next.view) }).id;
  });
  return m;
}

const at = (i: number, t: number) => 0.2 * Math.sin(t + i);
const rate = (i: number, t: number) => 0.2 * Math.cos(t + i);

/** What a hand would write for chains of slides and turns, each plane fixed to the link before. */
function byHand(poses: number): { ms: number; last: number[] } {
  const count = LINKS.length;
  const planes = LINKS.map(({ view }) => Float64Array.from(rotationOf(turnOf(view))));
  const turns = planes.map((plane) => plane.slice());
  const along = LINKS.map(({ direction }) => [Math.cos(direction), Math.sin(direction)]);
  const places = planes.map(() => new Float64Array(3));
  const [w, al, a, f, n] = Array.from({ length: 5 }, () => new Float64Array(3 * count)) as [Float64Array, Float64Array, Float64Array, Float64Array, Float64Array]; // prettier-ignore
  const last = new Array<number>(count).fill(0);
  const run = () => {
    for (let k = 0; k < poses; k++) {
      const t = (2 * Math.PI * k) / poses;
      for (let i = 0; i < count; i++) {
        const { slides } = LINKS[i]!;
        const q = at(i, t);
        const q1 = rate(i, t);
        const q2 = -q;
        const P = planes[i]!;
        const R = turns[i]!;
        const p = places[i]!;
        const ux = along[i]![0]!;
        const uy = along[i]![1]!;
        const reach = i > 0 ? LENGTH : 0;
        if (slides) {
          p[0] = reach + q * (P[0]! * ux + P[1]! * uy);
          p[1] = q * (P[3]! * ux + P[4]! * uy);
          p[2] = q * (P[6]! * ux + P[7]! * uy);
        } else {
          p[0] = reach;
          const c = Math.cos(q);
          const s = Math.sin(q);
          for (let r = 0; r < 9; r += 3) {
            R[r] = c * P[r]! + s * P[r + 1]!;
            R[r + 1] = c * P[r + 1]! - s * P[r]!;
          }
        }
        const o = 3 * i;
        const b = o - 3;
        const wx = i > 0 ? w[b]! : 0;
        const wy = i > 0 ? w[b + 1]! : 0;
        const wz = i > 0 ? w[b + 2]! : 0;
        const lx = i > 0 ? al[b]! : 0;
        const ly = i > 0 ? al[b + 1]! : 0;
        const lz = i > 0 ? al[b + 2]! : 0;
        const ax = i > 0 ? a[b]! : 0;
        const ay = i > 0 ? a[b + 1]! : G;
        const az = i > 0 ? a[b + 2]! : 0;
        const px = p[0]!;
        const py = p[1]!;
        const pz = p[2]!;
        const sx = wy * pz - wz * py;
        const sy = wz * px - wx * pz;
        const sz = wx * py - wy * px;
        const bx = ax + ly * pz - lz * py + wy * sz - wz * sy;
        const by = ay + lz * px - lx * pz + wz * sx - wx * sz;
        const bz = az + lx * py - ly * px + wx * sy - wy * sx;
        for (let c = 0; c < 3; c++) {
          w[o + c] = R[c]! * wx + R[c + 3]! * wy + R[c + 6]! * wz;
          al[o + c] = R[c]! * lx + R[c + 3]! * ly + R[c + 6]! * lz;
          a[o + c] = R[c]! * bx + R[c + 3]! * by + R[c + 6]! * bz;
        }
        if (slides) {
          a[o] = a[o]! + ux * q2 - 2 * w[o + 2]! * uy * q1;
          a[o + 1] = a[o + 1]! + uy * q2 + 2 * w[o + 2]! * ux * q1;
          a[o + 2] = a[o + 2]! + 2 * (w[o]! * uy - w[o + 1]! * ux) * q1;
        } else {
          al[o] = al[o]! + w[o + 1]! * q1;
          al[o + 1] = al[o + 1]! - w[o]! * q1;
          al[o + 2] = al[o + 2]! + q2;
          w[o + 2] = w[o + 2]! + q1;
        }
      }
      for (let i = count - 1; i >= 0; i--) {
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
        let nx = TENSOR.xx * lx + (TENSOR.zz - TENSOR.yy) * wy * wz;
        let ny = TENSOR.yy * ly + (TENSOR.xx - TENSOR.zz) * wz * wx - h * fz;
        let nz = TENSOR.zz * lz + (TENSOR.yy - TENSOR.xx) * wx * wy + h * fy;
        if (i < count - 1) {
          const R = turns[i + 1]!;
          const p = places[i + 1]!;
          const gx = f[o + 3]!;
          const gy = f[o + 4]!;
          const gz = f[o + 5]!;
          const mx = n[o + 3]!;
          const my = n[o + 4]!;
          const mz = n[o + 5]!;
          const bx = R[0]! * gx + R[1]! * gy + R[2]! * gz;
          const by = R[3]! * gx + R[4]! * gy + R[5]! * gz;
          const bz = R[6]! * gx + R[7]! * gy + R[8]! * gz;
          fx += bx;
          fy += by;
          fz += bz;
          nx += R[0]! * mx + R[1]! * my + R[2]! * mz + p[1]! * bz - p[2]! * by;
          ny += R[3]! * mx + R[4]! * my + R[5]! * mz + p[2]! * bx - p[0]! * bz;
          nz += R[6]! * mx + R[7]! * my + R[8]! * mz + p[0]! * by - p[1]! * bx;
        }
        f[o] = fx;
        f[o + 1] = fy;
        f[o + 2] = fz;
        n[o] = nx;
        n[o + 1] = ny;
        n[o + 2] = nz;
        last[i] = LINKS[i]!.slides ? along[i]![0]! * fx + along[i]![1]! * fy : nz;
      }
    }
  };
  run();
  return { ms: median(run, 5) / poses, last: [...last] };
}

/** Prints how a gantry's drives are found, against the same by hand. */
export function benchGantry(): void {
  const [solver, hand] = [ledChain(gantry(), { at, rate }, 5000), byHand(5000)];
  const off = Math.max(...solver.last.map((effort, i) => Math.abs(effort - hand.last[i]!)));
  if (!(off < 1e-9)) throw new Error(`The efforts differ by ${off}: ${solver.last.join(', ')} and ${hand.last.join(', ')}`); // prettier-ignore
  console.log(`Gantry of 4 in space: ${(1000 * solver.ms).toFixed(1)} µs a pose, ${(solver.ms / hand.ms).toFixed(1)} times recursive Newton–Euler by hand (10 wanted); efforts apart by ${off.toExponential(1)}`); // prettier-ignore
}
