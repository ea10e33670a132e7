import { convexHull, convexPieces, type Point2 } from '../../geometry';
import { GROUND, placedMesh, prismOf, solidMesh, solidsOn, type Mechanism } from '../../machine';
import type { Mesh } from '../../solid';
import { slab, type ContactPiece } from './pieces';

/** Whether a body, or the ground, has solids of files: these do not touch parts; a body then touches with its outline. */
export const hasSolidsOfFiles = (mechanism: Mechanism, id: string): boolean =>
  solidsOn(mechanism, id).some(({ shape }) => shape.kind === 'file');

/**
 * With what a body of the mechanism, or the ground, touches parts in its own frame: its solids, each with its hull or
 * its true skin; without solids, or with some of a file, its outline as thick as it is, its hollows filled or not.
 */
export function bodyPieces(
  mechanism: Mechanism,
  id: string,
  as: 'hull' | 'exact',
): { pieces: ContactPiece[]; meshes: Mesh[] } {
  const body = mechanism.bodies.find((own) => own.id === id);
  const drawn = id !== GROUND && hasSolidsOfFiles(mechanism, id);
  const meshes = (drawn ? [] : solidsOn(mechanism, id)).flatMap((solid) => {
    const mesh = solidMesh(solid, null);
    return mesh ? [placedMesh(mesh, solid)] : [];
  });
  if (meshes.length > 0)
    return as === 'exact'
      ? { pieces: [], meshes }
      : { pieces: meshes.map(({ points }): ContactPiece => ({ kind: 'hull', corners: points })), meshes: [] };
  if (!body) return { pieces: [], meshes: [] };
  const { shape, thickness } = body;
  if (shape.kind === 'disc') {
    const [x, y] = shape.centre;
    return {
      pieces: [{ kind: 'cylinder', at: [x, y, 0], axis: 2, half: thickness / 2, radius: shape.radius }],
      meshes: [],
    };
  }
  if (shape.kind === 'plate' && as === 'exact') {
    if (shape.holes.length > 0) return { pieces: [], meshes: [prismOf(body)] };
    return { pieces: convexPieces(shape.outline).map((piece) => slab(piece, thickness)), meshes: [] };
  }
  const outline: Point2[] = shape.kind === 'plate' ? convexHull(shape.outline) : hullOfPrism(prismOf(body));
  return { pieces: [slab(outline, thickness)], meshes: [] };
}

/** Outline of a prism, seen along z. */
function hullOfPrism({ points }: Mesh): Point2[] {
  const flat: Point2[] = [];
  for (let i = 0; i < points.length; i += 3) flat.push([points[i]!, points[i + 1]!]);
  return convexHull(flat);
}
