import { SpaceWorld } from '../src/contact';
import { STILL3, type Place3, type Point3 } from '../src/geometry';
import { emptyLoose, emptyMechanism, type Loose, type Mechanism } from '../src/machine';
import { still } from './scene';

/** A place without any turn. */
export const at = (x: number, y: number, z = 0): Place3 => ({ ...STILL3, x, y, z });
/** Turned about the z of the world, rad. */
export const turnedAboutZ = (place: Place3, angle: number): Place3 => ({
  ...place,
  qw: Math.cos(angle / 2),
  qz: Math.sin(angle / 2),
});

/** Loose parts by themselves in space, of two materials m and n. */
export function spaceScene(
  parts: Partial<Loose>,
  {
    gravity = true,
    step = 0.001,
    mechanism = emptyMechanism(),
  }: { gravity?: boolean; step?: number; mechanism?: Mechanism } = {},
): SpaceWorld {
  const loose: Loose = {
    ...emptyLoose(),
    space: true,
    materials: [
      { id: 'm', name: 'one' },
      { id: 'n', name: 'other' },
    ],
    ...parts,
  };
  mechanism.gravity.on = gravity;
  return new SpaceWorld(loose, mechanism, step, still);
}

/** Steps a world on, belts at rest. */
export function runWorld(world: SpaceWorld, time: number, step = 0.001, each?: (k: number) => void): void {
  for (let k = 0; k < Math.round(time / step); k++) {
    world.advance(still, () => 0);
    each?.(k);
  }
}

/** A kind of part by its shape and mass. */
export const kindOf = (
  shape: Loose['kinds'][number]['shape'],
  mass: Loose['kinds'][number]['mass'] = { given: 'typed', mass: 0.5 },
  id = 'part',
): Loose['kinds'][number] => ({ id, name: id, colour: 0, material: 'n', shape, mass });

/** A plane face through the origin that falls to the right by an angle, rad. */
export const slopeOf = (angle: number): Loose['surfaces'] => [
  {
    id: 'r',
    name: 'Ramp',
    body: 'ground',
    material: 'm',
    line: [
      [-3 * Math.cos(angle), 3 * Math.sin(angle)],
      [8 * Math.cos(angle), -8 * Math.sin(angle)],
    ],
    thickness: 0.1,
    width: 4,
  },
];

export const pairOf = (friction: number, restitution = 0): Loose['pairs'] => [
  { id: 'p', a: 'm', b: 'n', friction, restitution },
  { id: 'q', a: 'n', b: 'n', friction, restitution },
];

export const lengthOf = ([x, y, z]: Point3): number => Math.hypot(x, y, z);
