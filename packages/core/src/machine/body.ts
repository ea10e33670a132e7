import { z } from 'zod';
import { barArea, discArea, plateArea, type AreaProperties, type Point2, type Tensor } from '../geometry';
import { field } from './field';
import { NOT_OFFERED, offer, type Offers } from './kinds';
import { coordinate, density, finite, id, name, notNegative, point, size, type Say } from './parts';
import { namedPoint } from './place';
import { refTo } from './refer';
import { isUnweighed, massOfSolids, solidSchema } from './solid';

const shape = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('bar'), width: field(size, 'Width', { quantity: 'length' }) }),
  z.strictObject({ kind: z.literal('disc'), centre: point, radius: field(size, 'Radius', { quantity: 'length' }) }),
  z.strictObject({
    kind: z.literal('plate'),
    outline: z.array(point).min(3).max(5000),
    holes: z.array(z.array(point).min(3).max(5000)).max(200),
  }),
]);

const moment = (label: string, description: string) =>
  field(notNegative.meta({ description: `${description}, kg·m²` }), label, { quantity: 'inertia' });
const product = (label: string, description: string) =>
  field(finite.meta({ description: `${description}, kg·m²` }), label, { quantity: 'inertia' });
/** Moments and products of inertia in the frame of the body, beside the moment about the normal of its plane. */
const tensor = z.strictObject({
  xx: moment('Inertia about x', 'Moment of inertia about x'),
  yy: moment('Inertia about y', 'Moment of inertia about y'),
  xy: product('Product xy', 'Entry xy of the tensor (−∫xy dm)'),
  xz: product('Product xz', 'Entry xz of the tensor (−∫xz dm)'),
  yz: product('Product yz', 'Entry yz of the tensor (−∫yz dm)'),
});

const mass = z.discriminatedUnion('given', [
  z.strictObject({
    given: z.literal('typed'),
    mass: field(notNegative.meta({ description: 'kg' }), 'Mass of the body', { quantity: 'mass' }),
    centre: field(
      point.meta({ description: 'Centre of mass in the frame of the body, m' }),
      ['Centre along', 'Centre across'],
      { quantity: 'length' },
    ),
    inertia: field(notNegative.meta({ description: 'Moment of inertia about the centre of mass, kg·m²' }), 'Inertia', {
      quantity: 'inertia',
      hint: 'About the centre of mass, square to the plane',
    }),
    height: field(
      coordinate.optional().meta({ description: 'Centre of mass over the middle of the body, m; left out it is 0' }),
      'Centre above its middle',
      { quantity: 'length', none: 'in its middle' },
    ),
    tensor: field(
      tensor.optional().meta({
        description: 'The rest of the inertia tensor about the centre of mass; left out, that of a flat plate',
      }),
      'Inertia tensor',
    ),
  }),
  z.strictObject({
    given: z.literal('shape'),
    density: field(density.meta({ description: 'kg/m³' }), 'Density', { quantity: 'density' }),
  }),
  z.strictObject({ given: z.literal('solids') }),
]);

/** A body of the mechanism. */
export const bodySchema = z.strictObject({
  id,
  name,
  plane: refTo('plane', { description: 'Plane in which it moves', whenGone: 'goes' }),
  level: field(coordinate.meta({ description: 'Middle of the body over its plane, m' }), 'Level over its plane', {
    quantity: 'length',
  }),
  thickness: field(size.meta({ description: 'm' }), 'Thickness', { quantity: 'length' }),
  pose: z
    .strictObject({
      x: field(coordinate, 'x', { quantity: 'length' }),
      y: field(coordinate, 'y', { quantity: 'length' }),
      angle: field(finite, 'Angle', { quantity: 'angle' }),
    })
    .meta({ description: 'Start pose of the frame of the body: m and rad' }),
  points: z.array(namedPoint).min(1).max(60),
  shape,
  mass: field(mass, 'Mass'),
  solids: z
    .array(solidSchema)
    .max(5000)
    .optional()
    .meta({ description: 'What it is made of in space; left out, its shape as thick as it is' }),
});
export type Body = z.infer<typeof bodySchema>;

/** Density of steel in kg/m³, the material of whatever is drawn until told otherwise. */
export const STEEL = 7850;
/** Thickness of whatever is drawn until told otherwise, m. */
export const FIRST_THICKNESS = 0.008;
/** Densities of common materials, kg/m³ (handbook values, rounded; from memory). */
export const DENSITIES: readonly { name: string; density: number }[] = [
  { name: 'Steel', density: STEEL },
  { name: 'Stainless steel', density: 7900 },
  { name: 'Cast iron', density: 7200 },
  { name: 'Aluminium', density: 2700 },
  { name: 'Magnesium alloy', density: 1800 },
  { name: 'Titanium alloy', density: 4430 },
  { name: 'Brass', density: 8500 },
  { name: 'Bronze', density: 8800 },
  { name: 'Copper', density: 8960 },
  { name: 'Acetal (POM)', density: 1410 },
  { name: 'Polyamide (PA 6)', density: 1140 },
  { name: 'Polyethylene (PE-HD)', density: 950 },
  { name: 'Polycarbonate', density: 1200 },
  { name: 'Acrylic glass (PMMA)', density: 1190 },
  { name: 'PTFE', density: 2160 },
  { name: 'PEEK', density: 1310 },
  { name: 'Carbon fibre composite', density: 1550 },
  { name: 'Glass fibre composite', density: 1850 },
  { name: 'Rubber', density: 1250 },
  { name: 'Glass', density: 2500 },
  { name: 'Plywood', density: 700 },
];

