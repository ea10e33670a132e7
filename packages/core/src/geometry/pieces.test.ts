import fc from 'fast-check';
import { polygonArea, convexPieces, type Point2 } from './index';

const star = (points: number, inner = 0.4): Point2[] =>
  Array.from({ length: 2 * points }, (_, i) => {
    const r = i % 2 === 0 ? 1 : inner;
    const angle = (Math.PI * i) / points;
    return [r * Math.cos(angle), r * Math.sin(angle)];
  });

const isConvex = (piece: readonly Point2[]) =>
  piece.every(([bx, by], i) => {
    const [ax, ay] = piece[(i + piece.length - 1) % piece.length]!;
    const [cx, cy] = piece[(i + 1) % piece.length]!;
    return (bx - ax) * (cy - ay) - (by - ay) * (cx - ax) >= -1e-12;
  });

const wholeArea = (pieces: readonly (readonly Point2[])[]) =>
  pieces.reduce((sum, piece) => sum + polygonArea([...piece]).area, 0);

test.each([5, 40, 200, 800])('a star of %i points is cut into convex pieces that together are the star', (points) => {
  const outline = star(points);
  const pieces = convexPieces(outline);
  expect(pieces.every(isConvex)).toBe(true);
  // By two triangles for each point and a polygon of the inner corners: 2n triangles of area r R sin(π/n) / 2.
  expect(wholeArea(pieces)).toBeCloseTo(points * 0.4 * Math.sin(Math.PI / points), 9);
  expect(pieces.length).toBeLessThanOrEqual(2 * points);
});

test.each([
  [5, 40],
  [40, 120],
])(
  'any outline of %i to %i corners that does not cross itself, either way round (property)',
  (minLength, maxLength) => {
    const outline = fc.array(fc.double({ min: 0.1, max: 1, noNaN: true }), { minLength, maxLength }).map((radii) =>
      radii.map((r, i): Point2 => {
        const angle = (2 * Math.PI * i) / radii.length;
        return [r * Math.cos(angle), r * Math.sin(angle)];
      }),
    );
    fc.assert(
      fc.property(outline, fc.boolean(), (points, turned) => {
        const pieces = convexPieces(turned ? [...points].reverse() : points);
        expect(pieces.every(isConvex)).toBe(true);
        expect(wholeArea(pieces)).toBeCloseTo(polygonArea(points).area, 6);
      }),
      { numRuns: 200 },
    );
  },
);

test('an outline that crosses itself is refused', () => {
  expect(() => convexPieces([[0, 0], [1, 1], [1, 0], [0, 1]])).toThrow('The outline crosses itself'); // prettier-ignore
});

test.each([2, 12, 14])(
  'a comb of %i gaps comes apart into its bottom and its teeth: the fewest pieces there are',
  (gaps) => {
    // Each gap has two corners that point inwards, and a straight cut takes two of them at most (Chazelle and Dobkin 1985).
    const top = Array.from({ length: gaps }, (_, i): Point2[] => {
      const right = 0.03 * (gaps - i);
      return [[right - 0.006, 0.035], [right - 0.0075, 0.005], [right - 0.0225, 0.005], [right - 0.024, 0.035]]; // prettier-ignore
    }).flat();
    const outline: Point2[] = [[0, 0], [0.03 * gaps, 0], [0.03 * gaps, 0.035], ...top, [0, 0.035]]; // prettier-ignore
    const pieces = convexPieces(outline);
    expect(pieces).toHaveLength(gaps + 2);
    expect(pieces.every(isConvex)).toBe(true);
    expect(wholeArea(pieces)).toBeCloseTo(polygonArea(outline).area, 12);
    // The bottom lies on what it lies on as one piece.
    const widths = pieces.map((piece) => Math.max(...piece.map(([x]) => x)) - Math.min(...piece.map(([x]) => x)));
    expect(Math.max(...widths)).toBeGreaterThan(0.03 * (gaps - 1));
  },
);
