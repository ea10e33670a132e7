import { z } from 'zod';
import { field, type Thing } from './field';
import { finite, id, name, positive, size } from './parts';
import { refTo } from './refer';

export const ofJoint = refTo('joint', { whenGone: 'goes' });
/** Only a joint that has a position can be spoken of. */
export const moves = ({ kind }: Thing) => kind !== 'weld';
/** Kinds of joint that a coupling of each kind can couple, first and second; null for any that has a position. */
export const COUPLES = {
  gear: [['pin'], ['pin']],
  belt: [['pin'], ['pin']],
  indexer: [['pin'], ['pin']],
  rack: [['pin'], ['slide', 'slot', 'guide']],
  screw: [['pin'], ['slide', 'slot', 'guide']],
  ratio: [null, null],
} as const;
const fits =
  (end: 0 | 1) =>
  (candidate: Thing, coupling: Thing): boolean => {
    const kinds: readonly unknown[] | null = COUPLES[coupling.kind as keyof typeof COUPLES][end];
    const other = end === 0 ? coupling.second : coupling.first;
    return candidate.id !== other && (kinds ? kinds.includes(candidate.kind) : moves(candidate));
  };
const first = field(ofJoint, 'First joint', { only: fits(0) });
const second = field(ofJoint, 'Second joint', { only: fits(1) });
const radius1 = field(size, 'Radius of the first', { quantity: 'length' });
const radius2 = field(size, 'Radius of the second', { quantity: 'length' });

/** What lets two joints move together. */
export const couplingSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('gear'),
    id,
    name,
    first,
    second,
    radius1,
    radius2,
    inside: field(
      z.boolean().meta({ description: 'One gear runs inside the other: both turn the same way' }),
      'One inside the other',
    ),
  }),
  z.strictObject({
    kind: z.literal('belt'),
    id,
    name,
    first,
    second,
    radius1,
    radius2,
    crossed: field(z.boolean(), 'Crossed'),
  }),
  z.strictObject({
    kind: z.literal('rack'),
    id,
    name,
    first,
    second,
    radius: field(size, 'Pitch radius', { quantity: 'length' }),
  }),
  z.strictObject({
    kind: z.literal('screw'),
    id,
    name,
    first,
    second,
    lead: field(positive, 'Lead', { quantity: 'length' }),
  }),
  z.strictObject({
    kind: z.literal('ratio'),
    id,
    name,
    first,
    second,
    ratio: field(finite.meta({ description: 'Motion of the second for one unit of the first' }), 'Ratio', {
      quantity: 'number',
    }),
  }),
  z.strictObject({
    kind: z.literal('indexer'),
    id,
    name,
    first: field(ofJoint.meta({ description: 'Pin about which the crank turns' }), 'First joint', { only: fits(0) }),
    second: field(ofJoint.meta({ description: 'Pin about which the wheel turns' }), 'Second joint', { only: fits(1) }),
    slots: field(z.int().min(3).max(60), 'Slots', { quantity: 'number' }),
    pin: field(id.meta({ description: 'Driving pin: a point of the crank' }), 'Driving pin', { pointOf: 'first' }),
  }),
]);

export type Coupling = z.infer<typeof couplingSchema>;

/** What a coupling of each kind is called until it is renamed, and what it does. */
export const COUPLINGS: Readonly<Record<Coupling['kind'], { label: string; hint: string }>> = {
  gear: { label: 'Gears', hint: 'A gear pair turns two pins against each other.' },
  belt: { label: 'Belt', hint: 'A belt turns two pins alike, or against each other when crossed.' },
  rack: { label: 'Rack', hint: 'A rack slides as its pinion turns.' },
  screw: { label: 'Screw', hint: 'A nut travels by the lead for every turn of its screw.' },
  ratio: { label: 'Ratio', hint: 'The second moves in proportion to the first.' },
  indexer: { label: 'Indexer', hint: 'A driving pin indexes a wheel with slots; in between the wheel is held.' },
};
