import { z } from 'zod';
import { field, type Thing } from './field';
import type { Joint } from './joint';
import type { Before, Offers } from './kinds';
import { finite, id, name, positive, size } from './parts';
import { refTo } from './refer';
import type { Machine } from './schema';

export const ofJoint = refTo('joint', { whenGone: 'goes' });
/** Only a joint that has a position can be spoken of. */
export const moves = ({ kind }: Thing) => kind !== 'weld' && kind !== 'rod' && kind !== 'ball';
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

/** Two wheels that turn each other. */
const wheels = { id, name, first, second, radius1, radius2 };

/** What lets two joints move together. */
export const couplingSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('gear'),
    ...wheels,
    inside: field(
      z.boolean().meta({ description: 'One gear runs inside the other: both turn the same way' }),
      'One inside the other',
    ),
  }),
  z.strictObject({
    kind: z.literal('belt'),
    ...wheels,
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

/** What stands in for identifier and name until the coupling is put into a mechanism. */
const UNNAMED = { id: 'coupling', name: 'Coupling' };
const kindsFor = (kind: Coupling['kind'], end: 0 | 1): readonly string[] | null => COUPLES[kind][end];

/** The two chosen joints as first and second of a coupling; a sentence where they do not fit. */
function chosenFor(
  kind: Coupling['kind'],
  wanted: string,
  { machine, was }: Before,
): { first: Joint; second: Joint } | string {
  const ids = (was.joints ?? []) as readonly string[];
  const chosen = ids.flatMap((joint) => machine.mechanism.joints.filter((known) => known.id === joint));
  const fitsAt = (joint: Joint, end: 0 | 1) => kindsFor(kind, end)?.includes(joint.kind) ?? moves({ kind: joint.kind });
  const [a, b] = chosen;
  if (chosen.length === 2 && a && b) {
    if (fitsAt(a, 0) && fitsAt(b, 1)) return { first: a, second: b };
    if (fitsAt(b, 0) && fitsAt(a, 1)) return { first: b, second: a };
  }
  return `There is no such pair: choose ${wanted} (Shift adds to the choice).`;
}
/** A coupling of the two joints that are chosen. */
const between =
  <K extends Coupling['kind']>(
    kind: K,
    wanted: string,
    rest: (
      first: Joint,
      machine: Machine,
    ) => Omit<Extract<Coupling, { kind: K }>, 'kind' | 'id' | 'name' | 'first' | 'second'>,
  ) =>
  (before: Before): Extract<Coupling, { kind: K }> | string => {
    const pair = chosenFor(kind, wanted, before);
    if (typeof pair === 'string') return pair;
    const ends = { first: pair.first.id, second: pair.second.id };
    return { kind, ...UNNAMED, ...ends, ...rest(pair.first, before.machine) } as Extract<Coupling, { kind: K }>;
  };

/** Couplings as they are offered for two chosen joints: what each is called, what it does, and how it begins. */
export const COUPLINGS: Offers<Coupling, 'kind'> = {
  gear: {
    label: 'Gears',
    hint: 'A gear pair turns two pins against each other.',
    first: between('gear', 'two pins', () => ({ radius1: 0.02, radius2: 0.04, inside: false })),
  },
  belt: {
    label: 'Belt',
    hint: 'A belt turns two pins alike, or against each other when crossed.',
    first: between('belt', 'two pins', () => ({ radius1: 0.02, radius2: 0.02, crossed: false })),
  },
  rack: {
    label: 'Rack',
    hint: 'A rack slides as its pinion turns.',
    first: between('rack', 'a pin and a slide', () => ({ radius: 0.02 })),
  },
  screw: {
    label: 'Screw',
    hint: 'A nut travels by the lead for every turn of its screw.',
    first: between('screw', 'a pin and a slide', () => ({ lead: 0.005 })),
  },
  ratio: {
    label: 'Ratio',
    hint: 'The second moves in proportion to the first.',
    first: between('ratio', 'two joints that move', () => ({ ratio: 1 })),
  },
  indexer: {
    label: 'Indexer',
    hint: 'A driving pin indexes a wheel with slots; in between the wheel is held.',
    first: between('indexer', 'two pins', ({ b }, { mechanism }) => ({
      pin: mechanism.bodies.find(({ id: own }) => own === b.body)?.points.at(-1)?.id ?? b.point,
      slots: 6,
    })),
  },
};
