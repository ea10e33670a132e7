import { SparseLu } from '../numeric';
import type { MechanismModel } from './model';
import type { SpaceTree } from './planes';
import { entriesOf, type MotionSystem } from './solver';
import type { Positions, Rates } from './state';

/** Puts a value at an equation and an unknown. */
type Put = (row: number, column: number, value: number) => void;

/**
 * The system of mass matrix and independent rows where planes ride on bodies. Filled out along a chain the mass matrix
 * is dense; so bodies that carry planes have their acceleration A (α and a) and the wrench F (moment and force) that
 * they and all that they carry need as unknowns of their own. That is symmetric, stays sparse and grows with the number
 * of bodies; each of the others counts its inertia at the A of its carrier.
 */
export class CarriedSystem implements MotionSystem {
  readonly rows: readonly number[];
  private readonly lu: SparseLu;
  private readonly entries: Int32Array;
  private readonly packed: Float64Array;
  private readonly right: Float64Array;
  private readonly size: number;
  private readonly tied: number;
  private readonly tree: SpaceTree;
  /** By body: where its A stands, its F six behind that; −1 where it carries nothing. */
  private readonly own: readonly number[];
  /** Added to mass and to the moment of inertia about the normal, by unknown. */
  private readonly more: Float64Array;
  private readonly inertia: Float64Array;

  constructor(model: MechanismModel, tree: SpaceTree, rows: readonly number[]) {
    this.rows = rows;
    this.size = model.size;
    this.tree = tree;
    this.tied = model.size + rows.length;
    this.inertia = model.inertia;
    this.more = new Float64Array(model.size);
    let next = this.tied;
    this.own = tree.bodies.map((_, b) => {
      if (!tree.carries[b]) return -1;
      next += 12;
      return next - 12;
    });
    const entries: number[] = [];
    const [entryRows, entryColumns]: [number[], number[]] = [[], []];
    for (const { k, at, column } of entriesOf(model, rows)) {
      entries.push(k, k);
      entryRows.push(model.size + at, column);
      entryColumns.push(column, model.size + at);
    }
    this.entries = Int32Array.from(entries);
    this.fill((row, column) => {
      entryRows.push(row);
      entryColumns.push(column);
    });
    this.packed = new Float64Array(entryRows.length);
    this.right = new Float64Array(next);
    this.lu = new SparseLu({ size: next, rows: Int32Array.from(entryRows), columns: Int32Array.from(entryColumns) });
  }

  weigh(diagonal: ArrayLike<number>): void {
    for (let j = 0; j < this.size; j++) this.more[j] = diagonal[j]! - this.inertia[j]!;
  }

  factor(values: Float64Array, q: Positions): boolean {
    const { entries, packed } = this;
    this.tree.pose(q);
    let k = 0;
    for (; k < entries.length; k++) packed[k] = values[entries[k]!]!;
    this.fill((_row, _column, value) => void (packed[k++] = value));
    return this.lu.factor(packed);
  }

  weakest(): number {
    return this.lu.weakest();
  }

  solve(f: Float64Array | null, b: Float64Array | null, x: Rates, lambda: Float64Array): void {
    const { right, size, rows } = this;
    right.fill(0);
    if (f) for (let j = 0; j < size; j++) right[j] = f[j]!;
    if (b) for (let i = 0; i < rows.length; i++) right[size + i] = b[rows[i]!]!;
    this.lu.solve(right, right);
    for (let j = 0; j < size; j++) x[j] = right[j]!;
    lambda.fill(0);
    for (let i = 0; i < rows.length; i++) lambda[rows[i]!] = right[size + i]!;
  }

  /** Every entry that goes by masses and poses, always in the same order. */
  private fill(put: Put): void {
    for (let b = 0; b < this.tree.bodies.length; b++)
      if (this.own[b]! < 0) this.fillLeaf(b, put);
      else this.fillCarrier(b, put);
  }

  /** Inertia tensor of a body along the axes of the world (9, by rows), with what goes along with it. */
  private tensor(b: number, out: number[]): void {
    const { tree, more } = this;
    const { tensor: t, base } = tree.bodies[b]!;
    const R = tree.axes;
    const r = 9 * b;
    const zz = t.zz + more[base + 2]!;
    const rows = [
      [t.xx, t.xy, t.xz],
      [t.xy, t.yy, t.yz],
      [t.xz, t.yz, zz],
    ] as const;
    for (let i = 0; i < 3; i++)
      for (let j = 0; j < 3; j++) {
        let sum = 0;
        for (let k = 0; k < 3; k++)
          for (let l = 0; l < 3; l++) sum += R[r + 3 * i + k]! * rows[k]![l]! * R[r + 3 * j + l]!;
        out[3 * i + j] = sum;
      }
  }

