import { emptyLoose, emptyMechanism, loadContact, SpaceWorld, type Loose } from '@yoke/core';

/**
 * Loose parts in space: what a step takes beside what the physics library alone takes in it, in one run, and how it grows
 * with the number of parts.
 */

const STEP = 0.002;
const belts: Loose['belts'] = [
  { id: 'b', name: 'Belt', material: 'm', from: [-3, 0], to: [3, 0], thickness: 0.02, width: 2, guides: 0.2, drive: { by: 'axis', axis: 'x', radius: 1 } }, // prettier-ignore
];
const loose: Loose = {
  ...emptyLoose(),
  space: true,
  materials: [
    { id: 'm', name: 'one' },
    { id: 'n', name: 'other' },
  ],
  pairs: [
    { id: 'p', a: 'm', b: 'n', friction: 0.5, restitution: 0.1 },
    { id: 'q', a: 'n', b: 'n', friction: 0.3, restitution: 0.1 },
  ],
  kinds: [
    { id: 'box', name: 'Box', colour: 0, material: 'n', shape: { kind: 'box', width: 0.06, height: 0.04, depth: 0.05 }, mass: { given: 'typed', mass: 0.2 } }, // prettier-ignore
  ],
  belts,
  step: STEP,
};
const nowhere = new Map<string, never>();

/** Seconds in the library, of the steps made since it was asked last. */
async function watched(): Promise<() => number> {
  await loadContact({ loose: { space: true } });
  const { World } = (await import('@dimforge/rapier3d-compat')).default;
  let spent = 0;
  const step = World.prototype.step;
  World.prototype.step = function (...own: Parameters<typeof step>) {
    const from = performance.now();
    step.apply(this, own);
    spent += performance.now() - from;
  };
  return () => {
    const was = spent / 1000;
    spent = 0;
    return was;
  };
}

/** Steps of parts on a belt that an axis leads: all that they do to it is read. */
export async function benchSpaceParts(): Promise<void> {
  const library = await watched();
  let before: { count: number; time: number } | null = null;
  for (const count of [10, 100, 500]) {
    const world = new SpaceWorld(loose, emptyMechanism(), STEP, nowhere);
    for (let i = 0; i < count; i++) {
      const [x, z, y] = [i % 20, Math.floor(i / 20) % 8, Math.floor(i / 160)];
      world.release('s', 'box', { x: 0.1 * x - 1, y: 0.03 + 0.06 * y, z: 0.1 * z - 0.35, qw: 1, qx: 0, qy: 0, qz: 0 }, [0, 0, 0], 0); // prettier-ignore
    }
    library();
    const steps = 300;
    const from = performance.now();
    for (let k = 0; k < steps; k++) world.advance(nowhere, () => 0.1 * Math.sin(k / 50));
    const time = (performance.now() - from) / 1000;
    const alone = library();
    const growth = before ? Math.log(time / before.time) / Math.log(count / before.count) : null;
    console.log(
      `${count} parts on a belt led by an axis: ${((1e3 * time) / steps).toFixed(3)} ms a step, ${(time / alone).toFixed(2)} times the library alone; ${((steps * STEP) / time).toFixed(0)} times real time${growth === null ? '' : `; exponent of growth ${growth.toFixed(2)}`}`,
    );
    before = { count, time };
    world.free();
  }
}
