import { z } from 'zod';
import { field } from './field';
import { id, point } from './parts';
import { refers } from './refer';

/** Identifier of what does not move; points of the ground belong to it. */
export const GROUND = 'ground';

export const place = z
  .strictObject({ body: id, point: id })
  .meta({ description: 'A point of a body, or of the ground (body “ground”)' })
  .register(refers, { to: 'place', whenGone: 'goes' });
/** The two ends of what stands between bodies. */
export const pair = { a: place, b: place };
export type Place = z.infer<typeof place>;
export const namedPoint = z.strictObject({ id, at: point });
/** Whether something counts. */
export const on = field(
  z.boolean().meta({ description: 'Whether it counts; switched off it stays in the document' }),
  'On',
);
