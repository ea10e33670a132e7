import { barArea, discArea, plateArea, type AreaProperties, type Point2 } from '../geometry';
import type { Body } from '../machine';

/** Mass (kg), centre of mass in the frame of the body (m), moment of inertia about it (kg·m²). */
export interface MassProperties {
  mass: number;
  centre: [number, number];
  inertia: number;
}

/** Area of the shape of a body in its own frame. */
export function shapeArea(body: Pick<Body, 'shape' | 'points'>): AreaProperties {
  const { shape } = body;
  if (shape.kind === 'disc') return discArea(shape.centre, shape.radius);
  if (shape.kind === 'plate') return plateArea(shape.outline, shape.holes);
  return barArea(
    body.points.map(({ at }): Point2 => at),
    shape.width / 2,
  );
}

/** Mass properties of a body: as typed, or from its shape, thickness and density. */
export function massOf(body: Pick<Body, 'shape' | 'points' | 'mass'>): MassProperties {
  const { mass } = body;
  if (mass.given === 'typed') return { mass: mass.mass, centre: [...mass.centre], inertia: mass.inertia };
  const { area, centre, polar } = shapeArea(body);
  const perArea = mass.thickness * mass.density;
  return { mass: area * perArea, centre, inertia: polar * perArea };
}
