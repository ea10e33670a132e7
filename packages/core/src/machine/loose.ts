import { z } from 'zod';
import { field, type Thing } from './field';
import { offer, type Before, type Offers } from './kinds';
import { density, finite, id, name, notNegative, point, positive, seconds, size, unique, type Say } from './parts';
import { isPair, materialSchema, pairSchema, type Material } from './material';
import { refTo } from './refer';

const colour = z.int().min(0).max(7).meta({ description: 'Index into the palette of colours' });
const material = field(refTo('material', { description: 'Material of its surface' }), 'Material');
const carrier = (description: string) => field(refTo('body', { description, ground: true }), 'Sits on');
const length = { quantity: 'length' } as const;
const thickness = field(size, 'Thickness', length);
const from = ['From x', 'From y'] as const;
const to = ['To x', 'To y'] as const;

/** How the contact shape of an outline is made: its hull, its exact convex pieces, or pieces of a simpler outline. */
const contactShape = z.enum(['hull', 'exact', 'simplified']);

const partShape = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('circle'), radius: field(size, 'Radius', length) }),
  z.strictObject({
    kind: z.literal('box'),
    width: field(size, 'Width', length),
    height: field(size, 'Height', length),
  }),
  z.strictObject({
    kind: z.literal('outline'),
    points: field(
      z.array(point).min(3).max(2000).meta({ description: 'Corners, in order round the part, m' }),
      'Corners in mm, in order',
      { text: 'corners', wide: true },
    ),
    as: field(contactShape, 'Touches with', {
      words: { hull: 'its hull', exact: 'exact pieces', simplified: 'a simpler outline' },
      hints: {
        hull: 'Quick; hollows count as filled',
        exact: 'Hollows count; the more corners, the slower',
        simplified: 'Hollows count within a tolerance; between the two',
      },
    }),
    tolerance: field(
      notNegative.meta({ description: 'Largest distance that a simplified outline may differ, m' }),
      'Tolerance',
      { ...length, when: ({ as }) => as === 'simplified' },
    ),
  }),
]);

/** A part that is no circle cannot have the mass of a ball. */
const noBall = (part: Record<string, unknown>) => {
  if ((part.mass as Thing).given === 'ball') part.mass = { given: 'typed', mass: 0.2 };
};
const SHAPES: Offers<z.infer<typeof partShape>, 'kind'> = {
  circle: { label: 'Circle', first: () => ({ kind: 'circle', radius: 0.02 }) },
  box: { label: 'Box', first: () => ({ kind: 'box', width: 0.06, height: 0.04 }), settle: noBall },
  outline: {
    label: 'Outline',
    first: () => ({
      kind: 'outline',
      points: [[-0.03, -0.02], [0.03, -0.02], [0.02, 0.02], [-0.02, 0.02]], // prettier-ignore
      as: 'hull',
      tolerance: 0.0005,
    }),
    settle: noBall,
  },
};
offer(partShape, SHAPES);

const inKilograms = { quantity: 'mass' } as const;
const ofMaterial = field(density.optional().meta({ description: 'kg/m³; left out: that of its material' }), 'Density', {
  quantity: 'density',
  none: 'as its material',
});
const partMass = z.discriminatedUnion('given', [
  z.strictObject({
    given: z.literal('typed'),
    mass: field(positive.meta({ description: 'kg, spread evenly' }), 'Mass', inKilograms),
  }),
  z.strictObject({
    given: z.literal('shape'),
    thickness: field(size.meta({ description: 'm' }), 'Thickness', length),
    density: ofMaterial,
  }),
  z
    .strictObject({ given: z.literal('ball'), density: ofMaterial })
    .meta({ description: 'Circle only: the mass and inertia of a full ball' }),
]);

/** A density of its own only where the material has none. */
const densityFor = ({ machine, was }: Before): { density?: number } =>
  machine.loose.materials.find(({ id: own }) => own === was.material)?.density === undefined ? { density: 1000 } : {};

const MASSES: Offers<z.infer<typeof partMass>, 'given'> = {
  typed: { label: 'typed', first: () => ({ given: 'typed', mass: 0.2 }) },
  shape: { label: 'from its shape', first: (before) => ({ given: 'shape', thickness: 0.02, ...densityFor(before) }) },
  ball: {
    label: 'of a full ball',
    first: (before) =>
      (before.was.shape as Thing | undefined)?.kind === 'circle'
        ? { given: 'ball', ...densityFor(before) }
        : 'Only a circle: a ball is one.',
  },
};
offer(partMass, MASSES);

