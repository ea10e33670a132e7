import { minus, plus, timesRotation, turned, turnedBack, type Point3, type Rotation } from '../geometry';
import { BoxTree } from './box-tree';
import { cornersAt, type Mesh } from './mesh';
import { nearest, triangleDistance, trianglesCross } from './triangle-distance';

/** Where a solid stands: its origin, m, and its axes, by rows. */
export interface Standing {
  at: Point3;
  axes: Rotation;
}

/** How near two solids are to each other. */
export interface Clearance {
  /** Least distance of their skins, m; 0 where they touch, cross, or one is in the other. */
  distance: number;
  /** Whether they share space, or touch. */
  meets: boolean;
  /** The nearest places on both, in the world; where they meet, one place of that. */
  onFirst: Point3;
  onSecond: Point3;
}

/** A solid made ready for being held against others. */
export class ClearanceSolid {
  readonly tree: BoxTree;
  /** Middle and radius of a ball about it, in its own frame. */
  readonly middle: Point3;
  readonly reach: number;
  /** By other solids, which triangles of both were nearest when they were last held against each other: mostly they still are. */
  readonly nearestTo = new WeakMap<ClearanceSolid, readonly [own: number, other: number]>();

  constructor(readonly mesh: Mesh) {
    this.tree = new BoxTree(mesh);
    const [x, y, z, a, b, c] = this.tree.boxes;
    this.middle = [x!, y!, z!];
    this.reach = Math.hypot(a!, b!, c!);
  }

  /**
   * Whether a place in its own frame lies inside of its skin: how often that goes round it, by the solid angles of its
   * triangles (van Oosterom and Strackee).
   */
  holds(point: Point3): boolean {
    let turns = 0;
    for (let t = 0; t < this.mesh.triangles.length / 3; t++) {
      const [p, q, r] = cornersAt(this.mesh, t);
      const [a, b, c] = [minus(p, point), minus(q, point), minus(r, point)];
      const [la, lb, lc] = [Math.hypot(...a), Math.hypot(...b), Math.hypot(...c)];
      const det =
        a[0] * (b[1] * c[2] - b[2] * c[1]) + a[1] * (b[2] * c[0] - b[0] * c[2]) + a[2] * (b[0] * c[1] - b[1] * c[0]);
      const ab = a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
      const bc = b[0] * c[0] + b[1] * c[1] + b[2] * c[2];
      const ca = c[0] * a[0] + c[1] * a[1] + c[2] * a[2];
      turns += 2 * Math.atan2(det, la * lb * lc + ab * lc + bc * la + ca * lb);
    }
    return turns > 2 * Math.PI;
  }
}

/** A place of a solid in the world. */
const placeOf = ({ at, axes }: Standing, point: Point3): Point3 => plus(at, turned(axes, point));

/** Least distance that two solids may have by the balls about them: quick, and never more than the exact one, m. */
export function distanceAtLeast(a: ClearanceSolid, standsA: Standing, b: ClearanceSolid, standsB: Standing): number {
  const between = Math.hypot(...minus(placeOf(standsA, a.middle), placeOf(standsB, b.middle)));
  return Math.max(0, between - a.reach - b.reach);
}

/**
 * Distance of two solids on their triangles, with the nearest places: both trees of boxes are gone down at once, what is
 * nearer first, and what cannot come nearer than what was found is left out.
 * @param beyond distances larger than this need not be known, m
 * @param mayBeInside whether one may lie in the other without their skins crossing: not where both have moved less than they
 * were apart before
 * @returns null where they are farther apart than `beyond`
 */
export function clearanceOf(
  a: ClearanceSolid,
  standsA: Standing,
  b: ClearanceSolid,
  standsB: Standing,
  beyond = Infinity,
  mayBeInside = true,
): Clearance | null {
  if (distanceAtLeast(a, standsA, b, standsB) > beyond) return null;
  const search = new PairSearch(a, standsA, b, standsB, beyond);
  const meets = (place: Point3): Clearance => ({ distance: 0, meets: true, onFirst: place, onSecond: place });
  if (search.square === 0) return meets(placeOf(standsA, search.onFirst));
  // Skins that do not cross may still be one in the other.
  const within = mayBeInside ? inside(a, standsA, b, standsB) : null;
  if (within) return meets(within);
  if (!search.found) return null;
  const distance = Math.sqrt(search.square);
  return { distance, meets: false, onFirst: placeOf(standsA, search.onFirst), onSecond: placeOf(standsA, search.onSecond) }; // prettier-ignore
}

