import { axisOf, cross, dot, length3, minus, type Point3, type Rotation } from '../geometry';
import { dense, solveDense } from '../numeric';
import { Kinematics } from './kinematics';
import type { MechanismModel } from './model';
import type { SpacePoint } from './planes';
import { SpaceMotion } from './space-motion';
import { ratesOf, type Positions } from './state';

/** How far a drive may go, in the sense of its joint: m or rad. */
export interface DriveRange {
  min: number;
  max: number;
}

/** What came of bringing a point to a place. */
export interface Reached {
  /** How far the point is still from the place, m. */
  gap: number;
  /** By how much the body is still turned from where it should look, rad; 0 where that was left open. */
  turn: number;
  /** Drives that stand at an end of their range, by their place among the drives. */
  atEnd: number[];
}

/** Unwillingness of drives to move, so small that it only decides where nothing else does. */
const SHY = 1e-13;
/** Largest step at once: rad, or lengths of the typical one. */
const LARGEST_STEP = 0.3;
/** What is nearer counts as there, as a share of the typical length. */
const THERE = 1e-11;
const NO_RANGE: DriveRange = { min: -Infinity, max: Infinity };

/**
 * Finds where drives must stand, and how they must move, so that a point of a mechanism is where it is wanted in
 * space. Loops are closed on the way, so arms, gantries and plates on rods are all one. Where more drives are free than
 * the place asks for, they move as little as possible. Gauss–Newton with a vanishing damping (least squares of least
 * norm; Levenberg).
 */
export class Reach {
  readonly kinematics: Kinematics;
  /** Positions of all drives, in the sense of their joints. */
  readonly positions: Float64Array;
  private readonly motion: SpaceMotion;
  private readonly influence: ReturnType<typeof ratesOf>;
  private readonly spot = new Float64Array(3);
  private readonly unit: readonly number[];
  private readonly zero: Float64Array;

  /**
   * @param q a pose that closes
   * @param rows independent equations, as of `mobilityAt`; no freedom may be left
   * @param found drives that may be moved, by their place among the drives of the model
   * @param ranges of all drives
   */
  constructor(
    private readonly model: MechanismModel,
    q: Positions,
    rows: readonly number[],
    readonly found: readonly number[],
    private readonly ranges: readonly (DriveRange | null)[] = [],
  ) {
    this.kinematics = new Kinematics(model, q, rows);
    this.motion = new SpaceMotion(model.tree);
    this.positions = Float64Array.from(model.drives, ({ coordinate }) => coordinate.value(this.kinematics.state.q));
    this.influence = ratesOf(model);
    this.unit = model.drives.map(({ coordinate }) => (coordinate.angular ? 1 : model.scale));
    this.zero = new Float64Array(model.drives.length);
  }

  /** Leads all drives to these positions; the share of the way that was reached. */
  lead(positions: ArrayLike<number>): number {
    const share = this.kinematics.moveTo(positions);
    for (let i = 0; i < this.positions.length; i++)
      this.positions[i] = share === 1 ? positions[i]! : this.model.drives[i]!.coordinate.value(this.kinematics.state.q);
    return share;
  }

  /** Where a point stands now, m. */
  placeOf(point: SpacePoint): [number, number, number] {
    const { tree } = this.model;
    tree.pose(this.kinematics.state.q);
    const spot = tree.spotOf(point);
    return [spot[0]!, spot[1]!, spot[2]!];
  }

  /** Axes of a body now, by rows. */
  axesOf(body: number): Rotation {
    const { tree } = this.model;
    tree.pose(this.kinematics.state.q);
    return [...tree.axes.subarray(9 * body, 9 * body + 9)];
  }

