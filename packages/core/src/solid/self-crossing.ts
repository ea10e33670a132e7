import type { Point3 } from '../geometry';
import { BoxTree } from './box-tree';
import { welded, type Mesh } from './mesh';
import { pierces } from './triangle-distance';

/** An edge goes through a face where it does so by more than this share of both: what only touches does not. */
const CLEARLY = 1e-4;

/** A place in which a surface goes through itself; null where it does not. */
export function crossingOf(surface: Mesh): Point3 | null {
  const mesh = welded(surface);
  const tree = new BoxTree(mesh);
  const { boxes, below, count, order } = tree;
  const one = new Float64Array(9);
  const other = new Float64Array(9);
  const place = new Float64Array(3);
  const apart = (n: number, m: number): boolean => {
    for (let k = 0; k < 3; k++)
      if (Math.abs(boxes[6 * n + k]! - boxes[6 * m + k]!) > boxes[6 * n + 3 + k]! + boxes[6 * m + 3 + k]!) return true;
    return false;
  };
  const shareCorner = (s: number, t: number): boolean => {
    for (let i = 0; i < 3; i++)
      for (let k = 0; k < 3; k++) if (mesh.triangles[3 * s + i] === mesh.triangles[3 * t + k]) return true;
    return false;
  };
  const crossed = (n: number, m: number): boolean => {
    for (let i = 0; i < count[n]!; i++) {
      tree.corners(n, i, one);
      for (let k = n === m ? i + 1 : 0; k < count[m]!; k++) {
        if (shareCorner(order[-1 - below[n]! + i]!, order[-1 - below[m]! + k]!)) continue;
        tree.corners(m, k, other);
        for (let e = 0; e < 9; e += 3) {
          const next = (e + 3) % 9;
          if (pierces(one, e, next, other, place, CLEARLY) || pierces(other, e, next, one, place, CLEARLY)) return true;
        }
      }
    }
    return false;
  };
  const open: [number, number][] = mesh.triangles.length > 0 ? [[0, 0]] : [];
  for (let pair = open.pop(); pair; pair = open.pop()) {
    const [n, m] = pair;
    if (n !== m && apart(n, m)) continue;
    const [leafN, leafM] = [tree.isLeaf(n), tree.isLeaf(m)];
    if (leafN && leafM) {
      if (crossed(n, m)) return [place[0]!, place[1]!, place[2]!];
    } else if (n === m) {
      const half = below[n]!;
      open.push([half, half], [half, half + 1], [half + 1, half + 1]);
    } else if (leafM || (!leafN && count[n]! >= count[m]!)) open.push([below[n]!, m], [below[n]! + 1, m]);
    else open.push([n, below[m]!], [n, below[m]! + 1]);
  }
  return null;
}
