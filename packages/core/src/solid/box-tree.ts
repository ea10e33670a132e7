import type { Mesh } from './mesh';

/** Triangles in a leaf at most. */
const LEAF = 2;

/**
 * A tree of boxes over the triangles of a mesh, each half of the box above, along the axes of the mesh. Node 0 holds all;
 * the halves of a node follow each other.
 */
export class BoxTree {
  /** By node: middle (3) and half the sides (3) of its box, m. */
  readonly boxes: Float64Array;
  /** By node: its first half, or −1 less its first triangle in {@link order}. */
  readonly below: Int32Array;
  /** By leaf: how many triangles it has. */
  readonly count: Int32Array;
  /** Triangles in the order of the leaves. */
  readonly order: Uint32Array;
  private made = 0;

  constructor(readonly mesh: Mesh) {
    const triangles = mesh.triangles.length / 3;
    const nodes = Math.max(1, 2 * triangles);
    this.boxes = new Float64Array(6 * nodes);
    this.below = new Int32Array(nodes);
    this.count = new Int32Array(nodes);
    this.order = Uint32Array.from({ length: triangles }, (_, t) => t);
    const middles = new Float64Array(3 * triangles);
    for (let t = 0; t < triangles; t++)
      for (let c = 0; c < 3; c++)
        for (let k = 0; k < 3; k++) middles[3 * t + k] = middles[3 * t + k]! + this.coordinate(t, c, k) / 3;
    this.made = 1;
    const open = [{ node: 0, from: 0, to: triangles }];
    for (let at = open.pop(); at; at = open.pop()) {
      const { node, from, to } = at;
      this.enclose(node, from, to);
      this.count[node] = to - from;
      if (to - from <= LEAF) {
        this.below[node] = -1 - from;
        continue;
      }
      const half = this.boxes.subarray(6 * node + 3, 6 * node + 6);
      const along = half[0]! >= half[1]! && half[0]! >= half[2]! ? 0 : half[1]! >= half[2]! ? 1 : 2;
      const first = this.made;
      this.made += 2;
      this.below[node] = first;
      const between = from + Math.ceil((to - from) / 2);
      halve(this.order, from, to, between, (t) => middles[3 * t + along]!);
      open.push({ node: first, from, to: between }, { node: first + 1, from: between, to });
    }
  }

  private coordinate(t: number, corner: number, k: number): number {
    return this.mesh.points[3 * this.mesh.triangles[3 * t + corner]! + k]!;
  }

  private enclose(node: number, from: number, to: number): void {
    for (let k = 0; k < 3; k++) {
      let [low, high] = [Infinity, -Infinity];
      for (let i = from; i < to; i++)
        for (let c = 0; c < 3; c++) {
          const at = this.coordinate(this.order[i]!, c, k);
          if (at < low) low = at;
          if (at > high) high = at;
        }
      this.boxes[6 * node + k] = to > from ? (low + high) / 2 : 0;
      this.boxes[6 * node + 3 + k] = to > from ? (high - low) / 2 : 0;
    }
  }

  isLeaf(node: number): boolean {
    return this.below[node]! < 0;
  }

  /** Triangle `i` of a leaf. */
  at(node: number, i: number): number {
    return this.order[-1 - this.below[node]! + i]!;
  }

  /** Corners of triangle `i` of a leaf, one after the other, into `out`. */
  corners(node: number, i: number, out: Float64Array): void {
    this.triangle(this.at(node, i), out);
  }

  /** Corners of a triangle, one after the other, into `out`. */
  triangle(t: number, out: Float64Array): void {
    const { points, triangles } = this.mesh;
    for (let c = 0; c < 3; c++) {
      const from = 3 * triangles[3 * t + c]!;
      out[3 * c] = points[from]!;
      out[3 * c + 1] = points[from + 1]!;
      out[3 * c + 2] = points[from + 2]!;
    }
  }
}

/**
 * Puts those with the smaller values before a place and the others behind it (Hoare's selection).
 * @param from, to the part of the list that is sorted so
 */
function halve(list: Uint32Array, from: number, to: number, place: number, valueOf: (item: number) => number): void {
  let [low, high] = [from, to - 1];
  while (low < high) {
    const pivot = valueOf(list[(low + high) >> 1]!);
    let [i, j] = [low, high];
    while (i <= j) {
      while (valueOf(list[i]!) < pivot) i++;
      while (valueOf(list[j]!) > pivot) j--;
      if (i > j) break;
      const item = list[i]!;
      list[i++] = list[j]!;
      list[j--] = item;
    }
    if (place <= j) high = j;
    else if (place >= i) low = i;
    else return;
  }
}
