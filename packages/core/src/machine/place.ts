import { z } from 'zod';
import { field } from './field';
import { coordinate, id, point } from './parts';
import { refers, refTo } from './refer';

/** Identifier of what does not move; points of the ground belong to it. */
export const GROUND = 'ground';

export const place = z
  .strictObject({ body: id, point: id })
  .meta({ description: 'A point of a body, or of the ground (body “ground”)' })
  .register(refers, { to: 'place', whenGone: 'goes' });
/** The two ends of what stands between bodies. */
export const pair = { a: place, b: place };
export type Place = z.infer<typeof place>;
/** How far a point lies over what it belongs to, m. */
const height = coordinate.optional();
export const namedPoint = z.strictObject({
  id,
  at: point,
  height: height.meta({ description: 'Over the middle of the body, m; left out it is 0' }),
});
/** A point of the ground: fixed in a plane, and moving with what that stands on. */
export const groundPointSchema = z.strictObject({
  id,
  plane: refTo('plane', { description: 'Plane that it belongs to', whenGone: 'goes' }),
  at: point,
  height: height.meta({ description: 'Over the plane, m; left out it is 0' }),
});
/** Whether something counts. */
export const on = field(
  z.boolean().meta({ description: 'Whether it counts; switched off it stays in the document' }),
  'On',
);