const partKind = z.strictObject({
  id,
  name,
  colour,
  material,
  shape: field(partShape, 'Shape'),
  mass: field(partMass, 'Mass'),
});

const release = z.discriminatedUnion('how', [
  z.strictObject({
    how: z.literal('times'),
    times: field(z.array(seconds).min(1).max(1000), 'At (s)', { text: 'times', wide: true }),
  }),
  z.strictObject({
    how: z.literal('interval'),
    first: field(seconds, 'First at', { quantity: 'time' }),
    interval: field(z.number().min(0.001).max(86_400), 'Then every', { quantity: 'time' }),
    count: field(
      z.int().min(1).max(10_000).nullable().meta({ description: 'How many in all; null without end' }),
      'How many',
      { quantity: 'number', none: 'no end' },
    ),
  }),
  z.strictObject({ how: z.literal('cue') }),
]);
const RELEASES: Offers<z.infer<typeof release>, 'how'> = {
  interval: { label: 'at intervals', first: () => ({ how: 'interval', first: 0.2, interval: 2, count: null }) },
  times: { label: 'at times', first: () => ({ how: 'times', times: [0.2, 2.2] }) },
  cue: { label: 'by a cue', first: () => ({ how: 'cue' }) },
};
offer(release, RELEASES);

const source = z.strictObject({
  id,
  name,
  kind: field(refTo('kind', { description: 'Kind of part that it releases' }), 'Gives'),
  body: carrier('Body that carries the source, or “ground”'),
  at: field(point, ['x', 'y'], length),
  angle: field(finite.meta({ description: 'rad' }), 'Turned by', { quantity: 'angle' }),
  velocity: field(point.meta({ description: 'Velocity at release, m/s' }), ['Speed along x', 'Speed along y'], {
    quantity: 'velocity',
  }),
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
  counts: field(
    z.enum(['done', 'missed']).meta({ description: 'Whether parts that end here are done or missed' }),
    'Parts here are',
    { words: { done: 'done', missed: 'missed' } },
  ),
});

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
  angle: field(finite.meta({ description: 'Direction in which it gives way, rad' }), 'Gives way along', {
    quantity: 'angle',
  }),
  travel: field(size.meta({ description: 'How far it gives way, m' }), 'Travel', length),
  rate: field(positive.meta({ description: 'Spring rate, N/m' }), 'Spring rate', { quantity: 'springRate' }),
  preload: field(notNegative.meta({ description: 'Force at which it begins to give way, N' }), 'Preload', {
    quantity: 'force',
  }),
  damping: field(notNegative.meta({ description: 'N·s/m' }), 'Damping', { quantity: 'linearDamping' }),
  mass: field(positive.meta({ description: 'kg' }), 'Mass', inKilograms),
});

const gripper = z.strictObject({
  id,
  name,
  body: carrier('Body that carries it, or “ground”'),
  at: field(
    point.meta({ description: 'Where it holds, in the frame of the body, m' }),
    ['x on the body', 'y on the body'],
    length,
  ),
  reach: field(size.meta({ description: 'Largest distance to a part that it takes, m' }), 'Reach', length),
  force: field(
    positive.meta({ description: 'Largest force it holds, N; beyond it the part is lost' }),
    'Holds at most',
    {
      quantity: 'force',
    },
  ),
  kinds: field(
    z.array(refTo('kind')).max(40).meta({ description: 'Kinds of part it takes; none named stands for all' }),
    'Takes',
    { none: 'every part' },
  ),
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
  step: z.number().min(1e-5).max(0.02).meta({ description: 'Step of the contact computation, s' }),
});

export type Loose = z.infer<typeof looseSchema>;
export type PartKind = Loose['kinds'][number];
export type PartSource = Loose['sources'][number];
export type PartSink = Loose['sinks'][number];
export type Surface = Loose['surfaces'][number];
export type Belt = Loose['belts'][number];
export type Platform = Loose['platforms'][number];
export type Gripper = Loose['grippers'][number];
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

/** Density of a kind of part in kg/m³: its own, or that of its material; null where neither is said. */
export function densityOf(
  { mass, material: of }: Pick<PartKind, 'mass'> & { material?: string },
  materials: readonly Material[],
): number | null {
  const own = mass.given === 'typed' ? undefined : mass.density;
  return own ?? materials.find(({ id: known }) => known === of)?.density ?? null;
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
    if (kind.mass.given === 'ball' && kind.shape.kind !== 'circle')
      say(['loose', 'kinds', i, 'mass', 'given'], `is “ball”, but “${kind.name}” is no circle`);
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
