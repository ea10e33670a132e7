import { facesOf, lineOf, measured, ownMesh, type Face } from './index';

const line = (at: [number, number, number], axis: [number, number, number] | null, flat = false) => ({
  at,
  axis,
  flat,
});

test('two parallel axes, two skew ones, and two that meet (school geometry)', () => {
  expect(measured(line([0, 0, 0], [0, 0, 1]), line([3, 4, 12], [0, 0, -1]))).toEqual({
    middles: 13,
    angle: 0,
    apart: 5,
  });
  const skew = measured(line([0, 0, 0], [1, 0, 0]), line([5, 7, 2], [0, 0.6, 0.8]));
  expect(skew.angle).toBeCloseTo(Math.PI / 2, 12);
  expect(skew.apart).toBeCloseTo(Math.abs(-7 * 0.8 + 2 * 0.6), 12);
  expect(measured(line([1, 0, 0], [1, 0, 0]), line([0, 2, 0], [0, 1, 0])).apart).toBeCloseTo(0, 12);
});

test('a flat face and an axis along it, two faces level with each other, a ball over a face', () => {
  const face = line([0, 0, 0], [0, 0, 1], true);
  const along = measured(face, line([1, 1, 0.3], [1, 0, 0]));
  expect(along.apart).toBeCloseTo(0.3, 12);
  expect(along.angle).toBeCloseTo(0, 12);
  expect(measured(face, line([9, 9, -0.2], [0, 0, -1], true)).apart).toBeCloseTo(0.2, 12);
  expect(measured(face, line([0, 0, 1], [0, 0.6, 0.8], true)).apart).toBeNull();
  expect(measured(face, line([3, 0, 0.4], null))).toMatchObject({ angle: null, apart: 0.4 });
});

test('faces found on solids measure what the solids are made of', () => {
  const { faces } = facesOf(ownMesh({ kind: 'box', size: [0.2, 0.4, 0.6] }, 1e-4));
  const out = (k: number, sign: number) =>
    lineOf(faces.find((face): face is Extract<Face, { kind: 'flat' }> => face.kind === 'flat' && face.normal[k]! * sign > 0.9)!); // prettier-ignore
  [0.2, 0.4, 0.6].forEach((size, k) => expect(measured(out(k, 1), out(k, -1)).apart).toBeCloseTo(size, 9));
  expect(measured(out(0, 1), out(1, 1)).angle).toBeCloseTo(Math.PI / 2, 9);
});
