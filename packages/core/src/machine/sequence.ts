import { z } from 'zod';
import { lawChoice } from './motion';
import { coordinate, finite, id, lasting, name, notNegative, positive, unique, type Say } from './parts';
import { refTo } from './refer';

const point = z.tuple([coordinate, coordinate]).meta({ description: 'x and y in m' });
const seconds = notNegative.max(86_400).meta({ description: 's' });

/** A condition: true or false at every instant, built from what is seen, said and counted. */
export type Condition =
  | { op: 'and' | 'or'; of: Condition[] }
  | { op: 'not'; of: Condition }
  | { op: 'on' | 'rises' | 'falls'; sensor: string }
  | { op: 'flag'; flag: string }
  | { op: 'running' | 'ended'; cue: string }
  | { op: 'count'; cue: string; is: '<' | '>=' | '='; value: number }
  | { op: 'at'; axis: string; value: number; within: number }
  | { op: 'rests'; axis: string }
  | { op: 'time'; at: number }
  | { op: 'holds'; gripper: string };

const conditionSchema: z.ZodType<Condition> = z
  .lazy(() =>
    z.union([
      z.strictObject({ op: z.enum(['and', 'or']), of: z.array(conditionSchema).min(2).max(30) }),
      z.strictObject({ op: z.literal('not'), of: conditionSchema }),
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
    ]),
  )
  .meta({
    id: 'Condition',
    description:
      'and, or, not; state and edges of a sensor; a flag; a cue that runs, ends now, or has ended so often; an axis in position or at rest; the time since the cycle began; a gripper that holds a part',
  });

const seen = z
  .array(refTo('kind'))
  .max(60)
  .meta({ description: 'Kinds of part that count; none named stands for all' });
const carrier = refTo('body', { description: 'Body that carries it, or “ground”', ground: true });
const side = z.enum(['above', 'below']);

const sensing = z.discriminatedUnion('kind', [
  z
    .strictObject({ kind: z.literal('beam'), body: carrier, from: point, to: point, sees: seen })
    .meta({ description: 'On while a part cuts the line' }),
  z
    .strictObject({ kind: z.literal('area'), body: carrier, from: point, to: point, sees: seen })
    .meta({ description: 'On while a part reaches into the rectangle' }),
  z
    .strictObject({
      kind: z.literal('proximity'),
      body: carrier,
      from: point,
      to: point,
      distance: positive,
      bodies: z.array(refTo('body', { ground: true })).max(60),
      parts: z.boolean().meta({ description: 'Whether it sees parts too' }),
      sees: seen,
    })
    .meta({ description: 'On while a chosen body or part is within the distance of the face from–to' }),
  z.strictObject({
    kind: z.literal('position'),
    axis: refTo('axis'),
    quantity: z.enum(['position', 'speed']),
    side,
    value: finite,
  }),
  z
    .strictObject({ kind: z.literal('force'), axis: refTo('axis'), side, value: finite })
    .meta({ description: 'Force or torque that the axis gives, along its positive direction, N or N·m' }),
  z.strictObject({
    kind: z.literal('count'),
    of: z.discriminatedUnion('what', [
      z.strictObject({ what: z.literal('sensor'), sensor: refTo('sensor') }).meta({ description: 'Its rising edges' }),
      z.strictObject({ what: z.literal('cue'), cue: refTo('cue') }).meta({ description: 'Its ends' }),
      z.strictObject({ what: z.literal('sink'), sink: refTo('sink') }).meta({ description: 'Parts taken away' }),
    ]),
    value: z.int().min(1).meta({ description: 'On from this count until reset by a cue' }),
  }),
  z
    .strictObject({ kind: z.literal('timer'), of: refTo('sensor'), how: z.enum(['on', 'off', 'pulse']), time: seconds })
    .meta({ description: 'On-delay, off-delay or pulse of another sensor (IEC 61131-3: TON, TOF, TP)' }),
  z
    .strictObject({ kind: z.literal('cue'), cue: refTo('cue'), time: seconds })
    .meta({ description: 'On for this time after the cue has ended' }),
  z
    .strictObject({
      kind: z.literal('button'),
      presses: z.array(z.strictObject({ at: seconds, hold: lasting })).max(200),
    })
    .meta({ description: 'Pressed by the operator, as the script of the run says' }),
]);

const sensor = z.strictObject({
  id,
  name,
  sensing,
  hysteresis: notNegative.meta({ description: 'How far what is sensed must go back before it is off: m, rad, N …' }),
  onDelay: seconds,
  offDelay: seconds,
  filter: seconds.meta({ description: 'Changes that last shorter are not seen' }),
  inverted: z.boolean(),
});

const nullableLimit = positive.nullable();

