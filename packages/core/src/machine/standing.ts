import { aboutZ, plus, rotationOf, timesRotation, turned, UNTURNED, type Rotation } from '../geometry';
import { GROUND, type Body, type Mechanism, type Place } from './mechanism';

/** How something stands in space: its origin in the world, m, and its axes. */
export interface Frame {
  at: [number, number, number];
  axes: Rotation;
}

type Drawn = Pick<Mechanism, 'planes' | 'bodies' | 'ground'>;

/** Where bodies stand in their planes: m and rad. */
type PoseInPlane = Body['pose'];

/** How all planes and bodies of a mechanism stand in the world. */
export interface Standing {
  plane(id: string): Frame;
  /** The middle of a body, at the origin of its frame. */
  body(id: string): Frame;
}

const WORLD: Frame = { at: [0, 0, 0], axes: UNTURNED };

/**
 * How planes and bodies stand in the world, each worked out when it is asked for.
 * @param poses of the bodies in their planes, in their order; as they are drawn where none are given
 */
export function standingOf(mechanism: Drawn, poses?: readonly (PoseInPlane | undefined)[]): Standing {
  const planes = new Map<string, Frame>();
  const bodies = new Map<string, Frame>();
  const found: Standing = {
    plane(id) {
      const known = planes.get(id);
      if (known) return known;
      const plane = mechanism.planes.find((p) => p.id === id);
      if (!plane) return WORLD;
      const carrier = plane.on === GROUND ? WORLD : found.body(plane.on);
      const frame: Frame = {
        at: plus(carrier.at, turned(carrier.axes, plane.at)),
        axes: timesRotation(carrier.axes, rotationOf(plane.turn)),
      };
      planes.set(id, frame);
      return frame;
    },
    body(id) {
      const known = bodies.get(id);
      if (known) return known;
      const i = mechanism.bodies.findIndex((body) => body.id === id);
      const body = mechanism.bodies[i];
      if (!body) return WORLD;
      const { x, y, angle } = poses?.[i] ?? body.pose;
      const { at, axes } = found.plane(body.plane);
      const frame: Frame = {
        at: plus(at, turned(axes, [x, y, body.level])),
        axes: timesRotation(axes, aboutZ(angle)),
      };
      bodies.set(id, frame);
      return frame;
    },
  };
  return found;
}

/** How a plane stands in the world as it is drawn. */
export const planeFrame = (mechanism: Drawn, id: string): Frame => standingOf(mechanism).plane(id);

/**
 * Where a point of a body, or of the ground, stands in the world, m.
 * @param standing of the mechanism; as it is drawn where none is given
 */
export function spaceOf(
  mechanism: Drawn,
  { body, point }: Place,
  standing: Standing = standingOf(mechanism),
): [number, number, number] {
  if (body === GROUND) {
    const own = mechanism.ground.find(({ id }) => id === point)!;
    const { at, axes } = standing.plane(own.plane);
    return plus(at, turned(axes, [...own.at, own.height ?? 0]));
  }
  const own = mechanism.bodies.find(({ id }) => id === body)!.points.find(({ id }) => id === point)!;
  const { at, axes } = standing.body(body);
  return plus(at, turned(axes, [...own.at, own.height ?? 0]));
}
