import { spaceMass, spacePieces, volumeOfPart } from '.';
import { convexDistance, STILL3, type Tensor } from '../../geometry';
import { kindOf } from '../../../test/space-scene';
import { principalOf } from './part-mass';
import { solidOf } from './pieces';

/** Volume, centre and tensor by counting the cells of a grid that lie inside. */
function counted(kind: Parameters<typeof spacePieces>[0], half: readonly number[], cells: readonly number[]) {
  const solids = spacePieces(kind).map(solidOf);
  const point = { corners: new Float64Array(3), radius: 0 };
  const size = half.map((part, k) => (2 * part) / cells[k]!);
  const cell = size[0]! * size[1]! * size[2]!;
  const sums = { volume: 0, y: 0, xx: 0, yy: 0, zz: 0 };
  for (let i = 0; i < cells[0]! * cells[1]! * cells[2]!; i++) {
    const [x, y, z] = [i % cells[0]!, Math.floor(i / cells[0]!) % cells[1]!, Math.floor(i / cells[0]! / cells[1]!)].map(
      (n, k) => -half[k]! + (n + 0.5) * size[k]!,
    ) as [number, number, number];
    if (!solids.some((solid) => convexDistance(solid, STILL3, point, { ...STILL3, x, y, z }, 1e-12) === 0)) continue;
    sums.volume += cell;
    sums.y += cell * y;
    sums.xx += cell * (y * y + z * z);
    sums.yy += cell * (x * x + z * z);
    sums.zz += cell * (x * x + y * y);
  }
  const y = sums.y / sums.volume;
  return { volume: sums.volume, y, xx: sums.xx - sums.volume * y * y, yy: sums.yy, zz: sums.zz - sums.volume * y * y };
}

describe('what parts hold', () => {
  test.each([
    ['a cylinder', { kind: 'cylinder', radius: 0.02, length: 0.05 }, [0.02, 0.025, 0.02]],
    ['a capsule', { kind: 'capsule', radius: 0.02, length: 0.07 }, [0.02, 0.035, 0.02]],
    ['a ball', { kind: 'ball', radius: 0.02 }, [0.02, 0.02, 0.02]],
    ['a disc', { kind: 'circle', radius: 0.02, depth: 0.03 }, [0.02, 0.02, 0.015]],
    [
      'a tray',
      { kind: 'tray', width: 0.12, height: 0.05, depth: 0.08, wall: 0.01, floor: 0.01, along: 2, across: 1 },
      [0.06, 0.025, 0.04],
    ],
  ] as const)('%s, counted cell by cell', (_, shape, half) => {
    const kind = kindOf(shape, { given: 'volume', density: 1 });
    const exact = volumeOfPart(kind);
    const found = counted(kind, half, shape.kind === 'tray' ? [24, 20, 16] : [40, 40, 40]);
    expect(Math.abs(found.volume / exact.volume - 1)).toBeLessThan(0.025);
    expect(Math.abs(found.y - exact.centre[1])).toBeLessThan(2e-4);
    for (const key of ['xx', 'yy', 'zz'] as const)
      expect(Math.abs(found[key] / exact.tensor[key] - 1)).toBeLessThan(0.03);
  });

  test('a typed mass is spread over the volume, a density counts by it', () => {
    const box = { kind: 'box', width: 0.06, height: 0.04, depth: 0.05 } as const;
    // Handbook: m (h² + d²)/12.
    expect(spaceMass(kindOf(box, { given: 'typed', mass: 2 })).tensor.xx).toBeCloseTo(
      (2 * (0.04 ** 2 + 0.05 ** 2)) / 12,
      12,
    );
    expect(spaceMass(kindOf(box, { given: 'volume', density: 500 })).mass).toBeCloseTo(500 * 0.06 * 0.04 * 0.05, 12);
  });

  test('the principal axes of a tensor give the tensor again', () => {
    const tensor: Tensor = { xx: 3, yy: 4, zz: 5, xy: 0.4, xz: -0.3, yz: 0.2 };
    const { moments, turn } = principalOf(tensor);
    const { w, x, y, z } = turn;
    const r = [
      [1 - 2 * (y * y + z * z), 2 * (x * y - w * z), 2 * (x * z + w * y)],
      [2 * (x * y + w * z), 1 - 2 * (x * x + z * z), 2 * (y * z - w * x)],
      [2 * (x * z - w * y), 2 * (y * z + w * x), 1 - 2 * (x * x + y * y)],
    ];
    const again = (i: number, k: number) => moments.reduce((sum, m, c) => sum + m * r[i]![c]! * r[k]![c]!, 0);
    expect(
      [again(0, 0), again(1, 1), again(2, 2), again(0, 1), again(0, 2), again(1, 2)].map((part) =>
        Number(part.toFixed(9)),
      ),
    ).toEqual([3, 4, 5, 0.4, -0.3, 0.2]);
  });
});