  /**
   * Brings a point to a place, from the present pose by the smallest change.
   * @param axes where its body shall look as well; null leaves that open
   */
  to(point: SpacePoint, place: Point3, axes: Rotation | null = null): Reached {
    const { scale, drives } = this.model;
    const atEnd = new Set<number>();
    let left = this.gaps(point, place, axes);
    for (let turn = 0; turn < 80 && sizeOf(left) > THERE * scale; turn++) {
      const held = new Set<number>();
      let step = this.stepTowards(point, left, held);
      // Drives at an end of their range that would go beyond stand still, and the others do their part.
      for (let round = 0; round <= this.found.length && step; round++) {
        const beyond = this.found.filter((i, k) => !held.has(i) && this.isAtEnd(i, step![k]!));
        if (beyond.length === 0) break;
        beyond.forEach((i) => held.add(i));
        step = this.stepTowards(point, left, held);
      }
      if (!step) break;
      atEnd.clear();
      held.forEach((i) => atEnd.add(i));
      const most = this.found.reduce((m, i, k) => Math.max(m, Math.abs(step![k]!) / this.unit[i]!), 0);
      if (most < 1e-14) break;
      const before = Float64Array.from(this.positions);
      const was = sizeOf(left);
      let better = false;
      for (let share = Math.min(1, LARGEST_STEP / most); share > 1e-4 && !better; share /= 3) {
        const wanted = Float64Array.from(before);
        this.found.forEach((i, k) => {
          const { min, max } = this.ranges[i] ?? NO_RANGE;
          // One that stands beyond its range already is not pulled back by force.
          const [low, high] = [Math.min(min, before[i]!), Math.max(max, before[i]!)];
          wanted[i] = Math.min(high, Math.max(low, before[i]! + share * step![k]!));
        });
        better = this.lead(wanted) === 1;
        left = this.gaps(point, place, axes);
        better &&= sizeOf(left) < was * (1 - 1e-9);
        if (!better) this.lead(before);
      }
      if (!better) break;
    }
    left = this.gaps(point, place, axes);
    const ends = drives.flatMap((_, i) => (atEnd.has(i) ? [i] : []));
    return {
      gap: Math.hypot(left[0]!, left[1]!, left[2]!),
      turn: axes ? Math.hypot(left[3]!, left[4]!, left[5]!) / scale : 0,
      atEnd: ends,
    };
  }

  /** How each found drive moves a point, by m or rad of the drive. */
  slopes(point: SpacePoint): [number, number, number][] {
    if (!this.kinematics.derive(this.zero, this.zero)) return this.found.map(() => [0, 0, 0]);
    return this.columns(point, false).map((column, k) => {
      const per = this.model.scale / this.unit[this.found[k]!]!;
      return [column[0]! * per, column[1]! * per, column[2]! * per];
    });
  }

  /**
   * How the found drives must move for the point to move like this; the other drives move as given.
   * @param rates, changes of all drives; those of the found ones are written there
   * @returns false at a singular pose, or where the drives cannot give the point that motion
   */
  follow(
    point: SpacePoint,
    velocity: Point3,
    acceleration: Point3,
    rates: Float64Array,
    changes: Float64Array,
  ): boolean {
    const { scale } = this.model;
    for (const i of this.found) rates[i] = changes[i] = 0;
    if (!this.kinematics.derive(this.zero, this.zero)) return false;
    const columns = this.columns(point, false);
    const out = new Float64Array(3);
    const solve = (wanted: Point3, into: Float64Array): boolean => {
      const right = wanted.map((part) => part / scale);
      const x = leastNorm(columns, right);
      if (!x) return false;
      this.found.forEach((i, k) => (into[i] = x[k]! * this.unit[i]!));
      const missed = right.map((part, row) => part - columns.reduce((sum, column, k) => sum + column[row]! * x[k]!, 0));
      return Math.hypot(...missed) <= 1e-6 * Math.hypot(...right, 1e-9);
    };
    const { state } = this.kinematics;
    if (!this.kinematics.derive(rates, changes)) return false;
    this.readPoint(point, state.v, state.a);
    this.motion.velocityOf(point, this.spot, out);
    const own = solve(minus(velocity, [out[0]!, out[1]!, out[2]!]), rates);
    if (!this.kinematics.derive(rates, changes)) return false;
    this.readPoint(point, state.v, state.a);
    this.motion.accelerationOf(point, this.spot, out);
    return solve(minus(acceleration, [out[0]!, out[1]!, out[2]!]), changes) && own;
  }

