import type { Point3 } from '../geometry';

/**
 * A surface of flat triangles: corners by threes of coordinates (m), and triangles by threes of corners, anticlockwise
 * as they are seen from outside.
 */
export interface Mesh {
  readonly points: Float64Array;
  readonly triangles: Uint32Array;
}

/** Corners nearer to each other than this share of the size of all are one. */
const SAME = 1e-7;

export const triangleCount = ({ triangles }: Mesh): number => triangles.length / 3;

/** A corner of a mesh. */
export function pointAt({ points }: Pick<Mesh, 'points'>, i: number): [number, number, number] {
  return [points[3 * i]!, points[3 * i + 1]!, points[3 * i + 2]!];
}

/** Corners of a triangle. */
export function cornersAt(mesh: Mesh, t: number): [Point3, Point3, Point3] {
  const { triangles } = mesh;
  return [pointAt(mesh, triangles[3 * t]!), pointAt(mesh, triangles[3 * t + 1]!), pointAt(mesh, triangles[3 * t + 2]!)];
}

/** The box about a mesh along the axes, m; null where there is nothing. */
export function boundsOf({ points }: Pick<Mesh, 'points'>): { low: Point3; high: Point3 } | null {
  if (points.length === 0) return null;
  const low: [number, number, number] = [Infinity, Infinity, Infinity];
  const high: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < points.length; i++) {
    const k = (i % 3) as 0 | 1 | 2;
    if (points[i]! < low[k]) low[k] = points[i]!;
    if (points[i]! > high[k]) high[k] = points[i]!;
  }
  return { low, high };
}

/** The diagonal of the box about a mesh, m. */
export function sizeOf(mesh: Pick<Mesh, 'points'>): number {
  const box = boundsOf(mesh);
  return box ? Math.hypot(...box.high.map((part, k) => part - box.low[k]!)) : 0;
}

/**
 * A mesh whose triangles share the corners in which they meet: files often give each triangle corners of its own.
 * Triangles that come to have a corner twice go.
 */
export function welded(mesh: Mesh): Mesh {
  const near = SAME * sizeOf(mesh);
  const count = mesh.points.length / 3;
  const kept = new Float64Array(mesh.points.length);
  const place = new Uint32Array(count);
  const cells = new Cells(count, 8 * near);
  let made = 0;
  for (let i = 0; i < count; i++) {
    const [x, y, z] = pointAt(mesh, i);
    const isNear = (j: number) => Math.hypot(kept[3 * j]! - x, kept[3 * j + 1]! - y, kept[3 * j + 2]! - z) <= near;
    let found = cells.find(x, y, z, near, isNear);
    if (found < 0) {
      found = made++;
      kept.set([x, y, z], 3 * found);
      cells.add(found, x, y, z);
    }
    place[i] = found;
  }
  const triangles = new Uint32Array(mesh.triangles.length);
  let t = 0;
  for (let k = 0; k < mesh.triangles.length; k += 3) {
    const a = place[mesh.triangles[k]!]!;
    const b = place[mesh.triangles[k + 1]!]!;
    const c = place[mesh.triangles[k + 2]!]!;
    if (a === b || b === c || c === a) continue;
    triangles[t++] = a;
    triangles[t++] = b;
    triangles[t++] = c;
  }
  return { points: kept.slice(0, 3 * made), triangles: triangles.slice(0, t) };
}

/** Places sorted into cubes of space, so that those near to another one are found at once. */
class Cells {
  private readonly heads: Int32Array;
  private readonly next: Int32Array;
  private readonly mask: number;

  /** @param count how many places at most; @param side of a cube, m */
  constructor(
    count: number,
    private readonly side: number,
  ) {
    this.mask = 2 ** Math.ceil(Math.log2(2 * count + 2)) - 1;
    this.heads = new Int32Array(this.mask + 1).fill(-1);
    this.next = new Int32Array(count);
  }

  private index(value: number): number {
    return this.side > 0 ? Math.floor(value / this.side) : 0;
  }

  private slot(x: number, y: number, z: number): number {
    return (Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791)) & this.mask;
  }

  add(id: number, x: number, y: number, z: number): void {
    const slot = this.slot(this.index(x), this.index(y), this.index(z));
    this.next[id] = this.heads[slot]!;
    this.heads[slot] = id;
  }

  /** One of the places in the cubes that reach within `near` of a place; −1 where none is meant. */
  find(x: number, y: number, z: number, near: number, isMeant: (id: number) => boolean): number {
    for (let i = this.index(x - near); i <= this.index(x + near); i++)
      for (let j = this.index(y - near); j <= this.index(y + near); j++)
        for (let k = this.index(z - near); k <= this.index(z + near); k++)
          for (let id = this.heads[this.slot(i, j, k)]!; id >= 0; id = this.next[id]!) if (isMeant(id)) return id;
    return -1;
  }
}

/** The same surface with its inside out. */
export function insideOut({ points, triangles }: Mesh): Mesh {
  const flipped = triangles.slice();
  for (let t = 0; t < flipped.length; t += 3) [flipped[t + 1], flipped[t + 2]] = [flipped[t + 2]!, flipped[t + 1]!];
  return { points, triangles: flipped };
}

/** Several meshes as one. */
export function joined(meshes: readonly Mesh[]): Mesh {
  const points = new Float64Array(meshes.reduce((sum, own) => sum + own.points.length, 0));
  const triangles = new Uint32Array(meshes.reduce((sum, own) => sum + own.triangles.length, 0));
  let [p, t] = [0, 0];
  for (const own of meshes) {
    points.set(own.points, p);
    for (let k = 0; k < own.triangles.length; k++) triangles[t + k] = own.triangles[k]! + p / 3;
    p += own.points.length;
    t += own.triangles.length;
  }
  return { points, triangles };
}
