import fc from 'fast-check';
import {
  cross,
  dot,
  minus,
  plus,
  rotationOf,
  turned,
  turnedBack,
  type Point2,
  type Point3,
  type Rotation,
} from '../geometry';
import { VIEWS } from '../machine';
import { cornersAt, joined, ownMesh, sharpEdges, viewLines, type DrawnLine, type Mesh } from './index';

const placed = (mesh: Mesh, at: Point3, axes: Rotation = [1, 0, 0, 0, 1, 0, 0, 0, 1]): Mesh => {
  const points = new Float64Array(mesh.points.length);
  for (let i = 0; i < points.length; i += 3)
    points.set(plus(at, turned(axes, [mesh.points[i]!, mesh.points[i + 1]!, mesh.points[i + 2]!])), i);
  return { points, triangles: mesh.triangles };
};
const box = (x: number, y: number, z: number, at: Point3 = [0, 0, 0]): Mesh =>
  placed(ownMesh({ kind: 'box', size: [x, y, z] }, 1e-4), at);
const front = VIEWS.front.axes;
const lengthOf = ({ points, closed }: DrawnLine): number =>
  points.reduce((sum, [x, y], i) => {
    const before = points[i - 1] ?? (closed ? points.at(-1)! : null);
    return before ? sum + Math.hypot(x - before[0], y - before[1]) : sum;
  }, 0);
const all = (lines: readonly DrawnLine[], hidden: boolean) =>
  lines.filter((line) => line.hidden === hidden).reduce((sum, line) => sum + lengthOf(line), 0);

test('a box seen square is one closed line of four corners, with nothing hidden', () => {
  for (const { axes } of Object.values(VIEWS)) {
    const lines = viewLines([box(0.3, 0.2, 0.1)], axes);
    expect(lines).toHaveLength(1);
    expect(lines[0]).toMatchObject({ solid: 0, hidden: false, closed: true });
    expect(lines[0]!.points).toHaveLength(4);
  }
  expect(all(viewLines([box(0.3, 0.2, 0.1)], front), false)).toBeCloseTo(1, 12);
  expect(all(viewLines([box(0.3, 0.2, 0.1)], VIEWS.right.axes), false)).toBeCloseTo(0.6, 12);
});

test('a cube along its diagonal shows nine edges, and its other three are hidden (common knowledge)', () => {
  // The eye towards (1, 1, 1): every edge is seen at √(2/3) of its length.
  const c = 1 / Math.sqrt(3);
  const side = [1 / Math.SQRT2, -1 / Math.SQRT2, 0] as const;
  const up = cross([c, c, c], side);
  const view = [side[0], up[0], c, side[1], up[1], c, side[2], up[2], c];
  // Moved a little off the diagonal, so that the corner behind is not just behind the one before it.
  const off = rotationOf([1, 0.03, -0.02, 0.01]);
  const cube = placed(box(1, 1, 1, [0, 0, 0]), [0, 0, 0], off);
  const lines = viewLines([cube], view);
  const seen = (axis: 0 | 1 | 2): number => {
    const along: Point3 = [off[axis]!, off[axis + 3]!, off[axis + 6]!];
    return Math.sqrt(1 - dot(along, [c, c, c]) ** 2);
  };
  const edge = seen(0) + seen(1) + seen(2);
  expect(all(lines, false)).toBeCloseTo(3 * edge, 5);
  expect(all(lines, true)).toBeCloseTo(edge, 5);
});

test('a drilled plate: the hole is a circle from before, and two hidden lines from the side', () => {
  const ring = Array.from({ length: 48 }, (_, i): Point2 => {
    const angle = (-2 * Math.PI * i) / 48;
    return [0.15 + 0.03 * Math.cos(angle), 0.1 + 0.03 * Math.sin(angle)];
  });
  const outline: Point2[] = [[0, 0], [0.3, 0], [0.3, 0.2], [0, 0.2]]; // prettier-ignore
  const plate = ownMesh({ kind: 'plate', outline, holes: [ring], thickness: 0.02 }, 1e-4);
  const before = viewLines([plate], front);
  expect(before.filter(({ hidden }) => hidden)).toEqual([]);
  expect(before.map(({ points, closed }) => [points.length, closed])).toEqual(expect.arrayContaining([[4, true], [48, true]])); // prettier-ignore
  const side = viewLines([plate], VIEWS.top.axes);
  expect(all(side, false)).toBeCloseTo(0.64, 9);
  const hidden = side.filter((line) => line.hidden);
  // Its widest places: corners of the ring at both ends of its diameter along x.
  const places = hidden.map(({ points }) => points.map(([x]) => x));
  expect(hidden).toHaveLength(2);
  for (const [a, b] of places) expect(a).toBeCloseTo(b!, 9);
  expect(places.map(([x]) => x!).sort()).toEqual([expect.closeTo(0.12, 9), expect.closeTo(0.18, 9)]);
  expect(all(side, true)).toBeCloseTo(0.04, 9);
});

