import type { ColliderDesc } from '@dimforge/rapier2d-compat';
import type { Point2, RoundShape } from '../geometry';
import type { Loose } from '../machine';
import { engine } from './engine';
import { pairOf } from './pairs';

/** By material: the group it is in, and for each different pair of coefficients the groups that are met with it. */
export type ContactGroups = Map<
  string,
  { membership: number; faces: { filter: number; friction: number; restitution: number }[] }
>;

/**
 * Every pair of materials has its own coefficients, but colliders carry one value each: so a part has one set of colliders
 * for each different value, which meets only those materials that have this value with its own.
 */
export function contactGroups(loose: Loose, scale: number): ContactGroups {
  const { materials, kinds, surfaces, belts, platforms, solids } = loose;
  const ofParts = new Set(kinds.map(({ material }) => material));
  const ofOthers = new Set([...surfaces, ...belts, ...platforms, ...solids].map(({ material }) => material));
  const result: ContactGroups = new Map();
  materials.forEach(({ id }, i) => {
    const faces = new Map<string, { filter: number; friction: number; restitution: number }>();
    materials.forEach((other, j) => {
      // What is led meets only parts; a material that nothing has needs no face.
      if (!(ofParts.has(other.id) || (ofParts.has(id) && ofOthers.has(other.id)))) return;
      const { friction, restitution } = pairOf(loose, id, other.id);
      const key = `${friction} ${restitution}`;
      const face = faces.get(key) ?? { filter: 0, friction: friction * scale, restitution };
      face.filter |= 1 << j;
      faces.set(key, face);
    });
    result.set(id, { membership: 1 << i, faces: [...faces.values()] });
  });
  return result;
}

/** Least angle at a corner of a polygon that the library accepts, as a sine; sharper ones are cut into triangles. */
const SHARPEST = 0.03;

/** How the library is told of a piece; very sharp polygons as triangles, which it takes in any form. */
export function colliderShapes({ corners, radius }: RoundShape): (() => ColliderDesc)[] {
  const { ColliderDesc: C } = engine();
  const [first, second] = corners;
  if (!first) return [];
  if (!second) return [() => C.ball(radius).setTranslation(first[0], first[1])];
  if (corners.length === 2) {
    const half = Math.hypot(second[0] - first[0], second[1] - first[1]) / 2;
    return [
      () =>
        C.capsule(half, radius)
          .setTranslation((first[0] + second[0]) / 2, (first[1] + second[1]) / 2)
          .setRotation(Math.atan2(second[1] - first[1], second[0] - first[0]) - Math.PI / 2),
    ];
  }
  const flat = Float32Array.from(corners.flat());
  const vector = ([x, y]: Point2) => ({ x, y });
  if (radius > 0) return [() => C.roundConvexHull(flat, radius)!];
  if (corners.length > 3 && sharpest(corners) > SHARPEST) return [() => C.convexPolyline(flat)!];
  return corners.slice(2).map((corner, i) => () => C.triangle(vector(first), vector(corners[i + 1]!), vector(corner)));
}

function sharpest(corners: readonly Point2[]): number {
  return Math.min(
    ...corners.map(([x, y], i) => {
      const [ax, ay] = corners[(i + corners.length - 1) % corners.length]!;
      const [bx, by] = corners[(i + 1) % corners.length]!;
      const cross = (x - ax) * (by - y) - (y - ay) * (bx - x);
      return Math.abs(cross) / (Math.hypot(x - ax, y - ay) * Math.hypot(bx - x, by - y));
    }),
  );
}
