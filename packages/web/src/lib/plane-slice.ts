import {
  acrossPlanes,
  planeOf,
  planeOfPath,
  standingOf,
  turnedBack,
  type Frame,
  type Mechanism,
  type Pose,
} from '@yoke/core';

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

/** How a body of another plane looks in this one: an SVG matrix from its frame, and its points there. */
export interface Projected {
  id: string;
  index: number;
  matrix: string;
  points: [number, number][];
}

/** Everything beside a plane as it looks there, from behind to the front. */
export function beside(m: Mechanism, poses: readonly Pose[], plane: string): Projected[] {
  if (m.planes.length < 2) return [];
  const standing = standingOf(m, poses);
  const frame = standing.plane(plane);
  return m.bodies
    .flatMap((body, index) => {
      if (body.plane === plane) return [];
      const own = standing.body(body.id);
      const origin = intoPlane(frame, own.at);
      const axis = (k: 0 | 1) => {
        const [u, v] = turnedBack(frame.axes, [own.axes[k]!, own.axes[3 + k]!, own.axes[6 + k]!]);
        return [u, v] as const;
      };
      const [e1, e2] = [axis(0), axis(1)];
      const depth = turnedBack(frame.axes, [own.at[0] - frame.at[0], own.at[1] - frame.at[1], own.at[2] - frame.at[2]])[2]; // prettier-ignore
      const points = body.points.map(({ at: [x, y] }): [number, number] => [origin[0] + e1[0] * x + e2[0] * y, origin[1] + e1[1] * x + e2[1] * y]); // prettier-ignore
      return [{ id: body.id, index, depth, matrix: `matrix(${[...e1, ...e2, ...origin].join(' ')})`, points }];
    })
    .sort((a, b) => a.depth - b.depth);
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
