import { z } from 'zod';
import { LAW_IDS } from '../law';
import { AXIS_KINDS, type QuantityKind } from '../quantity';
import { blockSchema } from './block';
import { field, type Around, type Thing } from './field';
import { cycleOf, offer, type Offers } from './kinds';
import { LAW_WORDS, lawChoice } from './law-choice';
import { finite, id, notNegative, positive } from './parts';
import { formulaText, refers } from './refer';

const duration = z
  .number()
  .min(1e-9)
  .max(86_400)
  .meta({ description: 'Segment time in s; over the master, its length in rad or m' });

const knee = z.strictObject({ velocity: finite.nullable(), acceleration: finite.nullable() }).optional().meta({
  description:
    'Velocity and acceleration wished for at a knee; null is free; absent is rest, or the speed of a straight neighbour',
});

const segment = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('dwell'), id, duration }),
  z.strictObject({
    kind: z.literal('move'),
    id,
    duration,
    to: finite.meta({ description: 'Position reached, m or rad' }),
    law: lawChoice,
    knee,
  }),
]);

export const planSchema = z.strictObject({
  start: finite.meta({ description: 'Position at the start of the cycle, m or rad' }),
  knee,
  segments: z.array(segment).max(500),
});

/** In a quantity of the axis that a motion belongs to, or of the master. */
const axisIn =
  (quantity: keyof (typeof AXIS_KINDS)['linear']) =>
  ({ id: of }: Thing, around: Around): QuantityKind =>
    AXIS_KINDS[around.axis(of)?.kind ?? 'linear'][quantity];
const masterIn =
  (quantity: keyof (typeof AXIS_KINDS)['linear']) =>
  (_: Thing, around: Around): QuantityKind =>
    AXIS_KINDS[around.master][quantity];
/** In what the values of a motion are, by its level. */
const levelIn = (thing: Thing, around: Around): QuantityKind =>
  axisIn(thing.level as 'position' | 'velocity' | 'acceleration')(thing, around);
/** Shafts that turn evenly are spoken of in turns a minute. */
const evenIn = (thing: Thing, around: Around): QuantityKind => {
  const quantity = levelIn(thing, around);
  return quantity === 'angularVelocity' ? 'shaftSpeed' : quantity;
};

const leadIn = z.discriminatedUnion('how', [
  z.strictObject({ how: z.literal('refuse') }),
  z.strictObject({
    how: z.literal('bridge'),
    over: field(positive.meta({ description: 'Length of the master taken by the lead-in' }), 'Lead-in over', {
      quantity: masterIn('position'),
      hint: 'Length of the master in which it catches up; also for leaving',
    }),
  }),
]);
const LEAD_INS: Offers<z.infer<typeof leadIn>, 'how'> = {
  refuse: { label: 'Refused', first: () => ({ how: 'refuse' }) },
  bridge: { label: 'Bridged', first: ({ machine }) => ({ how: 'bridge', over: machine.master.wrap / 6 }) },
};
offer(leadIn, LEAD_INS);

