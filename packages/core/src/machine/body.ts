import { z } from 'zod';
import { barArea, discArea, plateArea, type AreaProperties, type Point2 } from '../geometry';
import { field } from './field';
import { NOT_OFFERED, offer, type Offers } from './kinds';
import { coordinate, density, finite, id, name, notNegative, point, size } from './parts';
import { namedPoint } from './place';

const shape = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('bar'), width: field(size, 'Width', { quantity: 'length' }) }),
  z.strictObject({ kind: z.literal('disc'), centre: point, radius: field(size, 'Radius', { quantity: 'length' }) }),
  z.strictObject({
    kind: z.literal('plate'),
    outline: z.array(point).min(3).max(5000),
    holes: z.array(z.array(point).min(3).max(5000)).max(200),
  }),
]);

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
      hint: 'About the centre of mass',
    }),
  }),
  z.strictObject({
    given: z.literal('shape'),
    thickness: field(size.meta({ description: 'm' }), 'Thickness', { quantity: 'length' }),
    density: field(density.meta({ description: 'kg/m³' }), 'Density', { quantity: 'density' }),
  }),
]);

/** A body of the mechanism. */
export const bodySchema = z.strictObject({
  id,
  name,
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
});
export type Body = z.infer<typeof bodySchema>;

/** Density of steel in kg/m³, the material of whatever is drawn until told otherwise. */
export const STEEL = 7850;
/** Thickness of whatever is drawn until told otherwise, m. */
export const FIRST_THICKNESS = 0.008;
/** Densities of common materials, kg/m³ (common practice). */
export const DENSITIES: readonly { name: string; density: number }[] = [
  { name: 'Steel', density: STEEL },
  { name: 'Aluminium', density: 2700 },
  { name: 'Acetal (POM)', density: 1410 },
  { name: 'Plywood', density: 700 },
];

/** Mass (kg), centre of mass in the frame of the body (m), moment of inertia about it (kg·m²). */
export interface MassProperties {
  mass: number;
  centre: [number, number];
  inertia: number;
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

/** Mass properties of a body: as typed, or from its shape, thickness and density. */
export function massOf(body: Pick<Body, 'shape' | 'points' | 'mass'>): MassProperties {
  const own = body.mass;
  if (own.given === 'typed') return { mass: own.mass, centre: [...own.centre], inertia: own.inertia };
  const { area, centre, polar } = shapeArea(body);
  const perArea = own.thickness * own.density;
  return { mass: area * perArea, centre, inertia: polar * perArea };
}

/** How the mass of a body is given; typed, it begins with what it was. */
export const MASSES: Offers<Body['mass'], 'given'> = {
  shape: {
    label: 'From its shape',
    first: () => ({ given: 'shape', thickness: FIRST_THICKNESS, density: STEEL }),
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