  private readPoint(point: SpacePoint, v: ReturnType<typeof ratesOf>, a: ReturnType<typeof ratesOf> | null): void {
    this.motion.move(this.kinematics.state.q, v, a);
    this.spot.set(this.model.tree.spotOf(point));
  }

  private isAtEnd(drive: number, step: number): boolean {
    const { min, max } = this.ranges[drive] ?? NO_RANGE;
    const hair = 1e-9 * this.unit[drive]!;
    const at = this.positions[drive]!;
    return (step > 0 && at >= max - hair) || (step < 0 && at <= min + hair);
  }

  /** What is left to go: the place (m), and the direction times the typical length (m) where it is asked for. */
  private gaps(point: SpacePoint, place: Point3, axes: Rotation | null): number[] {
    const way = minus(place, this.placeOf(point));
    if (!axes) return way;
    const now = this.axesOf(point.body);
    const sum: [number, number, number] = [0, 0, 0];
    let along = 0;
    for (const k of [0, 1, 2] as const) {
      const [from, to] = [axisOf(now, k), axisOf(axes, k)];
      cross(from, to).forEach((part, j) => (sum[j] = sum[j]! + part / 2));
      along += dot(from, to);
    }
    const sine = length3(sum);
    const angle = Math.atan2(sine, (along - 1) / 2);
    // Straight the other way every axis is as good: that of the normal, which turns in the plane.
    if (sine < 1e-9) return [...way, ...axisOf(now, 2).map((part) => part * angle * this.model.scale)];
    return [...way, ...sum.map((part) => (part / sine) * angle * this.model.scale)];
  }

  /** How each found drive moves the point, and turns its body, by unit: dimensionless. */
  private columns(point: SpacePoint, turning: boolean): number[][] {
    const { scale } = this.model;
    const out = new Float64Array(3);
    return this.found.map((drive) => {
      this.kinematics.influence(drive, this.influence);
      this.motion.move(this.kinematics.state.q, this.influence, null);
      this.spot.set(this.model.tree.spotOf(point));
      this.motion.velocityOf(point, this.spot, out);
      const per = this.unit[drive]! / scale;
      const column = Array.from(out, (part) => part * per);
      if (turning) for (let k = 0; k < 3; k++) column.push(this.motion.w[3 * point.body + k]! * this.unit[drive]!);
      return column;
    });
  }

  /** The step of the found drives that closes the gaps as far as it goes; null at a singular pose. */
  private stepTowards(point: SpacePoint, left: readonly number[], held: ReadonlySet<number>): number[] | null {
    if (!this.kinematics.derive(this.zero, this.zero)) return null;
    const columns = this.columns(point, left.length > 3).map((column, k) =>
      held.has(this.found[k]!) ? column.map(() => 0) : column,
    );
    const x = leastNorm(columns, left.map((part) => part / this.model.scale)); // prettier-ignore
    return x && x.map((part, k) => (held.has(this.found[k]!) ? 0 : part * this.unit[this.found[k]!]!));
  }
}

const sizeOf = (left: readonly number[]) => Math.hypot(...left);

/** Least squares of least norm of Σ x_k column_k = right: damped normal equations, refined; null where nothing moves it. */
function leastNorm(columns: readonly (readonly number[])[], right: readonly number[]): number[] | null {
  const n = columns.length;
  const times = (a: readonly number[], b: readonly number[]) => a.reduce((sum, part, i) => sum + part * b[i]!, 0);
  const most = Math.max(0, ...columns.map((column) => times(column, column)));
  if (!(most > 0)) return null;
  const x = new Array<number>(n).fill(0);
  let missed = [...right];
  for (let round = 0; round < 4; round++) {
    const matrix = dense(n, n);
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++) matrix.data[i * n + j] = times(columns[i]!, columns[j]!) + (i === j ? SHY * most : 0);
    const step = Float64Array.from(columns, (column) => times(column, missed));
    if (!solveDense(matrix, step)) return null;
    step.forEach((part, i) => (x[i] = x[i]! + part));
    missed = right.map((part, row) => part - columns.reduce((sum, column, k) => sum + column[row]! * x[k]!, 0));
  }
  return x;
}
