import { z } from 'zod';
import { rotationOf, turned, timesRotation, type Point3, type Rotation, type Tensor } from '../geometry';
import { ownSolidProblem, ownVolume, type OwnSolid, type VolumeProperties } from '../solid';
import { field } from './field';
import { offer, type Offers } from './kinds';
import { refTo } from './refer';
import { coordinate, density, finite, id, name, notNegative, point, positive, size, unique, type Say } from './parts';

const point3 = z.tuple([coordinate, coordinate, coordinate]);
const share = z.number().min(-1.001).max(1.001);
const length = (label: string) => field(size, label, { quantity: 'length' });

/** What a closed skin holds: m³, m and, for a density of one, m⁵. */
const volume = z.strictObject({
  volume: positive.meta({ description: 'm³' }),
  centre: point3.meta({ description: 'Centre of volume in the frame of the file, m' }),
  tensor: z
    .strictObject({ xx: notNegative, yy: notNegative, zz: notNegative, xy: finite, xz: finite, yz: finite })
    .meta({ description: 'About that centre, for a density of one, m⁵; products as −∫xy dV' }),
});

const fromFile = z.strictObject({
  kind: z.literal('file'),
  file: refTo('file', { open: true, description: 'Identifier of a file of the shapes of the mechanism' }),
  key: z.string().min(1).max(400).meta({ description: 'Its branches and its name in the file' }),
  digest: z
    .string()
    .max(64)
    .meta({ description: 'Of its corners and triangles: another one tells that it was changed' }),
  holds: volume.nullable().meta({ description: 'What it holds; null where its skin is open' }),
  counts: z
    .enum(['skin', 'hull', 'nothing'])
    .meta({ description: 'Whether its mass is that within its skin, within the hull about it, or none' }),
  problem: z.string().max(400).nullable().meta({ description: 'What is wrong with its skin, in words' }),
});

const shape = z.discriminatedUnion('kind', [
  fromFile,
  z.strictObject({
    kind: z.literal('box'),
    x: length('Along x'),
    y: length('Along y'),
    z: length('Along z'),
  }),
  z.strictObject({ kind: z.literal('cylinder'), radius: length('Radius'), length: length('Length') }),
  z.strictObject({
    kind: z.literal('tube'),
    outer: length('Outer radius'),
    inner: length('Inner radius'),
    length: length('Length'),
  }),
  z.strictObject({ kind: z.literal('ball'), radius: length('Radius') }),
  z.strictObject({
    kind: z.literal('turned'),
    outline: field(
      z.array(point).min(3).max(5000).meta({ description: 'Places (radius, height) about z, m' }),
      'Outline: radius, height',
      { text: 'corners', quantity: 'length' },
    ),
  }),
  z.strictObject({
    kind: z.literal('plate'),
    outline: field(z.array(point).min(3).max(5000).meta({ description: 'Corners, m' }), 'Outline', {
      text: 'corners',
      quantity: 'length',
    }),
    holes: z.array(z.array(point).min(3).max(5000)).max(200).meta({ description: 'Corners of each hole, m' }),
    thickness: length('Thickness'),
  }),
]);