/** What tells an axis how to move, and at which level: its values are positions, velocities or accelerations. */
export const motionSchema = z.strictObject({
  level: z.enum(['position', 'velocity', 'acceleration']),
  over: z
    .enum(['time', 'master'])
    .meta({ description: 'Whether plan, points or formula run over time or over the master' }),
  source: z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('plan') }).meta({ description: 'The plan of the axis' }),
    z.strictObject({ kind: z.literal('constant'), value: field(finite, 'Constant value', { quantity: evenIn }) }),
    z.strictObject({
      kind: z.literal('harmonic'),
      mean: field(finite, 'Mean', { quantity: levelIn }),
      amplitude: field(finite, 'Amplitude', { quantity: levelIn }),
      frequency: field(positive.max(10_000).meta({ description: 'Hz' }), 'Frequency', { quantity: 'frequency' }),
      phase: field(finite.meta({ description: 'rad; 0 begins at the mean, rising' }), 'Phase', { quantity: 'angle' }),
    }),
    z.strictObject({
      kind: z.literal('points'),
      rows: z.array(z.array(finite).min(2).max(4)).max(20_000).meta({
        description: 'Place (s, or master in rad or m), value, and velocity and acceleration where they are known',
      }),
      way: z.enum(['line', 'cubic', 'quintic']),
      ends: z.enum(['rest', 'free', 'cyclic']),
      tolerance: notNegative.meta({ description: 'Largest distance from the points that smoothing may use' }),
    }),
    z.strictObject({ kind: z.literal('moves'), blocks: z.array(blockSchema).max(200) }),
    z.strictObject({ kind: z.literal('formula'), text: formulaText() }),
    z
      .strictObject({
        kind: z.literal('cues'),
        start: field(finite, 'It starts at', {
          quantity: axisIn('position'),
          hint: 'Where it stands until a cue moves it',
        }),
      })
      .meta({ description: 'It stands at start until a cue moves it' }),
    z.strictObject({
      kind: z.literal('follow'),
      axis: z
        .string()
        .register(refers, { to: 'axis', whenGone: 'stands', open: true })
        .nullable()
        .meta({ description: 'Axis that is followed; null for the master' }),
      ratio: finite.meta({ description: 'Way for one unit (rad or m) of what is followed' }),
      offset: field(finite, 'Offset', {
        quantity: axisIn('position'),
        hint: 'Where it stands while its leader stands at zero',
      }),
    }),
  ]),
  initial: z
    .strictObject({
      position: field(finite, 'Begins at', {
        quantity: axisIn('position'),
        when: ({ level }) => level !== 'position',
      }),
      velocity: field(finite, 'Begins with', {
        quantity: axisIn('velocity'),
        when: ({ level }) => level === 'acceleration',
      }),
    })
    .meta({ description: 'Where and how fast it begins, where the level leaves that open' }),
  engage: z
    .strictObject({
      at: field(finite.meta({ description: 'Position of the master at which it engages' }), 'Engages at', {
        quantity: masterIn('position'),
        hint: 'Position of the master, counted on without wrapping',
      }),
      leave: field(
        finite.nullable().meta({ description: 'Position at which it leaves; null stays engaged' }),
        'Leaves at',
        { quantity: masterIn('position'), none: 'never' },
      ),
      waits: field(finite.meta({ description: 'Where the axis waits before' }), 'Waits at', {
        quantity: axisIn('position'),
      }),
      lead: field(leadIn, 'A jump is'),
      restsAt: field(
        finite.nullable().meta({ description: 'Where it rests after leaving; null where a gentle stop leads' }),
        'Then rests at',
        {
          quantity: axisIn('position'),
          none: 'gentle stop',
          when: ({ leave, lead }) => leave !== null && (lead as Thing).how === 'bridge',
        },
      ),
    })
    .nullable()
    .meta({ description: 'Engaging with the master; null follows from the start' }),
});

const speedIn = (_: Thing, { master }: Around): QuantityKind => (master === 'rotary' ? 'shaftSpeed' : 'velocity');
const speed = field(positive, 'Speed', { quantity: speedIn });
const course = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('cycle') }).meta({ description: 'One wrap a cycle' }),
  z.strictObject({ kind: z.literal('speed'), speed }),
  z.strictObject({
    kind: z.literal('ramp'),
    speed,
    up: field(notNegative.max(86_400), 'Ramp up in', { quantity: 'time' }),
    stop: field(finite.nullable(), 'Stops at', {
      quantity: masterIn('position'),
      none: 'runs on',
      hint: 'Counted on without wrapping; empty runs on',
    }),
    down: field(notNegative.max(86_400), 'Ramp down in', { quantity: 'time', when: ({ stop }) => stop !== null }),
    law: field(z.enum(LAW_IDS), 'Law of the ramps', { words: LAW_WORDS }),
  }),
]);
const COURSES: Offers<z.infer<typeof course>, 'kind'> = {
  cycle: { label: 'Once a cycle', hint: 'One wrap in a cycle, at constant speed', first: () => ({ kind: 'cycle' }) },
  speed: {
    label: 'At a speed',
    first: (before) => ({ kind: 'speed', speed: before.machine.master.wrap / cycleOf(before) }),
  },
  ramp: {
    label: 'With ramps',
    hint: 'From rest to a speed, and to a stop at a position',
    first(before) {
      const { wrap, start } = before.machine.master;
      const cycle = cycleOf(before);
      return {
        kind: 'ramp',
        speed: (1.5 * wrap) / cycle,
        up: cycle / 6,
        down: cycle / 6,
        stop: start + wrap,
        law: 'poly345',
      };
    },
  },
};
offer(course, COURSES);

/** The virtual master: one for the machine. */
export const masterSchema = z.strictObject({
  kind: z.enum(['rotary', 'linear']),
  wrap: field(positive.meta({ description: 'Length of one wrap, rad or m' }), 'Wraps after', {
    quantity: masterIn('position'),
    hint: '360° or any length: there its position begins anew',
  }),
  start: field(finite, 'Starts at', { quantity: masterIn('position') }),
  course: field(course, 'Runs'),
});
