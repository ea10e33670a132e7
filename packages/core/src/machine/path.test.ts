import fc from 'fast-check';
import { emptyCurvePoint, pathCurve } from '../geometry';
import { addBar, addPath, carryPath } from './draw';
import { emptyMechanism } from './mechanism';
import {
  mapPath,
  PATH_PIECES,
  PATH_SHAPES,
  pathPoints,
  pathSchema,
  pieceEnds,
  withPathPoint,
  type PathPiece,
  type PathShape,
} from './path';

const at = fc.tuple(fc.integer({ min: -200, max: 200 }), fc.integer({ min: -200, max: 200 })).map(([x, y]): [number, number] => [x / 1000, y / 1000]); // prettier-ignore
const piece = fc.oneof(
  at.map((to) => ({ kind: 'line' as const, to })),
  fc.tuple(at, at).map(([via, to]) => ({ kind: 'arc' as const, via, to })),
  fc.array(at, { minLength: 1, maxLength: 4 }).map((through) => ({ kind: 'spline' as const, through })),
  at.map((to) => ({ kind: 'transition' as const, to })),
);
const shape: fc.Arbitrary<PathShape> = fc.oneof(
  fc.record({ kind: fc.constant('circle' as const), centre: at, radius: fc.constant(0.03) }),
  fc.record({ kind: fc.constant('loop' as const), through: fc.array(at, { minLength: 3, maxLength: 6 }) }),
  fc.record({
    kind: fc.constant('chain' as const),
    start: at,
    pieces: fc.array(piece, { minLength: 1, maxLength: 5 }),
    closed: fc.boolean(),
  }),
);

describe('points of a path', () => {
  test('each can be put elsewhere alone, and the shape stays one of the document', () => {
    fc.assert(
      fc.property(shape, fc.nat(), at, (of, any, to) => {
        const before = pathPoints(of);
        const index = any % before.length;
        const after = withPathPoint(of, index, to);
        expect(pathPoints(after)).toEqual(before.map((p, i) => (i === index ? to : p)));
        expect(after.kind).toBe(of.kind);
        expect(pathSchema.shape.shape.safeParse(after).success).toBe(true);
      }),
    );
  });

  test('moved there and back they are where they were', () => {
    fc.assert(
      fc.property(shape, (of) => {
        const there = mapPath(of, ([x, y]) => [x + 1, -y]);
        expect(mapPath(there, ([x, y]) => [Math.round((x - 1) * 1e6) / 1e6, -y || 0])).toEqual(mapPath(of, ([x, y]) => [x, y || 0])); // prettier-ignore
      }),
    );
  });
});

describe('another shape', () => {
  const as = (from: PathShape, to: PathShape['kind']): PathShape => {
    const made = PATH_SHAPES[to].first({ machine: null as never, was: { shape: from } });
    if (typeof made === 'string') throw new Error(made);
    return made;
  };

  test('is always one of the document, and a curve that can be gone along', () => {
    fc.assert(
      fc.property(shape, fc.constantFrom('chain', 'loop', 'circle'), (of, to) => {
        fc.pre(new Set(pathPoints(of).map(String)).size === pathPoints(of).length);
        fc.pre(of.kind !== 'chain' || of.pieces.every(({ kind }) => kind === 'line'));
        const made = as(of, to);
        expect(pathSchema.shape.shape.safeParse(made).success).toBe(true);
        expect(pathCurve(made).length).toBeGreaterThan(0);
      }),
    );
  });

  test('of a circle in pieces is the same circle, closed; as a loop nearly so', () => {
    const circle: PathShape = { kind: 'circle', centre: [0.1, 0.2], radius: 0.05 };
    const chain = as(circle, 'chain');
    expect(chain).toMatchObject({ closed: true });
    expect(pathCurve(chain).length).toBeCloseTo(2 * Math.PI * 0.05, 12);
    const p = emptyCurvePoint();
    const curve = pathCurve(chain);
    for (const share of [0, 0.2, 0.6, 0.9]) {
      curve.at(share * curve.length, p);
      expect(Math.hypot(p.x - 0.1, p.y - 0.2)).toBeCloseTo(0.05, 12);
    }
    expect(pathCurve(as(circle, 'loop')).length / (2 * Math.PI * 0.05)).toBeCloseTo(1, 2);
    const back = as(chain, 'circle');
    expect(back).toMatchObject({ kind: 'circle' });
  });
});

describe('pieces of a path', () => {
  const chain: Extract<PathShape, { kind: 'chain' }> = {
    kind: 'chain',
    start: [0, 0],
    closed: false,
    pieces: [{ kind: 'line', to: [0.1, 0] }, { kind: 'spline', through: [[0.15, 0.05], [0.2, 0]] }, { kind: 'line', to: [0.3, 0] }], // prettier-ignore
  };

  test.each(Object.keys(PATH_PIECES) as (keyof typeof PATH_PIECES)[])(
    'a piece made into a %s runs between the same two points',
    (kind) => {
      for (const index of [0, 1, 2]) {
        const [from, to] = pieceEnds(chain, index);
        const made = PATH_PIECES[kind].first({ machine: null as never, was: { from, at: to } });
        if (typeof made === 'string') throw new Error(made);
        const next = { ...chain, pieces: chain.pieces.map((old, i) => (i === index ? made : old)) };
        expect(pieceEnds(next, index)).toEqual([from, to]);
        // It is a curve that can be gone along, longer than the straight line but not by much.
        const straight = Math.hypot(to[0] - from[0], to[1] - from[1]);
        // A transition needs neighbours: it is looked at between the lines on both sides.
        if (kind === 'transition' && index !== 1) continue;
        const lengthOf = (pieces: PathPiece[], start: [number, number]) =>
          pathCurve({ kind: 'chain', start, closed: false, pieces }).length;
        const own = kind === 'transition' ? lengthOf(next.pieces, [0, 0]) - 0.2 : lengthOf([made], from);
        expect(own).toBeGreaterThan(straight * (1 - 1e-12));
        expect(own).toBeLessThan(1.3 * straight);
      }
    },
  );
});

test('a path given to another carrier keeps its place', () => {
  const mechanism = emptyMechanism();
  const bar = addBar(mechanism, [0.2, 0.1], [0.2, 0.4]);
  const path = addPath(mechanism, 'ground', { kind: 'chain', start: [0, 0], closed: false, pieces: [{ kind: 'arc', via: [0.05, 0.05], to: [0.1, 0] }] }); // prettier-ignore
  const inWorld = (): [number, number] => {
    const p = emptyCurvePoint();
    pathCurve(path.shape).at(0.06, p);
    if (path.body === 'ground') return [p.x, p.y];
    const { x, y, angle } = bar.pose;
    return [x + Math.cos(angle) * p.x - Math.sin(angle) * p.y, y + Math.sin(angle) * p.x + Math.cos(angle) * p.y];
  };
  const before = inWorld();
  carryPath(mechanism, path, bar.id);
  expect(path.body).toBe(bar.id);
  expect(path.shape).not.toMatchObject({ start: [0, 0] });
  inWorld().forEach((value, i) => expect(value).toBeCloseTo(before[i]!, 12));
  carryPath(mechanism, path, 'ground');
  pathPoints(path.shape).forEach((p, i) => p.forEach((v, k) => expect(v).toBeCloseTo([[0, 0], [0.1, 0]][i]![k]!, 12))); // prettier-ignore
});
