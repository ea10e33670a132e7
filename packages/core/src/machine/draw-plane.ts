import { quaternionOf, type Rotation } from '../geometry';
import { freeId } from './defaults';
import { GROUND, type Mechanism, type Plane, type Quaternion } from './mechanism';

/** Standard views: how a plane stands that is seen from there, x to the right and y up (of the top: away). */
export const VIEWS = {
  front: { label: 'Front', axes: [1, 0, 0, 0, 1, 0, 0, 0, 1] },
  right: { label: 'Right side', axes: [0, 0, 1, 0, 1, 0, -1, 0, 0] },
  left: { label: 'Left side', axes: [0, 0, -1, 0, 1, 0, 1, 0, 0] },
  back: { label: 'Back', axes: [-1, 0, 0, 0, 1, 0, 0, 0, -1] },
  top: { label: 'Top', axes: [1, 0, 0, 0, 0, 1, 0, -1, 0] },
  bottom: { label: 'Bottom', axes: [1, 0, 0, 0, 0, -1, 0, 1, 0] },
} as const satisfies Record<string, { label: string; axes: Rotation }>;
export type View = keyof typeof VIEWS;

/** The turn of a plane that is seen from a standard view of what carries it. */
export const turnOf = (view: View): Quaternion => quaternionOf(VIEWS[view].axes);

/** Where a new plane stands and how. */
export interface PlaneOptions {
  name?: string;
  /** Body that carries it; the ground where nothing is said. */
  on?: string;
  /** Origin in the frame of its carrier, m. */
  at?: readonly [number, number, number];
  turn?: Quaternion;
}

/** Adds a plane to draw in, on the ground or on a body. */
export function addPlane(mechanism: Mechanism, { name, on = GROUND, at = [0, 0, 0], turn }: PlaneOptions): Plane {
  const { planes } = mechanism;
  const plane: Plane = {
    id: freeId('plane', planes.map(({ id }) => id)), // prettier-ignore
    name: name ?? freeId('Plane ', planes.map((p) => p.name)), // prettier-ignore
    on,
    at: [...at],
    turn: turn ?? [1, 0, 0, 0],
  };
  planes.push(plane);
  return planes[planes.length - 1]!;
}