  private fillLeaf(b: number, put: Put): void {
    const { tree, more, own } = this;
    const { base, plane, mass, tensor } = tree.bodies[b]!;
    const m = mass + more[base]!;
    put(base, base, m);
    put(base + 1, base + 1, m);
    // Its normal is its own z axis.
    put(base + 2, base + 2, tensor.zz + more[base + 2]!);
    const { carrier } = tree.planes[plane]!;
    if (carrier < 0) return;
    const A = own[carrier]!;
    const P = tree.planeAxes;
    const p = 9 * plane;
    const I = world;
    this.tensor(b, I);
    const d = this.arm(b, carrier);
    for (const k of [0, 1] as const) {
      const [ex, ey, ez] = [P[p + k]!, P[p + 3 + k]!, P[p + 6 + k]!];
      const turning = [d[1] * ez - d[2] * ey, d[2] * ex - d[0] * ez, d[0] * ey - d[1] * ex];
      const straight = [ex, ey, ez];
      for (let i = 0; i < 3; i++) {
        both(put, base + k, A + i, m * turning[i]!);
        both(put, base + k, A + 3 + i, m * straight[i]!);
      }
    }
    for (let i = 0; i < 3; i++)
      both(put, base + 2, A + i, I[i]! * P[p + 2]! + I[3 + i]! * P[p + 5]! + I[6 + i]! * P[p + 8]!);
    this.fillInertia(A, m, I, d, put);
  }

  private fillCarrier(b: number, put: Put): void {
    const { tree, more, own } = this;
    const { base, plane, mass } = tree.bodies[b]!;
    const A = own[b]!;
    const F = A + 6;
    this.tensor(b, world);
    this.fillInertia(A, mass + more[base]!, world, NOWHERE, put);
    for (let i = 0; i < 6; i++) both(put, A + i, F + i, -1);
    const P = tree.planeAxes;
    const p = 9 * plane;
    for (let i = 0; i < 3; i++) {
      both(put, F + i, base + 2, P[p + 3 * i + 2]!);
      both(put, F + 3 + i, base, P[p + 3 * i]!);
      both(put, F + 3 + i, base + 1, P[p + 3 * i + 1]!);
    }
    const { carrier } = tree.planes[plane]!;
    if (carrier < 0) return;
    const C = own[carrier]!;
    const d = this.arm(b, carrier);
    const skew = skewOf(d);
    for (let i = 0; i < 3; i++) {
      both(put, F + i, C + i, 1);
      both(put, F + 3 + i, C + 3 + i, 1);
      for (let k = 0; k < 3; k++) if (i !== k) both(put, F + 3 + i, C + k, -skew[3 * i + k]!);
    }
  }

  /** Inertia of a body, its centre of mass at an arm from that of the body whose A stands at `A`. */
  private fillInertia(A: number, m: number, I: readonly number[], d: Arm, put: Put): void {
    const away = d !== NOWHERE;
    const square = d[0] * d[0] + d[1] * d[1] + d[2] * d[2];
    const skew = skewOf(d);
    for (let i = 0; i < 3; i++) {
      put(A + 3 + i, A + 3 + i, m);
      for (let k = 0; k < 3; k++) {
        // I − m [d]×[d]× = I + m (d² 1 − d dᵀ)
        put(A + i, A + k, I[3 * i + k]! + m * ((i === k ? square : 0) - d[i]! * d[k]!));
        if (away && i !== k) both(put, A + i, A + 3 + k, m * skew[3 * i + k]!);
      }
    }
  }

  /** From the centre of mass of a carrier to that of a body, m. */
  private arm(b: number, carrier: number): Arm {
    const { at } = this.tree;
    return [
      at[3 * b]! - at[3 * carrier]!,
      at[3 * b + 1]! - at[3 * carrier + 1]!,
      at[3 * b + 2]! - at[3 * carrier + 2]!,
    ];
  }
}

type Arm = readonly [number, number, number];
const NOWHERE: Arm = [0, 0, 0];
const world: number[] = [];

const both = (put: Put, row: number, column: number, value: number) => {
  put(row, column, value);
  put(column, row, value);
};
/** [d]×, by rows. */
const skewOf = ([x, y, z]: Arm): readonly number[] => [0, -z, y, z, 0, -x, -y, x, 0];
