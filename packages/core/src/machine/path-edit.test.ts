import fc from 'fast-check';
import { circleThrough, pathCorners, pathCurve } from '../geometry';
import { arcFacts, cornerRadius, leastRadius, roundCorners, tangentArc, withArc } from './path-arcs';
import {
  addPathPoint,
  addPointBehind,
  meetsItself,
  nearestPiece,
  pathHandles,
  removePathPoint,
  withPathHandle,
} from './path-edit';
import { pathPoints, pathSchema, type PathPiece, type PathShape } from './path';

type Chain = Extract<PathShape, { kind: 'chain' }>;
type At = [number, number];
const line = (x: number, y: number): PathPiece => ({ kind: 'line', to: [x, y] });
const chain = (start: At, ...pieces: PathPiece[]): Chain => ({ kind: 'chain', start, closed: false, pieces });
const square = (): Chain => ({ ...chain([0, 0], line(0.2, 0), line(0.2, 0.1), line(0, 0.1)), closed: true });
/** A path that an edit gave, or the sentence why it gave none as an error. */
const path = (made: PathShape | string): PathShape => {
  if (typeof made === 'string') throw new Error(made);
  return made;
};
const asChain = (made: PathShape | string | object): Chain => {
  if (typeof made === 'string' || !('kind' in made) || made.kind !== 'chain') throw new Error(JSON.stringify(made));
  return made;
};
const lengthOf = (of: PathShape) => pathCurve(of).length;
const quarter = (): Chain => chain([0.1, 0], { kind: 'arc', via: [0.1 * Math.SQRT1_2, 0.1 * Math.SQRT1_2], to: [0, 0.1] }); // prettier-ignore

describe('what is taken hold of', () => {
  test('points, and what arcs bend by; a chain that meets itself has one handle where it does', () => {
    const half: Chain = { ...quarter(), closed: true, pieces: [...quarter().pieces, line(0.1, 0)] };
    expect(meetsItself(half)).toBe(true);
    expect(pathHandles(half).map(({ what, at }) => [what, ...at])).toEqual([
      ['point', 0.1, 0],
      ['point', 0, 0.1],
      ['bend', 0.1 * Math.SQRT1_2, 0.1 * Math.SQRT1_2],
    ]);
    const moved = asChain(withPathHandle(half, pathHandles(half)[0]!, [0.2, -0.1]));
    expect(moved.start).toEqual([0.2, -0.1]);
    expect(pathPoints(moved).at(-1)).toEqual([0.2, -0.1]);
    expect(meetsItself(moved)).toBe(true);
  });

  test('an arc keeps its form when its end is drawn elsewhere: a quarter of a circle stays one', () => {
    const moved = asChain(withPathHandle(quarter(), pathHandles(quarter())[1]!, [-0.3, 0.25]));
    const arc = moved.pieces[0] as Extract<PathPiece, { kind: 'arc' }>;
    const { radius } = circleThrough(moved.start, arc.via, arc.to)!;
    // Chord of a quarter: r·√2.
    expect(radius).toBeCloseTo(Math.hypot(0.4, 0.25) / Math.SQRT2, 12);
    expect(lengthOf(moved)).toBeCloseTo((Math.PI / 2) * radius, 12);
  });

  test('where it bends is drawn by itself', () => {
    const bend = pathHandles(quarter()).find(({ what }) => what === 'bend')!;
    const moved = asChain(withPathHandle(quarter(), bend, [0.05, 0.05]));
    // Half way on the chord: straight.
    expect(lengthOf(moved)).toBeCloseTo(0.1 * Math.SQRT2, 12);
  });
});

