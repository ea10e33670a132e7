import type { SpacePoint, SpaceTree } from './planes';
import type { SpaceMotion } from './space-motion';
import type { Constraint, Coordinate, JacobianPattern, Positions, Rates } from './state';

/** What moves one of two points and not the other as well: bodies of its chain that the other's chain lacks. */
const own = (chain: readonly number[], other: readonly number[]) => chain.filter((body) => !other.includes(body));

/** Two points in space and what tells them apart: how they lie and move, and which unknowns move them. */
export class SpacePair {
  /** Unknowns that change how the two lie to each other: those of `a` first. */
  readonly columns: readonly number[];
  /** From a to b: place, velocity, and acceleration by the velocities alone. */
  readonly apart = new Float64Array(3);
  readonly speed = new Float64Array(3);
  readonly bend = new Float64Array(3);
  readonly atA = new Float64Array(3);
  readonly atB = new Float64Array(3);
  private readonly movers: readonly { body: number; sign: number }[];
  private readonly scratch = new Float64Array(3);

  constructor(
    readonly tree: SpaceTree,
    readonly motion: SpaceMotion,
    readonly a: SpacePoint,
    readonly b: SpacePoint,
  ) {
    this.movers = [
      ...own(a.chain, b.chain).map((body) => ({ body, sign: -1 })),
      ...own(b.chain, a.chain).map((body) => ({ body, sign: 1 })),
    ];
    this.columns = this.movers.flatMap(({ body }) => {
      const { base } = tree.bodies[body]!;
      return [base, base + 1, base + 2];
    });
  }

  /** Where the two stand. */
  place(q: Positions): void {
    this.tree.pose(q);
    this.tree.placeOf(this.a, this.atA);
    this.tree.placeOf(this.b, this.atB);
    for (let k = 0; k < 3; k++) this.apart[k] = this.atB[k]! - this.atA[k]!;
  }

  /** How the two move against each other; after {@link place}. */
  move(q: Positions, v: Rates): void {
    const { motion, scratch, atA, atB, speed, bend } = this;
    motion.coast(q, v);
    motion.velocityOf(this.b, atB, speed);
    motion.velocityOf(this.a, atA, scratch);
    for (let k = 0; k < 3; k++) speed[k] = speed[k]! - scratch[k]!;
    motion.accelerationOf(this.b, atB, bend);
    motion.accelerationOf(this.a, atA, scratch);
    for (let k = 0; k < 3; k++) bend[k] = bend[k]! - scratch[k]!;
  }

  /** Writes how far b goes from a along a direction of the world for each of {@link columns}; after {@link place}. */
  along(ux: number, uy: number, uz: number, out: Float64Array): void {
    const { tree, movers, atA, atB } = this;
    const A = tree.planeAxes;
    for (let i = 0; i < movers.length; i++) {
      const { body, sign } = movers[i]!;
      const p = 9 * tree.bodies[body]!.plane;
      const at = sign < 0 ? atA : atB;
      const x = at[0]! - tree.at[3 * body]!;
      const y = at[1]! - tree.at[3 * body + 1]!;
      const z = at[2]! - tree.at[3 * body + 2]!;
      const [nx, ny, nz] = [A[p + 2]!, A[p + 5]!, A[p + 8]!];
      out[3 * i] = sign * (ux * A[p]! + uy * A[p + 3]! + uz * A[p + 6]!);
      out[3 * i + 1] = sign * (ux * A[p + 1]! + uy * A[p + 4]! + uz * A[p + 7]!);
      out[3 * i + 2] = sign * (ux * (ny * z - nz * y) + uy * (nz * x - nx * z) + uz * (nx * y - ny * x));
    }
  }
}

