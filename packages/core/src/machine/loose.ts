import { z } from 'zod';
import { coordinate, density, finite, id, name, notNegative, positive, size, unique, type Say } from './parts';
import { refTo } from './refer';

const point = z.tuple([coordinate, coordinate]).meta({ description: 'x and y in m' });
const colour = z.int().min(0).max(7).meta({ description: 'Index into the palette of colours' });
const materialId = refTo('material', { description: 'Material of its surface' });

const material = z.strictObject({ id, name });

const pair = z.strictObject({
  id,
  a: refTo('material'),
  b: refTo('material'),
  friction: notNegative.max(10).meta({ description: 'Coefficient of dry friction' }),
  restitution: finite.min(0).max(1).meta({ description: 'Speed after a straight impact over the speed before it' }),
});

/** How the contact shape of an outline is made: its hull, its exact convex pieces, or pieces of a simpler outline. */
const contactShape = z.enum(['hull', 'exact', 'simplified']);

const partShape = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('circle'), radius: size }),
  z.strictObject({ kind: z.literal('box'), width: size, height: size }),
  z.strictObject({
    kind: z.literal('outline'),
    points: z.array(point).min(3).max(2000).meta({ description: 'Corners, in order round the part, m' }),
    as: contactShape,
    tolerance: notNegative.meta({ description: 'Largest distance that a simplified outline may differ, m' }),
  }),
]);

const partMass = z.discriminatedUnion('given', [
  z.strictObject({ given: z.literal('typed'), mass: positive.meta({ description: 'kg, spread evenly' }) }),
  z.strictObject({
    given: z.literal('shape'),
    thickness: size.meta({ description: 'm' }),
    density: density.meta({ description: 'kg/m³' }),
  }),
  z
    .strictObject({ given: z.literal('ball'), density: density.meta({ description: 'kg/m³' }) })
    .meta({ description: 'Circle only: the mass and inertia of a full ball' }),
]);

const partKind = z.strictObject({ id, name, colour, material: materialId, shape: partShape, mass: partMass });

const seconds = notNegative.max(86_400);

const source = z.strictObject({
  id,
  name,
  kind: refTo('kind', { description: 'Kind of part that it releases' }),
  body: refTo('body', { description: 'Body that carries the source, or “ground”', ground: true }),
  at: point,
  angle: finite.meta({ description: 'rad' }),
  velocity: point.meta({ description: 'Velocity at release, m/s' }),
  release: z.discriminatedUnion('how', [
    z.strictObject({ how: z.literal('times'), times: z.array(seconds).min(1).max(1000) }),
    z.strictObject({
      how: z.literal('interval'),
      first: seconds,
      interval: z.number().min(0.001).max(86_400),
      count: z.int().min(1).max(10_000).nullable().meta({ description: 'How many in all; null without end' }),
    }),
    z.strictObject({ how: z.literal('cue') }),
  ]),
  scatter: z
    .strictObject({
      time: seconds.meta({ description: 'Standard deviation of the time of release, s' }),
      place: notNegative.meta({ description: 'Largest distance beside the place, m, across and along' }),
      angle: notNegative.meta({ description: 'Largest turn, rad' }),
    })
    .meta({ description: 'How far releases differ; drawn from the seed of the run' }),
});

const sink = z.strictObject({
  id,
  name,
  from: point,
  to: point.meta({ description: 'Opposite corner: parts whose centre comes into the rectangle are taken away' }),
  counts: z.enum(['done', 'missed']).meta({ description: 'Whether parts that end here are done or missed' }),
});

const surface = z.strictObject({
  id,
  name,
  body: refTo('body', { description: 'Body that carries it, or “ground”', ground: true }),
  material: materialId,
  line: z.array(point).min(2).max(200).meta({ description: 'Corners of a chute, ramp, rail or stop' }),
  thickness: size,
});

const belt = z.strictObject({
  id,
  name,
  material: materialId,
  from: point.meta({ description: 'Positive speed carries parts from here …' }),
  to: point,
  thickness: size.meta({ description: 'To the right of the way from–to, m' }),
  drive: z.discriminatedUnion('by', [
    z.strictObject({
      by: z.literal('speed'),
      speed: finite.meta({ description: 'm/s' }),
      running: z.boolean().meta({ description: 'Whether it runs from the start' }),
    }),
    z.strictObject({
      by: z.literal('axis'),
      axis: refTo('axis'),
      radius: size.meta({ description: 'Belt travel for one radian of a rotary axis, m; 1 for a linear axis' }),
    }),
  ]),
});

const platform = z.strictObject({
  id,
  name,
  material: materialId,
  from: point,
  to: point.meta({ description: 'Its upper face runs from–to at the end of its travel that the spring pushes to' }),
  thickness: size,
  angle: finite.meta({ description: 'Direction in which it gives way, rad' }),
  travel: size.meta({ description: 'How far it gives way, m' }),
  rate: positive.meta({ description: 'Spring rate, N/m' }),
  preload: notNegative.meta({ description: 'Force at which it begins to give way, N' }),
  damping: notNegative.meta({ description: 'N·s/m' }),
  mass: positive.meta({ description: 'kg' }),
});

const gripper = z.strictObject({
  id,
  name,
  body: refTo('body', { ground: true }),
  at: point.meta({ description: 'Where it holds, in the frame of the body, m' }),
  reach: size.meta({ description: 'Largest distance to a part that it takes, m' }),
  force: positive.meta({ description: 'Largest force it holds, N; beyond it the part is lost' }),
  kinds: z.array(refTo('kind')).max(40).meta({ description: 'Kinds of part it takes; none named stands for all' }),
});

const solid = z.strictObject({
  body: refTo('body', { ground: true }),
  material: materialId,
  as: z.enum(['hull', 'exact']),
});

/** Loose parts and what handles them. SI units. */
export const looseSchema = z.strictObject({
  materials: z.array(material).max(16),
  pairs: z.array(pair).max(136),
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
export type Material = Loose['materials'][number];
export type MaterialPair = Loose['pairs'][number];
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

/** Whether two materials are those of a pair, in either order. */
export const isPair = (pairOf: Pick<MaterialPair, 'a' | 'b'>, a: string, b: string): boolean =>
  (pairOf.a === a && pairOf.b === b) || (pairOf.a === b && pairOf.b === a);

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
