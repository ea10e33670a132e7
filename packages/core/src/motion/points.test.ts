import { cleanPoints, motionAt, pointsMotion, PointsError } from './index';

const fit = { way: 'quintic', ends: 'rest', tolerance: 0 } as const;

describe('motions through points', () => {
  const rows = [
    [0.2, 0],
    [0.5, 0.08],
    [0.8, 0.1],
    [1.4, 0.02],
    [1.8, 0],
  ];
  test('every point is passed; it rests before, behind and at the ends', () => {
    for (const way of ['line', 'cubic', 'quintic'] as const) {
      const motion = pointsMotion(rows, { ...fit, way }, 2);
      for (const [t, y] of rows) expect(motionAt(motion, t!).position).toBeCloseTo(y!, 10);
      expect(motionAt(motion, 0.1).velocity).toBe(0);
      expect(motionAt(motion, 1.95).position).toBeCloseTo(0, 12);
    }
    const quintic = pointsMotion(rows, fit, 2);
    expect(motionAt(quintic, 0.2).velocity).toBeCloseTo(0, 10);
    expect(motionAt(quintic, 0.2).acceleration).toBeCloseTo(0, 8);
    const [before, after] = [motionAt(quintic, 0.8, 'before'), motionAt(quintic, 0.8)];
    expect(after.jerk).toBeCloseTo(before.jerk, 6);
  });
  test('rows that bring velocity and acceleration are met with them', () => {
    const motion = pointsMotion(
      [
        [0, 0, 1, 0],
        [1, 1, 1, 2],
        [2, 3, 0, 0],
      ],
      fit,
      2,
    );
    expect(motionAt(motion, 1)).toMatchObject({
      position: expect.closeTo(1, 12),
      velocity: expect.closeTo(1, 12),
      acceleration: expect.closeTo(2, 10),
    });
  });
  test('what makes no motion is said by row', () => {
    expect(() => pointsMotion([[0, 0]], fit, 1)).toThrow(/at least two/);
    expect(() =>
      pointsMotion(
        [
          [0, 0],
          [0.5, 1],
          [0.4, 2],
        ],
        fit,
        1,
      ),
    ).toThrow(/Row 3 does not lie behind/);
    expect(() =>
      pointsMotion(
        [
          [0, 0],
          [1, 1],
        ],
        { ...fit, ends: 'cyclic' },
        1,
      ),
    ).toThrow(PointsError);
  });
});

test('cleaning sorts, merges doubles, and names gaps', () => {
  const { points, notes } = cleanPoints([
    [0, 0],
    [0.2, 2],
    [0.1, 1],
    [0.3, 3],
    [0.3, 5],
    [0.4, 4],
    [0.4, 4],
    [0.5, 5],
    [1.5, 6],
  ]);
  expect(points.map(([x]) => x)).toEqual([0, 0.1, 0.2, 0.3, 0.4, 0.5, 1.5]);
  expect(points[3]).toEqual([0.3, 4]);
  expect(notes).toEqual([
    'Row 3 out of order: sorted.',
    'Rows 4, 5 at the same place (0.3): their mean taken.',
    'Rows 6, 7 at the same place (0.4): one kept.',
    expect.stringMatching(/Nothing between 0.5 and 1.5/),
  ]);
});

test('two rows at one place that differ in velocity or acceleration alone are a knee, and stay one', () => {
  const rows = [
    [0, 0, 0, 2],
    [1, 1, 2, 2],
    [1, 1, 2, 0],
    [2, 3, 2, 0],
  ];
  const { points, notes } = cleanPoints([rows[0]!, rows[1]!, rows[2]!, rows[3]!]);
  expect([points, notes]).toEqual([rows, []]);
  const motion = pointsMotion(rows, { ...fit, way: 'quintic', ends: 'free' }, 2);
  expect(motionAt(motion, 1, 'before').acceleration).toBeCloseTo(2, 12);
  expect(motionAt(motion, 1, 'after').acceleration).toBeCloseTo(0, 12);
  expect(motionAt(motion, 0.5).position).toBeCloseTo(0.25, 12);
  // A value that jumps is no knee.
  expect(() => pointsMotion([rows[0]!, rows[1]!, [1, 1.5, 2, 0], rows[3]!], fit, 2)).toThrow(/Row 3 does not lie/);
});
