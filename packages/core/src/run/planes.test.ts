import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { drive } from '../../test/mechanisms';
import { rotationOf, turned } from '../geometry';
import {
  addDisc,
  addJoint,
  addPlane,
  bodyPoint,
  describeProblems,
  groundPoint,
  readMachineText,
  type Machine,
  type Quaternion,
} from '../machine';
import { hasMechanism } from './prepare';
import { mechanismChannels, mechanismSamples } from './mechanism-channels';
import { simulate } from './simulate';

const demo = join(__dirname, '../../../../demo');
const machines = readdirSync(demo).flatMap((file): [string, Machine][] => {
  if (!file.endsWith('.yoke.json')) return [];
  const read = readMachineText(readFileSync(join(demo, file), 'utf8'));
  if (!read.ok) throw new Error(describeProblems(read.problems));
  const { machine } = read;
  const { planes } = machine.mechanism;
  return hasMechanism(machine) && machine.sequence.cues.length === 0 && planes.length === 1
    ? [[machine.name, machine]]
    : [];
});

/** The same machine on a plane that stands elsewhere; gravity is turned along. */
function turnedOver(machine: Machine, turn: Quaternion, on = 'ground'): Machine {
  const copy = structuredClone(machine);
  const m = copy.mechanism;
  const plane = addPlane(m, { on, at: [0.2, -0.1, 0.4], turn });
  for (const { id } of machine.mechanism.bodies) m.bodies.find((body) => body.id === id)!.plane = plane.id;
  for (const point of m.ground) point.plane = plane.id;
  for (const path of m.paths) if (path.plane) path.plane = plane.id;
  m.gravity.vector = turned(rotationOf(turn), m.gravity.vector);
  return copy;
}

/** Channels that tell what happens within a plane, by identifier. */
function within(machine: Machine) {
  const run = simulate(machine);
  expect(run.mechanism!.findings.filter(({ severity }) => severity === 'error')).toEqual([]);
  const inPlane = /^(drive|joint|energy:all:(kinetic|elastic|drives|loads|lost)|element:.*:(force|length|power))/;
  return mechanismChannels(machine, run.mechanism!).flatMap(({ id }) =>
    inPlane.test(id) ? [[id, mechanismSamples(machine, run, id)!] as const] : [],
  );
}

const turns: [string, Quaternion][] = [
  ['seen from the right', [Math.SQRT1_2, 0, Math.SQRT1_2, 0]],
  ['lying flat', [Math.SQRT1_2, -Math.SQRT1_2, 0, 0]],
  ['askew', [0.3, -0.5, 0.7, 0.41]],
];

/** Largest difference of two channels as a share of the peak of the first. */
function apart(one: Float64Array, other: Float64Array): number {
  let [peak, most] = [1e-3, 0];
  one.forEach((value, k) => {
    if (!Number.isFinite(value)) return;
    peak = Math.max(peak, Math.abs(value));
    most = Math.max(most, Math.abs(value - other[k]!));
  });
  return most / peak;
}

describe.each(machines)('%s', (_name, machine) => {
  const plain = within(machine);
  const same = (other: Machine, room: number, counts: (id: string) => boolean = () => true) => {
    const there = new Map(within(other));
    const wrong = plain.flatMap(([id, samples]) =>
      counts(id) && !(apart(samples, there.get(id)!) <= room) ? [[id, apart(samples, there.get(id)!)]] : [],
    );
    expect(wrong).toEqual([]);
  };

  test.each(turns)('on a plane %s it does the same, gravity turned along', (_how, turn) => {
    same(turnedOver(machine, turn), 1e-7);
  });

  test('on a carriage that runs evenly it feels nothing', () => {
    const copy = structuredClone(machine);
    const m = copy.mechanism;
    const carriage = addDisc(m, [0, 0], 0.05, 'Carriage');
    const plane = addPlane(m, { on: carriage.id, at: [0.1, 0.2, 0.05] });
    for (const { id } of machine.mechanism.bodies) m.bodies.find((body) => body.id === id)!.plane = plane.id;
    for (const point of m.ground) point.plane = plane.id;
    for (const path of m.paths) if (path.plane) path.plane = plane.id;
    const rail = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, carriage.id, [0, 0]), { direction: 0.4 });
    drive(copy, rail, { kind: 'constant', value: 0.3 });
    // What a force does and how much moves along depend on who looks on; forces do not.
    same(copy, 1e-7, (id) => !/^energy|^element:.*:power/.test(id));
  });
});
