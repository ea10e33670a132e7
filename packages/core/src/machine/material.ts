import { z } from 'zod';
import { field } from './field';
import { density, finite, id, name, notNegative } from './parts';
import { refTo } from './refer';

/** What things are made of, as far as contact and mass go by it. */
export const materialSchema = z.strictObject({
  id,
  name,
  density: field(density.optional().meta({ description: 'kg/m³; what is made of it has it' }), 'Density', {
    quantity: 'density',
    none: 'not said',
  }),
});

/** What happens where two materials touch. */
export const pairSchema = z.strictObject({
  id,
  a: refTo('material'),
  b: refTo('material'),
  friction: notNegative.max(10).meta({ description: 'Coefficient of dry friction' }),
  restitution: finite.min(0).max(1).meta({ description: 'Speed after a straight impact over the speed before it' }),
});

export type Material = z.infer<typeof materialSchema>;
export type MaterialPair = z.infer<typeof pairSchema>;

/** Whether two materials are those of a pair, in either order. */
export const isPair = (pairOf: Pick<MaterialPair, 'a' | 'b'>, a: string, b: string): boolean =>
  (pairOf.a === a && pairOf.b === b) || (pairOf.a === b && pairOf.b === a);
