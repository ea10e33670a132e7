import type { Loose } from '../src/machine';

/** A belt along x whose face is at y = 0. */
export const beltAlong = (
  material: string,
  from: number,
  to: number,
  drive: Loose['belts'][number]['drive'],
  id = 'belt',
): Loose['belts'][number] => ({ id, name: 'Belt', material, from: [from, 0], to: [to, 0], thickness: 0.02, drive });

/** A kind of part: a box of a mass. */
export const boxKind = (
  { material, id = 'box', name = 'Box' }: { material: string; id?: string; name?: string },
  width: number,
  height: number,
  mass: number,
): Loose['kinds'][number] => ({
  id,
  name,
  colour: 0,
  material,
  shape: { kind: 'box', width, height },
  mass: { given: 'typed', mass },
});
