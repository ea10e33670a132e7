import { z } from 'zod';
import { planSchema } from './motion';
import { finite, id, name, notNegative, positive } from './parts';
import { point3 as place } from './plane';
import { refers, refTo } from './refer';

/** A path in space, of lines, arcs in any plane and splines. */
const spacePathSchema = z.strictObject({
  start: place,
  pieces: z
    .array(
      z.discriminatedUnion('kind', [
        z.strictObject({ kind: z.literal('line'), to: place }),
        z.strictObject({ kind: z.literal('arc'), via: place, to: place }),
        z.strictObject({ kind: z.literal('spline'), through: z.array(place).min(1).max(5000) }),
      ]),
    )
    .min(1)
    .max(2000),
  closed: z.boolean().meta({ description: 'Whether it goes straight back to its start, and round' }),
});

/** A tool point led along a path: what leads it, and which axes shall take over its motion. */
export const leadSchema = z.strictObject({
  id,
  name,
  path: refTo('path', { description: 'Path of the mechanism; of no effect where there is one in space', open: true }),
  space: spacePathSchema.optional().meta({ description: 'Path in space, places in the world in m' }),
  point: z
    .strictObject({ body: id, point: id })
    .meta({ description: 'The tool point' })
    .register(refers, { to: 'place', whenGone: 'stands', open: true }),
  axes: z
    .array(refTo('axis', { open: true }))
    .max(8)
    .meta({ description: 'Axes whose motions are found' }),
  still: z
    .array(refTo('axis', { open: true, whenGone: 'drops' }))
    .max(32)
    .optional()
    .meta({ description: 'Axes that stand where they begin; what is neither found nor still goes by its own motion' }),
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