describe('a point more, a point less', () => {
  test('on a line, an arc or the closing line nothing of the course changes (property)', () => {
    const at = fc.tuple(fc.integer({ min: -200, max: 200 }), fc.integer({ min: -200, max: 200 })).map(([x, y]): At => [x / 1000, y / 1000]); // prettier-ignore
    fc.assert(
      fc.property(fc.constantFrom(square(), quarter(), asChain(roundCorners(square(), 0.02))), at, (of, click) => {
        const found = nearestPiece(of, click);
        const count = pathHandles(of).filter(({ what }) => what === 'point').length;
        const ends = pathPoints(of).some(([x, y]) => Math.hypot(x - found.at[0], y - found.at[1]) < 1e-9);
        fc.pre(!ends);
        const more = asChain(addPathPoint(of, found.piece, found.at));
        expect(pathHandles(more).filter(({ what }) => what === 'point')).toHaveLength(count + 1);
        expect(lengthOf(more)).toBeCloseTo(lengthOf(of), 9);
        expect(nearestPiece(more, click).distance).toBeCloseTo(found.distance, 9);
      }),
    );
  });

  test('a spline and a loop go through the new point, in order', () => {
    const spline = chain([0, 0], { kind: 'spline', through: [[0.1, 0.05], [0.2, 0], [0.3, 0.05]] }); // prettier-ignore
    const found = nearestPiece(spline, [0.15, 0.02]);
    const more = asChain(addPathPoint(spline, found.piece, found.at));
    expect(pathPoints(more)[2]).toEqual(found.at);
    const loop: PathShape = { kind: 'loop', through: [[0, 0], [0.2, 0], [0.2, 0.2], [0, 0.2]] }; // prettier-ignore
    const last = nearestPiece(loop, [-0.05, 0.1]);
    expect(last.piece).toBe(3);
    expect(pathPoints(path(addPathPoint(loop, last.piece, last.at))).at(-1)).toEqual(last.at);
  });

  test('behind a point it comes half way along the path to the next one; behind the last an open path goes on', () => {
    const behind = (of: PathShape, index: number) => pathPoints(path(addPointBehind(of, index)))[index + 1]!.map((v) => expect.closeTo(v, 9)); // prettier-ignore
    expect([0.1, 0]).toEqual(behind(square(), 0));
    // The line that closes it, and the circle half way round a quarter.
    expect([0, 0.05]).toEqual(behind(square(), 3));
    expect([0.1 * Math.SQRT1_2, 0.1 * Math.SQRT1_2]).toEqual(behind(quarter(), 0));
    expect([0, 0.2]).toEqual(behind(chain([0, 0], line(0, 0.1)), 1));
    const loop: PathShape = { kind: 'loop', through: [[0.1, 0], [0, 0.1], [-0.1, 0], [0, -0.1]] }; // prettier-ignore
    const [x, y] = pathPoints(path(addPointBehind(loop, 3)))[4]!;
    expect(x).toBeCloseTo(-y, 9);
    expect(x).toBeGreaterThan(0.06);
    const spline = chain([0, 0], { kind: 'spline', through: [[0.1, 0], [0.2, 0]] }); // prettier-ignore
    expect([0.15, 0]).toEqual(behind(spline, 1));
  });

  test('taken away, what ran to it runs on to the next', () => {
    expect(pathPoints(path(removePathPoint(square(), 1)))).toEqual([[0, 0], [0.2, 0.1], [0, 0.1]]); // prettier-ignore
    expect(pathPoints(path(removePathPoint(square(), 0)))).toEqual([[0.2, 0], [0.2, 0.1], [0, 0.1]]); // prettier-ignore
    const closed = asChain(roundCorners(square(), 0.02));
    const less = asChain(removePathPoint(closed, 0));
    expect(meetsItself(less)).toBe(true);
    expect(pathHandles(less).filter(({ what }) => what === 'point')).toHaveLength(7);
  });

  test('added and taken away again it is what it was, for every shape (property)', () => {
    const shapes: PathShape[] = [
      square(),
      chain([0, 0], line(0.1, 0), { kind: 'spline', through: [[0.2, 0.1], [0.3, 0]] }, line(0.4, 0)), // prettier-ignore
      { kind: 'loop', through: [[0, 0], [0.2, 0], [0.2, 0.2], [0, 0.2]] }, // prettier-ignore
    ];
    fc.assert(
      fc.property(fc.constantFrom(...shapes), fc.double({ min: 0, max: 0.4, noNaN: true }), (of, x) => {
        const { piece, at } = nearestPiece(of, [x, 0.05]);
        fc.pre(!pathPoints(of).some(([px, py]) => Math.hypot(px - at[0], py - at[1]) < 1e-9));
        const more = path(addPathPoint(of, piece, at));
        const index = pathPoints(more).findIndex(([px, py]) => px === at[0] && py === at[1]);
        const less = path(removePathPoint(more, index));
        expect(pathPoints(less)).toEqual(pathPoints(of));
        expect(pathSchema.shape.shape.safeParse(less).success).toBe(true);
      }),
    );
  });

  test('where a point stands already none is added, and a point within a hair of it is that point', () => {
    for (const of of [
      square(),
      quarter(),
      {
        kind: 'loop',
        through: [
          [0, 0],
          [0.2, 0],
          [0.2, 0.2],
        ],
      } as PathShape,
    ])
      // prettier-ignore
      for (const at of pathPoints(of)) {
        const found = nearestPiece(of, at);
        expect(addPathPoint(of, found.piece, found.at)).toBe('There is a point already.');
      }
  });

  test('what cannot be done says why', () => {
    const circle: PathShape = { kind: 'circle', centre: [0, 0], radius: 0.1 };
    expect(addPathPoint(circle, 0, [0.1, 0])).toContain('make it pieces or a smooth loop first');
    expect(removePathPoint(circle, 0)).toContain('delete the path itself');
    expect(removePathPoint(chain([0, 0], line(1, 0)), 1)).toContain('needs two points');
    expect(removePathPoint({ kind: 'loop', through: [[0, 0], [1, 0], [0, 1]] }, 1)).toContain('three points'); // prettier-ignore
    const blend = chain([0, 0], line(0.1, 0), { kind: 'transition', to: [0.2, 0.1] }, line(0.2, 0.2));
    expect(addPathPoint(blend, 1, [0.15, 0.05])).toContain('make it a spline or an arc first');
    const triangle = { ...chain([0, 0], line(1, 0), line(0, 1), line(0, 0)), closed: true };
    expect(removePathPoint(triangle, 0)).toContain('three points');
  });
});

