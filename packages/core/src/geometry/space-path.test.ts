import fc from 'fast-check';
import { emptyCurvePoint } from './curve';
import { pathCurve, PathError } from './path';
import { cross, length3, minus, plus, type Point3 } from './space';
import { emptySpaceCurvePoint, pathThrough, spaceCorners, spaceCurve, spaceTrace, type SpaceCurve, type SpacePath } from './space-path'; // prettier-ignore

const at = (curve: SpaceCurve, s: number) => {
  const p = emptySpaceCurvePoint();
  curve.at(s, p);
  return p;
};
const apart = (a: Point3, b: Point3) => length3(minus(a, b));

/** Holds tangent and the two derivatives after it against differences of the curve itself. */
function expectConsistent(curve: SpaceCurve, s: number, h = 1e-5): void {
  const [before, here, after] = [at(curve, s - h), at(curve, s), at(curve, s + h)];
  const rate = (a: Point3, b: Point3) => minus(b, a).map((part) => part / (2 * h)) as [number, number, number];
  expect(apart(rate(before.at, after.at), here.tangent)).toBeLessThan(1e-6);
  expect(length3(here.tangent)).toBeCloseTo(1, 12);
  expect(apart(rate(before.tangent, after.tangent), here.bend)).toBeLessThan(1e-4 * (1 + length3(here.bend)));
  expect(apart(rate(before.bend, after.bend), here.bendRate)).toBeLessThan(1e-3 * (1 + length3(here.bendRate)));
}

const coordinate = fc.double({ min: -1, max: 1, noNaN: true });
const place = fc.tuple(coordinate, coordinate, coordinate);
const angle = fc.integer({ min: -120, max: 120 }).map((tenth) => tenth / 100);

test('an arc through three places lies on one circle, in whatever plane they span', () => {
  fc.assert(
    fc.property(place, place, place, (a, b, c) => {
      fc.pre(length3(cross(minus(b, a), minus(c, a))) > 0.05);
      const curve = spaceCurve({ start: a, pieces: [{ kind: 'arc', via: b, to: c }], closed: false });
      const first = at(curve, 0);
      const radius = 1 / length3(first.bend);
      const centre = plus(first.at, first.bend, radius ** 2);
      for (const p of [a, b, c]) expect(apart(p, centre)).toBeCloseTo(radius, 8);
      expect(apart(at(curve, curve.length).at, c)).toBeLessThan(1e-9);
      // It passes the middle one.
      const near = Math.min(...spaceTrace(curve, 2000).map((p) => apart(p, b)));
      expect(near).toBeLessThan(curve.length / 1000);
      expectConsistent(curve, curve.length / 3);
    }),
    { numRuns: 60 },
  );
});

test('a helix by a spline has the length and curvature of the helix', () => {
  // Closed form: length 2π √(r² + c²), curvature r / (r² + c²) (differential geometry).
  const [r, c] = [0.3, 0.05];
  const helix = (t: number): [number, number, number] => [r * Math.cos(t), r * Math.sin(t), c * t];
  const through = Array.from({ length: 96 }, (_, i) => helix((2 * Math.PI * (i + 1)) / 96));
  const curve = spaceCurve({ start: helix(0), pieces: [{ kind: 'spline', through }], closed: false });
  expect(curve.length / (2 * Math.PI * Math.hypot(r, c))).toBeCloseTo(1, 5);
  expect(length3(at(curve, curve.length / 2).bend) / (r / (r * r + c * c))).toBeCloseTo(1, 2);
  expectConsistent(curve, 0.7);
});