/** The search for the nearest triangles of two solids, in the frame of the first. */
class PairSearch {
  /** Square of the least distance found, m². */
  square: number;
  found = false;
  onFirst: Point3 = [0, 0, 0];
  onSecond: Point3 = [0, 0, 0];
  private readonly axes: Rotation;
  private readonly at: Point3;
  private readonly spread: Float64Array;
  private readonly one = new Float64Array(9);
  private readonly other = new Float64Array(9);
  private readonly met = new Float64Array(3);
  private triangles: readonly [number, number] = [0, 0];
  /** Least distance found, m, and the direction of its way, from the first to the second. */
  private distance = Infinity;
  private readonly way = new Float64Array(3);

  constructor(
    private readonly a: ClearanceSolid,
    standsA: Standing,
    private readonly b: ClearanceSolid,
    standsB: Standing,
    beyond: number,
  ) {
    const back = Array.from({ length: 9 }, (_, k) => standsA.axes[3 * (k % 3) + Math.floor(k / 3)]!);
    this.axes = timesRotation(back, standsB.axes);
    this.at = turnedBack(standsA.axes, minus(standsB.at, standsA.at));
    this.spread = Float64Array.from(this.axes, Math.abs);
    // A little more, so that what is just so far apart is found.
    this.square = beyond === Infinity ? Infinity : beyond ** 2 * (1 + 1e-12);
    if (a.mesh.triangles.length === 0 || b.mesh.triangles.length === 0) return;
    const gap = this.gap(0, 0);
    // Where skins go through each other that is found among the few boxes that overlap, before any distance is asked for.
    if (gap === 0 && this.crosses(0, 0)) return;
    const before = a.nearestTo.get(b);
    if (before) {
      b.tree.triangle(before[1], this.other);
      this.turnSecond();
      a.tree.triangle(before[0], this.one);
      this.hold(before[0], before[1]);
    }
    this.visit(0, 0, gap);
    if (this.found) a.nearestTo.set(b, this.triangles);
  }

  /** Whether triangles of two nodes go through each other; then that is what was found. */
  private crosses(n: number, m: number): boolean {
    const [A, B] = [this.a.tree, this.b.tree];
    if (A.isLeaf(n) && B.isLeaf(m)) return this.crossing(n, m);
    const splitsA = this.splitsFirst(n, m);
    const first = splitsA ? A.below[n]! : B.below[m]!;
    for (let half = first; half <= first + 1; half++) {
      const [n1, m1] = splitsA ? [half, m] : [n, half];
      if (this.gap(n1, m1) === 0 && this.crosses(n1, m1)) return true;
    }
    return false;
  }

  private crossing(n: number, m: number): boolean {
    const { one, other } = this;
    const [A, B] = [this.a.tree, this.b.tree];
    for (let j = 0; j < B.count[m]!; j++) {
      this.takeSecond(m, j);
      for (let i = 0; i < A.count[n]!; i++) {
        A.corners(n, i, one);
        if (!trianglesCross(one, other, this.met)) continue;
        this.square = 0;
        this.found = true;
        this.onFirst = this.onSecond = [this.met[0]!, this.met[1]!, this.met[2]!];
        return true;
      }
    }
    return false;
  }

  /** Corners of a triangle of the second solid, as the first sees them, into {@link other}. */
  private takeSecond(m: number, j: number): void {
    this.b.tree.corners(m, j, this.other);
    this.turnSecond();
  }

  private turnSecond(): void {
    const { other, axes, at } = this;
    for (let c = 0; c < 9; c += 3) {
      const x = other[c]!;
      const y = other[c + 1]!;
      const z = other[c + 2]!;
      other[c] = axes[0]! * x + axes[1]! * y + axes[2]! * z + at[0];
      other[c + 1] = axes[3]! * x + axes[4]! * y + axes[5]! * z + at[1];
      other[c + 2] = axes[6]! * x + axes[7]! * y + axes[8]! * z + at[2];
    }
  }

  /** Which of two nodes is the larger one, and has halves. */
  private splitsFirst(n: number, m: number): boolean {
    const [A, B] = [this.a.tree, this.b.tree];
    if (A.isLeaf(n) || B.isLeaf(m)) return B.isLeaf(m);
    const size = (tree: BoxTree, node: number) => tree.boxes[6 * node + 3]! + tree.boxes[6 * node + 4]! + tree.boxes[6 * node + 5]!; // prettier-ignore
    return size(A, n) >= size(B, m);
  }

