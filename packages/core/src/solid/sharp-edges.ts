import { cross, dot, length3, minus, type Point3 } from '../geometry';
import { cornersAt, welded, type Mesh } from './mesh';

/**
 * The edges of a solid as it is drawn: where faces meet at more than an angle, and where it is open.
 * @param angle rad
 * @returns both ends of each edge, three coordinates each, m
 */
export function sharpEdges(surface: Mesh, angle = Math.PI / 6): Float32Array {
  const mesh = welded(surface);
  const { points, triangles } = mesh;
  const count = points.length / 3;
  const normals: Point3[] = [];
  /** By edge the triangle that was met first; −1 once it is known to be no sharp edge, or one that was told. */
  const first = new Map<number, number>();
  const found: number[] = [];
  const smooth = Math.cos(angle);
  for (let t = 0; t < triangles.length / 3; t++) {
    const [a, b, c] = cornersAt(mesh, t);
    const n = cross(minus(b, a), minus(c, a));
    const size = length3(n) || 1;
    normals.push([n[0] / size, n[1] / size, n[2] / size]);
    for (let k = 0; k < 3; k++) {
      const [p, q] = [triangles[3 * t + k]!, triangles[3 * t + ((k + 1) % 3)]!];
      const key = Math.min(p, q) * count + Math.max(p, q);
      const other = first.get(key);
      if (other === undefined) first.set(key, t);
      else if (other >= 0) {
        first.set(key, -1);
        if (dot(normals[other]!, normals[t]!) < smooth) found.push(p, q);
      }
    }
  }
  for (const [key, t] of first) if (t >= 0) found.push(Math.floor(key / count), key % count);
  const ends = new Float32Array(3 * found.length);
  found.forEach((corner, i) => ends.set(points.subarray(3 * corner, 3 * corner + 3), 3 * i));
  return ends;
}
