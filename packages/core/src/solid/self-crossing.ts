import type { Point3 } from '../geometry';
import { BoxTree } from './box-tree';
import { welded, type Mesh } from './mesh';
import { trianglesCross } from './triangle-distance';

/** An edge goes through a face where it does so by more than this share of both: what only touches does not. */
const CLEARLY = 1e-4;

/** A place in which a surface goes through itself; null where it does not. */
export function crossingOf(surface: Mesh): Point3 | null {
  const mesh = welded(surface);
  const tree = new BoxTree(mesh);
  const { boxes, below, count } = tree;
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
        if (shareCorner(tree.at(n, i), tree.at(m, k))) continue;
        tree.corners(m, k, other);
        if (trianglesCross(one, other, place, CLEARLY)) return true;
      }
    }
    return false;
  };
  /** Pairs of nodes that are still to be looked at, one after the other. */
  const open: number[] = [];
  const look = (n: number, m: number): void => {
    if (n === m || !apart(n, m)) open.push(n, m);
  };
  if (mesh.triangles.length > 0) look(0, 0);
  while (open.length > 0) {
    const m = open.pop()!;
    const n = open.pop()!;
    const [leafN, leafM] = [tree.isLeaf(n), tree.isLeaf(m)];
    if (leafN && leafM) {
      if (crossed(n, m)) return [place[0]!, place[1]!, place[2]!];
    } else if (n === m) {
      const half = below[n]!;
      look(half, half);
      look(half, half + 1);
      look(half + 1, half + 1);
    } else if (leafM || (!leafN && count[n]! >= count[m]!)) {
      look(below[n]!, m);
      look(below[n]! + 1, m);
    } else {
      look(n, below[m]!);
      look(n, below[m]! + 1);
    }
  }
  return null;
}
