import { z } from 'zod';
import { field } from './field';
import { offer, type Offers } from './kinds';
import { coordinate, finite, id, name, notNegative, point, positive, seconds, size, unique, type Say } from './parts';
import { gripper } from './gripper';
import { across, inSpace, level, standsIn } from './in-space';
import { isPair, materialSchema, pairSchema } from './material';
import { densityOf, isSpatial, material, partKind, type PartShape } from './part-kind';
import { refTo } from './refer';

const carrier = (description: string) => field(refTo('body', { description, ground: true }), 'Sits on');
const length = { quantity: 'length' } as const;
const thickness = field(size, 'Thickness', length);
const from = ['From x', 'From y'] as const;
const to = ['To x', 'To y'] as const;

const howMany = field(
  z.int().min(1).max(10_000).nullable().meta({ description: 'How many in all; null without end' }),
  'How many',
  { quantity: 'number', none: 'no end' },
);
const release = z.discriminatedUnion('how', [
  z.strictObject({
    how: z.literal('times'),
    times: field(z.array(seconds).min(1).max(1000), 'At (s)', { text: 'times', wide: true }),
  }),
  z.strictObject({
    how: z.literal('interval'),
    first: field(seconds, 'First at', { quantity: 'time' }),
    interval: field(z.number().min(0.001).max(86_400), 'Then every', { quantity: 'time' }),
    count: howMany,
  }),
  z
    .strictObject({
      how: z.literal('flow'),
      first: field(seconds, 'First at', { quantity: 'time' }),
      perMinute: field(z.number().min(0.01).max(60_000), 'Parts a minute', { quantity: 'number' }),
      arrive: field(
        z
          .enum(['evenly', 'randomly'])
          .meta({ description: 'One after the same time, or at random times of that mean (Poisson)' }),
        'They come',
        { words: { evenly: 'evenly', randomly: 'at random' } },
      ),
      count: howMany,
    })
    .meta({ description: 'So many a minute' }),
  z.strictObject({ how: z.literal('cue') }),
]);
const RELEASES: Offers<z.infer<typeof release>, 'how'> = {
  interval: { label: 'at intervals', first: () => ({ how: 'interval', first: 0.2, interval: 2, count: null }) },
  flow: {
    label: 'so many a minute',
    first: () => ({ how: 'flow', first: 0.2, perMinute: 30, arrive: 'evenly', count: null }),
  },
  times: { label: 'at times', first: () => ({ how: 'times', times: [0.2, 2.2] }) },
  cue: { label: 'by a cue', first: () => ({ how: 'cue' }) },
};
offer(release, RELEASES);

const angleIn = (label: string, description: string) =>
  field(finite.optional().meta({ description }), label, { quantity: 'angle', when: inSpace, none: '0' });

const many = (label: string) => field(z.int().min(1).max(100), label, { quantity: 'number' });
const pitch = (label: string) => field(coordinate, label, length);
/** Parts that one release gives at once, in rows. */
const pattern = z.strictObject({
  alongX: many('In a row along x'),
  alongY: many('Rows along y'),
  across: many('Rows across'),
  pitchX: pitch('Pitch along x'),
  pitchY: pitch('Pitch along y'),
  pitchAcross: pitch('Pitch across'),
});
export type SourcePattern = z.infer<typeof pattern>;

