import fc from 'fast-check';
import { withAlpha } from './axis-look';
import { fileName } from './files';
import { niceStep, niceTicks, snapTo, tidy } from './ticks';

test('steps are 1, 2 or 5 times a power of ten, and not smaller than asked for', () => {
  fc.assert(
    fc.property(fc.double({ min: 1e-6, max: 1e6, noNaN: true }), (least) => {
      const step = niceStep(least);
      const digit = step / 10 ** Math.floor(Math.log10(step) + 1e-9);
      expect([1, 2, 5]).toContain(Math.round(digit * 1e6) / 1e6);
      expect(step).toBeGreaterThanOrEqual(least * (1 - 1e-9));
      expect(step).toBeLessThanOrEqual(least * 2.5 * (1 + 1e-9));
    }),
  );
});

test('ticks lie inside, evenly, and are not too many', () => {
  expect(niceTicks(0, 1.5, 10)).toEqual([0, 0.2, 0.4, 0.6, 0.8, 1, 1.2, 1.4]);
  expect(niceTicks(-0.3, 0.3, 4)).toEqual([-0.2, 0, 0.2]);
  fc.assert(
    fc.property(
      fc.double({ min: -100, max: 100, noNaN: true }),
      fc.double({ min: 0.01, max: 100, noNaN: true }),
      (from, size) => {
        const ticks = niceTicks(from, from + size, 8);
        expect(ticks.length).toBeLessThanOrEqual(9);
        for (const tick of ticks) {
          expect(tick).toBeGreaterThanOrEqual(from - size * 1e-6);
          expect(tick).toBeLessThanOrEqual(from + size * (1 + 1e-6));
        }
      },
    ),
  );
});

test('snapping takes the nearest mark within reach, else the grid', () => {
  expect(snapTo(0.52, [0.5, 0.55], 0.04, 0.1)).toBe(0.5);
  expect(snapTo(0.54, [0.5, 0.55], 0.04, 0.1)).toBe(0.55);
  expect(snapTo(0.68, [0.5], 0.04, 0.1)).toBe(0.7);
  expect(snapTo(0.68, [], 0.04, 0)).toBe(0.68);
  expect(snapTo(0.5, [0.5], 0.04, 0.3)).toBe(0.5);
});

test('file names hold only what every file system takes', () => {
  expect(fileName('Plug pusher & lift (copy)')).toBe('plug-pusher-lift-copy');
  expect(fileName('ÄÖÜ')).toBe('machine');
  fc.assert(fc.property(fc.string(), (name) => expect(fileName(name)).toMatch(/^[a-z0-9][a-z0-9-]*$/)));
});

test('colours with an opacity, short and long', () => {
  expect(withAlpha('#fff', 0.5)).toBe('rgba(255, 255, 255, 0.5)');
  expect(withAlpha('#1e6f68', 0.1)).toBe('rgba(30, 111, 104, 0.1)');
});

test('the noise of rounding is not shown, true values are', () => {
  expect([8.3266726e-18, -1e-12, 0.1 + 0.2, 1e-6, -0.04].map(tidy)).toEqual([0, 0, 0.3, 1e-6, -0.04]);
});
