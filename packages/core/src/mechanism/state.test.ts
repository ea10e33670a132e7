import fc from 'fast-check';
import { ofBody, positionsOf, ratesOf, retract } from './index';

const numbers = (length: number) =>
  fc.array(fc.double({ min: -10, max: 10, noNaN: true }), { minLength: length, maxLength: length });

test('a way there and back leads to where it began; the ground stays, and the way may be gone in place (property)', () => {
  fc.assert(
    fc.property(numbers(6), numbers(6), fc.double({ min: -2, max: 2, noNaN: true }), (places, steps, share) => {
      const layout = { size: 6 };
      const q = positionsOf(layout);
      q.set(places);
      const way = ratesOf(layout);
      way.set(steps);
      const out = positionsOf(layout);
      retract(layout, q, way, out, share);
      places.forEach((place, j) => expect(out[j]).toBeCloseTo(place + share * steps[j]!, 12));
      expect(Array.from(out.subarray(6))).toEqual([0, 0, 0]);
      retract(layout, out, way, out, -share);
      places.forEach((place, j) => expect(out[j]).toBeCloseTo(place, 12));
    }),
  );
});

test('a way measured by the size of each unknown', () => {
  const layout = { size: 3 };
  const q = positionsOf(layout);
  const out = positionsOf(layout);
  const way = ratesOf(layout);
  way.set([1, 2, 3]);
  retract(layout, q, way, out, 0.5, Float64Array.of(0.1, 0.1, 1));
  expect(ofBody(out, 0)).toEqual([0.05, 0.1, 1.5]);
});
