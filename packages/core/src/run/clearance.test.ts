import { addBar, addJoint, addPlate, bodyMesh, bodyPoint, groundPoint, newDrive, newMachine, type Machine, type Mechanism } from '../machine'; // prettier-ignore
import { ClearanceSolid } from '../solid';
import { simulate } from './index';
import { clearancesOver } from './clearance';

const skins = (m: Mechanism) =>
  new Map(m.bodies.map((body) => [body.id, new ClearanceSolid(bodyMesh(body, () => null)!)]));
const square = (x: number, y: number, side: number): [number, number][] => [[x, y], [x + side, y], [x + side, y + side], [x, y + side]]; // prettier-ignore

/** A block that slides 100 mm to the right and back, a plan of its own, past or into another one. */
function sliding(gapX: number, gapY: number): { machine: Machine; ids: [string, string] } {
  const machine = newMachine('Blocks');
  const m = machine.mechanism;
  const block = addPlate(m, square(0, 0, 0.05), 'Block');
  const wall = addPlate(m, square(0.05 + gapX, gapY, 0.05), 'Wall');
  const slide = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, block.id, [0, 0]), { direction: 0 });
  addJoint(m, 'weld', groundPoint(m, [0.05 + gapX, gapY]), bodyPoint(m, wall.id, [0.05 + gapX, gapY]));
  machine.axes.push(newDrive(machine, slide, 0, 0.1));
  return { machine, ids: [block.id, wall.id] };
}

test('a block that passes another at 2 mm: the distance is constant while it passes, in closed form before', () => {
  const { machine, ids } = sliding(0.02, 0.052);
  const run = simulate(machine);
  const [found] = clearancesOver(machine.mechanism, run, [ids], skins(machine.mechanism), { curves: true });
  expect(found!.meetsFrom).toBeNull();
  expect(found!.least.distance).toBeCloseTo(0.002, 9);
  const way = run.axes[0]!.channels.position;
  found!.times.forEach((time, i) => {
    const k = run.times.findIndex((own) => own >= time);
    const [a, b] = [Math.max(0, k - 1), k];
    const span = run.times[b]! - run.times[a]!;
    const x = way[a]! + (span > 0 ? (time - run.times[a]!) / span : 0) * (way[b]! - way[a]!);
    const across = Math.max(0, 0.02 - x);
    expect(found!.distance[i]).toBeCloseTo(Math.hypot(across, 0.002), 5);
  });
  // The nearest places lie on both, over each other.
  const { onA, onB } = found!.least;
  expect(Math.hypot(...onA.map((part, k) => part - onB[k]!))).toBeCloseTo(0.002, 9);
});

test('a block that runs into another: touched when it has gone just the gap, to a millionth of a second', () => {
  const { machine, ids } = sliding(0.0625, 0);
  const run = simulate(machine);
  const [found] = clearancesOver(machine.mechanism, run, [ids], skins(machine.mechanism));
  expect(found!.least.distance).toBe(0);
  const way = run.axes[0]!.channels.position;
  const k = way.findIndex((own) => own >= 0.0625);
  const share = (0.0625 - way[k - 1]!) / (way[k]! - way[k - 1]!);
  const wanted = run.times[k - 1]! + share * (run.times[k]! - run.times[k - 1]!);
  expect(Math.abs(found!.meetsFrom! - wanted)).toBeLessThan(1e-6);
});

test('a lever that sweeps over a peg between two samples is caught, however few samples there are', () => {
  const machine = newMachine('Lever');
  machine.cycle = { given: 'time', time: 1 };
  machine.step = 0.05;
  const m = machine.mechanism;
  const lever = addBar(m, [0, 0], [0.3, 0], 'Lever', 0.01);
  const peg = addPlate(m, square(0.2, 0.15, 0.002), 'Peg');
  const pin = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, lever.id, [0, 0]));
  addJoint(m, 'weld', groundPoint(m, [0.2, 0.15]), bodyPoint(m, peg.id, [0.2, 0.15]));
  machine.axes.push(newDrive(machine, pin, 0, 2 * Math.PI));
  const run = simulate(machine);
  const [found] = clearancesOver(m, run, [[lever.id, peg.id]], skins(m));
  expect(found!.meetsFrom).toBeGreaterThan(0);
  // The lever's upper edge meets the corner (0.202, 0.15): by its direction, and half its width (school geometry).
  const angle = run.axes[0]!.channels.position;
  const corner = Math.atan2(0.15, 0.202) - Math.asin(0.005 / Math.hypot(0.202, 0.15));
  expect(angle.length).toBeLessThan(200);
  const fine = simulate({ ...machine, step: 1e-4 });
  const turned = fine.axes[0]!.channels.position;
  const k = turned.findIndex((own) => own >= corner);
  const share = (corner - turned[k - 1]!) / (turned[k]! - turned[k - 1]!);
  const wanted = fine.times[k - 1]! + share * (fine.times[k]! - fine.times[k - 1]!);
  expect(Math.abs(found!.meetsFrom! - wanted)).toBeLessThan(1e-6);
});

test('what never moves against each other is looked at once; a pair without a skin is left out', () => {
  const { machine, ids } = sliding(0.3, 0);
  const run = simulate(machine);
  const m = machine.mechanism;
  const counted: number[] = [];
  const found = clearancesOver(m, run, [ids, [ids[0], 'ground']], skins(m), {
    progress: (share) => counted.push(share),
  });
  expect(found.map(({ a, b }) => [a, b])).toEqual([ids]);
  expect(found[0]!.least.distance).toBeCloseTo(0.2, 9);
  expect(counted).toEqual([0.5]);
});
