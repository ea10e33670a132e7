import { z } from 'zod';
import { field } from './field';
import { coordinate, id, name, type Say } from './parts';
import { GROUND } from './place';
import { refTo } from './refer';

/** A place in space, m. */
export const point3 = z.tuple([coordinate, coordinate, coordinate]).meta({ description: 'x, y and z in m' });
const share = z.number().min(-1.001).max(1.001);
/** A unit quaternion; read as its direction, so that rounding in files does no harm. */
const quaternion = z
  .tuple([share, share, share, share])
  .meta({ description: 'Unit quaternion w, x, y, z: turns from the axes of the plane to those of its carrier' });

/** A plane in which a mechanism is drawn and moves. */
export const planeSchema = z.strictObject({
  id,
  name,
  on: field(
    refTo('body', { ground: true, whenGone: 'goes', description: 'Body that carries it, or “ground”' }),
    'Stands on',
  ),
  at: point3.meta({
    description: 'Origin in the frame of its carrier, m; on a body z counts from the middle of the body',
  }),
  turn: quaternion,
});
export type Plane = z.infer<typeof planeSchema>;
export type Quaternion = Plane['turn'];

/** Turns nothing. */
export const NO_TURN: Quaternion = [1, 0, 0, 0];
/** The plane that every machine has, its first: x to the right, y up, seen from the front. */
export const FRONT = 'front';
export const frontPlane = (): Plane => ({ id: FRONT, name: 'Front', on: GROUND, at: [0, 0, 0], turn: [...NO_TURN] });

interface Standing {
  planes: readonly Plane[];
  bodies: readonly { id: string; name: string; plane: string }[];
}

/** Planes from one to the ground, itself first; ends where one stands on what hangs on it. */
export function planesBelow({ planes, bodies }: Standing, from: Plane): Plane[] {
  const chain: Plane[] = [];
  for (let at: Plane | undefined = from; at && !chain.includes(at);) {
    chain.push(at);
    const carrier = bodies.find((body) => body.id === at!.on);
    at = carrier && planes.find((plane) => plane.id === carrier.plane);
  }
  return chain;
}

/** Says what is wrong with the planes of a mechanism: the first is the world’s, none stands on what hangs on it. */
export function checkPlanes(m: Standing, say: Say): void {
  const [first] = m.planes;
  const isWorld =
    first !== undefined &&
    first.on === GROUND &&
    first.at.every((part) => part === 0) &&
    first.turn.every((part, i) => part === NO_TURN[i]);
  if (!isWorld)
    say(
      ['planes', 0],
      'must be the plane of the world: on the ground, at [0, 0, 0], turned by [1, 0, 0, 0]; add planes behind it',
    );
  m.planes.forEach((plane, i) => {
    if (Math.abs(Math.hypot(...plane.turn) - 1) > 1e-3)
      say(['planes', i, 'turn'], 'must be a unit quaternion: its squares must add up to 1');
    const chain = planesBelow(m, plane);
    const last = m.bodies.find(({ id: own }) => own === chain.at(-1)!.on);
    if (!last) return;
    // The chain came back to one of its own planes.
    const names = chain.map(({ on }) => `“${m.bodies.find(({ id: own }) => own === on)?.name ?? on}”`);
    if (last.plane === plane.id)
      say(
        ['planes', i, 'on'],
        chain.length === 1
          ? `puts “${plane.name}” on ${names[0]}, which is drawn in it: choose the ground or a body of another plane`
          : `puts “${plane.name}” on ${names[0]}, which itself hangs on it (through ${names.slice(1).join(', ')}): choose the ground or a body that does not`,
      );
  });
}