test('what stands behind is hidden as far as what is before it reaches', () => {
  // A bar 1 m long behind a post 0.2 m wide: its two long edges are hidden over 0.2 m each.
  const bar = box(1, 0.1, 0.1, [0, 0, -1]);
  const post = box(0.2, 1, 0.1, [0.1, 0, 0]);
  const lines = viewLines([bar, post], front);
  expect(all(lines.filter(({ solid }) => solid === 0), true)).toBeCloseTo(0.4, 8); // prettier-ignore
  expect(all(lines.filter(({ solid }) => solid === 0), false)).toBeCloseTo(1.8, 8); // prettier-ignore
  expect(all(lines.filter(({ solid }) => solid === 1), false)).toBeCloseTo(2.4, 9); // prettier-ignore
  expect(lines.filter(({ solid, hidden }) => solid === 1 && hidden)).toEqual([]);
  // From behind it is the bar that is whole.
  const behind = viewLines([bar, post], VIEWS.back.axes);
  expect(behind.filter(({ solid, hidden }) => solid === 0 && hidden)).toEqual([]);
  expect(all(behind.filter(({ solid }) => solid === 1), true)).toBeCloseTo(0.2, 8); // prettier-ignore
});

test('a cylinder from the side is a rectangle; no line where its facets meet', () => {
  const rod = ownMesh({ kind: 'cylinder', radius: 0.05, length: 0.4 }, 1e-5);
  const lines = viewLines([rod], VIEWS.top.axes);
  expect(lines).toHaveLength(1);
  expect(lines[0]!.points).toHaveLength(4);
  expect(all(lines, false)).toBeCloseTo(2 * (0.4 + 0.1), 4);
});

interface Edge {
  at: Point3;
  along: Point3;
}

function edgesOf(solid: Mesh): Edge[] {
  const ends = sharpEdges(solid);
  return Array.from({ length: ends.length / 6 }, (_, i) => {
    const [a, b] = [0, 3].map((from): Point3 => [ends[6 * i + from]!, ends[6 * i + from + 1]!, ends[6 * i + from + 2]!]); // prettier-ignore
    return { at: a!, along: minus(b!, a!) };
  });
}

/** How an edge is seen at a place of the drawing; unclear where it begins or ends to be hidden there. */
function stateOf(scene: Mesh, { at, along }: Edge, [x, y]: Point2, view: Rotation) {
  const towards: Point3 = [view[2]!, view[5]!, view[8]!];
  const [ax, ay] = turnedBack(view, at);
  const [dx, dy] = turnedBack(view, along);
  const share = ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy);
  if (!(share > -0.01 && share < 1.01) || Math.hypot(ax + share * dx - x, ay + share * dy - y) > 2e-3) return 'beside';
  if (share < 0.01 || share > 0.99 || Math.hypot(ax + share * dx - x, ay + share * dy - y) > 1e-9) return 'unclear';
  const tried = [-0.002, 0, 0.002].flatMap((step) =>
    [1e-4, 1e-8].map((level) => isHidden(scene, plus(at, along, share + step), towards, level)),
  );
  return tried.every(Boolean) ? 'hidden' : tried.some(Boolean) ? 'unclear' : 'visible';
}

/** Whether something lies between a place and the eye, by trying every triangle (Möller and Trumbore). */
function isHidden(mesh: Mesh, place: Point3, towards: Point3, level: number): boolean {
  for (let t = 0; t < mesh.triangles.length / 3; t++) {
    const [a, b, c] = cornersAt(mesh, t);
    const [u, v] = [minus(b, a), minus(c, a)];
    const h = cross(towards, v);
    const det = dot(u, h);
    if (Math.abs(det) < 1e-9) continue;
    const s = minus(place, a);
    const p = dot(s, h) / det;
    const q = cross(s, u);
    const r = dot(towards, q) / det;
    if (p < 0 || r < 0 || p + r > 1) continue;
    if (dot(v, q) / det > level) return true;
  }
  return false;
}

test('boxes thrown anywhere: every place of every edge is drawn as a ray to the eye has it (property)', () => {
  const part = fc.double({ min: -1, max: 1, noNaN: true });
  const size = fc.double({ min: 0.1, max: 0.8, noNaN: true });
  const thrown = fc.record({
    size: fc.tuple(size, size, size),
    at: fc.tuple(part, part, part),
    turn: fc.tuple(part, part, part, part).filter((q) => Math.hypot(...q) > 0.2),
  });
  fc.assert(
    fc.property(fc.array(thrown, { minLength: 2, maxLength: 4 }), thrown, (boxes, { turn }) => {
      const solids = boxes.map((own) => placed(box(...own.size), own.at, rotationOf(own.turn)));
      const view = rotationOf(turn);
      const scene = joined(solids);
      const lines = viewLines(solids, view);
      const edges = solids.flatMap(edgesOf);
      for (const { at, along } of edges)
        for (const share of [0.137, 0.411, 0.683, 0.909]) {
          const place = plus(at, along, share);
          const [x, y] = turnedBack(view, place);
          // All that is seen at this place of the drawing: edges may lie upon each other.
          const states = edges.map((edge) => stateOf(scene, edge, [x, y], view));
          if (states.includes('unclear')) continue;
          const drawn = lines.filter((line) => isOn(line, [x, y]));
          expect(drawn.some(({ hidden }) => !hidden)).toBe(states.includes('visible'));
          expect(drawn.length).toBeGreaterThan(0);
        }
    }),
    { numRuns: 40 },
  );
});

function isOn({ points, closed }: DrawnLine, [x, y]: Point2): boolean {
  return points.some(([ax, ay], i) => {
    const to = points[i + 1] ?? (closed ? points[0] : undefined);
    if (!to) return false;
    const [dx, dy] = [to[0] - ax, to[1] - ay];
    const share = Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy)));
    return Math.hypot(ax + share * dx - x, ay + share * dy - y) < 1e-4;
  });
}
