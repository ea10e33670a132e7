import { aboutZ, plus, rotationOf, timesRotation, turned, UNTURNED, type Rotation } from '../geometry';
import { GROUND, type Body, type Mechanism, type Place } from './mechanism';

/** How something stands in space: its origin in the world, m, and its axes. */
export interface Frame {
  at: [number, number, number];
  axes: Rotation;
}

type Drawn = Pick<Mechanism, 'planes' | 'bodies' | 'ground'>;

/** How a plane stands in the world as it is drawn. */
export function planeFrame(mechanism: Drawn, id: string): Frame {
  const plane = mechanism.planes.find((p) => p.id === id);
  if (!plane) return { at: [0, 0, 0], axes: UNTURNED };
  const own = rotationOf(plane.turn);
  if (plane.on === GROUND) return { at: [...plane.at], axes: own };
  const carrier = bodyFrame(
    mechanism,
    mechanism.bodies.find((body) => body.id === plane.on)!,
  );
  return { at: plus(carrier.at, turned(carrier.axes, plane.at)), axes: timesRotation(carrier.axes, own) };
}

/** How a body stands in the world as it is drawn: the middle of it, at the origin of its frame. */
export function bodyFrame(mechanism: Drawn, { plane, pose, level }: Body): Frame {
  const { at, axes } = planeFrame(mechanism, plane);
  return {
    at: plus(at, turned(axes, [pose.x, pose.y, level])),
    axes: timesRotation(axes, aboutZ(pose.angle)),
  };
}

/** Where a point of a body, or of the ground, stands in the world as it is drawn, m. */
export function spaceOf(mechanism: Drawn, { body, point }: Place): [number, number, number] {
  if (body === GROUND) {
    const own = mechanism.ground.find(({ id }) => id === point)!;
    const { at, axes } = planeFrame(mechanism, own.plane);
    return plus(at, turned(axes, [...own.at, own.height ?? 0]));
  }
  const carrier = mechanism.bodies.find(({ id }) => id === body)!;
  const own = carrier.points.find(({ id }) => id === point)!;
  const { at, axes } = bodyFrame(mechanism, carrier);
  return plus(at, turned(axes, [...own.at, own.height ?? 0]));
}
