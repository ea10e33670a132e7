import { plus, turned, type Point3, type Rotation } from '../geometry';
import type { Mesh } from './mesh';

/** The space that something swept: its skin, and how far that may lie outside of what was swept, m. */
export interface Swept {
  mesh: Mesh;
  outside: number;
}

/** How a surface stands: its origin, m, and its axes by rows. */
export interface SweptFrame {
  at: Point3;
  axes: Rotation;
}

/** Most cells of the grid, and cells along its longest side until told otherwise. */
const MOST = 16e6;
export const SWEPT_CELLS = 96;
/** Layers by which what was met is made thicker: nothing that was swept is left out between samples and frames. */
const THICKER = 2;

/** A closed surface that moves, and how it stands, one after another. */
export interface Moving {
  surface: Mesh;
  frames: readonly SweptFrame[];
}

/** The box about all that surfaces meet, m. */
function boundsOver(all: readonly Moving[]): { low: number[]; high: number[] } {
  const [low, high] = [[Infinity, Infinity, Infinity], [-Infinity, -Infinity, -Infinity]]; // prettier-ignore
  for (const { surface, frames } of all)
    for (const frame of frames)
      for (let i = 0; i < surface.points.length; i += 3)
        place(surface, i, frame).forEach((part, k) => {
          low[k] = Math.min(low[k]!, part);
          high[k] = Math.max(high[k]!, part);
        });
  return { low, high };
}
const place = ({ points }: Mesh, i: number, { at, axes }: SweptFrame): [number, number, number] =>
  plus(at, turned(axes, [points[i]!, points[i + 1]!, points[i + 2]!]));

/** Side of the cells in which the space of surfaces is swept, m: between two frames nothing should go farther. */
export function sweptCell(all: readonly Moving[], cells = SWEPT_CELLS): number {
  const { low, high } = boundsOver(all);
  return Math.max(...high.map((part, k) => part - low[k]!)) / cells;
}

/**
 * The space that closed surfaces sweep together while they move: cells that they go through are marked and made thicker, what they
 * enclose is filled, and the skin of all that is drawn (surface nets; Gibson 1998). Nothing that was swept lies outside.
 * @param all each with frames of its own; between two of them it goes no farther than a cell
 * @throws RangeError where the grid would have too many cells
 */
export function sweptSpace(all: readonly Moving[], cells = SWEPT_CELLS): Swept {
  const { low, high } = boundsOver(all);
  const cell = Math.max(...high.map((part, k) => part - low[k]!)) / cells;
  const rim = THICKER + 2;
  const size = high.map((part, k) => Math.ceil((part - low[k]!) / cell) + 2 * rim + 1) as [number, number, number];
  const [nx, ny, nz] = size;
  if (nx * ny * nz > MOST) throw new RangeError('Too many cells.');
  const origin = low.map((part) => part - rim * cell) as [number, number, number];
  let marked: Uint8Array = new Uint8Array(nx * ny * nz);
  for (const { surface, frames } of all) for (const frame of frames) mark(surface, frame, cell, origin, size, marked);
  for (let layer = 0; layer < THICKER; layer++) marked = thicker(marked, size);
  fill(marked, size);
  return { mesh: skinOf(marked, size, cell, origin), outside: (THICKER + 1) * Math.sqrt(3) * cell };
}

/** Marks the cells that the triangles of a surface go through, by places half a cell apart. */
function mark(
  surface: Mesh,
  frame: SweptFrame,
  cell: number,
  origin: readonly number[],
  [nx, ny]: readonly number[],
  marked: Uint8Array,
): void {
  // prettier-ignore
  const { triangles } = surface;
  for (let t = 0; t < triangles.length; t += 3) {
    const corner = (k: number) => place(surface, 3 * triangles[t + k]!, frame);
    const [[ax, ay, az], [bx, by, bz], [cx, cy, cz]] = [corner(0), corner(1), corner(2)];
    const longest = Math.max(Math.hypot(bx - ax, by - ay, bz - az), Math.hypot(cx - bx, cy - by, cz - bz), Math.hypot(ax - cx, ay - cy, az - cz)); // prettier-ignore
    const steps = Math.max(1, Math.ceil((2 * longest) / cell));
    const part = 1 / (steps * cell);
    const [ux, uy, uz] = [(bx - ax) * part, (by - ay) * part, (bz - az) * part];
    const [vx, vy, vz] = [(cx - ax) * part, (cy - ay) * part, (cz - az) * part];
    const [x, y, z] = [(ax - origin[0]!) / cell, (ay - origin[1]!) / cell, (az - origin[2]!) / cell];
    for (let i = 0; i <= steps; i++)
      for (let j = 0; i + j <= steps; j++)
        marked[((x + i * ux + j * vx) | 0) + nx! * (((y + i * uy + j * vy) | 0) + ny! * ((z + i * uz + j * vz) | 0))] =
          1;
  }
}

