import { addBar, addJoint, addPlate, bodyMesh, bodyPoint, groundPoint, newDrive, newMachine } from '../machine';
import { boundsOf, soundnessOf, volumeOf } from '../solid';
import { framesAt, reachedBy, simulate, sweptOver } from './index';

test('a block driven along a rail sweeps as far as it goes; a frame is where the axis says', () => {
  const machine = newMachine('Block');
  const m = machine.mechanism;
  const block = addPlate(m, [[0, 0], [0.05, 0], [0.05, 0.04], [0, 0.04]], 'Block'); // prettier-ignore
  const slide = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, block.id, [0, 0]), { direction: 0 });
  machine.axes.push(newDrive(machine, slide, 0, 0.1));
  const run = simulate(machine);
  const travel = Math.max(...run.axes[0]!.channels.position);
  const { mesh, outside } = sweptOver(m, run, [{ id: block.id, mesh: bodyMesh(block, () => null)! }], 80);
  const { low, high } = boundsOf(mesh)!;
  expect(soundnessOf(mesh).closed).toBe(true);
  [[0, 0.05 + travel], [0, 0.04], [-0.004, 0.004]].forEach(([from, to], k) => {
    expect(low[k]).toBeLessThan(from!);
    expect(low[k]).toBeGreaterThan(from! - outside);
    expect(high[k]).toBeGreaterThan(to!);
    expect(high[k]).toBeLessThan(to! + outside);
  }); // prettier-ignore
  const half = reachedBy(run) / 2;
  const [frame] = framesAt(m, run, [block.id], half);
  const k = run.times.findIndex((time) => time >= half);
  expect(frame!.at[0]).toBeCloseTo(run.axes[0]!.channels.position[k]!, 4);
});

test('a quick lever with few samples sweeps its sector without gaps', () => {
  const machine = newMachine('Lever');
  machine.step = 0.05;
  const m = machine.mechanism;
  const lever = addBar(m, [0, 0], [0.3, 0], 'Lever', 0.02);
  const pin = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, lever.id, [0, 0]));
  machine.axes.push(newDrive(machine, pin, 0, 2 * Math.PI));
  const run = simulate(machine);
  const { mesh, outside } = sweptOver(m, run, [{ id: lever.id, mesh: bodyMesh(lever, () => null)! }], 90);
  const disc = (r: number, t: number) => Math.PI * r * r * t;
  expect(soundnessOf(mesh).closed).toBe(true);
  expect(volumeOf(mesh)).toBeGreaterThan(disc(0.31, 0.008));
  expect(volumeOf(mesh)).toBeLessThan(disc(0.31 + outside, 0.008 + 2 * outside));
});

test('what a frame and what it carries sweep together is one space about both ways', () => {
  const machine = newMachine('Two');
  const m = machine.mechanism;
  const square = (x: number, y: number): [number, number][] => [[x, y], [x + 0.05, y], [x + 0.05, y + 0.05], [x, y + 0.05]]; // prettier-ignore
  const bodies = [addPlate(m, square(0, 0), 'Low'), addPlate(m, square(0, 0.2), 'High')];
  for (const [i, body] of bodies.entries()) {
    const slide = addJoint(m, 'slide', groundPoint(m, [0, 0.2 * i]), bodyPoint(m, body.id, [0, 0.2 * i]), { direction: 0 }); // prettier-ignore
    machine.axes.push(newDrive(machine, slide, 0, i === 0 ? 0.1 : -0.1));
  }
  const skinned = bodies.map((body) => ({ id: body.id, mesh: bodyMesh(body, () => null)! }));
  const { mesh, outside } = sweptOver(m, simulate(machine), skinned, 120);
  const { low, high } = boundsOf(mesh)!;
  expect(soundnessOf(mesh)).toMatchObject({ closed: true, shells: 2 });
  for (const [own, wanted] of [[low[0], -0.1], [high[0], 0.15], [low[1], 0], [high[1], 0.25]] as const)
    expect(Math.abs(own! - wanted)).toBeLessThan(outside); // prettier-ignore
  // Each goes over 0.15 of its row, and the two rows stay apart.
  expect(volumeOf(mesh)).toBeGreaterThan(2 * 0.15 * 0.05 * 0.008);
  expect(volumeOf(mesh)).toBeLessThan(2 * (0.15 + 2 * outside) * (0.05 + 2 * outside) * (0.008 + 2 * outside));
});
