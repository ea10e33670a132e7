import { LooseWorld } from '../src/contact';
import { emptyLoose, emptyMechanism, type Loose } from '../src/machine';

/** Bodies that stay where they are. */
export const still = new Map();
/** Loose parts by themselves, of two materials, and a way to begin with them. */
export function scene(parts: Partial<Loose>, gravity = true): { loose: Loose; world: (h?: number) => LooseWorld } {
  const loose: Loose = {
    ...emptyLoose(),
    materials: [
      { id: 'm', name: 'one' },
      { id: 'n', name: 'other' },
    ],
    ...parts,
  };
  const mechanism = emptyMechanism();
  mechanism.gravity.on = gravity;
  return { loose, world: (h = 0.001) => new LooseWorld(loose, mechanism, h, still) };
}