test('in a plane it is the path that is drawn there, blended corners too', () => {
  const flat: [number, number][] = [[0.4, 0], [0.4, 0.3], [0, 0.3]]; // prettier-ignore
  const path: SpacePath = {
    start: [0, 0, 0.2],
    pieces: flat.map(([x, y]) => ({ kind: 'line', to: [x, y, 0.2] })),
    closed: false,
  };
  expect(spaceCorners(path).map(({ at: where, angle }) => [where, angle])).toEqual([[0.4, Math.PI / 2], [0.7, Math.PI / 2]]); // prettier-ignore
  const curve = spaceCurve(path, 0.05);
  const p = emptyCurvePoint();
  const drawn = pathCurve({
    kind: 'chain',
    start: [0, 0],
    closed: false,
    pieces: [
      { kind: 'line', to: [0.35, 0] },
      { kind: 'transition', to: [0.4, 0.05] },
      { kind: 'line', to: [0.4, 0.25] },
      { kind: 'transition', to: [0.35, 0.3] },
      { kind: 'line', to: [0, 0.3] },
    ],
  });
  expect(curve.length).toBeCloseTo(drawn.length, 12);
  for (const share of [0.2, 0.41, 0.6, 0.93]) {
    drawn.at(share * curve.length, p);
    const here = at(curve, share * curve.length);
    expect(apart(here.at, [p.x, p.y, 0.2])).toBeLessThan(1e-12);
    expect(length3(here.bend)).toBeCloseTo(Math.abs(p.curvature), 9);
  }
});

test('blended corners in space leave no jump of direction or curvature', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(angle, angle), { minLength: 3, maxLength: 5 }), fc.boolean(), (turns, closes) => {
      const places: Point3[] = [[0, 0, 0]];
      for (const [a, b] of turns)
        places.push(plus(places.at(-1)!, [Math.cos(a) * Math.cos(b), Math.sin(b), Math.sin(a) * Math.cos(b)], 0.5));
      const closed = closes && apart(places.at(-1)!, places[0]!) > 0.2;
      const [start, ...rest] = places;
      const path: SpacePath = { start: start!, pieces: rest.map((to) => ({ kind: 'line', to })), closed };
      fc.pre(spaceCorners(path).every(({ angle: by }) => by < 2.8));
      const curve = spaceCurve(path, 0.06);
      for (const knee of curve.knees) {
        const [a, b] = [at(curve, knee - 1e-9 + (knee === 0 ? curve.length : 0)), at(curve, knee + 1e-9)];
        expect(apart(a.tangent, b.tangent)).toBeLessThan(1e-5);
        expect(apart(a.bend, b.bend)).toBeLessThan(1e-3);
      }
    }),
    { numRuns: 60 },
  );
});

test('a piece without length is named; beyond its ends an open path goes on straight', () => {
  const start: Point3 = [0, 0, 0];
  const broken: SpacePath = { start, pieces: [{ kind: 'line', to: [0, 0, 1] }, { kind: 'line', to: [0, 0, 1] }], closed: false }; // prettier-ignore
  expect(() => spaceCurve(broken)).toThrow(PathError);
  expect(() => spaceCurve(broken)).toThrow(/Piece 2 .* has no length/);
  const straight = spaceCurve({ start, pieces: [{ kind: 'line', to: [0, 0, 1] }], closed: false });
  expect(at(straight, 1.5).at).toEqual([0, 0, 1.5]);
  expect(at(straight, -0.5).at).toEqual([0, 0, -0.5]);
});

test('a path through many places keeps the corners of lines, and closes where it ends at its beginning', () => {
  const square: Point3[] = [[0, 0, 0], [1, 0, 0], [1, 0, 1], [0, 0, 1], [0, 0, 0]]; // prettier-ignore
  const dense = square.slice(1).flatMap((to, k) => {
    const from = square[k]!;
    return Array.from({ length: 50 }, (_, i) => plus(from, minus(to, from), i / 50));
  });
  const path = pathThrough([...dense, square[0]!, square[0]!], 'lines');
  expect(path.closed).toBe(true);
  expect([path.start, ...path.pieces.map((piece) => (piece.kind === 'line' ? piece.to : null))]).toEqual(square);
  expect(spaceCurve(path).length).toBeCloseTo(4, 12);
  const smooth = pathThrough(dense.slice(0, 50), 'spline');
  expect(spaceCurve(smooth).length).toBeCloseTo(0.98, 9);
  expect(() => pathThrough([square[0]!, square[0]!], 'lines')).toThrow(/fewer than two places/);
});

test('a path that turns straight back cannot be blended, and says so', () => {
  const back: SpacePath = { start: [0, 0, 0], pieces: [{ kind: 'line', to: [1, 0, 0] }, { kind: 'line', to: [0.5, 0, 0] }], closed: false }; // prettier-ignore
  expect(() => spaceCurve(back, 0.05)).toThrow(/turns straight back/);
  expect(spaceCurve(back, 0).length).toBeCloseTo(1.5, 12);
});
