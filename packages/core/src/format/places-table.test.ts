import { readPlaces } from './places-table';

test('places are read by their names with their units, else from the first three columns as shown', () => {
  expect(readPlaces('t [s];x [mm];y [mm];z [m]\n0;100;-20;0.5\n1;200;0;0.25', 'metric')).toEqual([
    [0.1, -0.02, 0.5],
    [0.2, 0, 0.25],
  ]);
  expect(readPlaces('10\t0\t0\n20\t5,5\t1', 'metric')).toEqual([
    [0.01, 0, 0],
    [0.02, 0.0055, 0.001],
  ]);
  expect(readPlaces('1,2,3', 'inch')[0]!.map((part) => Number(part.toFixed(6)))).toEqual([0.0254, 0.0508, 0.0762]);
});

test('what is missing or no number is named with its row and column', () => {
  expect(() => readPlaces('x,y\n1,2', 'metric')).toThrow(/three columns/);
  expect(() => readPlaces('x,y,z\n1,2,3\n1,here,3', 'metric')).toThrow(/Row 3, column “y”: “here” is no number/);
});
