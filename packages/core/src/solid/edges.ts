import { cross, length3, minus, type Point3 } from '../geometry';
import { cornersAt, type Mesh } from './mesh';

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
