import { z } from 'zod';
import { planSchema } from './motion';
import { finite, id, name, notNegative, positive } from './parts';
import { refers, refTo } from './refer';

/** A tool point led along a path: what leads it, and which axes shall take over its motion. */
export const leadSchema = z.strictObject({
  id,
  name,
  path: refTo('path', { description: 'Path of the mechanism', open: true }),
  point: z
    .strictObject({ body: id, point: id })
    .meta({ description: 'The tool point' })
    .register(refers, { to: 'place', whenGone: 'stands', open: true }),
  axes: z
    .array(refTo('axis', { open: true }))
    .max(8)
    .meta({ description: 'Axes whose motions are found' }),
  blend: notNegative.meta({ description: 'Distance from a corner at which blending begins, m; 0 keeps corners' }),
  law: z.discriminatedUnion('kind', [
    z.strictObject({
      kind: z.literal('speed'),
      speed: positive,
      ramp: notNegative
        .max(1000)
        .meta({ description: 'Time in s of starting and of stopping; 0 runs at speed throughout' }),
    }),
    z
      .strictObject({ kind: z.literal('plan'), plan: planSchema })
      .meta({ description: 'Length along the path over time' }),
    z
      .strictObject({ kind: z.literal('formula'), text: z.string().max(4000) })
      .meta({ description: 'Speed as a formula in `arc`' }),
    z.strictObject({
      kind: z.literal('there-and-back'),
      speed: positive,
      turn: notNegative.max(1000).meta({ description: 'Time in s in which the sign of the speed is switched' }),
    }),
  ]),
  samples: z.int().min(20).max(5000).meta({ description: 'Rows in which the motions of the axes are kept' }),
  start: finite.meta({ description: 'Length along the path at which it begins, m' }),
});

export type PathLead = z.infer<typeof leadSchema>;
