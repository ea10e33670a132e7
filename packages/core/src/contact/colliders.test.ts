import fc from 'fast-check';
import { emptyLoose, type Loose } from '../machine';
import { contactGroups } from './colliders';
import { pairOf } from './pairs';

const coefficients = fc.record({
  friction: fc.constantFrom(0.1, 0.2, 0.5, 0.9),
  restitution: fc.constantFrom(0, 0.05, 0.6),
});
const MATERIALS = ['a', 'b', 'c', 'd'];
const PAIRS = MATERIALS.flatMap((a, i) => MATERIALS.slice(i).map((b): [string, string] => [a, b]));

/** Machines with parts of the first two materials and surfaces of all, and any coefficients. */
const loose = fc.array(coefficients, { minLength: PAIRS.length, maxLength: PAIRS.length }).map((values): Loose => ({
  ...emptyLoose(),
  materials: MATERIALS.map((id) => ({ id, name: id })),
  pairs: PAIRS.map(([a, b], i) => ({ id: `${a}${b}`, a, b, ...values[i]! })),
  kinds: ['a', 'b'].map((material) => ({
    id: material,
    name: material,
    colour: 0,
    material,
    shape: { kind: 'circle', radius: 0.01 },
    mass: { given: 'typed', mass: 1 },
  })),
  surfaces: MATERIALS.map((material) => ({
    id: material,
    name: material,
    body: 'ground',
    material,
    line: [
      [0, 0],
      [1, 0],
    ],
    thickness: 0.01,
  })),
}));

test('every two materials that meet do so once, with their own friction and restitution (property)', () => {
  fc.assert(
    fc.property(
      loose,
      fc.integer({ min: 1, max: 40 }),
      fc.double({ min: 0.5, max: 2, noNaN: true }),
      (machine, most, scale) => {
        const groups = contactGroups(machine, scale, (material) => (material === 'a' ? most : 20));
        const faces = (of: string, to: string) =>
          groups.get(of)!.faces.filter(({ filter }) => (filter & groups.get(to)!.membership) !== 0);
        for (const [a, b] of PAIRS) {
          // Surfaces do not meet each other.
          if (a !== 'a' && a !== 'b') continue;
          const [own, other] = [faces(a, b), faces(b, a)];
          expect([own.length, other.length]).toEqual([1, 1]);
          const { friction, restitution } = pairOf(machine, a, b);
          expect(Math.max(own[0]!.friction, other[0]!.friction)).toBeCloseTo(friction * scale, 12);
          expect(Math.max(own[0]!.restitution, other[0]!.restitution)).toBe(restitution);
        }
        // The one with most pieces carries each of them as seldom as can be.
        const heavier = groups.get(most >= 20 ? 'a' : 'b')!;
        expect(heavier.faces.length).toBeLessThanOrEqual(2);
      },
    ),
  );
});
