import type { ColliderDesc } from '@dimforge/rapier2d-compat';
import type { Point2, RoundShape } from '../geometry';
import type { Loose } from '../machine';
import { engine } from './engine';
import { pairOf } from './pairs';

/** Coefficients that a collider carries, and the groups that it meets with them. */
export interface ContactFace {
  filter: number;
  friction: number;
  restitution: number;
}

/** By material: the group it is in, and its sets of colliders. */
export type ContactGroups = Map<string, { membership: number; faces: ContactFace[] }>;

/**
 * Every pair of materials has its own coefficients, but colliders carry one value each, and of two that meet the larger
 * one counts. So one side of each pair says the value, with a set of colliders for each different one, and the other
 * keeps below it: the side whose parts have fewer pieces.
 * @param pieces number of pieces of the parts of a material
 */
export function contactGroups(loose: Loose, scale: number, pieces: (material: string) => number): ContactGroups {
  const { materials, kinds, surfaces, belts, platforms, solids, grippers } = loose;
  const pads = grippers.flatMap(({ fingers }) => (fingers ? [fingers] : []));
  const ofParts = new Set(kinds.map(({ material }) => material));
  const ofOthers = new Set([...surfaces, ...belts, ...platforms, ...solids, ...pads].map(({ material }) => material));
  // What is led meets only parts; a material that nothing has needs no face.
  const meet = (a: string, b: string) =>
    (ofParts.has(a) && (ofParts.has(b) || ofOthers.has(b))) || (ofParts.has(b) && ofOthers.has(a));
  const most = materials.map(({ id }, i) => ({ i, count: pieces(id) })).sort((a, b) => b.count - a.count || a.i - b.i);
  const place = new Map(most.map(({ i }, at) => [i, at]));
  const face = (faces: ContactFace[], friction: number, restitution: number) => {
    const known = faces.find((f) => f.friction === friction && f.restitution === restitution);
    if (known) return known;
    const made = { filter: 0, friction, restitution };
    faces.push(made);
    return made;
  };
  return new Map(
    materials.map(({ id }, i) => {
      const faces: ContactFace[] = [];
      const pairs = materials.flatMap((other, j) =>
        meet(id, other.id)
          ? [{ j, says: place.get(j)! <= place.get(i)!, ...scaled(pairOf(loose, id, other.id), scale) }]
          : [],
      );
      for (const { j, says, friction, restitution } of pairs)
        if (says) face(faces, friction, restitution).filter |= 1 << j;
      for (const { j, says, friction, restitution } of pairs) {
        if (says) continue;
        const below = faces.find((f) => f.friction <= friction && f.restitution <= restitution) ?? face(faces, 0, 0);
        below.filter |= 1 << j;
      }
      return [id, { membership: 1 << i, faces }];
    }),
  );
}

const scaled = <P extends { friction: number }>(pair: P, scale: number): P => ({
  ...pair,
  friction: pair.friction * scale,
});

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
