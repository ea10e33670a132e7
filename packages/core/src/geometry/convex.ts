import { axesOf, type Place3 } from './place3';
import type { Point3 } from './space';

/**
 * A convex solid in the frame of what it belongs to, m: the hull of some corners, or a disc with a length, and all
 * within a radius about it. One corner is a ball, two are a capsule.
 */
export interface ConvexSolid {
  /** Corners by threes of coordinates. */
  readonly corners: Float64Array;
  readonly radius: number;
  /** A cylinder about this axis of the frame (0, 1, 2): its corners are the middles of both ends. */
  readonly disc?: { axis: 0 | 1 | 2; radius: number };
}

/** A ball round a solid: its middle in the frame of that, and its radius, m. */
export interface Round3 {
  at: Point3;
  size: number;
}

/** A ball round a solid: about the middle of its corners. */
export function roundOf({ corners, radius, disc }: ConvexSolid): Round3 {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < corners.length; i++) {
    low[i % 3] = Math.min(low[i % 3]!, corners[i]!);
    high[i % 3] = Math.max(high[i % 3]!, corners[i]!);
  }
  const at: Point3 = [(low[0]! + high[0]!) / 2, (low[1]! + high[1]!) / 2, (low[2]! + high[2]!) / 2];
  let most = 0;
  for (let i = 0; i < corners.length; i += 3)
    most = Math.max(most, Math.hypot(corners[i]! - at[0], corners[i + 1]! - at[1], corners[i + 2]! - at[2]));
  return { at, size: Math.hypot(most, disc?.radius ?? 0) + radius };
}

const scratch = new Float64Array(3);

/** The point of a solid that lies farthest along a direction of its frame, its radius left out. */
function farthest({ corners, disc }: ConvexSolid, dx: number, dy: number, dz: number, out: Float64Array): void {
  let best = -Infinity;
  let at = 0;
  for (let i = 0; i < corners.length; i += 3) {
    const along = corners[i]! * dx + corners[i + 1]! * dy + corners[i + 2]! * dz;
    if (along > best) {
      best = along;
      at = i;
    }
  }
  out[0] = corners[at]!;
  out[1] = corners[at + 1]!;
  out[2] = corners[at + 2]!;
  if (!disc) return;
  const k = disc.axis;
  const [i, j] = [(k + 1) % 3, (k + 2) % 3];
  scratch[0] = dx;
  scratch[1] = dy;
  scratch[2] = dz;
  const size = Math.hypot(scratch[i]!, scratch[j]!);
  if (size === 0) return;
  out[i] = out[i]! + (disc.radius * scratch[i]!) / size;
  out[j] = out[j]! + (disc.radius * scratch[j]!) / size;
}

/** Rounds of the search; it ends long before that. */
const MOST_ROUNDS = 64;
/** How near two rounds of the search must come, as a share. */
const NEAR = 1e-12;

// Corners of the simplex: of the difference of both solids.
const simplex = [0, 1, 2, 3].map(() => new Float64Array(3));
let corners = 0;
const nearest = new Float64Array(3);
const a = new Float64Array(3);
const b = new Float64Array(3);
const to = new Float64Array(3);

/**
 * Distance of two convex solids in m, 0 where they touch or overlap: by the search of Gilbert, Johnson and Keerthi over
 * the difference of both, with the parts of its simplex told apart as Ericson does (Real-Time Collision Detection).
 * @param enough a distance in m: where it is sure that they are farther apart, that much is enough
 */
