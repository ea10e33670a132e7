import { z } from 'zod';
import { actionSchema } from './action';
import { field, type Thing } from './field';
import { finite, id, lasting, name, notNegative, positive, seconds, unique, type Say } from './parts';
import { refTo } from './refer';
import { sensorSchema } from './sensor';

const several = z.strictObject({
  op: z.enum(['and', 'or']),
  get of(): z.ZodArray<typeof conditionSchema> {
    return z.array(conditionSchema).min(2).max(30);
  },
});
const opposite = z.strictObject({
  op: z.literal('not'),
  get of(): typeof conditionSchema {
    return conditionSchema;
  },
});

const conditionSchema = z
  .union([
    several,
    opposite,
    z.strictObject({ op: z.enum(['on', 'rises', 'falls']), sensor: refTo('sensor') }),
    z.strictObject({ op: z.literal('flag'), flag: refTo('flag') }),
    z.strictObject({ op: z.enum(['running', 'ended']), cue: refTo('cue') }),
    z.strictObject({
      op: z.literal('count'),
      cue: refTo('cue'),
      is: z.enum(['<', '>=', '=']),
      value: z.int().min(0),
    }),
    z.strictObject({ op: z.literal('at'), axis: refTo('axis'), value: finite, within: positive }),
    z.strictObject({ op: z.literal('rests'), axis: refTo('axis') }),
    z.strictObject({ op: z.literal('time'), at: seconds }),
    z.strictObject({ op: z.literal('holds'), gripper: refTo('gripper') }),
  ])
  .meta({
    id: 'Condition',
    description:
      'and, or, not; state and edges of a sensor; a flag; a cue that runs, ends now, or has ended so often; an axis in position or at rest; the time since the cycle began; a gripper that holds a part',
  });

/** A condition: true or false at every instant, built from what is seen, said and counted. */
export type Condition = z.infer<typeof conditionSchema>;

/** A cue comes after others, and starts others. */
const isAnother = (candidate: Thing, thing: Thing) => candidate.id !== thing.id;
const comesAfter = ({ after }: Thing) => (after as string[]).length;

/** One cue, with how its fields look. */
export const cueSchema = z.strictObject({
  id,
  name,
  on: field(z.boolean(), 'On'),
  after: field(z.array(refTo('cue')).max(20).meta({ description: 'Cues that must have ended before' }), 'After', {
    none: 'nothing: it starts the row',
    only: isAnother,
    wide: true,
  }),
  join: field(z.enum(['all', 'any']), 'Joins', {
    words: { all: 'all of them', any: 'any of them' },
    when: (thing) => comesAfter(thing) > 1,
  }),
  choice: field(
    z
      .string()
      .max(40)
      .nullable()
      .meta({ description: 'Cues after the same one with the same word here are alternatives: one of them runs' }),
    'Alternative of',
    { none: 'none', when: (thing) => comesAfter(thing) > 0 },
  ),
  priority: field(
    z.int().min(-99).max(99).meta({ description: 'Of alternatives, and over an axis: the higher goes first' }),
    'Priority',
    { quantity: 'number' },
  ),
  when: conditionSchema.nullable(),
  waits: field(
    z.boolean().optional().meta({
      description:
        'Whether a call that comes while the cue or what follows it still runs is kept, and starts it again when its row has ended',
    }),
    'Waits for the end of its row',
    {
      hint: 'A new call that comes while the row still runs is kept: the row starts again when it has ended',
      when: (thing) => comesAfter(thing) === 0 && thing.when !== null,
    },
  ),
  delay: field(seconds, 'Delay', { quantity: 'time' }),
  times: field(
    z.int().min(1).max(100_000).nullable().meta({ description: 'How often at most in a run; null without end' }),
    'Times at most',
    { quantity: 'number', none: 'no end' },
  ),
  action: field(actionSchema, 'Do', { wide: true }),
  timeOut: z
    .strictObject({
      of: field(z.enum(['wait', 'action']), 'Counted for', { words: { wait: 'its waiting', action: 'its action' } }),
      time: field(lasting, 'Longer than', { quantity: 'time' }),
      then: z.enum(['alarm', 'stop', 'emergency', 'cue']),
      cue: field(refTo('cue').nullable(), 'Cue', { only: isAnother, needed: true, when: ({ then }) => then === 'cue' }),
    })
    .nullable(),
});

export const interlockSchema = z.strictObject({
  id,
  name,
  forbids: field(z.array(refTo('cue')).min(1).max(100).meta({ description: 'Cues that may not start' }), 'Forbids', {
    wide: true,
  }),
  during: conditionSchema,
  stops: field(
    z.boolean().optional().meta({
      description:
        'Whether it also stops axes and belts that these cues move already; they go on when it no longer holds',
    }),
    'Stops what runs',
    { hint: 'What these cues move comes to rest as in an emergency stop, and goes on when it no longer holds' },
  ),
  reason: field(z.string().max(200), 'Reason shown', { wide: true }),
});

