import type { Mechanism } from '@yoke/core';
import {
  Color,
  DoubleSide,
  EdgesGeometry,
  Group,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  PlaneGeometry,
  Vector3,
} from 'three';

/** Planes beside the front as faint sheets about what is drawn in them. */
export function sheetsOf(mechanism: Mechanism, ink: string): Map<string, Group> {
  const sheets = new Map<string, Group>();
  if (mechanism.planes.length < 2) return sheets;
  for (const plane of mechanism.planes) {
    const own = mechanism.bodies.filter((body) => body.plane === plane.id);
    const points = [
      ...own.flatMap(({ pose, points: all }) => all.map(({ at }) => [pose.x + at[0], pose.y + at[1]] as const)),
      ...mechanism.ground.flatMap((point) => (point.plane === plane.id ? [point.at] : [])),
    ];
    if (points.length === 0) continue;
    const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
    const [left, right, low, high] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
    const room = 0.02 + 0.12 * Math.max(right - left, high - low);
    const [width, height] = [right - left + 2 * room, high - low + 2 * room];
    const face = new PlaneGeometry(width, height);
    const sheet = new Group();
    const colour = new Color(ink);
    const fill = new MeshBasicMaterial({ color: colour, transparent: true, opacity: 0.05, side: DoubleSide, depthWrite: false }); // prettier-ignore
    const rim = new LineBasicMaterial({ color: colour, transparent: true, opacity: 0.35 });
    sheet.add(new Mesh(face, fill), new LineSegments(new EdgesGeometry(face), rim));
    for (const part of sheet.children) part.position.set((left + right) / 2, (low + high) / 2, 0);
    sheet.matrixAutoUpdate = false;
    sheet.userData.corner = new Vector3(left - room, high + room, 0);
    sheets.set(plane.id, sheet);
  }
  return sheets;
}