describe('arcs', () => {
  test('are what was typed: radius, side and way round (property)', () => {
    const radius = fc.double({ min: 0.06, max: 3, noNaN: true });
    fc.assert(
      fc.property(radius, fc.constantFrom('left', 'right'), fc.boolean(), (wanted, turns, large) => {
        const of = chain([0.02, -0.01], { kind: 'arc', via: [0, 0], to: [-0.03, 0.09] });
        const arc = asChain(withArc(of, 0, { radius: wanted, turns, large }));
        expect(arcFacts(arc, 0)).toEqual({ radius: expect.closeTo(wanted, 7), turns, large });
        // Chord and sagitta: r(1 − cos(φ/2)), from the length alone.
        const chord = Math.hypot(0.05, 0.1);
        const half = Math.asin(Math.min(1, chord / 2 / wanted));
        expect(lengthOf(arc)).toBeCloseTo(2 * wanted * (large ? Math.PI - half : half), 6);
      }),
    );
  });

  test('none is smaller than half the way between its ends', () => {
    expect(leastRadius(quarter(), 0)).toBeCloseTo(0.1 * Math.SQRT1_2, 12);
    const least = asChain(withArc(quarter(), 0, { radius: 0.001, turns: 'left', large: false }));
    expect(lengthOf(least)).toBeCloseTo(Math.PI * 0.1 * Math.SQRT1_2, 12);
    expect(arcFacts(chain([0, 0], { kind: 'arc', via: [1, 0], to: [2, 0] }), 0)).toBeNull();
  });

  test('tangent to the piece before or behind it they leave no corner there', () => {
    const of = chain([0, 0], line(0.1, 0), { kind: 'arc', via: [0.2, 0.1], to: [0.2, 0.1] }, line(0.1, 0.25));
    const first = asChain(tangentArc(of, 1, 'before'));
    // A quarter of a circle about (0.1, 0.1).
    expect(arcFacts(first, 1)).toEqual({ radius: expect.closeTo(0.1, 12), turns: 'left', large: false });
    expect(pathCorners(first)).toHaveLength(1);
    const behind = asChain(tangentArc(of, 1, 'behind'));
    const [corner] = pathCorners(behind);
    expect(pathCorners(behind)).toHaveLength(1);
    expect(corner!.at).toBeCloseTo(0.1, 12);
  });

  test('where nothing can be tangent it says why', () => {
    const of = chain([0, 0], { kind: 'arc', via: [0.1, 0.1], to: [0.2, 0] });
    expect(tangentArc(of, 0, 'before')).toContain('no piece with a direction of its own before it');
    expect(tangentArc(chain([0, 0], line(0.1, 0), { kind: 'arc', via: [0, 1], to: [0, 0] }), 1, 'before')).toContain('points straight back'); // prettier-ignore
  });
});

