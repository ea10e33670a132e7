import type { Collider, ColliderDesc, RigidBody, World } from '@dimforge/rapier3d-compat';
import { carriedPoint, STILL3, type Place3 } from '../../geometry';
import type { Mesh } from '../../solid';
import type { ContactGroups } from '../colliders';
import { spaceEngine } from './engine';
import type { ContactPiece } from './pieces';

/** A body of the physics library with what it touches others by. */
export interface SpaceBody {
  body: RigidBody;
  colliders: Collider[];
}

/** Turns the y of the library’s long shapes into an axis of the frame. */
const ALONG = { 1: { x: 0, y: 0, z: 0, w: 1 }, 2: { x: Math.SQRT1_2, y: 0, z: 0, w: Math.SQRT1_2 } } as const;

/** How the library is told of a piece. */
export function pieceShape(piece: ContactPiece): () => ColliderDesc {
  const { ColliderDesc: C } = spaceEngine();
  if (piece.kind === 'hull') {
    const flat = Float32Array.from(piece.corners);
    return () => C.convexHull(flat)!;
  }
  const [x, y, z] = piece.at;
  if (piece.kind === 'box') {
    const [a, b, c] = piece.half;
    return () => C.cuboid(a, b, c).setTranslation(x, y, z);
  }
  if (piece.kind === 'ball') return () => C.ball(piece.radius).setTranslation(x, y, z);
  const { axis, half, radius, kind } = piece;
  return () =>
    (kind === 'capsule' ? C.capsule(half, radius) : C.cylinder(half, radius))
      .setTranslation(x, y, z)
      .setRotation(ALONG[axis]);
}

/** How the library is told of a skin that does not move by itself; what glides over it does not catch on inner edges. */
export function meshShape({ points, triangles }: Mesh): () => ColliderDesc {
  const { ColliderDesc: C, TriMeshFlags } = spaceEngine();
  const [corners, faces] = [Float32Array.from(points), Uint32Array.from(triangles)];
  return () => C.trimesh(corners, faces, TriMeshFlags.FIX_INTERNAL_EDGES);
}

/** Adds shapes of a material to a body, at a place in its frame: a set for each different pair of coefficients. */
export function addColliders(
  world: World,
  to: SpaceBody,
  shapes: readonly (() => ColliderDesc)[],
  group: { membership: number; faces: ContactGroups extends Map<string, { faces: infer F }> ? F : never } | undefined,
  at: Place3 = STILL3,
): void {
  if (!group) return;
  const RAPIER = spaceEngine();
  for (const make of shapes)
    for (const { filter, friction, restitution } of group.faces) {
      const desc = make();
      if (at !== STILL3) {
        const { x, y, z } = desc.translation;
        const [px, py, pz] = carriedPoint(at, [x, y, z]);
        const r = desc.rotation;
        const { qw, qx, qy, qz } = at;
        desc.setTranslation(px, py, pz).setRotation({
          w: qw * r.w - qx * r.x - qy * r.y - qz * r.z,
          x: qw * r.x + qx * r.w + qy * r.z - qz * r.y,
          y: qw * r.y - qx * r.z + qy * r.w + qz * r.x,
          z: qw * r.z + qx * r.y - qy * r.x + qz * r.w,
        });
      }
      desc
        .setDensity(0)
        .setFriction(friction)
        .setRestitution(restitution)
        .setFrictionCombineRule(RAPIER.CoefficientCombineRule.Max)
        .setRestitutionCombineRule(RAPIER.CoefficientCombineRule.Max)
        .setCollisionGroups(((group.membership << 16) | filter) >>> 0);
      to.colliders.push(world.createCollider(desc, to.body));
    }
}
