import { z } from 'zod';
import { AXIS_KINDS, formatQuantity, type QuantityKind } from '../quantity';
import { nameOf, withAxis, withFirst } from './action';
import { field, type Around, type Thing } from './field';
import { across, inSpace, level, standsIn } from './in-space';
import { offer, wordsOf, type Before, type Kinds, type Offers } from './kinds';
import { finite, id, lasting, name, notNegative, point, positive, seconds } from './parts';
import { refTo } from './refer';
import type { Machine } from './schema';

const seen = field(
  z.array(refTo('kind')).max(60).meta({ description: 'Kinds of part that count; none named stands for all' }),
  'Sees',
  { none: 'every part' },
);
const carrier = field(refTo('body', { description: 'Body that carries it, or “ground”', ground: true }), 'Sits on');
const side = field(z.enum(['above', 'below']), 'Is', { words: { above: 'at or above', below: 'at or below' } });
const axis = field(refTo('axis'), 'Axis');
const from = field(point, ['From x', 'From y'], { quantity: 'length' });
const to = field(point, ['To x', 'To y'], { quantity: 'length' });

/** How a part must stand to be seen. */
const howItStands = {
  stands: field(
    z.enum(['anyhow', 'upright', 'lying', 'over']).optional().meta({
      description: 'In space: how the y of a part must stand against the vertical to be seen; left out: anyhow',
    }),
    'Sees what stands',
    { when: inSpace, words: { anyhow: 'anyhow', upright: 'upright', lying: 'on its side', over: 'upside down' } },
  ),
  within: field(
    z.number().min(0.001).max(1.57).optional().meta({ description: 'Largest tilt against that, rad; left out: 15°' }),
    'Tilted at most by',
    {
      quantity: 'angle',
      when: (thing, around) => around.space && (thing.stands ?? 'anyhow') !== 'anyhow',
      none: (_, { show }) => show(TILT, 'angle'),
    },
  ),
};
/** Largest tilt of what nothing else is said of, rad. */
export const TILT = Math.PI / 12;

/** In what a sensor senses: its value, and how far that must go back. */
function sensedIn(sensing: Thing, around: Pick<Around, 'axis'>): QuantityKind {
  const kinds = AXIS_KINDS[around.axis(sensing.axis)?.kind ?? 'linear'];
  if (sensing.kind === 'position') return sensing.quantity === 'position' ? kinds.position : kinds.velocity;
  return sensing.kind === 'force' ? kinds.effort : 'length';
}
const value = field(finite, 'Value', { quantity: sensedIn });

/** A sensor does not speak of itself. */
const isAnother = (candidate: Thing, thing: Thing) => candidate.id !== thing.id;
const others = ({ machine, was }: Before) => machine.sequence.sensors.filter((sensor) => isAnother(sensor, was));

const counted = z.discriminatedUnion('what', [
  z
    .strictObject({ what: z.literal('sensor'), sensor: field(refTo('sensor'), 'Of', { only: isAnother }) })
    .meta({ description: 'Its rising edges' }),
  z.strictObject({ what: z.literal('cue'), cue: field(refTo('cue'), 'Of') }).meta({ description: 'Its ends' }),
  z
    .strictObject({ what: z.literal('sink'), sink: field(refTo('sink'), 'Of') })
    .meta({ description: 'Parts taken away' }),
]);
type Counted = z.infer<typeof counted>;
const COUNTED: Offers<Counted, 'what'> = {
  cue: {
    label: 'ends of a cue',
    first: ({ machine }) => withFirst(machine.sequence.cues, 'cue yet', (cue) => ({ what: 'cue', cue })),
  },
  sensor: {
    label: 'a sensor coming on',
    first: (before) => withFirst(others(before), 'other sensor yet', (sensor) => ({ what: 'sensor', sensor })),
  },
  sink: {
    label: 'parts in a sink',
    first: ({ machine }) => withFirst(machine.loose.sinks, 'sink yet', (sink) => ({ what: 'sink', sink })),
  },
};
offer(counted, COUNTED);