/** Mass (kg), centre of mass in the frame of the body (m), moment of inertia about it (kg·m²). */
export interface MassProperties {
  mass: number;
  centre: [number, number];
  inertia: number;
}

/** Mass properties in space. */
export interface SolidMass extends MassProperties {
  /** Centre of mass over the middle of the body, m. */
  height: number;
  /** About the centre of mass, in the frame of the body, kg·m². */
  tensor: Tensor;
  /** Whether the tensor is that of a flat plate for want of a better one. */
  guessed: boolean;
}

/** Area of the shape of a body in its own frame. */
export function shapeArea(body: Pick<Body, 'shape' | 'points'>): AreaProperties {
  const own = body.shape;
  if (own.kind === 'disc') return discArea(own.centre, own.radius);
  if (own.kind === 'plate') return plateArea(own.outline, own.holes);
  return barArea(
    body.points.map(({ at }): Point2 => at),
    own.width / 2,
  );
}

type Weighed = Pick<Body, 'shape' | 'points' | 'mass' | 'thickness' | 'solids'>;

/** Mass properties of a body: as typed, of its solids, or from its shape, thickness and density. */
export function massOf(body: Weighed): MassProperties {
  const own = body.mass;
  if (own.given === 'solids') {
    const { mass, centre, tensor } = massOfSolids(body.solids ?? []);
    return { mass, centre: [centre[0], centre[1]], inertia: tensor.zz };
  }
  if (own.given === 'typed') return { mass: own.mass, centre: [...own.centre], inertia: own.inertia };
  const { area, centre, polar } = shapeArea(body);
  const perArea = body.thickness * own.density;
  return { mass: area * perArea, centre, inertia: polar * perArea };
}

/**
 * Mass properties of a body in space. A shape is a prism of its thickness; of a typed mass without tensor that of a
 * thin plate of the body's shape is taken, scaled to the moment of inertia that is typed.
 */
export function solidMassOf(body: Weighed): SolidMass {
  const own = body.mass;
  if (own.given === 'solids') {
    const { mass, centre, tensor } = massOfSolids(body.solids ?? []);
    const [x, y, height] = centre;
    return { mass, centre: [x, y], inertia: tensor.zz, height, tensor, guessed: false };
  }
  const flat = massOf(body);
  if (own.given === 'typed' && own.tensor)
    return { ...flat, height: own.height ?? 0, tensor: { ...own.tensor, zz: own.inertia }, guessed: false };
  const { area, xx, yy, xy, polar } = shapeArea(body);
  if (own.given === 'typed') {
    const scale = polar > 0 ? own.inertia / polar : 0;
    const tensor = { xx: xx * scale, yy: yy * scale, zz: own.inertia, xy: xy * scale, xz: 0, yz: 0 };
    return { ...flat, height: own.height ?? 0, tensor, guessed: true };
  }
  const perArea = body.thickness * own.density;
  const across = (area * perArea * body.thickness ** 2) / 12;
  const tensor = {
    xx: xx * perArea + across,
    yy: yy * perArea + across,
    zz: polar * perArea,
    xy: xy * perArea,
    xz: 0,
    yz: 0,
  };
  return { ...flat, height: 0, tensor, guessed: false };
}

/**
 * Says of a typed tensor that no body has it: ½ tr(I)·1 − I holds the second moments of the mass, none of which can be
 * negative (for principal moments: each at most the sum of the two others).
 */
export function checkTensor(body: Body, path: PropertyKey[], say: Say): void {
  if (body.mass.given !== 'typed' || !body.mass.tensor) return;
  const { inertia: zz } = body.mass;
  const { xx, yy, xy, xz, yz } = body.mass.tensor;
  const half = (xx + yy + zz) / 2;
  const [a, b, c] = [half - xx, half - yy, half - zz];
  const room = 1e-6 * half;
  const pairs = [
    [a, b, xy],
    [a, c, xz],
    [b, c, yz],
  ] as const;
  const determinant = a * b * c - 2 * xy * xz * yz - a * yz ** 2 - b * xz ** 2 - c * xy ** 2;
  const possible =
    Math.min(a, b, c) >= -room &&
    pairs.every(([p, q, off]) => p * q - off ** 2 >= -room * half) &&
    determinant >= -room * half ** 2;
  if (!possible)
    say(
      [...path, 'tensor'],
      `cannot be that of any body: with xx ${xx}, yy ${yy} and zz ${zz} kg·m² (and its products) one principal moment is larger than the two others together, or one is negative; measure or compute it anew, or leave it out`,
    );
}

/** How the mass of a body is given; typed, it begins with what it was. */
export const MASSES: Offers<Body['mass'], 'given'> = {
  solids: {
    label: 'From its solids',
    first({ machine, was }) {
      const body = machine.mechanism.bodies.find(({ id: own }) => own === was.id);
      return body?.solids?.length ? { given: 'solids' } : NOT_OFFERED;
    },
  },
  shape: {
    label: 'From its shape',
    first: () => ({ given: 'shape', density: STEEL }),
  },
  typed: {
    label: 'Typed',
    first({ machine, was }) {
      const body = machine.mechanism.bodies.find(({ id: own }) => own === was.id);
      return body ? { given: 'typed', ...massOf(body) } : NOT_OFFERED;
    },
  },
};
offer(mass, MASSES);

/** Names of solids by whose mass a body goes although it is not known. */
export const unweighedOf = ({ mass: own, solids = [] }: Pick<Body, 'mass' | 'solids'>): string[] =>
  own.given === 'solids' ? solids.filter(isUnweighed).map((solid) => solid.name) : [];
