import { minus, plus, timesRotation, turned, turnedBack, type Point3, type Rotation } from '../geometry';
import { BoxTree } from './box-tree';
import { cornersAt, type Mesh } from './mesh';
import { nearest, triangleDistance } from './triangle-distance';

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
    if (a.mesh.triangles.length > 0 && b.mesh.triangles.length > 0) this.visit(0, 0, this.gap(0, 0));
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
    const [leafA, leafB] = [A.isLeaf(n), B.isLeaf(m)];
    if (leafA && leafB) return this.compare(n, m);
    const size = (tree: BoxTree, node: number) => tree.boxes[6 * node + 3]! + tree.boxes[6 * node + 4]! + tree.boxes[6 * node + 5]!; // prettier-ignore
    const splitsA = !leafA && (leafB || size(A, n) >= size(B, m));
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
    const { one, other, axes, at } = this;
    const [A, B] = [this.a.tree, this.b.tree];
    for (let j = 0; j < B.count[m]!; j++) {
      B.corners(m, j, other);
      for (let c = 0; c < 9; c += 3) {
        const [x, y, z] = [other[c]!, other[c + 1]!, other[c + 2]!];
        for (let k = 0; k < 3; k++)
          other[c + k] = axes[3 * k]! * x + axes[3 * k + 1]! * y + axes[3 * k + 2]! * z + at[k as 0 | 1 | 2];
      }
      for (let i = 0; i < A.count[n]!; i++) {
        A.corners(n, i, one);
        const square = triangleDistance(one, other, this.square);
        if (square >= this.square) continue;
        this.square = square;
        this.found = true;
        this.onFirst = [nearest.first[0]!, nearest.first[1]!, nearest.first[2]!];
        this.onSecond = [nearest.second[0]!, nearest.second[1]!, nearest.second[2]!];
        if (square === 0) return;
      }
    }
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
