import { z } from 'zod';
import { field } from './field';
import { finite, id, name, notNegative } from './parts';
import { refTo } from './refer';

/** A variant: what is changed against the document. Factors multiply; switched-off things are named by identifier. */
export const variantSchema = z.strictObject({
  id,
  name,
  speed: field(
    z.number().min(0.001).max(1000).meta({ description: 'Factor on the speed of the whole cycle' }),
    'Times as fast',
    { quantity: 'number' },
  ),
  gravity: field(z.boolean(), 'Gravity'),
  loads: field(z.boolean().meta({ description: 'Forces, torques and loads of the axes count' }), 'Loads'),
  friction: field(z.boolean(), 'Friction'),
  off: z
    .array(refTo('element', { whenGone: 'drops', open: true }))
    .max(300)
    .meta({ description: 'Elements of the mechanism that do not count' }),
  changes: z
    .array(
      z.strictObject({
        element: refTo('element', { whenGone: 'drops', open: true }),
        rate: notNegative.nullable(),
        free: finite.nullable(),
      }),
    )
    .max(100)
    .meta({ description: 'Springs and dampers that differ' }),
  pairs: z
    .array(
      z.strictObject({
        pair: refTo('pair', { whenGone: 'drops', open: true }),
        friction: notNegative.max(10),
        restitution: finite.min(0).max(1),
      }),
    )
    .max(136)
    .meta({ description: 'Pairs of materials that differ' }),
});
