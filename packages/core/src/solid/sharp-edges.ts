import { dot } from '../geometry';
import { meshEdges } from './edges';
import { welded, type Mesh } from './mesh';

/** Faces that meet at more than this are seen as two, rad. */
export const SHARP = Math.PI / 6;

/**
 * The edges of a solid as it is drawn: where faces meet at more than an angle, and where it is open.
 * @param angle rad
 * @returns both ends of each edge, three coordinates each, m
 */
export function sharpEdges(surface: Mesh, angle = SHARP): Float32Array {
  const mesh = welded(surface);
  const { edges, normals } = meshEdges(mesh);
  const smooth = Math.cos(angle);
  const drawn = edges.filter(({ first, second }) => second < 0 || dot(normals[first]!, normals[second]!) < smooth);
  const ends = new Float32Array(6 * drawn.length);
  drawn.forEach(({ from, to }, i) =>
    [from, to].forEach((corner, k) => ends.set(mesh.points.subarray(3 * corner, 3 * corner + 3), 6 * i + 3 * k)),
  );
  return ends;
}
