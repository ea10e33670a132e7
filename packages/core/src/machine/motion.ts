import { z } from 'zod';
import { findLaw, LAW_IDS } from '../law';
import { finite, id, lasting, notNegative, positive } from './parts';
import { formulaText, refers } from './refer';

export const lawChoice = z
  .strictObject({
    id: z.enum(LAW_IDS),
    parameters: z
      .record(z.string(), finite)
      .optional()
      .meta({ description: "Values of the law's own parameters, shares of the segment time" }),
  })
  .superRefine((law, context) => {
    const family = findLaw(law.id);
    for (const [key, value] of Object.entries(law.parameters ?? {})) {
      const spec = family?.parameters.find((parameter) => parameter.name === key);
      const path = ['parameters', key];
      if (spec?.choices && !spec.choices.includes(value))
        context.addIssue({ code: 'custom', path, message: `must be one of ${spec.choices.join(', ')}` });
      else if (!spec) context.addIssue({ code: 'custom', path, message: `is no parameter of the law ${law.id}` });
      else if (value < spec.min || value > spec.max)
        context.addIssue({ code: 'custom', path, message: `must lie between ${spec.min} and ${spec.max}` });
    }
    const { acceleration = 1 / 3, deceleration = 1 / 3 } = law.parameters ?? {};
    if (law.id === 'trapezoidal' && acceleration + deceleration > 1 + 1e-9)
      context.addIssue({
        code: 'custom',
        path: ['parameters'],
        message: 'acceleration and deceleration together must not exceed 1',
      });
  });

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

const blockLimit = positive.nullable();
const blockLimits = { velocity: blockLimit, acceleration: blockLimit, deceleration: blockLimit, jerk: blockLimit };

const block = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('travel'),
    id,
    given: z.enum(['by', 'to']).meta({ description: 'Whether the value is a distance or a target' }),
    value: finite,
    time: lasting.nullable().meta({ description: 'Wanted time in s; null for the quickest under the limits' }),
    ...blockLimits,
  }),
  z.strictObject({
    kind: z.literal('work'),
    id,
    length: finite.meta({
      description: 'Working length at constant speed, with its sign; run-up and run-out come on top',
    }),
    ...blockLimits,
  }),
  z.strictObject({ kind: z.literal('wait'), id, time: lasting }),
  z.strictObject({
    kind: z.literal('oscillate'),
    id,
    peakToPeak: finite,
    frequency: positive.max(10_000).meta({ description: 'Hz' }),
    cycles: z.int().min(1).max(1000),
    law: z.enum(LAW_IDS),
  }),
  z.strictObject({
    kind: z.literal('repeat'),
    id,
    blocks: z.int().min(1).max(100).meta({ description: 'How many of the blocks before it are repeated' }),
    times: z.int().min(2).max(1000).meta({ description: 'Passes in all, the first included' }),
  }),
  z.strictObject({ kind: z.literal('home'), id, ...blockLimits }),
]);

/** What tells an axis how to move, and at which level: its values are positions, velocities or accelerations. */
export const motionSchema = z.strictObject({
  level: z.enum(['position', 'velocity', 'acceleration']),
  over: z
    .enum(['time', 'master'])
    .meta({ description: 'Whether plan, points or formula run over time or over the master' }),
  source: z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('plan') }).meta({ description: 'The plan of the axis' }),
    z.strictObject({ kind: z.literal('constant'), value: finite }),
    z.strictObject({
      kind: z.literal('harmonic'),
      mean: finite,
      amplitude: finite,
      frequency: positive.max(10_000).meta({ description: 'Hz' }),
      phase: finite.meta({ description: 'rad; 0 begins at the mean, rising' }),
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
    z.strictObject({ kind: z.literal('moves'), blocks: z.array(block).max(200) }),
    z.strictObject({ kind: z.literal('formula'), text: formulaText() }),
    z
      .strictObject({ kind: z.literal('cues'), start: finite })
      .meta({ description: 'It stands at start until a cue moves it' }),
    z.strictObject({
      kind: z.literal('follow'),
      axis: z
        .string()
        .register(refers, { to: 'axis', whenGone: 'stands', open: true })
        .nullable()
        .meta({ description: 'Axis that is followed; null for the master' }),
      ratio: finite.meta({ description: 'Way for one unit (rad or m) of what is followed' }),
      offset: finite,
    }),
  ]),
  initial: z
    .strictObject({ position: finite, velocity: finite })
    .meta({ description: 'Where and how fast it begins, where the level leaves that open' }),
  engage: z
    .strictObject({
      at: finite.meta({ description: 'Position of the master at which it engages' }),
      leave: finite.nullable().meta({ description: 'Position at which it leaves; null stays engaged' }),
      waits: finite.meta({ description: 'Where the axis waits before' }),
      lead: z.discriminatedUnion('how', [
        z.strictObject({ how: z.literal('refuse') }),
        z.strictObject({
          how: z.literal('bridge'),
          over: positive.meta({ description: 'Length of the master taken by the lead-in' }),
        }),
      ]),
      restsAt: finite.nullable().meta({ description: 'Where it rests after leaving; null where a gentle stop leads' }),
    })
    .nullable()
    .meta({ description: 'Engaging with the master; null follows from the start' }),
});

/** The virtual master: one for the machine. */
export const masterSchema = z.strictObject({
  kind: z.enum(['rotary', 'linear']),
  wrap: positive.meta({ description: 'Length of one wrap, rad or m' }),
  start: finite,
  course: z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('cycle') }).meta({ description: 'One wrap a cycle' }),
    z.strictObject({ kind: z.literal('speed'), speed: positive }),
    z.strictObject({
      kind: z.literal('ramp'),
      speed: positive,
      up: notNegative.max(86_400),
      down: notNegative.max(86_400),
      stop: finite.nullable(),
      law: z.enum(LAW_IDS),
    }),
  ]),
});