/** A solid: of a file, or one that needs none. */
export const solidSchema = z.strictObject({
  id,
  name,
  colour: z
    .string()
    .regex(/^#[0-9a-f]{6}$/)
    .nullable()
    .meta({ description: 'As its file has it, #rrggbb' }),
  shape: field(shape, 'Shape'),
  at: point3.meta({ description: 'Its origin in the frame of its carrier, from the middle of a body, m' }),
  turn: z
    .tuple([share, share, share, share])
    .meta({ description: 'Unit quaternion w, x, y, z: from its own axes to those of its carrier' }),
  mirrored: z
    .literal(true)
    .optional()
    .meta({ description: 'Taken as in a mirror, its x turned round, before it is placed' }),
  density: field(density.meta({ description: 'kg/m³' }), 'Density', { quantity: 'density' }),
});
export type BodySolid = z.infer<typeof solidSchema>;
export type SolidShape = BodySolid['shape'];
export type OwnShape = Exclude<SolidShape, { kind: 'file' }>;

/** Solids that are no part of a body, and the files that solids come from. */
export const shapesSchema = z.strictObject({
  files: z
    .array(
      z.strictObject({
        id,
        name: z.string().min(1).max(200).meta({ description: 'Name of the file as it was taken' }),
        hash: z
          .string()
          .regex(/^[0-9a-f]{64}$/)
          .meta({ description: 'SHA-256 of its geometry as it is kept beside the document' }),
      }),
    )
    .max(100),
  ground: z.array(solidSchema).max(5000).meta({ description: 'What does not move' }),
  unassigned: z.array(solidSchema).max(5000).meta({ description: 'Of which nobody said yet what it moves with' }),
});
export type Shapes = z.infer<typeof shapesSchema>;
export type GeometryFile = Shapes['files'][number];

/** The shape as the computation has it. */
export const ownSolid = (own: OwnShape): OwnSolid =>
  own.kind === 'box' ? { kind: 'box', size: [own.x, own.y, own.z] } : own;

/** Kinds of solids that need no file, each as it begins. */
export const OWN_SHAPES: Offers<OwnShape, 'kind'> = {
  box: { label: 'Box', first: () => ({ kind: 'box', x: 0.1, y: 0.05, z: 0.05 }) },
  cylinder: { label: 'Cylinder', first: () => ({ kind: 'cylinder', radius: 0.02, length: 0.1 }) },
  tube: { label: 'Tube', first: () => ({ kind: 'tube', outer: 0.025, inner: 0.02, length: 0.1 }) },
  ball: { label: 'Ball', first: () => ({ kind: 'ball', radius: 0.025 }) },
  turned: {
    label: 'Turned outline',
    first: () => ({ kind: 'turned', outline: [[0, -0.05], [0.03, -0.05], [0.03, -0.03], [0.01, -0.03], [0.01, 0.05], [0, 0.05]] }), // prettier-ignore
  },
  plate: {
    label: 'Outline with thickness',
    first: () => ({
      kind: 'plate',
      outline: [[-0.05, -0.03], [0.05, -0.03], [0.05, 0.03], [-0.05, 0.03]], // prettier-ignore
      holes: [],
      thickness: 0.01,
    }),
  },
};

/** What a solid holds in its own frame, before it is mirrored; null where it holds nothing that is known. */
export function solidVolume({ shape: own }: Pick<BodySolid, 'shape'>): VolumeProperties | null {
  if (own.kind !== 'file') return ownVolume(ownSolid(own));
  return own.counts === 'nothing' ? null : own.holds;
}

/** Whether the mass of a solid is not known: nobody said what an open skin shall count. */
export const isUnweighed = ({ shape: own }: Pick<BodySolid, 'shape'>): boolean =>
  own.kind === 'file' && own.holds === null && own.counts !== 'nothing';

/** R T Rᵀ: a tensor seen from other axes. */
export function turnedTensor({ xx, yy, zz, xy, xz, yz }: Tensor, r: Rotation): Tensor {
  const back: Rotation = [r[0]!, r[3]!, r[6]!, r[1]!, r[4]!, r[7]!, r[2]!, r[5]!, r[8]!];
  const t = timesRotation(timesRotation(r, [xx, xy, xz, xy, yy, yz, xz, yz, zz]), back);
  return { xx: t[0]!, yy: t[4]!, zz: t[8]!, xy: t[1]!, xz: t[2]!, yz: t[5]! };
}

/** What a body is made of: kg, m and kg·m² about its centre, along the axes of its frame. */
export interface SolidsMass {
  mass: number;
  centre: Point3;
  tensor: Tensor;
}

/** Mass of solids together, in the frame of their carrier; nothing where none holds any. */
export function massOfSolids(solids: readonly BodySolid[]): SolidsMass {
  const parts = solids.flatMap((solid) => {
    const holds = solidVolume(solid);
    if (!holds) return [];
    const r = rotationOf(solid.turn);
    const { tensor: own, centre } = holds;
    const side = solid.mirrored ? -1 : 1;
    const seen: Tensor = { ...own, xy: side * own.xy, xz: side * own.xz };
    const at = turned(r, [side * centre[0], centre[1], centre[2]]);
    return [
      {
        mass: holds.volume * solid.density,
        centre: at.map((part, k) => part + solid.at[k]!),
        tensor: turnedTensor(seen, r),
        density: solid.density,
      },
    ];
  });
  const mass = parts.reduce((sum, part) => sum + part.mass, 0);
  const nothing = { xx: 0, yy: 0, zz: 0, xy: 0, xz: 0, yz: 0 };
  if (mass === 0) return { mass: 0, centre: [0, 0, 0], tensor: nothing };
  const middle = (k: number) => parts.reduce((sum, part) => sum + part.mass * part.centre[k]!, 0) / mass;
  const centre: Point3 = [middle(0), middle(1), middle(2)];
  // By the parallel-axis theorem.
  const tensor = parts.reduce((sum, part): Tensor => {
    const [x, y, z] = part.centre.map((own, k) => own - centre[k]!) as [number, number, number];
    const { tensor: t, density: d, mass: m } = part;
    return {
      xx: sum.xx + t.xx * d + m * (y * y + z * z),
      yy: sum.yy + t.yy * d + m * (x * x + z * z),
      zz: sum.zz + t.zz * d + m * (x * x + y * y),
      xy: sum.xy + t.xy * d - m * x * y,
      xz: sum.xz + t.xz * d - m * x * z,
      yz: sum.yz + t.yz * d - m * y * z,
    };
  }, nothing);
  return { mass, centre, tensor };
}

/** Says what is wrong with the solids of a list. */
export function checkSolids(
  solids: readonly BodySolid[],
  files: readonly GeometryFile[],
  path: PropertyKey[],
  say: Say,
): void {
  unique(solids as BodySolid[], 'id', path, say);
  solids.forEach(({ shape: own, turn }, i) => {
    if (Math.abs(Math.hypot(...turn) - 1) > 1e-3)
      say([...path, i, 'turn'], 'must be a unit quaternion: its squares must add up to 1');
    if (own.kind === 'file') {
      if (!files.some((file) => file.id === own.file))
        say([...path, i, 'shape', 'file'], `names the file “${own.file}”, which is not there: import it anew`);
      return;
    }
    const problem = ownSolidProblem(ownSolid(own));
    if (problem) say([...path, i, 'shape'], `is no solid: ${problem}`);
  });
}
offer(shape, {
  file: { label: 'Of a file', first: () => 'Import a file: its solids come as they are.' },
  ...OWN_SHAPES,
});