export const monitorSchema = z.strictObject({
  id,
  name,
  a: field(refTo('body', { ground: true }), 'Between', { hint: 'The ground has the chutes, ramps and stops' }),
  b: field(refTo('body', { ground: true }), 'and', { hint: 'The ground has the chutes, ramps and stops' }),
  shapes: field(z.enum(['coarse', 'exact']).meta({ description: 'Hulls, or outlines as drawn' }), 'Shapes', {
    words: { coarse: 'hulls (coarse)', exact: 'as drawn (exact)' },
  }),
  least: field(
    notNegative.meta({ description: 'Least clearance, m; 0 watches for interference' }),
    'At least (0: no touch)',
    { quantity: 'length' },
  ),
  stop: field(z.boolean().meta({ description: 'Whether the run stops there' }), 'Stops the run'),
});

/** A carriage on a line, which another one on it must not come near. */
const isLinear = ({ kind }: Thing) => kind === 'linear';
export const spacingSchema = z.strictObject({
  id,
  name,
  a: field(refTo('axis'), 'Between', { only: isLinear }),
  b: field(refTo('axis'), 'and, beyond it', { only: isLinear }),
  apart: field(
    finite.meta({
      description: 'Clear distance from a to b, along their positive direction, where both stand at 0, m',
    }),
    'Apart where both are at 0',
    { quantity: 'length', hint: 'Clear distance from the one to the other along their common line' },
  ),
  least: field(notNegative.meta({ description: 'Least clear distance, m' }), 'At least', { quantity: 'length' }),
  stop: field(z.boolean().meta({ description: 'Whether the run stops there' }), 'Stops the run'),
});

/** Sensors, cues and what watches over them: the discrete half of a machine. SI units. */
export const sequenceSchema = z.strictObject({
  sensors: z.array(sensorSchema).max(200),
  flags: z.array(z.strictObject({ id, name, set: z.boolean() })).max(100),
  cues: z.array(cueSchema).max(500),
  interlocks: z.array(interlockSchema).max(100),
  emergency: z.strictObject({
    when: conditionSchema.nullable(),
    ramp: field(
      lasting.max(60).meta({ description: 'Time in which everything that moves comes to rest, s' }),
      'Everything rests in',
      { quantity: 'time' },
    ),
  }),
  controller: z.strictObject({
    scan: field(
      z.number().min(0.0001).max(10).nullable().meta({ description: 'Scan time, s; null reacts at once' }),
      'Scan',
      { quantity: 'time', none: 'reacts at once' },
    ),
    inputDelay: field(seconds.max(10), 'Input delay', { quantity: 'time' }),
    outputDelay: field(seconds.max(10), 'Output delay', { quantity: 'time' }),
  }),
  cycle: z.strictObject({
    starts: field(
      refTo('cue').nullable().meta({ description: 'Cue whose start begins a cycle; null for the first that runs' }),
      'Begins with the cue',
      { none: 'the first that runs' },
    ),
    cycles: field(
      z.int().min(1).max(10_000).nullable().meta({ description: 'The run ends after so many; null: at a stop' }),
      'Ends after cycles',
      { quantity: 'number', none: 'at a stop' },
    ),
    most: field(z.number().min(0.001).max(86_400).meta({ description: 'Longest run, s' }), 'Longest run', {
      quantity: 'time',
    }),
  }),
  seed: field(
    z.int().min(0).max(4_294_967_295).meta({ description: 'Of everything that scatters' }),
    'Seed of scatter',
    { quantity: 'number' },
  ),
  monitors: z.array(monitorSchema).max(60),
  spacings: z
    .array(spacingSchema)
    .max(60)
    .optional()
    .meta({ description: 'Axes that run on one line and must not come too near each other' }),
});

export type Sequence = z.infer<typeof sequenceSchema>;
export type Cue = Sequence['cues'][number];
export type Interlock = Sequence['interlocks'][number];
export type Monitor = Sequence['monitors'][number];
export type AxisSpacing = z.infer<typeof spacingSchema>;
export type Flag = Sequence['flags'][number];

/** Nothing seen and nothing told. */
export function emptySequence(): Sequence {
  return {
    sensors: [],
    flags: [],
    cues: [],
    interlocks: [],
    emergency: { when: null, ramp: 0.3 },
    controller: { scan: null, inputDelay: 0, outputDelay: 0 },
    cycle: { starts: null, cycles: null, most: 30 },
    seed: 1,
    monitors: [],
  };
}

