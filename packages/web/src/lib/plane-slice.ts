import { acrossPlanes, axisOf, convexHull, dot, planeOf, planeOfPath, plus, spaceOf, standingOf, turned, turnedBack, type Frame, type Mechanism, type Point2, type Pose } from '@yoke/core'; // prettier-ignore

/** What of a mechanism lies in one plane, and where its bodies stand in the list of all. */
export interface PlaneSlice {
  mechanism: Mechanism;
  /** Places of its bodies among those of the whole. */
  bodies: readonly number[];
}

/** The part of a mechanism that is drawn in one plane; all of it where there is but one. */
export function sliceOf(m: Mechanism, plane: string): PlaneSlice {
  if (m.planes.length < 2) return { mechanism: m, bodies: m.bodies.map((_, i) => i) };
  const bodies = m.bodies.flatMap((body, i) => (body.plane === plane ? [i] : []));
  const within = new Set(bodies.map((i) => m.bodies[i]!.id));
  const joints = m.joints.filter((joint) =>
    acrossPlanes(joint) && 'a' in joint
      ? planeOf(m, joint.a) === plane && planeOf(m, joint.b) === plane
      : planeOf(m, joint.b) === plane,
  );
  const known = new Set(joints.map(({ id }) => id));
  const mechanism: Mechanism = {
    ...m,
    ground: m.ground.filter((point) => point.plane === plane),
    bodies: bodies.map((i) => m.bodies[i]!),
    paths: m.paths.filter((path) => planeOfPath(m, path) === plane),
    joints,
    couplings: m.couplings.filter(({ first, second }) => known.has(first) && known.has(second)),
    elements: m.elements.filter((element) => {
      if ('a' in element) return planeOf(m, element.a) === plane && planeOf(m, element.b) === plane;
      if ('joint' in element) return known.has(element.joint);
      return within.has('at' in element ? element.at.body : element.body);
    }),
    traces: m.traces.filter(({ body }) => within.has(body)),
  };
  return { mechanism, bodies };
}

/** A place in the world as it lies in a plane, seen along its normal: m. */
export function intoPlane({ at, axes }: Frame, [x, y, z]: readonly [number, number, number]): [number, number] {
  const [u, v] = turnedBack(axes, [x - at[0], y - at[1], z - at[2]]);
  return [u, v];
}

/** How a body of another plane looks in this one: its silhouette as an SVG path in m, and its points there. */
export interface Projected {
  id: string;
  silhouette: string;
  points: [number, number][];
}

/** Corners to a round one. */
const ROUND = Array.from({ length: 16 }, (_, i) => (2 * Math.PI * i) / 16);

/** Corners of a body in its own frame, of both its faces; what is round in many. */
function cornersOf(body: Mechanism['bodies'][number]): [number, number, number][] {
  const { shape, thickness } = body;
  const at: readonly Point2[] = shape.kind === 'plate' ? shape.outline : shape.kind === 'disc' ? [shape.centre] : body.points.map((point) => point.at); // prettier-ignore
  const radius = shape.kind === 'plate' ? 0 : shape.kind === 'disc' ? shape.radius : shape.width / 2;
  const flat = at.flatMap(([x, y]) =>
    radius > 0
      ? ROUND.map((angle) => [x + radius * Math.cos(angle), y + radius * Math.sin(angle)] as const)
      : [[x, y] as const],
  );
  return [-thickness / 2, thickness / 2].flatMap((z) => flat.map(([x, y]): [number, number, number] => [x, y, z]));
}

/** What is drawn as a line from one plane to another. */
const LINES = new Set<string>(['cylinder', 'spring', 'damper']);

/** Everything beside a plane as it looks there, from behind to the front. */
export function beside(m: Mechanism, poses: readonly Pose[], plane: string): Projected[] {
  if (m.planes.length < 2 && !m.joints.some(({ kind }) => kind === 'rod')) return [];
  const standing = standingOf(m, poses);
  const frame = standing.plane(plane);
  const n = axisOf(frame.axes, 2);
  /** Rods, and what else goes from one plane to another, as lines: nothing is seen of them but their way. */
  const lines = [...m.joints, ...m.elements].flatMap((thing) => {
    if (!('a' in thing) || !('b' in thing)) return [];
    const isRod = thing.kind === 'rod';
    if (!isRod && (!LINES.has(thing.kind) || planeOf(m, thing.a) === planeOf(m, thing.b))) return [];
    const ends = [thing.a, thing.b].map((place) => spaceOf(m, place, standing));
    const [a, b] = ends.map((at) => intoPlane(frame, at)) as [[number, number], [number, number]];
    return [{ id: thing.id, depth: dot(n, ends[1]!), silhouette: `M${a.join(' ')}L${b.join(' ')}`, points: [a, b] }];
  });
  return [
    ...lines,
    ...m.bodies.flatMap((body) => {
      if (body.plane === plane) return [];
      const own = standing.body(body.id);
      const put = (at: readonly [number, number, number]) => intoPlane(frame, plus(own.at, turned(own.axes, at)));
      const hull = convexHull(cornersOf(body).map(put));
      const silhouette = `M${hull.map(([x, y]) => `${x} ${y}`).join('L')}Z`;
      const points = body.points.map(({ at: [x, y] }) => put([x, y, 0]));
      return [{ id: body.id, depth: dot(n, own.at), silhouette, points }];
    }),
  ].sort((a, b) => a.depth - b.depth);
}

/** A mechanism as it is seen from the front: what is drawn in the front plane, and everything else behind it. */
export function fromFront(m: Mechanism) {
  const plane = m.planes[0]!.id;
  const { mechanism, bodies } = sliceOf(m, plane);
  return {
    mechanism,
    /** Poses of its bodies among those of all. */
    pick: (all: readonly Pose[]): Pose[] => bodies.flatMap((i) => all[i] ?? []),
    beside: (all: readonly Pose[]): Projected[] => (all.length === m.bodies.length ? beside(m, all, plane) : []),
  };
}
