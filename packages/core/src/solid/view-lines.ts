import { dot, turnedBack, type Point2, type Rotation } from '../geometry';
import { BoxTree } from './box-tree';
import { meshEdges } from './edges';
import { LineWork, type DrawnLine } from './line-work';
import { joined, sizeOf, welded, type Mesh } from './mesh';
import { SHARP } from './sharp-edges';

/** Shares of the size of all: what is less than this before a line is level with it, as faces that touch are; what is so
 * little beside a triangle is on its edge, by rounding; shorter pieces of lines are not drawn. */
const LEVEL = 5e-7;
const BESIDE = 1e-10;
const SHORT = 2e-5;
/** A triangle whose direction is this square to the line of sight is seen on edge. */
const ON_EDGE = 1e-6;

/**
 * Solids as a drawing shows them from afar: where faces meet at an angle, where they are open, and where they turn
 * away from the eye; each line cut where something begins to hide it. Where solids run through each other no line is drawn.
 * @param solids in the world, m
 * @param view axes of the drawing: to its right, up, and towards the eye
 * @returns lines in the drawing, m; what hidden lines share with visible ones is left out
 */
export function viewLines(
  solids: readonly Mesh[],
  view: Rotation,
  progress: (share: number) => void = () => {},
): DrawnLine[] {
  const seen = solids.map((solid) => seenFrom(welded(solid), view));
  const scene = joined(seen);
  const size = sizeOf(scene);
  if (size === 0) return [];
  const screen = new Screen(new BoxTree(scene), LEVEL * size, BESIDE * size);
  const lines = new LineWork(1e-6 * size, SHORT * size);
  const drawn = seen.map(drawnEdges);
  const count = drawn.reduce((sum, { length }) => sum + length, 0);
  let [done, before] = [0, 0];
  const hidden: { solid: number; from: Point2; to: Point2 }[] = [];
  seen.forEach((mesh, solid) => {
    for (const { from, to, first, second } of drawn[solid]!) {
      if (done++ % 500 === 0) progress(done / count);
      const own = [before + first, second < 0 ? -1 : before + second] as const;
      const [p, q] = [mesh.points.subarray(3 * from, 3 * from + 3), mesh.points.subarray(3 * to, 3 * to + 3)];
      const length = Math.hypot(q[0]! - p[0]!, q[1]! - p[1]!);
      if (length <= 1e-6 * size) continue;
      const at = (s: number): Point2 => [p[0]! + s * (q[0]! - p[0]!), p[1]! + s * (q[1]! - p[1]!)];
      for (const [a, b, isHidden] of pieces(screen.hiding(p, q, own), (SHORT * size) / length))
        if (isHidden) hidden.push({ solid, from: at(a), to: at(b) });
        else lines.add(solid, false, at(a), at(b));
    }
    before += mesh.triangles.length / 3;
  });
  for (const { solid, from, to } of hidden) lines.add(solid, true, from, to);
  return lines.finish();
}

function seenFrom({ points, triangles }: Mesh, view: Rotation): Mesh {
  const turned = new Float64Array(points.length);
  for (let i = 0; i < points.length; i += 3) turned.set(turnedBack(view, [points[i]!, points[i + 1]!, points[i + 2]!]), i); // prettier-ignore
  return { points: turned, triangles };
}

/** Edges of a solid in the drawing's axes that may be drawn. */
function drawnEdges(mesh: Mesh) {
  const { edges, normals } = meshEdges(mesh);
  const smooth = Math.cos(SHARP);
  const isTowards = (t: number) => normals[t]![2] > ON_EDGE;
  return edges.filter(
    ({ first, second }) =>
      second < 0 || dot(normals[first]!, normals[second]!) < smooth || isTowards(first) !== isTowards(second),
  );
}

/** The parts of a line from 0 to 1, given what of it is hidden; visible ones that are too short are hidden as well. */
function pieces(hiding: [number, number][], shortest: number): [from: number, to: number, isHidden: boolean][] {
  hiding.sort(([a], [b]) => a - b);
  const parts: [number, number, boolean][] = [];
  let at = 0;
  for (const [from, to] of hiding) {
    if (to <= at) continue;
    if (from - at > shortest) parts.push([at, from, false]);
    const begin = from - at > shortest ? from : at;
    const last = parts.at(-1);
    if (last?.[2] && last[1] >= begin) last[1] = to;
    else parts.push([begin, to, true]);
    at = to;
  }
  if (1 - at > shortest || at === 0) parts.push([at, 1, false]);
  return parts;
}

