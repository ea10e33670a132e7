import type { Machine } from '@yoke/core';
import { cornersOf, frameAt, litAt, partsAt, platformShift, shadow, sightOf } from './loose-scene';

/** Two pictures of one part, the second with another beside it, and a sensor that comes on between. */
const fate = (number: number, kind: string) => ({ number, kind, source: 's', born: 0, gone: null, sink: null });
const record = {
  parts: {
    times: Float64Array.of(0, 1),
    starts: Uint32Array.of(0, 4, 12),
    data: Float32Array.of(0, 1, 2, 0, 0, 1, 2.5, 0, 1, 4, 2, 0.5),
    platforms: Float32Array.of(0, 0, 0.5, -0.25),
  },
  fates: [fate(0, 'plug'), fate(1, 'pot')],
  signals: [{ sensor: 'eye', first: false, times: [0, 0.5] }],
};

test('what stands in the record at a time is found: parts, sensors, platforms', () => {
  expect([-1, 0, 0.99, 1, 7].map((time) => frameAt(record, time))).toEqual([0, 0, 0, 1, 1]);
  expect(frameAt(null, 1)).toBe(-1);
  expect(partsAt(record, -1)).toEqual([]);
  expect(partsAt(record, 0).map(({ kind }) => kind)).toEqual(['plug']);
  expect([...litAt(record, 0.4)]).toEqual([]);
  expect([...litAt(record, 0.6)]).toEqual(['eye']);
  expect(partsAt(record, 1).at(-1)).toEqual({ number: 1, kind: 'pot', x: 4, y: 2, angle: 0.5, place: null });
  expect(platformShift(record, 1, 0, 1)).toEqual([0.5, -0.25, 0]);
});

test('parts in space stand where they are turned to, and throw the shadow of their pieces to the front', () => {
  const half = Math.SQRT1_2;
  const space = {
    ...record,
    parts: {
      times: Float64Array.of(0),
      starts: Uint32Array.of(0, 8),
      data: Float32Array.of(0, 1, 2, 3, half, 0, half, 0),
      space: true as const,
      platforms: Float32Array.of(0.1, 0.2, 0.3),
    },
  };
  const [part] = partsAt(space, 0);
  expect(part).toMatchObject({ x: 1, y: 2, angle: 0, place: { z: 3 } });
  expect(platformShift(space, 0, 0, 1).map((shift) => Number(shift.toFixed(6)))).toEqual([0.1, 0.2, 0.3]);
  // A quarter turn about y: what reaches across the plane is seen as its width.
  const box = {
    corners: Float64Array.from([-1, 1].flatMap((x) => [-2, 2].flatMap((y) => [-3, 3].flatMap((z) => [x, y, z])))),
    radius: 0,
  };
  const [outline] = shadow([box], part!.place);
  expect(Math.max(...outline!.map(([x]) => x))).toBeCloseTo(3, 6);
  expect(Math.max(...outline!.map(([, y]) => y))).toBeCloseTo(2, 6);
  expect(Math.max(...shadow([box], null)[0]!.map(([x]) => x))).toBeCloseTo(1, 12);
  const disc = { corners: Float64Array.of(0, -1, 0, 0, 1, 0), radius: 0, disc: { axis: 1 as const, radius: 0.5 } };
  expect(Math.max(...shadow([disc], null)[0]!.map(([x]) => x))).toBeCloseTo(0.5, 12);
});

test('shapes of parts and sights of sensors by their corners', () => {
  const kind = (shape: Machine['loose']['kinds'][number]['shape']) => ({
    shape,
    mass: { given: 'typed' as const, mass: 1 },
  });
  expect(cornersOf(kind({ kind: 'box', width: 0.2, height: 0.1 }))).toEqual([[-0.1, -0.05], [0.1, -0.05], [0.1, 0.05], [-0.1, 0.05]]); // prettier-ignore
  for (const [x, y] of cornersOf(kind({ kind: 'circle', radius: 0.03 })))
    expect(Math.hypot(x, y)).toBeCloseTo(0.03, 12);
  const corners = [[0, 0], [1, 0], [1, 2], [0, 2]]; // prettier-ignore
  const sensing = {
    kind: 'area' as const,
    body: 'b',
    sees: [] as string[],
    from: [0, 0] as [number, number],
    to: [1, 2] as [number, number],
  };
  expect(sightOf({ sensing })).toEqual({ body: 'b', area: true, corners, rises: [] });
  expect(sightOf({ sensing: { ...sensing, kind: 'beam' } })?.corners).toEqual([[0, 0], [1, 2]]); // prettier-ignore
  expect(sightOf({ sensing: { kind: 'force', axis: 'a', side: 'above', value: 1 } })).toBeNull();
});