const source = z.strictObject({
  id,
  name,
  kind: field(refTo('kind', { description: 'Kind of part that it releases' }), 'Gives'),
  body: carrier('Body that carries the source, or “ground”'),
  plane: standsIn,
  at: field(point, ['x', 'y'], length),
  level: level(),
  angle: field(finite.meta({ description: 'rad' }), 'Turned by', { quantity: 'angle' }),
  tilt: angleIn('Tilted about x', 'First turned about the x of its plane, rad; left out: 0'),
  swivel: angleIn('Then about y', 'Then turned about the y of its plane, rad, and by its angle last; left out: 0'),
  velocity: field(point.meta({ description: 'Velocity at release, m/s' }), ['Speed along x', 'Speed along y'], {
    quantity: 'velocity',
  }),
  across: field(finite.optional().meta({ description: 'Velocity along the normal of the plane, m/s; left out: 0' }), 'Speed across', {
    quantity: 'velocity',
    when: inSpace,
    none: '0',
  }), // prettier-ignore
  pattern: pattern.optional(),
  release: field(release, 'Releases'),
  scatter: z
    .strictObject({
      time: field(
        seconds.meta({ description: 'Standard deviation of the time of release, s' }),
        'Scatter of time (σ)',
        {
          quantity: 'time',
        },
      ),
      place: field(
        notNegative.meta({ description: 'Largest distance beside the place, m, across and along' }),
        'Scatter of place (±)',
        length,
      ),
      angle: field(notNegative.meta({ description: 'Largest turn, rad' }), 'Scatter of turn (±)', {
        quantity: 'angle',
      }),
    })
    .meta({ description: 'How far releases differ; drawn from the seed of the run' }),
});

const sink = z.strictObject({
  id,
  name,
  from: field(point, from, length),
  to: field(
    point.meta({ description: 'Opposite corner: parts whose centre comes into the rectangle are taken away' }),
    to,
    length,
  ),
  plane: standsIn,
  level: level(),
  width: across(),
  counts: field(
    z.enum(['done', 'missed']).meta({ description: 'Whether parts that end here are done or missed' }),
    'Parts here are',
    { words: { done: 'done', missed: 'missed' } },
  ),
});

const edges = (label: string, description: string) =>
  field(size.optional().meta({ description }), label, { ...length, when: inSpace, none: 'none' });

const surface = z.strictObject({
  id,
  name,
  body: carrier('Body that carries it, or “ground”'),
  material,
  line: field(
    z.array(point).min(2).max(200).meta({ description: 'Corners of a chute, ramp, rail or stop' }),
    'Corners in mm; parts touch the left side of the way',
    { text: 'corners', wide: true },
  ),
  thickness,
  plane: standsIn,
  level: level(),
  width: across(),
  edges: edges('Edges on both sides', 'Height of the edges along both sides, over the face, m; left out: none'),
});

const drive = z.discriminatedUnion('by', [
  z.strictObject({
    by: z.literal('speed'),
    speed: field(finite.meta({ description: 'm/s' }), 'Speed', { quantity: 'velocity' }),
    running: field(z.boolean().meta({ description: 'Whether it runs from the start' }), 'Runs from the start'),
  }),
  z.strictObject({
    by: z.literal('axis'),
    axis: field(refTo('axis'), 'Axis'),
    radius: field(
      size.meta({ description: 'Belt travel for one radian of a rotary axis, m; 1 for a linear axis' }),
      'Drum radius',
      { ...length, when: ({ axis }, around) => around.axis(axis)?.kind === 'rotary' },
    ),
  }),
]);
const DRIVES: Offers<z.infer<typeof drive>, 'by'> = {
  speed: { label: 'at a speed', first: () => ({ by: 'speed', speed: 0.2, running: true }) },
  axis: {
    label: 'by an axis',
    first({ machine: { axes } }) {
      const [axis] = axes;
      return axis
        ? { by: 'axis', axis: axis.id, radius: axis.kind === 'linear' ? 1 : 0.05 }
        : 'There is no axis yet: add one in Build.';
    },
  },
};
offer(drive, DRIVES);