  /** Square of the least distance that two boxes may have, the second's widened along the axes of the first. */
  private gap(n: number, m: number): number {
    const A = this.a.tree.boxes;
    const B = this.b.tree.boxes;
    const { axes, spread, at } = this;
    const [p, q] = [6 * n, 6 * m];
    let sum = 0;
    for (let k = 0; k < 3; k++) {
      const r = 3 * k;
      const middle = axes[r]! * B[q]! + axes[r + 1]! * B[q + 1]! + axes[r + 2]! * B[q + 2]! + at[k as 0 | 1 | 2];
      const half = spread[r]! * B[q + 3]! + spread[r + 1]! * B[q + 4]! + spread[r + 2]! * B[q + 5]!;
      const way = Math.abs(middle - A[p + k]!) - half - A[p + 3 + k]!;
      if (way > 0) sum += way * way;
    }
    return sum;
  }

  private visit(n: number, m: number, gap: number): void {
    if (gap >= this.square) return;
    const [A, B] = [this.a.tree, this.b.tree];
    if (A.isLeaf(n) && B.isLeaf(m)) return this.compare(n, m);
    const splitsA = this.splitsFirst(n, m);
    const first = splitsA ? A.below[n]! : B.below[m]!;
    const [n1, m1, n2, m2] = splitsA ? [first, m, first + 1, m] : [n, first, n, first + 1];
    const [g1, g2] = [this.gap(n1, m1), this.gap(n2, m2)];
    if (g1 <= g2) {
      this.visit(n1, m1, g1);
      this.visit(n2, m2, g2);
    } else {
      this.visit(n2, m2, g2);
      this.visit(n1, m1, g1);
    }
  }

  private compare(n: number, m: number): void {
    const [A, B] = [this.a.tree, this.b.tree];
    for (let j = 0; j < B.count[m]!; j++) {
      this.takeSecond(m, j);
      for (let i = 0; i < A.count[n]!; i++) {
        A.corners(n, i, this.one);
        this.hold(A.at(n, i), B.at(m, j));
        if (this.square === 0) return;
      }
    }
  }

  /** Keeps the triangles in {@link one} and {@link other} where they are nearer than what was found. */
  private hold(own: number, others: number): void {
    if (this.distance < Infinity && this.isBeyond()) return;
    const square = triangleDistance(this.one, this.other, this.square, false);
    if (square >= this.square) return;
    this.square = square;
    this.distance = Math.sqrt(square);
    this.found = true;
    this.triangles = [own, others];
    this.onFirst = [nearest.first[0]!, nearest.first[1]!, nearest.first[2]!];
    this.onSecond = [nearest.second[0]!, nearest.second[1]!, nearest.second[2]!];
    for (let k = 0; k < 3; k++) this.way[k] = (nearest.second[k]! - nearest.first[k]!) / (this.distance || 1);
  }

  /**
   * Whether both triangles are as far apart along the way between the nearest places so far as these are: of skins that
   * face each other that tells all but a few from those that are nearest.
   */
  private isBeyond(): boolean {
    const { one, other, way } = this;
    const x = way[0]!;
    const y = way[1]!;
    const z = way[2]!;
    let high = -Infinity;
    let low = Infinity;
    for (let c = 0; c < 9; c += 3) {
      const a = x * one[c]! + y * one[c + 1]! + z * one[c + 2]!;
      const b = x * other[c]! + y * other[c + 1]! + z * other[c + 2]!;
      if (a > high) high = a;
      if (b < low) low = b;
    }
    return low - high >= this.distance;
  }
}

/** A place of one of two solids whose skins do not cross, where that lies in the other. */
function inside(a: ClearanceSolid, standsA: Standing, b: ClearanceSolid, standsB: Standing): Point3 | null {
  for (const [outer, standsOuter, inner, standsInner] of [
    [a, standsA, b, standsB],
    [b, standsB, a, standsA],
  ] as const) {
    if (inner.mesh.points.length === 0) continue;
    const [x, y, z] = inner.mesh.points;
    const point = placeOf(standsInner, [x!, y!, z!]);
    const local = turnedBack(standsOuter.axes, minus(point, standsOuter.at));
    if (Math.hypot(...minus(local, outer.middle)) <= outer.reach && outer.holds(local)) return point;
  }
  return null;
}