/** Springs, dampers, loads and stops that cues switch. */
export function switchedElements({ sequence }: { sequence: Sequence }): Set<string> {
  return new Set(sequence.cues.flatMap(({ on, action }) => (on && action.do === 'switch' ? [action.element] : [])));
}

/** The parts that a condition is built from, itself first. */
export function conditionTerms(condition: Condition): Condition[] {
  if (condition.op === 'and' || condition.op === 'or') return [condition, ...condition.of.flatMap(conditionTerms)];
  return condition.op === 'not' ? [condition, ...conditionTerms(condition.of)] : [condition];
}

/** Levels of and, or, not that a condition may have, and terms in all: far inside what storage and stack take. */
export const CONDITION_DEPTH = 16;
export const CONDITION_TERMS = 200;

/** What is too much about a condition, or null: how deep it is nested, how many terms it has. */
export function conditionTrouble(condition: Condition): string | null {
  let level = [condition];
  let terms = 0;
  for (let depth = 1; level.length > 0; depth++) {
    terms += level.length;
    if (depth > CONDITION_DEPTH)
      return `is nested more than ${CONDITION_DEPTH} deep: let a cue set a flag for the inner part, and name the flag here`;
    if (terms > CONDITION_TERMS)
      return `has more than ${CONDITION_TERMS} terms: let cues set flags for parts of it, and name the flags here`;
    level = level.flatMap((c) => (c.op === 'and' || c.op === 'or' ? c.of : c.op === 'not' ? [c.of] : []));
  }
  return null;
}

/** Checks sensors and cues beside what they name; problems are told with their place in the document. */
export function checkSequence(
  sequence: Sequence,
  axes: readonly { id: string; kind: string; cylinder: unknown }[],
  say: Say,
): void {
  const at = (path: PropertyKey[], message: string) => say(['sequence', ...path], message);
  for (const list of ['sensors', 'flags', 'cues', 'interlocks', 'monitors'] as const) {
    unique(sequence[list] as { id: string }[], 'id', ['sequence', list], say);
    unique(sequence[list] as { name: string }[], 'name', ['sequence', list], say);
  }
  const condition = (given: Condition | null, path: PropertyKey[]) => {
    const trouble = given && conditionTrouble(given);
    if (trouble) at(path, trouble);
  };
  checkSensorLoops(sequence, at);
  sequence.cues.forEach(({ when, action: a, timeOut }, i) => {
    const path = ['cues', i];
    condition(when, [...path, 'when']);
    if (a.do === 'engage' && a.to === a.axis)
      at([...path, 'action', 'to'], 'must name another axis than the one engaged');
    if (a.do === 'cylinder' && axes.find(({ id: axisId }) => axisId === a.axis)?.cylinder === null)
      at([...path, 'action', 'axis'], 'names an axis that is no cylinder: make it one in Build, or let it move');
    if (timeOut?.then === 'cue' && timeOut.cue === null)
      at([...path, 'timeOut', 'cue'], 'names no cue: choose the one that runs then');
  });
  sequence.interlocks.forEach(({ during }, i) => condition(during, ['interlocks', i, 'during']));
  condition(sequence.emergency.when, ['emergency', 'when']);
  const { spacings = [] } = sequence;
  unique(spacings, 'id', ['sequence', 'spacings'], say);
  unique(spacings, 'name', ['sequence', 'spacings'], say);
  spacings.forEach((spacing, i) => {
    if (spacing.a === spacing.b) at(['spacings', i, 'b'], 'must name another axis than a');
    for (const key of ['a', 'b'] as const)
      if (axes.find(({ id: own }) => own === spacing[key])?.kind === 'rotary')
        at(['spacings', i, key], 'names a rotary axis: only what goes along a line keeps a distance');
  });
  sequence.monitors.forEach((m, i) => {
    if (m.a === m.b) at(['monitors', i, 'b'], 'must name another body than a');
  });
}

/** Timers and counts of sensors must not wait for themselves. */
function checkSensorLoops(sequence: Sequence, at: Say): void {
  const of = new Map(
    sequence.sensors.map(({ id: own, sensing }) => [
      own,
      sensing.kind === 'timer'
        ? sensing.of
        : sensing.kind === 'count' && sensing.of.what === 'sensor'
          ? sensing.of.sensor
          : null,
    ]),
  );
  sequence.sensors.forEach(({ id: own, name: sensorName }, i) => {
    let next = of.get(own) ?? null;
    for (let steps = 0; next !== null && steps <= of.size; steps++) {
      if (next === own) {
        at(['sensors', i, 'sensing'], `makes “${sensorName}” depend on itself`);
        return;
      }
      next = of.get(next) ?? null;
    }
  });
}
