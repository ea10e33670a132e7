import { cross, length3, minus, type Point3 } from '../geometry';
import { cornersAt, pointAt, welded, type Mesh } from './mesh';

/** An edge of a mesh: its two corners, and the triangles at it; the second is −1 where the mesh is open. */
export interface MeshEdge {
  from: number;
  to: number;
  first: number;
  second: number;
}

/**
 * Edges of a mesh whose triangles share their corners, and the directions of its triangles away from inside. Where more
 * than two triangles meet, the edge is that of the first two.
 */
export function meshEdges(mesh: Mesh): { edges: MeshEdge[]; normals: Point3[] } {
  const { points, triangles } = mesh;
  const count = points.length / 3;
  const normals: Point3[] = [];
  const known = new Map<number, MeshEdge>();
  for (let t = 0; t < triangles.length / 3; t++) {
    const [a, b, c] = cornersAt(mesh, t);
    const n = cross(minus(b, a), minus(c, a));
    const size = length3(n) || 1;
    normals.push([n[0] / size, n[1] / size, n[2] / size]);
    for (let k = 0; k < 3; k++) {
      const [p, q] = [triangles[3 * t + k]!, triangles[3 * t + ((k + 1) % 3)]!];
      const key = Math.min(p, q) * count + Math.max(p, q);
      const edge = known.get(key);
      if (!edge) known.set(key, { from: p, to: q, first: t, second: -1 });
      else if (edge.second < 0) edge.second = t;
    }
  }
  return { edges: [...known.values()], normals };
}

/**
 * The rims of some triangles of a mesh, the longest first, each as the corners that follow one another.
 * @param triangles by their numbers, as those of a face
 */
export function rimsOf({ points, triangles }: Mesh, of: readonly number[]): Point3[][] {
  const part = Uint32Array.from(of.flatMap((t) => [triangles[3 * t]!, triangles[3 * t + 1]!, triangles[3 * t + 2]!]));
  const mesh = welded({ points, triangles: part });
  const next = new Map<number, number>();
  for (const { from, to, second } of meshEdges(mesh).edges) if (second < 0) next.set(from, to);
  const rims: Point3[][] = [];
  while (next.size > 0) {
    const [begin] = next.keys();
    const rim: Point3[] = [];
    for (let at = begin!, to = next.get(at); to !== undefined; at = to, to = next.get(at)) {
      rim.push(pointAt(mesh, at));
      next.delete(at);
    }
    rims.push(rim);
  }
  const long = (rim: readonly Point3[]) => rim.reduce((sum, own, i) => sum + length3(minus(own, rim.at(i - 1)!)), 0);
  return rims.sort((one, other) => long(other) - long(one));
}
