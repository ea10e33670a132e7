import { UNTURNED } from '../geometry';
import {
  clearanceOf,
  ClearanceSolid,
  ownMesh,
  soundnessOf,
  sweptCell,
  sweptSpace,
  volumeOf,
  type SweptFrame,
} from './index';

const along = (length: number, count: number): SweptFrame[] =>
  Array.from({ length: count }, (_, i) => ({ at: [(length * i) / (count - 1), 0, 0], axes: UNTURNED }));

test('a box that slides sweeps a longer box: closed, nothing of it left out, and not much beyond (closed form)', () => {
  const box = ownMesh({ kind: 'box', size: [0.1, 0.06, 0.04] }, 1e-4);
  const frames = along(0.2, 80);
  const { mesh, outside } = sweptSpace([{ surface: box, frames }], 60);
  expect(sweptCell([{ surface: box, frames }], 60)).toBeCloseTo(0.005, 12);
  expect(soundnessOf(mesh)).toMatchObject({ closed: true, insideOut: false, shells: 1 });
  const wanted = 0.3 * 0.06 * 0.04;
  expect(volumeOf(mesh)).toBeGreaterThan(wanted);
  expect(volumeOf(mesh)).toBeLessThan((0.3 + 2 * outside) * (0.06 + 2 * outside) * (0.04 + 2 * outside));
  // The box lies within it all the way: its skin crosses that of the space nowhere.
  const space = new ClearanceSolid(mesh);
  for (const frame of frames.filter((_, i) => i % 10 === 0))
    expect(clearanceOf(new ClearanceSolid(box), frame, space, { at: [0, 0, 0], axes: UNTURNED }, Infinity, false)!.distance).toBeGreaterThan(0); // prettier-ignore
});

test('a bar that turns once sweeps a disc with its thickness (closed form)', () => {
  const bar = ownMesh({ kind: 'box', size: [0.2, 0.02, 0.02] }, 1e-4);
  const frames = Array.from({ length: 200 }, (_, i): SweptFrame => {
    const angle = (Math.PI * i) / 199;
    const [c, s] = [Math.cos(angle), Math.sin(angle)];
    return { at: [0, 0, 0], axes: [c, -s, 0, s, c, 0, 0, 0, 1] };
  });
  const { mesh, outside } = sweptSpace([{ surface: bar, frames }], 80);
  const reach = Math.hypot(0.1, 0.01);
  const disc = (r: number, t: number) => Math.PI * r * r * t;
  expect(volumeOf(mesh)).toBeGreaterThan(disc(reach, 0.02));
  expect(volumeOf(mesh)).toBeLessThan(disc(reach + outside, 0.02 + 2 * outside));
});
