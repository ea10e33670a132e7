import { convexHull, type Body, type Point2 } from '@yoke/core';
import type { BufferGeometry } from 'three';
import { ExtrudeGeometry, Path, Shape } from 'three';

/** Corners to a full turn of what is round. */
const ROUND = 48;

/** Outline of a body in its own frame, m. */
function outlineOf({ shape, points }: Pick<Body, 'shape' | 'points'>): Shape {
  const outline = new Shape();
  if (shape.kind === 'disc') {
    outline.absarc(shape.centre[0], shape.centre[1], shape.radius, 0, 2 * Math.PI);
    return outline;
  }
  if (shape.kind === 'plate') {
    trace(outline, shape.outline);
    for (const hole of shape.holes) {
      const cut = new Path();
      trace(cut, hole);
      outline.holes.push(cut);
    }
    return outline;
  }
  // Everything within half the width of the hull of its points.
  const hull = convexHull(points.map(({ at }): Point2 => at));
  const r = shape.width / 2;
  if (hull.length < 2) {
    const [x, y] = hull[0] ?? [0, 0];
    outline.absarc(x, y, r, 0, 2 * Math.PI);
    return outline;
  }
  hull.forEach(([x, y], i) => {
    const before = hull[(i + hull.length - 1) % hull.length]!;
    const next = hull[(i + 1) % hull.length]!;
    const from = Math.atan2(y - before[1], x - before[0]) - Math.PI / 2;
    let to = Math.atan2(next[1] - y, next[0] - x) - Math.PI / 2;
    while (to < from) to += 2 * Math.PI;
    outline.absarc(x, y, r, from, to);
  });
  outline.closePath();
  return outline;
}

function trace(path: Path, corners: readonly Point2[]): void {
  corners.forEach(([x, y], i) => (i === 0 ? path.moveTo(x, y) : path.lineTo(x, y)));
  path.closePath();
}

/** A body as a solid: its outline as thick as it is, its middle at z = 0, m. */
export function solidOf(body: Pick<Body, 'shape' | 'points' | 'thickness'>): BufferGeometry {
  const solid = new ExtrudeGeometry(outlineOf(body), {
    depth: body.thickness,
    bevelEnabled: false,
    curveSegments: ROUND / 2,
  });
  solid.translate(0, 0, -body.thickness / 2);
  return solid;
}