const belt = z.strictObject({
  id,
  name,
  material,
  from: field(point.meta({ description: 'Positive speed carries parts from here …' }), from, length),
  to: field(point, to, length),
  thickness: field(size.meta({ description: 'To the right of the way from–to, m' }), 'Thickness', length),
  drive: field(drive, 'Driven'),
  plane: standsIn,
  seen: field(
    z
      .enum(['side', 'above'])
      .optional()
      .meta({ description: 'Whether the plane shows the belt from the side (left out), or from above, its face towards the viewer' }),
    'Seen from',
    { when: inSpace, words: { side: 'the side', above: 'above' }, none: 'the side' },
  ), // prettier-ignore
  level: level(),
  width: across(),
  guides: edges('Side guides', 'Height of the guides along both sides, over the face, m; left out: none'),
  turn: field(
    z.number().min(-6.28).max(6.28).optional().meta({ description: 'How far it turns to the left on its way, rad, in a circular arc; left out: straight' }),
    'Turns to the left by',
    { quantity: 'angle', when: (thing, around) => around.space && thing.seen === 'above', none: 'straight' },
  ), // prettier-ignore
  rise: field(
    coordinate.optional().meta({ description: 'How much higher over the plane it ends than it begins, m; left out: 0' }),
    'Rises by',
    { ...length, when: (thing, around) => around.space && thing.seen === 'above', none: '0' },
  ), // prettier-ignore
});

const platform = z.strictObject({
  id,
  name,
  material,
  from: field(point, from, length),
  to: field(
    point.meta({ description: 'Its upper face runs from–to at the end of its travel that the spring pushes to' }),
    to,
    length,
  ),
  thickness,
  plane: standsIn,
  level: level(),
  width: across(),
  angle: field(finite.meta({ description: 'Direction in which it gives way, rad' }), 'Gives way along', {
    quantity: 'angle',
  }),
  travel: field(size.meta({ description: 'How far it gives way, m' }), 'Travel', length),
  rate: field(positive.meta({ description: 'Spring rate, N/m' }), 'Spring rate', { quantity: 'springRate' }),
  preload: field(notNegative.meta({ description: 'Force at which it begins to give way, N' }), 'Preload', {
    quantity: 'force',
  }),
  damping: field(notNegative.meta({ description: 'N·s/m' }), 'Damping', { quantity: 'linearDamping' }),
  mass: field(positive.meta({ description: 'kg' }), 'Mass', { quantity: 'mass' }),
});

const solid = z.strictObject({
  body: refTo('body', { ground: true }),
  material,
  as: z.enum(['hull', 'exact']),
});

/** Loose parts and what handles them, each by the list that it stands in. */
export const looseParts = {
  kinds: partKind,
  sources: source,
  sinks: sink,
  surfaces: surface,
  belts: belt,
  platforms: platform,
  grippers: gripper,
};

/** Loose parts and what handles them. SI units. */
export const looseSchema = z.strictObject({
  materials: z.array(materialSchema).max(16),
  pairs: z.array(pairSchema).max(136),
  kinds: z.array(partKind).max(40),
  sources: z.array(source).max(60),
  sinks: z.array(sink).max(40),
  surfaces: z.array(surface).max(200),
  belts: z.array(belt).max(60),
  platforms: z.array(platform).max(40),
  grippers: z.array(gripper).max(60),
  solids: z.array(solid).max(300).meta({ description: 'Bodies of the mechanism that touch parts' }),
  space: z
    .literal(true)
    .optional()
    .meta({ description: 'Parts move in space, and what is said of depth counts; left out: in the front plane alone' }),
  step: z.number().min(1e-5).max(0.02).meta({ description: 'Step of the contact computation, s' }),
});

export type Loose = z.infer<typeof looseSchema>;
export type PartSource = Loose['sources'][number];
export type PartSink = Loose['sinks'][number];
export type Surface = Loose['surfaces'][number];
export type Belt = Loose['belts'][number];
export type Platform = Loose['platforms'][number];
export type Solid = Loose['solids'][number];

/** No loose parts, and a step that serves most machines. */
export function emptyLoose(): Loose {
  return {
    materials: [],
    pairs: [],
    kinds: [],
    sources: [],
    sinks: [],
    surfaces: [],
    belts: [],
    platforms: [],
    grippers: [],
    solids: [],
    step: 0.002,
  };
}