/** Marks every cell beside a marked one too, along each axis in turn. */
function thicker(marked: Uint8Array, [nx, ny, nz]: readonly [number, number, number]): Uint8Array {
  let now = marked;
  for (const [stride, count] of [
    [1, nx],
    [nx, ny],
    [nx * ny, nz],
  ] as const) {
    const next = now.slice();
    for (let i = 0; i < now.length; i++) {
      if (!now[i]) continue;
      const at = Math.floor(i / stride) % count;
      if (at > 0) next[i - stride] = 1;
      if (at < count - 1) next[i + stride] = 1;
    }
    now = next;
  }
  return now;
}

/** Marks all that cannot be reached from outside. */
function fill(marked: Uint8Array, [nx, ny, nz]: readonly [number, number, number]): void {
  const OUTSIDE = 2;
  const open = [0];
  marked[0] = OUTSIDE;
  for (let i = open.pop(); i !== undefined; i = open.pop()) {
    const [x, y, z] = [i % nx, Math.floor(i / nx) % ny, Math.floor(i / (nx * ny))];
    const visit = (next: number, inside: boolean) => {
      if (!inside || marked[next] !== 0) return;
      marked[next] = OUTSIDE;
      open.push(next);
    };
    visit(i - 1, x > 0);
    visit(i + 1, x < nx - 1);
    visit(i - nx, y > 0);
    visit(i + nx, y < ny - 1);
    visit(i - nx * ny, z > 0);
    visit(i + nx * ny, z < nz - 1);
  }
  for (let i = 0; i < marked.length; i++) marked[i] = marked[i] === OUTSIDE ? 0 : 1;
}

/** The skin of marked cells: a point in every cube of eight of them that are not all alike, a square for every change. */
function skinOf(
  marked: Uint8Array,
  [nx, ny, nz]: readonly [number, number, number],
  cell: number,
  origin: readonly number[],
): Mesh {
  // prettier-ignore
  const strides = [1, nx, nx * ny] as const;
  const points: number[] = [];
  const triangles: number[] = [];
  const known = new Map<number, number>();
  /** The point of the cube whose first cell is `i`. */
  const pointOf = (i: number): number => {
    const before = known.get(i);
    if (before !== undefined) return before;
    const sum = [0, 0, 0];
    let count = 0;
    for (let corner = 0; corner < 8; corner++)
      for (let k = 0; k < 3; k++) {
        if (corner & (1 << k)) continue;
        const other = corner | (1 << k);
        const cellOf = (c: number) =>
          i + (c & 1) * strides[0] + ((c >> 1) & 1) * strides[1] + ((c >> 2) & 1) * strides[2];
        if (marked[cellOf(corner)] === marked[cellOf(other)]) continue;
        for (let d = 0; d < 3; d++) sum[d] = sum[d]! + (((corner >> d) & 1) + ((other >> d) & 1)) / 2;
        count++;
      }
    const base = [i % nx, Math.floor(i / nx) % ny, Math.floor(i / (nx * ny))];
    const made = points.length / 3;
    points.push(...base.map((part, d) => origin[d]! + (part + 0.5 + sum[d]! / count) * cell));
    known.set(i, made);
    return made;
  };
  for (let i = 0; i < marked.length; i++)
    for (let k = 0; k < 3; k++) {
      const next = i + strides[k]!;
      const at = [i % nx, Math.floor(i / nx) % ny, Math.floor(i / (nx * ny))][k]!;
      if (at >= [nx, ny, nz][k]! - 1 || marked[i] === marked[next]) continue;
      const [u, v] = [strides[(k + 1) % 3]!, strides[(k + 2) % 3]!];
      const [a, b, c, d] = [pointOf(i), pointOf(i - u), pointOf(i - u - v), pointOf(i - v)];
      if (marked[i]) triangles.push(a, b, c, a, c, d);
      else triangles.push(a, c, b, a, d, c);
    }
  return { points: Float64Array.from(points), triangles: Uint32Array.from(triangles) };
}
