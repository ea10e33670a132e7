import {
  convexHull,
  GROUND,
  pathHandles,
  type Body,
  type Mechanism,
  type Place,
  type Point2,
  type Pose,
} from '@yoke/core';

/** What of the world a drawing shows: its middle in m, and pixels to the metre. */
export interface View {
  x: number;
  y: number;
  scale: number;
}

/** Turns places of the world into pixels of a drawing of this size, and back. */
export interface Projection {
  x(x: number): number;
  y(y: number): number;
  world(px: number, py: number): [number, number];
  scale: number;
  /** SVG transform of a group drawn in m, y upwards. */
  transform: string;
}

export function project(view: View, width: number, height: number): Projection {
  const ox = width / 2 - view.x * view.scale;
  const oy = height / 2 + view.y * view.scale;
  return {
    x: (x) => ox + x * view.scale,
    y: (y) => oy - y * view.scale,
    world: (px, py) => [(px - ox) / view.scale, (oy - py) / view.scale],
    scale: view.scale,
    transform: `translate(${ox} ${oy}) scale(${view.scale} ${-view.scale})`,
  };
}

/** Where a point is in the world for these poses of the bodies. */
export function placeIn(mechanism: Mechanism, poses: readonly Pose[], { body, point }: Place): [number, number] | null {
  if (body === GROUND) {
    const found = mechanism.ground.find(({ id }) => id === point);
    return found ? [...found.at] : null;
  }
  const i = mechanism.bodies.findIndex(({ id }) => id === body);
  const at = mechanism.bodies[i]?.points.find(({ id }) => id === point)?.at;
  const pose = poses[i];
  if (!at || !pose) return null;
  return intoWorld(pose, at);
}

/** A place of a body's frame in the world. */
export function intoWorld({ x, y, angle }: Pose, [px, py]: Point2): [number, number] {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  return [x + c * px - s * py, y + s * px + c * py];
}

const closedLine = (points: readonly Point2[]) => `M${points.map(([x, y]) => `${x} ${y}`).join('L')}Z`;

/** SVG path of a body in its own frame, m. */
export function bodyOutline(body: Pick<Body, 'shape' | 'points'>): string {
  const { shape } = body;
  if (shape.kind === 'disc') return circlePath(shape.centre, shape.radius);
  if (shape.kind === 'plate') return [shape.outline, ...shape.holes].map(closedLine).join('');
  const hull = convexHull(body.points.map(({ at }): Point2 => at));
  const r = shape.width / 2;
  if (hull.length < 2) return circlePath(hull[0] ?? [0, 0], r);
  return `${hull
    .map((corner, i) => {
      const next = hull[(i + 1) % hull.length]!;
      const length = Math.hypot(next[0] - corner[0], next[1] - corner[1]);
      const nx = ((next[1] - corner[1]) / length) * r;
      const ny = (-(next[0] - corner[0]) / length) * r;
      const start = `${corner[0] + nx} ${corner[1] + ny}`;
      return `${i === 0 ? 'M' : `A${r} ${r} 0 0 1 `}${start}L${next[0] + nx} ${next[1] + ny}`;
    })
    .join('')}A${r} ${r} 0 0 1 ${firstStart(hull, r)}Z`;
}

function firstStart(hull: readonly Point2[], r: number): string {
  const [a, b] = [hull[0]!, hull[1]!];
  const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
  return `${a[0] + ((b[1] - a[1]) / length) * r} ${a[1] - ((b[0] - a[0]) / length) * r}`;
}

function circlePath([x, y]: Point2, r: number): string {
  return `M${x - r} ${y}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0Z`;
}

/** SVG polyline through places, in pixels. */
export function polyline(points: readonly (readonly [number, number])[], { x, y }: Projection): string {
  return points.map((p, i) => `${i === 0 ? 'M' : 'L'}${x(p[0]).toFixed(1)} ${y(p[1]).toFixed(1)}`).join('');
}

/** A spring as a zigzag between two places in pixels. */
export function zigzag([x1, y1]: Point2, [x2, y2]: Point2, turns = 8): string {
  const length = Math.hypot(x2 - x1, y2 - y1) || 1;
  const [ux, uy] = [(x2 - x1) / length, (y2 - y1) / length];
  const lead = Math.min(10, length * 0.2);
  const points = [`${x1} ${y1}`];
  for (let i = 0; i <= turns; i++) {
    const along = lead + ((length - 2 * lead) * i) / turns;
    const side = i === 0 || i === turns ? 0 : i % 2 === 0 ? 6 : -6;
    points.push(`${x1 + ux * along - uy * side} ${y1 + uy * along + ux * side}`);
  }
  points.push(`${x2} ${y2}`);
  return `M${points.join('L')}`;
}

/** Everything that shall be seen, as a box in the world. */
export function extent(
  mechanism: Mechanism,
  poses: readonly Pose[],
  more: readonly Point2[] = [],
): { low: Point2; high: Point2 } | null {
  const points: Point2[] = [...mechanism.ground.map(({ at }): Point2 => at), ...more];
  mechanism.bodies.forEach((body, i) => {
    const pose = poses[i];
    if (!pose) return;
    const own: Point2[] =
      body.shape.kind === 'plate'
        ? body.shape.outline
        : body.shape.kind === 'disc'
          ? discCorners(body.shape.centre, body.shape.radius)
          : body.points.map(({ at }): Point2 => at);
    for (const at of own) points.push(intoWorld(pose, at));
  });
  for (const path of mechanism.paths) {
    const pose = poses[mechanism.bodies.findIndex(({ id }) => id === path.body)];
    const { shape } = path;
    const own =
      shape.kind === 'circle' ? discCorners(shape.centre, shape.radius) : pathHandles(shape).map(({ at }) => at);
    points.push(...(pose ? own.map((at) => intoWorld(pose, at)) : own));
  }
  if (points.length === 0) return null;
  const xs = points.map(([x]) => x);
  const ys = points.map(([, y]) => y);
  return { low: [Math.min(...xs), Math.min(...ys)], high: [Math.max(...xs), Math.max(...ys)] };
}

const discCorners = ([x, y]: Point2, r: number): Point2[] => [
  [x - r, y - r],
  [x + r, y + r],
];

/** The view that shows a box with some air around it. */
export function viewOf(box: { low: Point2; high: Point2 } | null, width: number, height: number): View {
  if (!box) return { x: 0.1, y: 0.05, scale: Math.max(1, Math.min(width, height)) / 0.4 };
  const wide = Math.max(box.high[0] - box.low[0], 0.02);
  const tall = Math.max(box.high[1] - box.low[1], 0.02);
  return {
    x: (box.low[0] + box.high[0]) / 2,
    y: (box.low[1] + box.high[1]) / 2,
    scale: Math.max(
      1,
      Math.min((width - Math.min(110, width * 0.2)) / wide, (height - Math.min(130, height * 0.24)) / tall),
    ),
  };
}