/** What a sensor senses. */
export const sensingSchema = z.discriminatedUnion('kind', [
  z
    .strictObject({
      kind: z.literal('beam'),
      body: carrier,
      plane: standsIn,
      from,
      to,
      level: level(),
      toLevel: level('Height at its end'),
      sees: seen,
      ...howItStands,
    })
    .meta({ description: 'On while a part cuts the line' }),
  z
    .strictObject({
      kind: z.literal('area'),
      body: carrier,
      plane: standsIn,
      from,
      to,
      level: level(),
      width: across(),
      sees: seen,
      ...howItStands,
    })
    .meta({ description: 'On while a part reaches into the rectangle' }),
  z
    .strictObject({
      kind: z.literal('proximity'),
      body: carrier,
      plane: standsIn,
      from,
      to,
      level: level(),
      width: across(),
      distance: field(positive, 'Within', { quantity: 'length' }),
      bodies: field(z.array(refTo('body', { ground: true })).max(60), 'Bodies it sees'),
      parts: field(z.boolean().meta({ description: 'Whether it sees parts too' }), 'Sees parts'),
      sees: seen,
      ...howItStands,
    })
    .meta({ description: 'On while a chosen body or part is within the distance of the face from–to' }),
  z.strictObject({
    kind: z.literal('position'),
    axis,
    quantity: field(z.enum(['position', 'speed']), 'Its', { words: { position: 'Position', speed: 'Speed' } }),
    side,
    value,
  }),
  z
    .strictObject({ kind: z.literal('force'), axis, side, value })
    .meta({ description: 'Force or torque that the axis gives, along its positive direction, N or N·m' }),
  z.strictObject({
    kind: z.literal('count'),
    of: field(counted, 'Counts'),
    value: field(z.int().min(1).meta({ description: 'On from this count until reset by a cue' }), 'On from', {
      quantity: 'number',
    }),
  }),
  z
    .strictObject({
      kind: z.literal('timer'),
      of: field(refTo('sensor'), 'Of the sensor', { only: isAnother }),
      how: field(z.enum(['on', 'off', 'pulse']), 'As', {
        words: { on: 'On-delay (TON)', off: 'Off-delay (TOF)', pulse: 'Pulse (TP)' },
      }),
      time: field(seconds, 'Time', { quantity: 'time' }),
    })
    .meta({ description: 'On-delay, off-delay or pulse of another sensor (IEC 61131-3: TON, TOF, TP)' }),
  z
    .strictObject({
      kind: z.literal('cue'),
      cue: field(refTo('cue'), 'Cue'),
      time: field(seconds, 'On for (0: it stays on)', { quantity: 'time' }),
    })
    .meta({ description: 'On for this time after the cue has ended' }),
  z
    .strictObject({
      kind: z.literal('button'),
      presses: field(z.array(z.strictObject({ at: seconds, hold: lasting })).max(200), 'Pressed at (s)', {
        text: 'presses',
        none: '0.5 for 0.2, 3 for 0.2',
        wide: true,
      }),
    })
    .meta({ description: 'Pressed by the operator, as the script of the run says' }),
]);

const goesBack = ['beam', 'area', 'proximity', 'position', 'force'];

/** A sensor, and what becomes of its signal. */
export const sensorSchema = z.strictObject({
  id,
  name,
  sensing: sensingSchema,
  hysteresis: field(
    notNegative.meta({ description: 'How far what is sensed must go back before it is off: m, rad, N …' }),
    'Hysteresis',
    {
      quantity: ({ sensing }, around) => sensedIn(sensing as Thing, around),
      when: ({ sensing }) => goesBack.includes((sensing as Sensing).kind),
    },
  ),
  onDelay: field(seconds, 'On-delay', { quantity: 'time' }),
  offDelay: field(seconds, 'Off-delay', { quantity: 'time' }),
  filter: field(seconds.meta({ description: 'Changes that last shorter are not seen' }), 'Filter', {
    quantity: 'time',
  }),
  inverted: field(z.boolean(), 'Inverted'),
});

export type Sensor = z.infer<typeof sensorSchema>;
export type Sensing = z.infer<typeof sensingSchema>;
export type SensorKind = Sensing['kind'];

/** Where a new sensor is put: over the middle of the first belt, else beside the first source. */
function somewhere({ loose }: Machine): [number, number] {
  const belt = loose.belts[0];
  const [x, y] = loose.sources[0]?.at ?? [0, 0];
  return belt ? [(belt.from[0] + belt.to[0]) / 2, (belt.from[1] + belt.to[1]) / 2] : [x + 0.1, y];
}
const seenWords = ({ sees }: { sees: readonly string[] }, { loose }: Machine) =>
  sees.length > 0 ? sees.map((kind) => nameOf(loose.kinds, kind)).join(', ') : 'every part';
