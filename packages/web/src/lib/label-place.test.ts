import fc from 'fast-check';
import { placeLabel, type Box, type Spot } from './label-place';

const AREA: Box = { left: 0, top: 0, right: 600, bottom: 120 };
const SIZE = { width: 110, height: 14 };
const curve = (y: (x: number) => number): Spot[] => Array.from({ length: 601 }, (_, x) => ({ x, y: y(x) }));
const inside = ({ left, top, right, bottom }: Box, { x, y }: Spot) => x > left && x < right && y > top && y < bottom;

test('beside the peak of a hump the label stands off its flanks', () => {
  const hump = curve((x) => 100 - 80 * Math.exp(-(((x - 300) / 60) ** 2)));
  const box = placeLabel({ x: 300, y: 20 }, SIZE, AREA, [hump]);
  expect(hump.filter((spot) => inside(box, spot))).toEqual([]);
  expect(box.right).toBeLessThanOrEqual(600);
  expect(box.top).toBeGreaterThanOrEqual(0);
});

test('at the right end it goes to the left, and not over another label', () => {
  const flat = curve(() => 100);
  const first = placeLabel({ x: 590, y: 60 }, SIZE, AREA, [flat]);
  expect(first.right).toBeLessThan(590);
  const second = placeLabel({ x: 588, y: 62 }, SIZE, AREA, [flat], [first]);
  expect(second.top >= first.bottom || second.bottom <= first.top || second.right <= first.left).toBe(true);
});

test('a straight line between two far points counts too', () => {
  const line = [
    { x: 0, y: 60 },
    { x: 600, y: 60 },
  ];
  const box = placeLabel({ x: 300, y: 60 }, SIZE, AREA, [line]);
  expect(box.bottom < 60 || box.top > 60).toBe(true);
});

test('it stays within the area wherever the point lies (property)', () => {
  const hump = curve((x) => 60 + 50 * Math.sin(x / 40));
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 600 }), (x) => {
      const box = placeLabel(hump[x]!, SIZE, AREA, [hump]);
      expect([box.left >= 0, box.right <= 600, box.top >= 0, box.bottom <= 120]).toEqual([true, true, true, true]);
    }),
  );
});
