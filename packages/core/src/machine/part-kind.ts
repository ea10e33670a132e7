import { z } from 'zod';
import { field, type Thing } from './field';
import { inSpace } from './in-space';
import { offer, type Before, type Offers } from './kinds';
import type { Material } from './material';
import { density, id, name, notNegative, point, positive, size } from './parts';
import { refTo } from './refer';

export const colour = z.int().min(0).max(7).meta({ description: 'Index into the palette of colours' });
export const material = field(refTo('material', { description: 'Material of its surface' }), 'Material');
const length = { quantity: 'length' } as const;
const sized = (label: string) => field(size, label, length);

/** How far a flat shape reaches across the plane, where parts move in space. */
const depth = (otherwise: string, few: string) =>
  field(size.optional().meta({ description: `Across the plane, m, where parts move in space; left out: ${otherwise}` }), 'Depth', {
    ...length,
    when: inSpace,
    none: few,
  }); // prettier-ignore

/** How the contact shape of an outline is made: its hull, its exact convex pieces, or pieces of a simpler outline. */
const contactShape = z.enum(['hull', 'exact', 'simplified']);

const partShape = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('circle'),
    radius: sized('Radius'),
    depth: depth('as its mass has it, else its radius', 'as its mass, or radius'),
  }),
  z.strictObject({
    kind: z.literal('box'),
    width: sized('Width'),
    height: sized('Height'),
    depth: depth('the lesser of width and height', 'the lesser side'),
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
    depth: depth('as thick as its mass has it, else 0.02', 'as its mass has it'),
  }),
  z.strictObject({ kind: z.literal('ball'), radius: sized('Radius') }).meta({ description: 'In space only' }),
  z
    .strictObject({ kind: z.literal('cylinder'), radius: sized('Radius'), length: sized('Length') })
    .meta({ description: 'In space only; its axis is the y of the part' }),
  z
    .strictObject({ kind: z.literal('capsule'), radius: sized('Radius'), length: sized('Length over all') })
    .meta({ description: 'A cylinder with round ends, in space only; its axis is the y of the part' }),
  z
    .strictObject({
      kind: z.literal('tray'),
      width: sized('Width'),
      height: sized('Height'),
      depth: sized('Depth'),
      wall: sized('Wall'),
      floor: sized('Floor'),
      along: field(z.int().min(1).max(30), 'Pockets along', { quantity: 'number' }),
      across: field(z.int().min(1).max(30), 'Pockets across', { quantity: 'number' }),
    })
    .meta({
      description: 'A box that is open above (towards its y), with pockets that other parts fall into; in space only',
    }),
]);
/** Shapes that parts have only where they move in space. */
const SPATIAL = ['ball', 'cylinder', 'capsule', 'tray'];
export const isSpatial = ({ kind }: { kind: string }): boolean => SPATIAL.includes(kind);

/** A part that is no circle cannot have the mass of a ball. */
const noBall = (part: Record<string, unknown>) => {
  if (['ball', 'volume'].includes(String((part.mass as Thing).given))) part.mass = { given: 'typed', mass: 0.2 };
};
const onlyInSpace =
  <T>(made: T) =>
  ({ machine }: Before): T | string =>
    machine.loose.space ? made : 'Only where parts move in space: let them do so first.';

/** What has a depth of its own needs no thickness for its mass; the density stays. */
function noThickness(part: Record<string, unknown>): void {
  const mass = part.mass as Thing;
  if (mass.given === 'typed') return;
  part.mass = { given: 'volume', ...(mass.density !== undefined && { density: mass.density }) };
}

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
  ball: { label: 'Ball', first: onlyInSpace({ kind: 'ball', radius: 0.02 }), settle: noThickness },
  cylinder: {
    label: 'Cylinder',
    first: onlyInSpace({ kind: 'cylinder', radius: 0.02, length: 0.05 }),
    settle: noThickness,
  },
  capsule: {
    label: 'Capsule',
    first: onlyInSpace({ kind: 'capsule', radius: 0.015, length: 0.06 }),
    settle: noThickness,
  },
  tray: {
    label: 'Box with an inside',
    first: onlyInSpace({
      kind: 'tray',
      width: 0.3,
      height: 0.05,
      depth: 0.2,
      wall: 0.003,
      floor: 0.003,
      along: 1,
      across: 1,
    }),
    settle: noThickness,
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
  z
    .strictObject({ given: z.literal('volume'), density: ofMaterial })
    .meta({ description: 'Of its volume, where it has one: in space only' }),
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
  volume: {
    label: 'of its volume',
    first: (before) =>
      before.machine.loose.space
        ? { given: 'volume', ...densityFor(before) }
        : 'Only where parts move in space: in a plane say its thickness.',
  },
};
offer(partMass, MASSES);

export const partKind = z.strictObject({
  id,
  name,
  colour,
  material,
  shape: field(partShape, 'Shape'),
  mass: field(partMass, 'Mass'),
});

export type PartKind = z.infer<typeof partKind>;
export type PartShape = PartKind['shape'];

export type FlatShape = Extract<PartShape, { kind: 'circle' | 'box' | 'outline' }>;
/** What is seen from the front of a shape that stands as it is drawn; null of one with round ends. */
export function seenFromFront(shape: PartShape): FlatShape | null {
  switch (shape.kind) {
    case 'ball':
      return { kind: 'circle', radius: shape.radius };
    case 'cylinder':
      return { kind: 'box', width: 2 * shape.radius, height: shape.length };
    case 'tray':
      return { kind: 'box', width: shape.width, height: shape.height };
    case 'capsule':
      return null;
    default:
      return shape;
  }
}

/** Density of a kind of part in kg/m³: its own, or that of its material; null where neither is said. */
export function densityOf(
  { mass, material: of }: Pick<PartKind, 'mass'> & { material?: string },
  materials: readonly Material[],
): number | null {
  const own = mass.given === 'typed' ? undefined : mass.density;
  return own ?? materials.find(({ id: known }) => known === of)?.density ?? null;
}
