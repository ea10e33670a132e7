import {
  BodyFrames,
  carriedBy,
  carriedPoint,
  GROUND,
  placeIn,
  STILL3,
  type Machine,
  type Place3,
  type Pose,
} from '@yoke/core';
import { intoWorld } from './board-view';

/** What may stand on a body, or in a plane at a height. */
type Stands = Parameters<typeof carriedBy>[1];

/** Where things that handle parts, and sensors, stand in the world as the machine stands. */
export interface LoosePlaces {
  /** Frame in which something is given. */
  frame(thing: Stands): Place3;
  /** A point of it in the world, m. */
  spot(thing: Stands, at: readonly [number, number], z?: number): [number, number, number];
}

/** @param poses of all bodies in their planes, in their order */
export function loosePlaces({ mechanism, loose }: Machine, poses: readonly Pose[]): LoosePlaces {
  const table = new Map(mechanism.bodies.map(({ id, pose }, i) => [id, poses[i] ?? pose]));
  if (!loose.space) {
    const poseOf = ({ body = GROUND }: Stands) => table.get(body) ?? { x: 0, y: 0, angle: 0 };
    return {
      frame(thing) {
        const { x, y, angle } = poseOf(thing);
        return { ...STILL3, x, y, qw: Math.cos(angle / 2), qz: Math.sin(angle / 2) };
      },
      spot: (thing, at, z = 0) => [...intoWorld(poseOf(thing), at), z],
    };
  }
  const frames = new BodyFrames(mechanism);
  frames.take(table);
  const frame = (thing: Stands) => {
    const { body, at } = carriedBy(mechanism, thing);
    return placeIn(frames.of(body), at);
  };
  return { frame, spot: (thing, [x, y], z = 0) => carriedPoint(frame(thing), [x, y, z]) };
}
