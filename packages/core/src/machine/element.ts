import { z } from 'zod';
import type { QuantityKind } from '../quantity';
import { moves, ofJoint } from './coupling';
import { byJoint, field, type Around, type Thing } from './field';
import { offer, type Offers } from './kinds';
import { finite, id, name, notNegative } from './parts';
import { on, pair, place } from './place';
import { formulaText, refTo } from './refer';

const share = finite.min(-1e6).max(1e6);
const over = field(z.enum(['time', 'cycle', 'position']), 'Over', {
  words: { cycle: 'Cycle', time: 'Time', position: 'Position' },
  settle(load, around) {
    load.joint = load.over === 'position' ? (load.joint ?? around.moving()[0] ?? null) : null;
  },
});
const overJoint = field(
  ofJoint.nullable().meta({ description: 'Joint whose position counts, where over is “position”' }),
  'Of the joint',
  { only: moves, needed: true, when: (load) => load.over === 'position' },
);
/** In what a place is given over which a load changes. */
const placeIn = ({ over: by, joint: of }: Thing, around: Around): QuantityKind =>
  by === 'time' ? 'time' : by === 'cycle' ? 'ratio' : around.turns(of) ? 'angle' : 'length';
/** A load that acts at a point is a force, one on a body a torque. */
const strengthIn = (load: Thing): QuantityKind => ('at' in load ? 'force' : 'torque');
const knee = (description: string, labels: readonly [string, string]) =>
  field(z.tuple([finite, finite]).meta({ description }), labels, { quantity: [placeIn, strengthIn] });

/** How strong something is, over time, share of the cycle, or position of a joint, or by a formula. */
const course = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('constant'), value: field(finite, 'Value', { quantity: strengthIn }) }),
  z.strictObject({
    kind: z.literal('formula'),
    text: formulaText('Force or torque; may speak of time, the master and the axes'),
  }),
  z.strictObject({
    kind: z.literal('table'),
    over,
    joint: overJoint,
    rows: z
      .array(z.tuple([finite, finite]))
      .min(2)
      .max(5000),
  }),
  z.strictObject({
    kind: z.literal('ramp'),
    over,
    joint: overJoint,
    from: knee('Place and value where the smooth rise begins', ['Begins at', 'Before']),
    to: knee('Place and value where it ends', ['Ends at', 'After']),
  }),
]);
export type Course = z.infer<typeof course>;

/** What a load was before its course is changed: over what, and how strong at last. */
const wasOver = ({ over: by, joint: of }: Thing) => ({
  over: (by as 'time' | 'cycle' | 'position' | undefined) ?? ('cycle' as const),
  joint: (of as string | null | undefined) ?? null,
});
const wasStrong = ({ value, to, rows }: Thing): number =>
  (value as number | undefined) ?? (to as number[] | undefined)?.[1] ?? (rows as number[][] | undefined)?.[0]?.[1] ?? 0;
const COURSES: Offers<Course, 'kind'> = {
  constant: { label: 'Constant', first: ({ was }) => ({ kind: 'constant', value: wasStrong(was) }) },
  ramp: {
    label: 'Smooth ramp',
    first: ({ was }) => ({ kind: 'ramp', ...wasOver(was), from: [0.2, 0], to: [0.5, wasStrong(was)] }),
  },
  table: {
    label: 'Table',
    first: ({ was }) => ({ kind: 'table', ...wasOver(was), rows: [[0, wasStrong(was)], [1, wasStrong(was)]] }), // prettier-ignore
  },
  formula: {
    label: 'Formula',
    first: ({ was }) => ({ kind: 'formula', text: `${wasStrong(was)} ${strengthIn(was) === 'force' ? 'N' : 'Nm'}` }),
  },
};
offer(course, COURSES);
const strength = field(course, 'Strength');

/** A spring, damper, stop or load. */
export const elementSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('spring'),
    id,
    name,
    on,
    ...pair,
    rate: field(notNegative.meta({ description: 'N/m' }), 'Rate', { quantity: 'springRate' }),
    free: field(notNegative.meta({ description: 'Free length, m' }), 'Free length', { quantity: 'length' }),
  }),
  z.strictObject({
    kind: z.literal('torsion'),
    id,
    name,
    on,
    joint: ofJoint,
    rate: field(notNegative.meta({ description: 'N·m/rad' }), 'Rate', { quantity: 'torsionRate' }),
    free: field(finite.meta({ description: 'Angle of the pin at which it is slack, rad' }), 'Free angle', {
      quantity: 'angle',
    }),
  }),
  z.strictObject({
    kind: z.literal('damper'),
    id,
    name,
    on,
    ...pair,
    rate: field(notNegative, 'Damping', { quantity: 'linearDamping' }),
  }),
  z.strictObject({
    kind: z.literal('stop'),
    id,
    name,
    on,
    joint: ofJoint,
    min: field(finite.nullable(), 'Not below', { quantity: byJoint('angle', 'length') }),
    max: field(finite.nullable(), 'Not above', { quantity: byJoint('angle', 'length') }),
    restitution: field(finite.min(0).max(1), 'Rebound', {
      quantity: 'ratio',
      hint: 'Share of the speed that comes back',
    }),
  }),
  z.strictObject({
    kind: z.literal('force'),
    id,
    name,
    on,
    at: place,
    angle: field(finite.meta({ description: 'Direction, rad' }), 'Direction', { quantity: 'angle' }),
    turns: field(
      z.boolean().meta({ description: 'Direction turns with the body; else it is fixed to the plane it moves in' }),
      'Turns with the body',
    ),
    along: z.tuple([share, share, share]).optional().meta({
      description:
        'Direction in space in place of the angle: along x, y and z of the world, or of the body where it turns with it; need not have length 1',
    }),
    course: strength,
  }),
  z.strictObject({
    kind: z.literal('torque'),
    id,
    name,
    on,
    body: refTo('body', { ground: true, whenGone: 'goes' }),
    course: strength,
  }),
]);

export type Element = z.infer<typeof elementSchema>;

/** What an element of each kind is called until it is renamed. */
export const ELEMENTS: Readonly<Record<Element['kind'], { label: string }>> = {
  spring: { label: 'Spring' },
  torsion: { label: 'Torsion spring' },
  damper: { label: 'Damper' },
  stop: { label: 'Stop' },
  force: { label: 'Force' },
  torque: { label: 'Torque' },
};
