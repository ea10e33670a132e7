import { Vector3 } from 'three';
import { ConvexHull } from 'three/examples/jsm/math/ConvexHull.js';
import { pointAt, type Mesh } from '../solid';

/** The convex hull about a surface: closed whatever that is. Nothing where all of it lies in one plane. */
export function hullOf(mesh: Mesh): Mesh {
  const count = mesh.points.length / 3;
  if (count < 4) return { points: new Float64Array(0), triangles: new Uint32Array(0) };
  const corners = Array.from({ length: count }, (_, i) => new Vector3(...pointAt(mesh, i)));
  const { faces } = new ConvexHull().setFromPoints(corners);
  const ids = new Map<Vector3, number>();
  const points: number[] = [];
  const triangles: number[] = [];
  for (const face of faces) {
    let edge = face.edge;
    for (let k = 0; k < 3; k++) {
      const { point } = edge.head();
      let id = ids.get(point);
      if (id === undefined) {
        ids.set(point, (id = points.length / 3));
        points.push(point.x, point.y, point.z);
      }
      triangles.push(id);
      edge = edge.next;
    }
  }
  return { points: Float64Array.from(points), triangles: Uint32Array.from(triangles) };
}
