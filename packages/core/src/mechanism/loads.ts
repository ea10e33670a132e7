import type { SpaceTree } from './planes';

/** Forces and moments that act on bodies from outside of the tree, by body and about its centre of mass; world axes. */
export class BodyLoads {
  readonly force: Float64Array;
  readonly moment: Float64Array;

  constructor(private readonly tree: SpaceTree) {
    this.force = new Float64Array(3 * tree.bodies.length);
    this.moment = new Float64Array(3 * tree.bodies.length);
  }

  clear(): void {
    this.force.fill(0);
    this.moment.fill(0);
  }

  /** A force at a place in the world; none on the ground (−1). */
  push(body: number, force: ArrayLike<number>, at: ArrayLike<number>, share = 1): void {
    if (body < 0) return;
    const b = 3 * body;
    const centre = this.tree.at;
    const [fx, fy, fz] = [share * force[0]!, share * force[1]!, share * force[2]!];
    const [x, y, z] = [at[0]! - centre[b]!, at[1]! - centre[b + 1]!, at[2]! - centre[b + 2]!];
    this.force[b] = this.force[b]! + fx;
    this.force[b + 1] = this.force[b + 1]! + fy;
    this.force[b + 2] = this.force[b + 2]! + fz;
    this.turn(body, y * fz - z * fy, z * fx - x * fz, x * fy - y * fx);
  }

  /** A moment; none on the ground (−1). */
  turn(body: number, mx: number, my: number, mz: number): void {
    if (body < 0) return;
    const b = 3 * body;
    this.moment[b] = this.moment[b]! + mx;
    this.moment[b + 1] = this.moment[b + 1]! + my;
    this.moment[b + 2] = this.moment[b + 2]! + mz;
  }
}