function valueWords(sensing: Extract<Sensing, { side: unknown }>, { axes, units }: Machine): string {
  const own = axes.find((known) => known.id === sensing.axis);
  const quantity = sensedIn(sensing, { axis: () => own });
  return `${own?.name ?? '…'} ${sensing.side} ${formatQuantity(sensing.value, quantity, units)}`;
}
/** What sensors can sense, as they are offered. */
export const SENSORS: Kinds<Sensing, 'kind'> = {
  beam: {
    label: 'Light beam',
    hint: 'On while a part cuts a line',
    first({ machine }) {
      const [x, y] = somewhere(machine);
      return { kind: 'beam', body: 'ground', from: [x, y + 0.003], to: [x, y + 0.05], sees: [] };
    },
    words: seenWords,
  },
  area: {
    label: 'Area',
    hint: 'On while a part reaches into a rectangle',
    first({ machine }) {
      const [x, y] = somewhere(machine);
      return { kind: 'area', body: 'ground', from: [x - 0.03, y + 0.003], to: [x + 0.03, y + 0.05], sees: [] };
    },
    words: seenWords,
  },
  proximity: {
    label: 'Proximity',
    hint: 'On while a body or part is near a face',
    first({ machine }) {
      const [x, y] = somewhere(machine);
      return {
        kind: 'proximity',
        body: 'ground',
        from: [x, y],
        to: [x + 0.01, y],
        distance: 0.01,
        bodies: machine.mechanism.bodies.slice(0, 1).map((body) => body.id),
        parts: true,
        sees: [],
      };
    },
    words: ({ distance }, { units }) => `within ${formatQuantity(distance, 'length', units)}`,
  },
  position: {
    label: 'Axis past a value',
    hint: 'Position or speed of an axis',
    first: (before) =>
      withAxis(before, (own) => ({ kind: 'position', axis: own, quantity: 'position', side: 'above', value: 0.1 })),
    words: valueWords,
  },
  force: {
    label: 'Force past a value',
    hint: 'What an axis has to give',
    first: (before) => withAxis(before, (own) => ({ kind: 'force', axis: own, side: 'above', value: 50 })),
    words: valueWords,
  },
  count: {
    label: 'Count',
    hint: 'On from a number of edges, ends or parts',
    first(before) {
      const of = [COUNTED.cue, COUNTED.sensor, COUNTED.sink]
        .map(({ first }) => first(before))
        .find((begun) => typeof begun !== 'string');
      return of ? { kind: 'count', of, value: 10 } : 'There is nothing to count yet: add a cue or another sensor.';
    },
    words({ of, value: least }, { sequence, loose }) {
      const what =
        of.what === 'sensor'
          ? nameOf(sequence.sensors, of.sensor)
          : of.what === 'cue'
            ? nameOf(sequence.cues, of.cue)
            : nameOf(loose.sinks, of.sink);
      return `${String(least)} × ${what}`;
    },
  },
  timer: {
    label: 'Timer',
    hint: 'On-delay, off-delay or pulse of another sensor',
    first: (before) =>
      withFirst(others(before), 'other sensor yet: add one first', (of) => ({
        kind: 'timer',
        of,
        how: 'on',
        time: 0.5,
      })),
    words: ({ of, time }, { sequence, units }) =>
      `${nameOf(sequence.sensors, of)}, ${formatQuantity(time, 'time', units)}`,
  },
  cue: {
    label: 'Cue has ended',
    hint: 'On after a cue has ended',
    first: ({ machine }) => withFirst(machine.sequence.cues, 'cue yet', (cue) => ({ kind: 'cue', cue, time: 0.5 })),
    words: ({ cue }, { sequence }) => nameOf(sequence.cues, cue),
  },
  button: {
    label: 'Operator’s button',
    hint: 'Pressed as the script of the run says',
    first: () => ({ kind: 'button', presses: [{ at: 0.5, hold: 0.2 }] }),
    words: ({ presses }) => (presses.length === 0 ? 'never pressed' : `pressed ${String(presses.length)} ×`),
  },
};
offer(sensingSchema, SENSORS);

/** What a sensor senses, in a few words. */
export const sensorWords = ({ sensing }: Sensor, machine: Machine): string =>
  wordsOf(SENSORS, 'kind', sensing, machine);