/** Distance of two points of any planes, less `zero`. */
export function spaceDistance(pair: SpacePair, zero: number): Coordinate {
  const { apart, speed, bend } = pair;
  let length = 0;
  const read = (q: Positions) => {
    pair.place(q);
    length = Math.hypot(apart[0]!, apart[1]!, apart[2]!);
  };
  return {
    angular: false,
    columns: pair.columns,
    value(q) {
      read(q);
      return length - zero;
    },
    gradient(q, out) {
      read(q);
      // With both ends in one place any direction is as good; along x keeps the equations finite.
      if (length > 0) pair.along(apart[0]! / length, apart[1]! / length, apart[2]! / length, out);
      else pair.along(1, 0, 0, out);
    },
    bend(q, v) {
      read(q);
      if (length === 0) return 0;
      pair.move(q, v);
      const [ux, uy, uz] = [apart[0]! / length, apart[1]! / length, apart[2]! / length];
      const along = ux * speed[0]! + uy * speed[1]! + uz * speed[2]!;
      const square = speed[0]! ** 2 + speed[1]! ** 2 + speed[2]! ** 2;
      return ux * bend[0]! + uy * bend[1]! + uz * bend[2]! + (square - along * along) / length;
    },
  };
}

/** A rod with ball ends: a distance that stays. */
export function rodConstraint(
  owner: string,
  firstRow: number,
  distance: Coordinate,
  pattern: JacobianPattern,
): Constraint {
  const slots = distance.columns.map((column) => pattern.slot(firstRow, column));
  const gradient = new Float64Array(slots.length);
  return {
    owner,
    firstRow,
    rows: ['length'],
    residual: (q, out) => void (out[firstRow] = distance.value(q)),
    jacobian(q, values) {
      distance.gradient(q, gradient);
      for (let i = 0; i < slots.length; i++) values[slots[i]!] = values[slots[i]!]! + gradient[i]!;
    },
    gamma: (q, v, out) => void (out[firstRow] = -distance.bend(q, v)),
  };
}

/**
 * A ball joint: two points in one place, said along the axes of the body of b. Along those of the world every fixed
 * choice of independent rows becomes singular within a turn where one of the three is redundant.
 */
export function ballConstraint(owner: string, firstRow: number, pair: SpacePair, pattern: JacobianPattern): Constraint {
  const { tree, b, apart, bend, columns } = pair;
  const slots = [0, 1, 2].map((i) => columns.map((column) => pattern.slot(firstRow + i, column)));
  const gradient = new Float64Array(columns.length);
  const axes = (): readonly [Float64Array, number] =>
    b.body >= 0 ? [tree.axes, 9 * b.body] : [tree.planeAxes, 9 * b.plane];
  const axis = (i: number): [number, number, number] => {
    const [R, r] = axes();
    return [R[r + i]!, R[r + 3 + i]!, R[r + 6 + i]!];
  };
  return {
    owner,
    firstRow,
    rows: ['length', 'length', 'length'],
    residual(q, out) {
      pair.place(q);
      for (let i = 0; i < 3; i++) {
        const [ex, ey, ez] = axis(i);
        out[firstRow + i] = ex * apart[0]! + ey * apart[1]! + ez * apart[2]!;
      }
    },
    jacobian(q, values) {
      pair.place(q);
      for (let i = 0; i < 3; i++) {
        const [ex, ey, ez] = axis(i);
        pair.along(ex, ey, ez, gradient);
        const row = slots[i]!;
        for (let k = 0; k < columns.length; k++) values[row[k]!] = values[row[k]!]! + gradient[k]!;
        // (n × e)·(P_B − P_A): matters only while the joint is open. What moves both as one adds nothing.
        for (const body of b.chain) {
          const column = tree.bodies[body]!.base + 2;
          const k = columns.indexOf(column);
          if (k < 0) continue;
          const p = 9 * tree.bodies[body]!.plane;
          const [nx, ny, nz] = [tree.planeAxes[p + 2]!, tree.planeAxes[p + 5]!, tree.planeAxes[p + 8]!];
          values[row[k]!] =
            values[row[k]!]! +
            (ny * ez - nz * ey) * apart[0]! +
            (nz * ex - nx * ez) * apart[1]! +
            (nx * ey - ny * ex) * apart[2]!;
        }
      }
    },
    gamma(q, v, out) {
      pair.place(q);
      pair.move(q, v);
      for (let i = 0; i < 3; i++) {
        const [ex, ey, ez] = axis(i);
        out[firstRow + i] = -(ex * bend[0]! + ey * bend[1]! + ez * bend[2]!);
      }
    },
  };
}