type Tray = Extract<PartShape, { kind: 'tray' }>;
/** Walls and floor leave room between them. */
function checkTray(tray: Tray, name: string, say: (key: string, message: string) => void): void {
  const { width, height, depth, wall, floor, along, across: rows } = tray;
  if (floor >= height) say('floor', `of “${name}” fills its height: make it thinner`);
  if (wall * (along + 1) >= width) say('wall', `of “${name}” fills its width: make it thinner, or the pockets fewer`);
  if (wall * (rows + 1) >= depth) say('wall', `of “${name}” fills its depth: make it thinner, or the pockets fewer`);
}

/** Checks the loose parts beside what they name; problems are told with their place in the document. */
export function checkLoose(loose: Loose, say: Say): void {
  const lists = [
    'materials',
    'pairs',
    'kinds',
    'sources',
    'sinks',
    'surfaces',
    'belts',
    'platforms',
    'grippers',
  ] as const;
  for (const list of lists) unique(loose[list] as { id: string }[], 'id', ['loose', list], say);
  for (const list of lists)
    if (list !== 'pairs') unique(loose[list] as { name: string }[], 'name', ['loose', list], say);
  loose.pairs.forEach((p, i) => {
    if (loose.pairs.slice(0, i).some((other) => isPair(other, p.a, p.b)))
      say(['loose', 'pairs', i], 'names a pair of materials that stands above it already');
  });
  loose.kinds.forEach((kind, i) => {
    if (kind.mass.given !== 'typed' && densityOf(kind, loose.materials) === null)
      say(['loose', 'kinds', i, 'mass', 'density'], `is needed: the material of “${kind.name}” says none`);
    if (!loose.space && (isSpatial(kind.shape) || kind.mass.given === 'volume'))
      say(
        ['loose', 'kinds', i],
        `“${kind.name}” is a part in space, but parts of this machine move in the front plane alone: let them move in space, or give it a flat shape`,
      );
    if (kind.mass.given !== 'typed' && kind.mass.given !== 'volume' && isSpatial(kind.shape))
      say(
        ['loose', 'kinds', i, 'mass', 'given'],
        `of “${kind.name}” must be “typed” or “volume”: its shape has a depth of its own`,
      );
    if (kind.shape.kind === 'capsule' && kind.shape.length < 2 * kind.shape.radius)
      say(
        ['loose', 'kinds', i, 'shape', 'length'],
        `of “${kind.name}” must not be below its diameter: both round ends belong to it`,
      );
    if (kind.shape.kind === 'tray')
      checkTray(kind.shape, kind.name, (key, message) => say(['loose', 'kinds', i, 'shape', key], message));
    if (kind.mass.given === 'ball' && kind.shape.kind !== 'circle')
      say(['loose', 'kinds', i, 'mass', 'given'], `is “ball”, but “${kind.name}” is no circle`);
  });
  loose.grippers.forEach((g, i) => {
    if (g.fingers && !loose.space)
      say(
        ['loose', 'grippers', i, 'fingers'],
        `of “${g.name}” hold in space only: let parts move in space, or let it take within reach`,
      );
  });
  loose.solids.forEach((s, i) => {
    if (loose.solids.findIndex((other) => other.body === s.body) !== i)
      say(['loose', 'solids', i, 'body'], `names the body “${s.body}”, which stands above it already`);
  });
  loose.belts.forEach((b, i) => {
    if (b.from[0] === b.to[0] && b.from[1] === b.to[1]) say(['loose', 'belts', i, 'to'], 'must differ from from');
  });
  loose.platforms.forEach((p, i) => {
    if (p.from[0] === p.to[0] && p.from[1] === p.to[1]) say(['loose', 'platforms', i, 'to'], 'must differ from from');
  });
}