describe('corner radius in one go', () => {
  test('all corners of a closed outline: its length is that of the rounded rectangle', () => {
    const round = asChain(roundCorners(square(), 0.02));
    // Perimeter less what the corners take, plus a whole circle (elementary geometry).
    expect(lengthOf(round)).toBeCloseTo(0.6 - 8 * 0.02 + 2 * Math.PI * 0.02, 12);
    expect(pathCorners(round)).toEqual([]);
    expect(round.closed).toBe(true);
    expect(meetsItself(round)).toBe(true);
  });

  test('once more with another radius, or none, it is as if it had been done at first', () => {
    const twice = asChain(roundCorners(asChain(roundCorners(square(), 0.02)), 0.035));
    expect(lengthOf(twice)).toBeCloseTo(0.6 - 8 * 0.035 + 2 * Math.PI * 0.035, 9);
    expect([cornerRadius(square()), cornerRadius(twice)]).toEqual([0, expect.closeTo(0.035, 9)]);
    const sharp = asChain(roundCorners(twice, 0));
    expect(sharp.pieces.map(({ kind }) => kind)).toEqual(['line', 'line', 'line', 'line']);
    expect(lengthOf(sharp)).toBeCloseTo(0.6, 9);
    expect(pathCorners(sharp)).toHaveLength(4);
  });

  test('an open path keeps its ends, and arcs between lines that meet at a corner stay', () => {
    const open = chain([0, 0], line(0.1, 0), line(0.1, 0.1), line(0.3, 0.1));
    const round = asChain(roundCorners(open, 0.04));
    expect([round.start, pathPoints(round).at(-1)]).toEqual([[0, 0], [0.3, 0.1]]); // prettier-ignore
    expect(lengthOf(round)).toBeCloseTo(0.4 - 4 * 0.04 + Math.PI * 0.04, 12);
    const bump = chain([0, 0], line(0.1, 0), { kind: 'arc', via: [0.15, 0.05], to: [0.2, 0] }, line(0.3, 0));
    expect(roundCorners(bump, 0.01)).toEqual(bump);
  });

  test('corners of 60° too: the arc touches both lines', () => {
    const open = chain([0, 0], line(0.3, 0), line(0.15, 0.15 * Math.sqrt(3)));
    const round = asChain(roundCorners(open, 0.02));
    expect(pathCorners(round)).toEqual([]);
    expect(arcFacts(round, 1)).toEqual({ radius: expect.closeTo(0.02, 12), turns: 'left', large: false });
  });

  test('where there is no room it names the corner and the largest radius that fits', () => {
    const open = chain([0, 0], line(0.3, 0), line(0.3, 0.04), line(0, 0.04));
    expect(roundCorners(open, 0.03)).toEqual({ corner: 1, most: expect.closeTo(0.02, 12) });
    const most = asChain(roundCorners(open, 0.02));
    expect(most.pieces.map(({ kind }) => kind)).toEqual(['line', 'arc', 'arc', 'line']);
    expect(lengthOf(most)).toBeCloseTo(0.56 + Math.PI * 0.02, 9);
  });
});
