import type { Loose } from '../machine';
import { scene } from '../../test/scene';
import { loadContact } from '.';

beforeAll(() => loadContact());

describe('shapes that cannot be', () => {
  const outline = (points: [number, number][]): Loose['kinds'][number] => ({
    id: 'plug',
    name: 'Plug',
    colour: 0,
    material: 'n',
    shape: { kind: 'outline', points, as: 'exact', tolerance: 0 },
    mass: { given: 'typed', mass: 1 },
  });

  test('two corners of an exact part swapped: the part is named', () => {
    const { world } = scene({ kinds: [outline([[0, 0], [0.1, 0.1], [0.1, 0], [0, 0.1]])] }); // prettier-ignore
    expect(() => world()).toThrow('The part “Plug”: the outline crosses itself: move its corners apart.');
  });

  test('a part without area is named', () => {
    const { world } = scene({ kinds: [outline([[0, 0], [0.1, 0], [0.2, 0]])] }); // prettier-ignore
    expect(() => world()).toThrow(/The part “Plug”/);
  });
});
