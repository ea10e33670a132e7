import { z } from 'zod';
import { finite, id, name } from './parts';
import { refers, refTo } from './refer';

/** A pose of the machine that was marked: where each of its axes stands, and the point that is looked at there. */
export const markedPoseSchema = z.strictObject({
  id,
  name,
  tool: z
    .strictObject({ body: id, point: id })
    .nullable()
    .meta({ description: 'The tool point: what is brought there; null where the axes alone are meant' })
    .register(refers, { to: 'place', whenGone: 'drops', open: true }),
  at: z
    .array(
      z.strictObject({
        axis: refTo('axis', { open: true, whenGone: 'drops' }),
        position: finite.meta({ description: 'm or rad' }),
      }),
    )
    .max(32),
});

export type MarkedPose = z.infer<typeof markedPoseSchema>;
