import { cross, dot, length3, minus, plus, unit3, type Point3 } from '../geometry';
import { cornersAt, type Mesh } from './mesh';

/** Triangles that lie in one plane and hang together. */
export interface Patch {
  triangles: number[];
  /** Corners of the mesh. */
  corners: number[];
  normal: Point3;
  area: number;
  /** Patches beside it, each with an edge in which they meet. */
  neighbours: Map<number, readonly [from: number, to: number]>;
}

/** Normals nearer than this (cosine) are those of one plane. */
const LEVEL = Math.cos(0.05 * (Math.PI / 180));

/** Normal of a triangle, twice its area long. */
function across(mesh: Mesh, t: number): [number, number, number] {
  const [a, b, c] = cornersAt(mesh, t);
  return cross(minus(b, a), minus(c, a));
}

/** Parts a welded mesh into patches. */
export function patchesOf(mesh: Mesh): Patch[] {
  const count = mesh.triangles.length / 3;
  const points = mesh.points.length / 3;
  const normals = Array.from({ length: count }, (_, t) => across(mesh, t));
  const beside = new Map<number, number[]>();
  const edgeOf = (t: number, k: number): [number, number] => [mesh.triangles[3 * t + k]!, mesh.triangles[3 * t + ((k + 1) % 3)]!]; // prettier-ignore
  const keyOf = ([a, b]: readonly [number, number]) => Math.min(a, b) * points + Math.max(a, b);
  for (let t = 0; t < count; t++)
    for (let k = 0; k < 3; k++) {
      const key = keyOf(edgeOf(t, k));
      const users = beside.get(key);
      if (users) users.push(t);
      else beside.set(key, [t]);
    }
  const patchOf = new Int32Array(count).fill(-1);
  const patches: Patch[] = [];
  // From the largest on: the normal of a sliver says little.
  const order = Array.from({ length: count }, (_, t) => t).sort((a, b) => length3(normals[b]!) - length3(normals[a]!));
  for (const first of order) {
    if (patchOf[first]! >= 0) continue;
    const twice = length3(normals[first]!);
    const normal: Point3 = twice > 0 ? unit3(normals[first]!) : [0, 0, 1];
    const members = [first];
    patchOf[first] = patches.length;
    for (const t of members)
      for (let k = 0; k < 3; k++)
        for (const other of beside.get(keyOf(edgeOf(t, k)))!) {
          if (patchOf[other]! >= 0) continue;
          const size = length3(normals[other]!);
          if (size > 0 && dot(normals[other]!, normal) < LEVEL * size) continue;
          patchOf[other] = patches.length;
          members.push(other);
        }
    const sum = members.reduce<Point3>((all, t) => plus(all, normals[t]!), [0, 0, 0]);
    patches.push({
      triangles: members,
      corners: [...new Set(members.flatMap((t) => [...mesh.triangles.slice(3 * t, 3 * t + 3)]))],
      normal: length3(sum) > 0 ? unit3(sum) : normal,
      area: members.reduce((all, t) => all + length3(normals[t]!) / 2, 0),
      neighbours: new Map(),
    });
  }
  for (let t = 0; t < count; t++)
    for (let k = 0; k < 3; k++) {
      const edge = edgeOf(t, k);
      for (const other of beside.get(keyOf(edge))!)
        if (patchOf[other] !== patchOf[t]) patches[patchOf[t]!]!.neighbours.set(patchOf[other]!, edge);
    }
  return patches;
}
