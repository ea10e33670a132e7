import { z } from 'zod';
import { LAW_IDS } from '../law';
import { AXIS_KINDS, type AxisKind } from '../quantity';
import { field, ofAxis, type FieldLook } from './field';
import { cycleOf, type Before, type Offers } from './kinds';
import { LAW_WORDS } from './law-choice';
import { finite, id, lasting, positive } from './parts';

/** A limit that a block brings itself; left empty it is that of the axis. */
const limit = (
  key: 'velocity' | 'acceleration' | 'jerk',
  label: string,
  without: string,
  more: Pick<FieldLook, 'none' | 'hint'> = {},
) =>
  field(positive.nullable(), label, {
    quantity: ofAxis(key),
    none: ({ axis }, around) => {
      const { kind = 'linear', limits = {} } = around.axis(axis) ?? {};
      const own = limits[key] ?? null;
      return own === null ? without : around.show(own, AXIS_KINDS[kind][key]);
    },
    ...more,
  });
const limits = {
  velocity: limit('velocity', 'Velocity', 'needed', { hint: 'Empty: that of the axis' }),
  acceleration: limit('acceleration', 'Acceleration', 'needed'),
  deceleration: limit('acceleration', 'Deceleration', 'as above', {
    none: (thing, around) => {
      const { kind = 'linear', limits: own } = around.axis(thing.axis) ?? {};
      const above = (thing.acceleration as number | null) ?? own?.acceleration ?? null;
      return above === null ? 'as above' : around.show(above, AXIS_KINDS[kind].acceleration);
    },
  }),
  jerk: limit('jerk', 'Jerk', 'no limit'),
};

/** Servo moves: blocks carried out in order from the home position. Their fields go by the axis, named beside them. */
export const blockSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('travel'),
    id,
    given: field(z.enum(['by', 'to']).meta({ description: 'Whether the value is a distance or a target' }), 'Goes', {
      words: { by: 'by', to: 'to' },
    }),
    value: field(finite, 'Way', { quantity: ofAxis('position') }),
    time: field(
      lasting.nullable().meta({ description: 'Wanted time in s; null for the quickest under the limits' }),
      'Wanted time',
      {
        quantity: 'time',
        none: 'quickest',
        hint: 'Empty: the quickest under the limits. A time: the gentlest move that takes it.',
      },
    ),
    ...limits,
  }),
  z.strictObject({
    kind: z.literal('work'),
    id,
    length: field(
      finite.meta({
        description: 'Working length at constant speed, with its sign; run-up and run-out come on top',
      }),
      'Working length',
      { quantity: ofAxis('position'), hint: 'At constant speed; run-up and run-out come on top' },
    ),
    ...limits,
  }),
  z.strictObject({ kind: z.literal('wait'), id, time: field(lasting, 'Time', { quantity: 'time' }) }),
  z.strictObject({
    kind: z.literal('oscillate'),
    id,
    peakToPeak: field(finite, 'Peak to peak', { quantity: ofAxis('position') }),
    frequency: field(positive.max(10_000).meta({ description: 'Hz' }), 'Frequency', { quantity: 'frequency' }),
    cycles: field(z.int().min(1).max(1000), 'Cycles', { quantity: 'number', hint: 'How many times to and fro' }),
    law: field(z.enum(LAW_IDS), 'Law', { words: LAW_WORDS, wide: true }),
  }),
  z.strictObject({
    kind: z.literal('repeat'),
    id,
    blocks: field(
      z.int().min(1).max(100).meta({ description: 'How many of the blocks before it are repeated' }),
      'Blocks before it',
      { quantity: 'number', hint: 'How many of the blocks before this one are repeated' },
    ),
    times: field(z.int().min(2).max(1000).meta({ description: 'Passes in all, the first included' }), 'Passes', {
      quantity: 'number',
      hint: 'In all, the first included',
    }),
  }),
  z.strictObject({ kind: z.literal('home'), id, ...limits }),
]);
export type ServoBlock = z.infer<typeof blockSchema>;

const open = { velocity: null, acceleration: null, deceleration: null, jerk: null };
/** A value to begin with, in as many figures as one would type. */
const round = (value: number) => Number(value.toPrecision(3));
const own = ({ was }: Before) => String(was.id);
/** A way to begin with, for the axis that the block is of. */
const way = (before: Before) => {
  const kind: AxisKind = before.machine.axes.find((axis) => axis.id === before.was.axis)?.kind ?? 'linear';
  return kind === 'linear' ? 0.1 : Math.PI / 2;
};

/** The kinds of servo moves: what they are called, and how each begins. */
export const BLOCKS: Offers<ServoBlock, 'kind'> = {
  travel: {
    label: 'Travel',
    first: (before) => ({ id: own(before), kind: 'travel', given: 'by', value: way(before), time: null, ...open }),
  },
  work: {
    label: 'Constant speed',
    first: (before) => ({ id: own(before), kind: 'work', length: way(before) / 2, ...open }),
  },
  wait: { label: 'Wait', first: (before) => ({ id: own(before), kind: 'wait', time: round(cycleOf(before) / 10) }) },
  oscillate: {
    label: 'Oscillate',
    first: (before) => ({
      id: own(before),
      kind: 'oscillate',
      peakToPeak: way(before) / 10,
      frequency: round(10 / cycleOf(before)),
      cycles: 2,
      law: 'poly345',
    }),
  },
  repeat: { label: 'Repeat', first: (before) => ({ id: own(before), kind: 'repeat', blocks: 1, times: 2 }) },
  home: { label: 'Return home', first: (before) => ({ id: own(before), kind: 'home', ...open }) },
};
