/** A point in the plane, m. */
export type Point2 = readonly [x: number, y: number];

/**
 * Area (m²), centre of area (m), and second moments of area about that centre (m⁴) as an inertia tensor has them:
 * ∫y², ∫x², −∫xy, and the polar one, the sum of the first two.
 */
export interface AreaProperties {
  area: number;
  centre: [number, number];
  xx: number;
  yy: number;
  xy: number;
  polar: number;
}

/**
 * Moments of inertia about a centre, along the axes: products as an inertia tensor has them, −∫xy dm. Of a mass in kg·m²,
 * of a volume alone in m⁵.
 */
export interface Tensor {
  xx: number;
  yy: number;
  zz: number;
  xy: number;
  xz: number;
  yz: number;
}

const NOTHING = { area: 0, xx: 0, yy: 0, xy: 0, polar: 0 };

/** Joins parts by the parallel-axis theorem; a part with negative area is a hole. */
export function joinAreas(parts: readonly AreaProperties[]): AreaProperties {
  const area = parts.reduce((sum, part) => sum + part.area, 0);
  if (area === 0) return { ...NOTHING, centre: [0, 0] };
  const x = parts.reduce((sum, part) => sum + part.area * part.centre[0], 0) / area;
  const y = parts.reduce((sum, part) => sum + part.area * part.centre[1], 0) / area;
  const about = (own: (part: AreaProperties) => number, by: (dx: number, dy: number) => number) =>
    parts.reduce((sum, part) => sum + own(part) + part.area * by(part.centre[0] - x, part.centre[1] - y), 0);
  return {
    area,
    centre: [x, y],
    xx: about(
      (part) => part.xx,
      (_, dy) => dy ** 2,
    ),
    yy: about(
      (part) => part.yy,
      (dx) => dx ** 2,
    ),
    xy: about(
      (part) => part.xy,
      (dx, dy) => -dx * dy,
    ),
    polar: about(
      (part) => part.polar,
      (dx, dy) => dx ** 2 + dy ** 2,
    ),
  };
}

/**
 * Properties of a polygon that does not cross itself, by Green's theorem; the sense of its corners does not matter.
 * Source: textbook formulas for the area, first and second moments of a polygon.
 */
export function polygonArea(corners: readonly Point2[]): AreaProperties {
  const [ox, oy] = corners[0] ?? [0, 0];
  let twice = 0;
  let sx = 0;
  let sy = 0;
  let second = 0;
  let [xx, yy, xy] = [0, 0, 0];
  corners.forEach((corner, i) => {
    const next = corners[(i + 1) % corners.length]!;
    const ax = corner[0] - ox;
    const ay = corner[1] - oy;
    const bx = next[0] - ox;
    const by = next[1] - oy;
    const cross = ax * by - bx * ay;
    twice += cross;
    sx += (ax + bx) * cross;
    sy += (ay + by) * cross;
    second += cross * (ax * ax + ax * bx + bx * bx + ay * ay + ay * by + by * by);
    xx += cross * (ay * ay + ay * by + by * by);
    yy += cross * (ax * ax + ax * bx + bx * bx);
    xy += cross * (2 * ax * ay + ax * by + bx * ay + 2 * bx * by);
  });
  if (twice === 0) return { ...NOTHING, centre: [ox, oy] };
  const area = twice / 2;
  const cx = sx / (3 * twice);
  const cy = sy / (3 * twice);
  const polar = second / 12 - area * (cx * cx + cy * cy);
  const sense = Math.sign(area);
  return {
    area: Math.abs(area),
    centre: [cx + ox, cy + oy],
    xx: sense * (xx / 12 - area * cy * cy),
    yy: sense * (yy / 12 - area * cx * cx),
    xy: -sense * (xy / 24 - area * cx * cy),
    polar: Math.abs(polar),
  };
}

/** Properties of a plate: an outline with holes cut out of it. */
export function plateArea(outline: readonly Point2[], holes: readonly (readonly Point2[])[]): AreaProperties {
  return joinAreas([
    polygonArea(outline),
    ...holes.map((hole) => {
      const { area, centre, xx, yy, xy, polar } = polygonArea(hole);
      return { area: -area, centre, xx: -xx, yy: -yy, xy: -xy, polar: -polar };
    }),
  ]);
}

