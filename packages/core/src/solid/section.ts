import { dot, minus, turnedBack, axisOf, polygonArea, type Point2, type Point3, type Rotation } from '../geometry';
import { cornersAt, welded, type Mesh } from './mesh';

/** An area in a plane: its outline anticlockwise, its holes clockwise, m. */
export interface SectionArea {
  outline: Point2[];
  holes: Point2[][];
}

/** Corners within this share of the size of a section lie on the line between their neighbours. */
const STRAIGHT = 1e-6;

/**
 * Cuts a closed surface by a plane.
 * @param at, axes a place of the plane and its axes: the section comes in their x and y
 * @returns the areas that are cut, the largest first; none where the plane passes beside it
 */
export function sectionOf(surface: Mesh, at: Point3, axes: Rotation): SectionArea[] {
  const mesh = welded(surface);
  const { triangles } = mesh;
  const count = mesh.points.length / 3;
  const normal = axisOf(axes, 2);
  /** By the edge through which the plane comes in, the edge through which it leaves, and where it came in. */
  const steps = new Map<number, { to: number; at: Point2 }>();
  for (let t = 0; t < triangles.length / 3; t++) {
    const corners = cornersAt(mesh, t);
    const over = corners.map((corner) => dot(minus(corner, at), normal));
    let [from, to] = [-1, -1];
    let place: Point2 = [0, 0];
    for (let k = 0; k < 3; k++) {
      const next = (k + 1) % 3;
      const [a, b] = [over[k]!, over[next]!];
      // What lies in the plane counts as above it: no corner is met twice.
      if (a >= 0 === b >= 0) continue;
      const [p, q] = [triangles[3 * t + k]!, triangles[3 * t + next]!];
      const key = Math.min(p, q) * count + Math.max(p, q);
      if (b >= 0) to = key;
      else {
        from = key;
        const share = a / (a - b);
        const cut = corners[k]!.map((part, i) => part + share * (corners[next]![i]! - part)) as [
          number,
          number,
          number,
        ];
        const [x, y] = turnedBack(axes, minus(cut, at));
        place = [x, y];
      }
    }
    if (from >= 0 && to >= 0) steps.set(from, { to, at: place });
  }
  const loops: Point2[][] = [];
  while (steps.size > 0) {
    const [begin] = steps.keys();
    const loop: Point2[] = [];
    let key: number | undefined = begin;
    while (key !== undefined) {
      const step = steps.get(key);
      if (!step) break;
      steps.delete(key);
      loop.push(step.at);
      key = step.to;
    }
    // What does not come back to where it began is cut through an opening.
    if (key === begin) loops.push(straightened(loop));
  }
  return nested(loops.filter((loop) => loop.length >= 3));
}

/** The same outline without corners on straight lines. */
function straightened(loop: readonly Point2[]): Point2[] {
  const size = Math.max(...loop.flatMap(([x, y]) => [Math.abs(x - loop[0]![0]), Math.abs(y - loop[0]![1])]));
  const kept = [...loop];
  for (let i = 0; i < kept.length && kept.length > 3;) {
    const [a, b, c] = [kept[(i + kept.length - 1) % kept.length]!, kept[i]!, kept[(i + 1) % kept.length]!];
    const [ux, uy, vx, vy] = [b[0] - a[0], b[1] - a[1], c[0] - b[0], c[1] - b[1]];
    const length = Math.hypot(ux + vx, uy + vy);
    const off = length > 0 ? Math.abs(ux * vy - uy * vx) / length : 0;
    if (off <= STRAIGHT * size && ux * vx + uy * vy >= 0) kept.splice(i, 1);
    else i++;
  }
  return kept;
}

const senseOf = (loop: readonly Point2[]): number =>
  loop.reduce((sum, [x, y], i) => {
    const [nx, ny] = loop[(i + 1) % loop.length]!;
    return sum + (x * ny - nx * y) / 2;
  }, 0);

function holds(outline: readonly Point2[], [x, y]: Point2): boolean {
  let inside = false;
  outline.forEach(([ax, ay], i) => {
    const [bx, by] = outline[(i + 1) % outline.length]!;
    if (ay > y !== by > y && x < ax + ((y - ay) / (by - ay)) * (bx - ax)) inside = !inside;
  });
  return inside;
}

/** Gives every hole to the smallest outline about it. */
function nested(loops: readonly Point2[][]): SectionArea[] {
  const areas = loops
    .filter((loop) => senseOf(loop) > 0)
    .map((outline): SectionArea => ({ outline, holes: [] }))
    .sort((a, b) => polygonArea(b.outline).area - polygonArea(a.outline).area);
  for (const hole of loops.filter((loop) => senseOf(loop) < 0))
    areas.findLast(({ outline }) => holds(outline, hole[0]!))?.holes.push(hole);
  return areas;
}
