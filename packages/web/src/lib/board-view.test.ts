import fc from 'fast-check';
import { addBar, addDisc, addPlate, newMachine } from '@yoke/core';
import { bodyOutline, extent, intoWorld, placeIn, project, viewOf, zigzag } from './board-view';

test('a place goes into pixels and back', () => {
  fc.assert(
    fc.property(
      fc.double({ min: -5, max: 5, noNaN: true }),
      fc.double({ min: -5, max: 5, noNaN: true }),
      fc.double({ min: 10, max: 1e4, noNaN: true }),
      (x, y, scale) => {
        const p = project({ x: 0.3, y: -0.2, scale }, 800, 500);
        const [wx, wy] = p.world(p.x(x), p.y(y));
        expect(wx).toBeCloseTo(x, 9);
        expect(wy).toBeCloseTo(y, 9);
        // y grows upwards in the world and downwards on the screen.
        expect(p.y(y + 1)).toBeLessThan(p.y(y));
      },
    ),
  );
});

test('a view shows all of a mechanism, with air around it', () => {
  const { mechanism } = newMachine('View');
  addBar(mechanism, [0, 0], [0.4, 0.1]);
  addDisc(mechanism, [0.5, 0.5], 0.05);
  const poses = mechanism.bodies.map(({ pose }) => pose);
  const box = extent(mechanism, poses)!;
  expect(box.high).toEqual([expect.closeTo(0.55), expect.closeTo(0.55)]);
  const p = project(viewOf(box, 600, 400), 600, 400);
  for (const [x, y] of [box.low, box.high]) {
    expect(p.x(x)).toBeGreaterThan(20);
    expect(p.x(x)).toBeLessThan(580);
    expect(p.y(y)).toBeGreaterThan(20);
    expect(p.y(y)).toBeLessThan(380);
  }
  expect(viewOf(null, 600, 400).scale).toBeGreaterThan(0);
});

test('points of bodies and of the ground are found where they are; what is gone is not', () => {
  const { mechanism } = newMachine('Places');
  const bar = addBar(mechanism, [1, 1], [1, 2]);
  mechanism.ground.push({ id: 'g1', plane: 'front', at: [3, 4] });
  const poses = mechanism.bodies.map(({ pose }) => pose);
  expect(placeIn(mechanism, poses, { body: bar.id, point: 'p2' })).toEqual([expect.closeTo(1), expect.closeTo(2)]);
  expect(placeIn(mechanism, poses, { body: 'ground', point: 'g1' })).toEqual([3, 4]);
  expect(placeIn(mechanism, poses, { body: bar.id, point: 'gone' })).toBeNull();
  expect(intoWorld({ x: 1, y: 0, angle: Math.PI / 2 }, [1, 0])).toEqual([expect.closeTo(1), expect.closeTo(1)]);
});

test('outlines are closed, and their corners lie a width from the points', () => {
  const { mechanism } = newMachine('Shapes');
  const bar = addBar(mechanism, [0, 0], [0.1, 0]);
  const plate = addPlate(mechanism, [[0, 0], [1, 0], [0, 1]], 'P', [[[0.1, 0.1], [0.2, 0.1], [0.1, 0.2]]]); // prettier-ignore
  const disc = addDisc(mechanism, [0, 0], 0.2);
  for (const body of [bar, plate, disc]) expect(bodyOutline(body)).toMatch(/^M.*Z$/);
  expect(bodyOutline(plate).match(/M/g)).toHaveLength(2);
  expect(bodyOutline(bar)).toContain(' 0.006');
  expect(zigzag([0, 0], [100, 0]).split('L')).toHaveLength(11);
});