type Coordinates = Float64Array;

/** All triangles as the eye has them before it: x and y in the drawing, z towards the eye. */
class Screen {
  private readonly corners = new Float64Array(9);
  private readonly stack: number[] = [];

  /**
   * @param level what is less than this before a line does not hide it, m
   * @param beside what a line is beside a triangle at most and is still behind it, m
   */
  constructor(
    private readonly tree: BoxTree,
    private readonly level: number,
    private readonly beside: number,
  ) {}

  /**
   * Which parts of a line from p to q something hides, from 0 to 1.
   * @param own triangles that the line belongs to
   */
  hiding(p: Coordinates, q: Coordinates, own: readonly [number, number]): [number, number][] {
    const { tree, level, beside } = this;
    const { boxes } = tree;
    const [px, py, dx, dy] = [p[0]!, p[1]!, q[0]! - p[0]!, q[1]! - p[1]!];
    const [mx, my] = [px + dx / 2, py + dy / 2];
    const lowest = Math.min(p[2]!, q[2]!) + level;
    const found: [number, number][] = [];
    this.stack.push(0);
    for (let node = this.stack.pop(); node !== undefined; node = this.stack.pop()) {
      const b = 6 * node;
      const [hx, hy] = [boxes[b + 3]! + beside, boxes[b + 4]! + beside];
      if (boxes[b + 2]! + boxes[b + 5]! < lowest) continue;
      const [cx, cy] = [boxes[b]! - mx, boxes[b + 1]! - my];
      if (Math.abs(cx) > hx + Math.abs(dx) / 2 || Math.abs(cy) > hy + Math.abs(dy) / 2) continue;
      if (Math.abs(dx * cy - dy * cx) > hx * Math.abs(dy) + hy * Math.abs(dx)) continue;
      if (!tree.isLeaf(node)) {
        this.stack.push(tree.below[node]!, tree.below[node]! + 1);
        continue;
      }
      for (let i = 0; i < tree.count[node]!; i++) {
        const triangle = tree.at(node, i);
        if (triangle === own[0] || triangle === own[1]) continue;
        tree.corners(node, i, this.corners);
        const part = this.behind(p, q);
        if (!part) continue;
        if (part[0] <= 0 && part[1] >= 1) {
          this.stack.length = 0;
          return [[0, 1]];
        }
        found.push(part);
      }
    }
    return found;
  }

  /** The part of a line that lies behind the triangle in {@link corners}. */
  private behind(p: Coordinates, q: Coordinates): [number, number] | null {
    const { corners: c, level, beside } = this;
    const [ux, uy, uz] = [c[3]! - c[0]!, c[4]! - c[1]!, c[5]! - c[2]!];
    const [vx, vy, vz] = [c[6]! - c[0]!, c[7]! - c[1]!, c[8]! - c[2]!];
    const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    if (Math.abs(nz) <= ON_EDGE * Math.hypot(nx, ny, nz)) return null;
    let [from, to] = [0, 1];
    /** Keeps what of the line has a linear function at 0 or more. */
    const keep = (at0: number, at1: number): boolean => {
      if (at0 < 0 && at1 < 0) return false;
      if (at0 < 0) from = Math.max(from, at0 / (at0 - at1));
      else if (at1 < 0) to = Math.min(to, at0 / (at0 - at1));
      return to > from;
    };
    const sign = Math.sign(nz);
    for (let k = 0; k < 9; k += 3) {
      const next = (k + 3) % 9;
      const [ex, ey] = [c[next]! - c[k]!, c[next + 1]! - c[k + 1]!];
      const length = Math.hypot(ex, ey);
      if (length === 0) return null;
      // How far inside of this side, to the left of it.
      const over = (x: number, y: number) => (sign * (ex * (y - c[k + 1]!) - ey * (x - c[k]!))) / length + beside;
      if (!keep(over(p[0]!, p[1]!), over(q[0]!, q[1]!))) return null;
    }
    const before = (end: Coordinates) =>
      c[2]! - (nx * (end[0]! - c[0]!) + ny * (end[1]! - c[1]!)) / nz - end[2]! - level;
    return keep(before(p), before(q)) ? [from, to] : null;
  }
}
