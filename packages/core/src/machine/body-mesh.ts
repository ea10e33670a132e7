import { convexHull, plus, rotationOf, turned, type Point2 } from '../geometry';
import { insideOut, joined, ownMesh, sizeOf, type Mesh } from '../solid';
import type { Body } from './body';
import { solidsOn } from './edit-solids';
import { GROUND, type Mechanism } from './mechanism';
import { ownSolid, type BodySolid } from './solid';

/** How far round edges of what is drawn flat may lie from their chords, as a share of their radius. */
const CHORD = 1e-3;
/** Steps of a quarter turn of a round end. */
const QUARTER = 12;

/** How far round faces of own solids lie from their chords at most, as a share of their size. */
const OWN_CHORD = 5e-4;

/** A surface as in a mirror that turns x round. */
export const mirroredMesh = ({ points, triangles }: Mesh): Mesh =>
  insideOut({ points: points.map((part, i) => (i % 3 === 0 ? -part : part)), triangles });

/**
 * The skin of a solid in its own frame, mirrored where it is.
 * @param ofFile what its file has of it; null while that is not there
 */
export function solidMesh(
  { shape, mirrored }: Pick<BodySolid, 'shape' | 'mirrored'>,
  ofFile: Mesh | null,
): Mesh | null {
  let mesh = ofFile;
  if (shape.kind !== 'file') {
    const own = ownSolid(shape);
    mesh = ownMesh(own, OWN_CHORD * sizeOf(ownMesh(own, 1)));
  }
  return mesh && mirrored ? mirroredMesh(mesh) : mesh;
}

/** A mesh as it stands in the frame of what carries it. */
export function placedMesh({ points, triangles }: Mesh, { at, turn }: Pick<BodySolid, 'at' | 'turn'>): Mesh {
  const r = rotationOf(turn);
  const moved = new Float64Array(points.length);
  for (let i = 0; i < points.length; i += 3)
    moved.set(plus(at, turned(r, [points[i]!, points[i + 1]!, points[i + 2]!])), i);
  return { points: moved, triangles };
}

/** Everything within a radius of the hull of some points, anticlockwise. */
function slot(points: readonly Point2[], radius: number): Point2[] {
  const hull = convexHull(points);
  const ring = (x: number, y: number, from: number, to: number): Point2[] => {
    const steps = Math.max(2, Math.ceil((QUARTER * (to - from)) / (Math.PI / 2)));
    return Array.from({ length: steps + 1 }, (_, k): Point2 => {
      const angle = from + ((to - from) * k) / steps;
      return [x + radius * Math.cos(angle), y + radius * Math.sin(angle)];
    });
  };
  if (hull.length < 2) {
    const [x, y] = hull[0] ?? [0, 0];
    return ring(x, y, 0, 2 * Math.PI).slice(0, -1);
  }
  return hull.flatMap(([x, y], i) => {
    const before = hull[(i + hull.length - 1) % hull.length]!;
    const next = hull[(i + 1) % hull.length]!;
    const from = Math.atan2(y - before[1], x - before[0]) - Math.PI / 2;
    let to = Math.atan2(next[1] - y, next[0] - x) - Math.PI / 2;
    while (to < from) to += 2 * Math.PI;
    return ring(x, y, from, to);
  });
}

/** A body that has no solids: its outline as thick as it is, its middle at z = 0, in its own frame. */
export function prismOf({ shape, points, thickness }: Pick<Body, 'shape' | 'points' | 'thickness'>): Mesh {
  if (shape.kind === 'plate') return ownMesh({ kind: 'plate', outline: shape.outline, holes: shape.holes, thickness }, 0); // prettier-ignore
  if (shape.kind === 'bar') {
    const outline = slot(points.map(({ at }): Point2 => at), shape.width / 2); // prettier-ignore
    return ownMesh({ kind: 'plate', outline, holes: [], thickness }, 0);
  }
  const disc = ownMesh({ kind: 'cylinder', radius: shape.radius, length: thickness }, CHORD * shape.radius);
  return placedMesh(disc, { at: [shape.centre[0], shape.centre[1], 0], turn: [1, 0, 0, 0] });
}

/**
 * The skin of a body in its own frame: of its solids, or of its outline as thick as it is.
 * @param meshOf a solid in its own frame, mirrored where it is; null while it is not there
 * @returns null where one of its solids is not there
 */
export function bodyMesh(body: Body, meshOf: (solid: BodySolid) => Mesh | null): Mesh | null {
  return body.solids?.length ? solidsMesh(body.solids, meshOf) : prismOf(body);
}

/** Solids of one carrier as one mesh in its frame; null where one of them is not there. */
export function solidsMesh(solids: readonly BodySolid[], meshOf: (solid: BodySolid) => Mesh | null): Mesh | null {
  const parts = solids.map((solid) => {
    const mesh = meshOf(solid);
    return mesh && placedMesh(mesh, solid);
  });
  return parts.every((part) => part !== null) ? joined(parts) : null;
}

/**
 * The skins of all bodies, each in its own frame, and that of the ground in the world where it has solids.
 * @returns null where a solid is not there
 */
export function machineSkins(m: Mechanism, meshOf: (solid: BodySolid) => Mesh | null): Map<string, Mesh> | null {
  const found = new Map<string, Mesh>();
  for (const body of m.bodies) {
    const mesh = bodyMesh(body, meshOf);
    if (!mesh) return null;
    found.set(body.id, mesh);
  }
  const ground = solidsOn(m, GROUND);
  if (ground.length === 0) return found;
  const mesh = solidsMesh(ground, meshOf);
  return mesh && found.set(GROUND, mesh);
}