export function convexDistance(one: ConvexSolid, at: Place3, other: ConvexSolid, otherAt: Place3, enough = Infinity): number {
  // The other one as the first sees it.
  const r = axesOf(at);
  const s = axesOf(otherAt);
  const [dx, dy, dz] = [otherAt.x - at.x, otherAt.y - at.y, otherAt.z - at.z];
  const shift = [0, 1, 2].map((k) => r[k]! * dx + r[k + 3]! * dy + r[k + 6]! * dz);
  const turn = new Float64Array(9);
  for (let i = 0; i < 3; i++)
    for (let k = 0; k < 3; k++)
      turn[3 * i + k] = r[i]! * s[k]! + r[i + 3]! * s[k + 3]! + r[i + 6]! * s[k + 6]!;
  const both = one.radius + other.radius;
  /** Corner of the difference that lies farthest against a direction. */
  const support = (x: number, y: number, z: number, out: Float64Array) => {
    farthest(one, -x, -y, -z, a);
    farthest(
      other,
      turn[0]! * x + turn[3]! * y + turn[6]! * z,
      turn[1]! * x + turn[4]! * y + turn[7]! * z,
      turn[2]! * x + turn[5]! * y + turn[8]! * z,
      b,
    );
    for (let k = 0; k < 3; k++)
      out[k] = a[k]! - (turn[3 * k]! * b[0]! + turn[3 * k + 1]! * b[1]! + turn[3 * k + 2]! * b[2]! + shift[k]!);
  };
  support(-shift[0]! || 1, -shift[1]!, -shift[2]!, simplex[0]!);
  corners = 1;
  nearest.set(simplex[0]!);
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const square = nearest[0]! ** 2 + nearest[1]! ** 2 + nearest[2]! ** 2;
    if (square < 1e-24) return 0;
    support(nearest[0]!, nearest[1]!, nearest[2]!, to);
    const gain = square - (nearest[0]! * to[0]! + nearest[1]! * to[1]! + nearest[2]! * to[2]!);
    const size = Math.sqrt(square);
    // What lies before the plane through the nearest corner lies at least that far away.
    if ((square - gain) / size - both > enough) return (square - gain) / size - both;
    if (gain <= NEAR * square) return Math.max(0, size - both);
    for (let i = 0; i < corners; i++)
      if (simplex[i]![0] === to[0] && simplex[i]![1] === to[1] && simplex[i]![2] === to[2]) return Math.max(0, size - both);
    simplex[corners++]!.set(to);
    if (!reduce()) return 0;
    if (nearest[0]! ** 2 + nearest[1]! ** 2 + nearest[2]! ** 2 >= square) return Math.max(0, size - both);
  }
  return Math.max(0, Math.hypot(nearest[0]!, nearest[1]!, nearest[2]!) - both);
} // prettier-ignore

const dot = (p: Float64Array, q: Float64Array) => p[0]! * q[0]! + p[1]! * q[1]! + p[2]! * q[2]!;
const apart = (p: Float64Array, q: Float64Array): Float64Array => Float64Array.of(p[0]! - q[0]!, p[1]! - q[1]!, p[2]! - q[2]!); // prettier-ignore
const square3 = (p: Float64Array, q: Float64Array) =>
  Float64Array.of(p[1]! * q[2]! - p[2]! * q[1]!, p[2]! * q[0]! - p[0]! * q[2]!, p[0]! * q[1]! - p[1]! * q[0]!);

/** What of a part of the simplex lies nearest to the origin: its corners, and the place. */
interface Nearest {
  of: readonly Float64Array[];
  at: Float64Array;
}

function onLine(p: Float64Array, q: Float64Array): Nearest {
  const along = apart(q, p);
  const share = -dot(p, along) / (dot(along, along) || 1);
  if (share <= 0) return { of: [p], at: p };
  if (share >= 1) return { of: [q], at: q };
  return { of: [p, q], at: Float64Array.from(p, (part, k) => part + share * along[k]!) };
}

function onTriangle(p: Float64Array, q: Float64Array, r: Float64Array): Nearest {
  const [u, v] = [apart(q, p), apart(r, p)];
  const normal = square3(u, v);
  const size = dot(normal, normal);
  const edges = () =>
    [onLine(p, q), onLine(q, r), onLine(r, p)].reduce((best, own) => (dot(own.at, own.at) < dot(best.at, best.at) ? own : best));
  if (size <= 1e-30 * dot(u, u) * dot(v, v)) return edges();
  // Shares of the corners at the foot of the origin.
  const foot = Float64Array.from(normal, (part) => (part * dot(p, normal)) / size);
  const [pf, qf, rf] = [apart(p, foot), apart(q, foot), apart(r, foot)];
  const inside = [square3(pf, qf), square3(qf, rf), square3(rf, pf)].every((part) => dot(part, normal) >= 0);
  return inside ? { of: [p, q, r], at: foot } : edges();
} // prettier-ignore

/** Keeps the part of the simplex that lies nearest to the origin; false where the origin lies inside. */
function reduce(): boolean {
  const [p, q, r, t] = simplex.map((corner) => Float64Array.from(corner)) as [Float64Array, Float64Array, Float64Array, Float64Array]; // prettier-ignore
  let found: Nearest;
  if (corners === 2) found = onLine(p, q);
  else if (corners === 3) found = onTriangle(p, q, r);
  else {
    const faces = [[p, q, r, t], [p, q, t, r], [p, r, t, q], [q, r, t, p]] as const; // prettier-ignore
    // The origin lies inside where it is on the side of the fourth corner of every face.
    const isIn = faces.every(([x, y, z, w]) => {
      const normal = square3(apart(y, x), apart(z, x));
      const [own, mine] = [dot(apart(w, x), normal), -dot(x, normal)];
      return own !== 0 && own * mine >= 0;
    });
    if (isIn) return false;
    found = faces
      .map(([x, y, z]) => onTriangle(x, y, z))
      .reduce((best, one) => (dot(one.at, one.at) < dot(best.at, best.at) ? one : best));
  }
  found.of.forEach((corner, i) => simplex[i]!.set(corner));
  corners = found.of.length;
  nearest.set(found.at);
  return true;
}
