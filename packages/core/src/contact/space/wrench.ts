import type { Point3 } from '../../geometry';

/** Force (N), and moment (N·m) about the origin of the world. */
export interface Wrench {
  force: [number, number, number];
  moment: [number, number, number];
}

export const noWrench = (): Wrench => ({ force: [0, 0, 0], moment: [0, 0, 0] });

/** Adds a force that acts at a point, and a moment that is turned by beside it. */
export function addForce(sum: Wrench, [x, y, z]: Point3, [fx, fy, fz]: Point3, [mx, my, mz]: Point3 = [0, 0, 0]): void {
  sum.force[0] += fx;
  sum.force[1] += fy;
  sum.force[2] += fz;
  sum.moment[0] += mx + y * fz - z * fy;
  sum.moment[1] += my + z * fx - x * fz;
  sum.moment[2] += mz + x * fy - y * fx;
}

/** Adds a wrench to another. */
export function addWrench(sum: Wrench, { force, moment }: Wrench, sign: 1 | -1 = 1): void {
  for (const k of [0, 1, 2] as const) {
    sum.force[k] += sign * force[k];
    sum.moment[k] += sign * moment[k];
  }
}

/** What parts do to a body of the mechanism: those that touch it, those it holds, and the weight of these. */
export interface SpacePush {
  touching: Wrench;
  held: Wrench;
  weight: Wrench;
}