const action = z.discriminatedUnion('do', [
  z.strictObject({
    do: z.literal('move'),
    axis: refTo('axis'),
    given: z.enum(['to', 'by']),
    value: finite,
    time: lasting.nullable().meta({ description: 'null: the quickest under the limits' }),
    law: lawChoice.nullable().meta({ description: 'null: a servo move of limited jerk' }),
    velocity: nullableLimit,
    acceleration: nullableLimit,
    jerk: nullableLimit,
  }),
  z.strictObject({ do: z.literal('speed'), axis: refTo('axis'), speed: finite, ramp: seconds }),
  z.strictObject({ do: z.literal('cylinder'), axis: refTo('axis'), to: z.enum(['out', 'in']) }),
  z.strictObject({ do: z.literal('belt'), belt: refTo('belt'), speed: finite, ramp: seconds }),
  z.strictObject({
    do: z.literal('load'),
    axis: refTo('axis'),
    force: finite.meta({ description: 'Force or torque along the positive direction from now on, N or N·m' }),
  }),
  z.strictObject({
    do: z.literal('engage'),
    axis: refTo('axis'),
    to: refTo('axis').nullable().meta({ description: 'Axis that is followed; null for the master' }),
    ratio: finite,
    over: seconds.meta({ description: 'Time in which it comes up to speed' }),
  }),
  z.strictObject({ do: z.literal('leave'), axis: refTo('axis'), over: lasting }),
  z.strictObject({ do: z.literal('release'), source: refTo('source') }),
  z.strictObject({ do: z.literal('take'), gripper: refTo('gripper') }),
  z.strictObject({ do: z.literal('letGo'), gripper: refTo('gripper') }),
  z.strictObject({ do: z.literal('flag'), flag: refTo('flag'), set: z.boolean() }),
  z.strictObject({ do: z.literal('reset'), sensor: refTo('sensor') }),
  z.strictObject({ do: z.literal('wait'), time: seconds }),
  z.strictObject({ do: z.literal('alarm'), text: z.string().max(200) }),
  z.strictObject({ do: z.literal('stop') }),
]);

const cue = z.strictObject({
  id,
  name,
  on: z.boolean(),
  after: z.array(refTo('cue')).max(20).meta({ description: 'Cues that must have ended before' }),
  join: z.enum(['all', 'any']),
  choice: z
    .string()
    .max(40)
    .nullable()
    .meta({ description: 'Cues after the same one with the same word here are alternatives: one of them runs' }),
  priority: z.int().min(-99).max(99).meta({ description: 'Of alternatives, and over an axis: the higher goes first' }),
  when: conditionSchema.nullable(),
  delay: seconds,
  times: z.int().min(1).max(100_000).nullable().meta({ description: 'How often at most in a run; null without end' }),
  action,
  timeOut: z
    .strictObject({
      of: z.enum(['wait', 'action']),
      time: lasting,
      then: z.enum(['alarm', 'stop', 'emergency', 'cue']),
      cue: refTo('cue').nullable(),
    })
    .nullable(),
});

const interlock = z.strictObject({
  id,
  name,
  forbids: z.array(refTo('cue')).min(1).max(100).meta({ description: 'Cues that may not start' }),
  during: conditionSchema,
  reason: z.string().max(200),
});

const monitor = z.strictObject({
  id,
  name,
  a: refTo('body', { ground: true }),
  b: refTo('body', { ground: true }),
  shapes: z.enum(['coarse', 'exact']).meta({ description: 'Hulls, or outlines as drawn' }),
  least: notNegative.meta({ description: 'Least clearance, m; 0 watches for interference' }),
  stop: z.boolean().meta({ description: 'Whether the run stops there' }),
});

/** Sensors, cues and what watches over them: the discrete half of a machine. SI units. */
export const sequenceSchema = z.strictObject({
  sensors: z.array(sensor).max(200),
  flags: z.array(z.strictObject({ id, name, set: z.boolean() })).max(100),
  cues: z.array(cue).max(500),
  interlocks: z.array(interlock).max(100),
  emergency: z.strictObject({
    when: conditionSchema.nullable(),
    ramp: lasting.max(60).meta({ description: 'Time in which everything that moves comes to rest, s' }),
  }),
  controller: z.strictObject({
    scan: z.number().min(0.0001).max(10).nullable().meta({ description: 'Scan time, s; null reacts at once' }),
    inputDelay: seconds.max(10),
    outputDelay: seconds.max(10),
  }),
  cycle: z.strictObject({
    starts: refTo('cue')
      .nullable()
      .meta({ description: 'Cue whose start begins a cycle; null for the first that runs' }),
    cycles: z.int().min(1).max(10_000).nullable().meta({ description: 'The run ends after so many; null: at a stop' }),
    most: z.number().min(0.001).max(86_400).meta({ description: 'Longest run, s' }),
  }),
  seed: z.int().min(0).max(4_294_967_295).meta({ description: 'Of everything that scatters' }),
  monitors: z.array(monitor).max(60),
});

export type Sequence = z.infer<typeof sequenceSchema>;
export type Sensor = Sequence['sensors'][number];
export type Sensing = Sensor['sensing'];
export type SensorKind = Sensing['kind'];
export type Cue = Sequence['cues'][number];
export type CueAction = Cue['action'];
export type ActionKind = CueAction['do'];
export type Interlock = Sequence['interlocks'][number];
export type Monitor = Sequence['monitors'][number];
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
export function checkSequence(sequence: Sequence, axes: readonly { id: string; cylinder: unknown }[], say: Say): void {
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