/** Properties of a full disc. */
export function discArea(centre: Point2, radius: number): AreaProperties {
  const polar = (Math.PI * radius ** 4) / 2;
  return { area: Math.PI * radius ** 2, centre: [...centre], xx: polar / 2, yy: polar / 2, xy: 0, polar };
}

/** Corners of the convex hull, anticlockwise; Andrew's monotone chain. */
export function convexHull(points: readonly Point2[]): Point2[] {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  if (sorted.length < 3) return sorted;
  const half = (list: readonly Point2[]) => {
    const chain: Point2[] = [];
    for (const p of list) {
      while (chain.length >= 2) {
        const a = chain[chain.length - 2]!;
        const b = chain[chain.length - 1]!;
        if ((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) > 0) break;
        chain.pop();
      }
      chain.push(p);
    }
    chain.pop();
    return chain;
  };
  return [...half(sorted), ...half(sorted.reverse())];
}

/**
 * Properties of a bar: everything within `radius` of the hull of its points (for two points a slot-shaped bar).
 * Summed from hull, edge strips and corner sectors, each in closed form.
 */
export function barArea(points: readonly Point2[], radius: number): AreaProperties {
  const hull = convexHull(points);
  if (hull.length < 2) return discArea(hull[0] ?? [0, 0], radius);
  const parts: AreaProperties[] = hull.length > 2 ? [polygonArea(hull)] : [];
  hull.forEach((corner, i) => {
    const next = hull[(i + 1) % hull.length]!;
    const before = hull[(i + hull.length - 1) % hull.length]!;
    const length = Math.hypot(next[0] - corner[0], next[1] - corner[1]);
    // Outside of an anticlockwise hull lies to the right of its edges.
    const nx = (next[1] - corner[1]) / length;
    const ny = -(next[0] - corner[0]) / length;
    const width = radius;
    const [along, across] = [(length ** 3 * width) / 12, (length * width ** 3) / 12];
    parts.push({
      area: length * width,
      centre: [(corner[0] + next[0]) / 2 + (nx * width) / 2, (corner[1] + next[1]) / 2 + (ny * width) / 2],
      ...turnedMoments(along, across, -ny, nx),
      polar: (length * width * (length ** 2 + width ** 2)) / 12,
    });
    const inDirection = Math.atan2(corner[1] - before[1], corner[0] - before[0]);
    const outDirection = Math.atan2(next[1] - corner[1], next[0] - corner[0]);
    let turn = outDirection - inDirection;
    while (turn <= 0) turn += 2 * Math.PI;
    while (turn > Math.PI + 1e-9) turn -= 2 * Math.PI;
    if (turn > 0) parts.push(sector(corner, radius, inDirection - Math.PI / 2, turn));
  });
  return joinAreas(parts);
}

/** Second moments of what reaches out ∫s² along a direction, ∫t² across it, and is even on both sides. */
function turnedMoments(along: number, across: number, c: number, s: number) {
  return {
    xx: along * s * s + across * c * c,
    yy: along * c * c + across * s * s,
    xy: -(along - across) * s * c,
  };
}

/** Properties of a sector of a disc from direction `start` over `angle`. */
function sector(apex: Point2, radius: number, start: number, angle: number): AreaProperties {
  const area = (radius ** 2 * angle) / 2;
  const distance = (4 * radius * Math.sin(angle / 2)) / (3 * angle);
  const middle = start + angle / 2;
  return {
    area,
    centre: [apex[0] + distance * Math.cos(middle), apex[1] + distance * Math.sin(middle)],
    // About the apex ∫s² and ∫t² are r⁴ (φ ± sin φ) / 8; the first is taken to the centre of area.
    ...turnedMoments(
      (radius ** 4 * (angle + Math.sin(angle))) / 8 - area * distance ** 2,
      (radius ** 4 * (angle - Math.sin(angle))) / 8,
      Math.cos(middle),
      Math.sin(middle),
    ),
    polar: (radius ** 4 * angle) / 4 - area * distance ** 2,
  };
}
