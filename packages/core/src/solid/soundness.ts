import { cross, length3, minus } from '../geometry';
import { cornersAt, insideOut, sizeOf, welded, type Mesh } from './mesh';
import { volumeOf } from './solid-mass';

/** What keeps a surface from being the skin of a solid. */
export interface Soundness {
  /** Whether every edge belongs to two triangles that go along it in opposite directions: only then it has a volume. */
  closed: boolean;
  /** Edges of one triangle alone, of more than two, and of two that do not agree which side is outside. */
  openEdges: number;
  crowdedEdges: number;
  turnedEdges: number;
  /** Triangles without an area to speak of. */
  flatTriangles: number;
  /** Pieces that do not hang together: several solids in one, or a hollow. */
  shells: number;
  /** Whether it is closed with its outside in. */
  insideOut: boolean;
}

/** Triangles whose area is below this share of the square of the size count as flat. */
const FLAT = 1e-14;

/** Edges of a welded mesh, by their corners, with the triangles that go along them: the way of the smaller corner first. */
function edgesOf({ points, triangles }: Mesh): Map<number, { forth: number[]; back: number[] }> {
  const count = points.length / 3;
  const edges = new Map<number, { forth: number[]; back: number[] }>();
  for (let t = 0; t < triangles.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [triangles[t + k]!, triangles[t + ((k + 1) % 3)]!];
      const key = Math.min(a, b) * count + Math.max(a, b);
      const edge = edges.get(key) ?? { forth: [], back: [] };
      edges.set(key, edge);
      (a < b ? edge.forth : edge.back).push(t / 3);
    }
  return edges;
}

/** Finds out whether a surface is the skin of a solid; corners that lie in one place are taken as one. */
export function soundnessOf(surface: Mesh): Soundness {
  const mesh = welded(surface);
  let [openEdges, crowdedEdges, turnedEdges] = [0, 0, 0];
  for (const { forth, back } of edgesOf(mesh).values()) {
    const users = forth.length + back.length;
    if (users === 1) openEdges++;
    else if (users > 2) crowdedEdges++;
    else if (forth.length !== 1) turnedEdges++;
  }
  const closed = mesh.triangles.length > 0 && openEdges + crowdedEdges + turnedEdges === 0;
  return {
    closed,
    openEdges,
    crowdedEdges,
    turnedEdges,
    flatTriangles: flatTriangles(surface),
    shells: new Set(shellsOf(mesh)).size,
    insideOut: closed && volumeOf(mesh) < 0,
  };
}

function flatTriangles(mesh: Mesh): number {
  const least = FLAT * sizeOf(mesh) ** 2;
  let flat = 0;
  for (let t = 0; t < mesh.triangles.length; t += 3) {
    const [a, b, c] = cornersAt(mesh, t / 3);
    const area = length3(cross(minus(b, a), minus(c, a))) / 2;
    if (!(area > least)) flat++;
  }
  return flat;
}

/** For every triangle of a welded mesh a number that it shares with all that hang together with it by corners. */
export function shellsOf({ points, triangles }: Mesh): Uint32Array {
  const group = Uint32Array.from({ length: points.length / 3 }, (_, i) => i);
  const root = (i: number): number => {
    let at = i;
    while (group[at] !== at) {
      group[at] = group[group[at]!]!;
      at = group[at]!;
    }
    return at;
  };
  for (let t = 0; t < triangles.length; t += 3)
    for (let k = 1; k < 3; k++) group[root(triangles[t + k]!)] = root(triangles[t]!);
  return Uint32Array.from({ length: triangles.length / 3 }, (_, t) => root(triangles[3 * t]!));
}

/**
 * Turns triangles so that neighbours agree which side is outside, the fewer to the more of each piece, and all of it
 * so that it holds a volume. What is open stays open.
 */
export function oriented(surface: Mesh): Mesh {
  const mesh = welded(surface);
  const count = mesh.triangles.length / 3;
  const neighbours: { other: number; agrees: boolean }[][] = Array.from({ length: count }, () => []);
  for (const { forth, back } of edgesOf(mesh).values()) {
    const users = [...forth, ...back];
    if (users.length !== 2) continue;
    const [one, other] = users as [number, number];
    const agrees = forth.length === 1;
    neighbours[one]!.push({ other, agrees });
    neighbours[other]!.push({ other: one, agrees });
  }
  const turned: (boolean | null)[] = Array.from({ length: count }, () => null);
  for (let first = 0; first < count; first++) {
    if (turned[first] !== null) continue;
    turned[first] = false;
    const piece = [first];
    for (const at of piece)
      for (const { other, agrees } of neighbours[at]!) {
        if (turned[other] !== null) continue;
        turned[other] = agrees ? turned[at]! : !turned[at]!;
        piece.push(other);
      }
    const many = piece.filter((t) => turned[t]).length > piece.length / 2;
    if (many) for (const t of piece) turned[t] = !turned[t]!;
  }
  const triangles = mesh.triangles.slice();
  turned.forEach((isTurned, t) => {
    if (isTurned) [triangles[3 * t + 1], triangles[3 * t + 2]] = [triangles[3 * t + 2]!, triangles[3 * t + 1]!];
  });
  const made = { points: mesh.points, triangles };
  return volumeOf(made) < 0 ? insideOut(made) : made;
}

/** What is wrong with a surface and what can be done; null where it is the skin of a solid. */
export function soundnessWords({
  closed,
  openEdges,
  crowdedEdges,
  turnedEdges,
  insideOut: out,
}: Soundness): string | null {
  const edges = (count: number) => (count === 1 ? 'one edge' : `${count} edges`);
  if (openEdges > 0)
    return `It is open at ${edges(openEdges)}, so it has no volume: close it where it was drawn, take the body about it, or type its mass.`;
  if (crowdedEdges > 0)
    return `At ${edges(crowdedEdges)} more than two faces meet, so it is not the skin of one solid: save its solids one by one, or type its mass.`;
  if (turnedEdges > 0)
    return `At ${edges(turnedEdges)} its faces do not agree which side is outside: let them be turned, or type its mass.`;
  if (out) return 'Its outside is in: let it be turned inside out.';
  return closed ? null : 'There is nothing in it: choose another solid.';
}
