import { demo, peak } from '../../test/demos';
import { addPlane, copyBodies, deleteThings, describeProblems, readMachine, turnOf, type Machine } from '../machine'; // prettier-ignore
import { mechanismSamples } from './mechanism-channels';
import { simulate, type Run } from './simulate';

const apart = (one: Float64Array, other: Float64Array) => peak(one.map((value, k) => value - other[k]!));
const clean = (run: Run) => expect(run.mechanism!.findings.filter(({ severity }) => severity === 'error')).toEqual([]);

/** The copy of all of a machine, alone. */
function copied(
  machine: Machine,
  options: Parameters<typeof copyBodies>[2],
): { copy: Machine; axes: Map<string, string> } {
  const copy = structuredClone(machine);
  const bodies = copy.mechanism.bodies.map(({ id }) => id);
  const count = copy.axes.length;
  copyBodies(copy, new Set(bodies), options);
  const made = copy.axes.slice(count).map(({ id }) => id);
  const driven = copy.axes.slice(0, count).filter(({ joint }) => joint !== null);
  const axes = new Map(driven.map(({ id }, i) => [id, made[i]!]));
  deleteThings(copy, bodies);
  const read = readMachine(JSON.parse(JSON.stringify(copy)));
  expect(read.ok ? '' : describeProblems(read.problems)).toBe('');
  return { copy, axes };
}

// Nothing pushes sideways: gravity is the same in the mirror.
const FILES = ['dosing-rocker', 'label-dabber', 'plug-arm-twin', 'watering-arm', 'six-station-dial', 'lifted-cover', 'hedge-arm', 'hanging-basket']; // prettier-ignore

test.each(FILES)('%s, copied in a mirror, asks the same of its drives', (file) => {
  const machine = demo(file);
  machine.leads = [];
  const { copy, axes } = copied(machine, { shift: [0.4, 0.1], phase: 0, mirror: 0.3 });
  const [one, other] = [simulate(machine), simulate(copy)];
  clean(other);
  expect(axes.size).toBeGreaterThan(0);
  for (const [from, to] of axes)
    for (const quantity of ['effort', 'reflected', 'holding']) {
      const [a, b] = [mechanismSamples(machine, one, `drive:${from}:${quantity}`)!, mechanismSamples(copy, other, `drive:${to}:${quantity}`)!]; // prettier-ignore
      expect(a.length).toBe(b.length);
      expect(apart(a, b)).toBeLessThan(1e-6 * Math.max(peak(a), 1e-3));
    }
});

test('a unit copied onto another plane does there what it does here, gravity apart', () => {
  const machine = demo('plug-arm-twin');
  machine.mechanism.gravity.on = false;
  const plane = addPlane(machine.mechanism, { name: 'Side', turn: turnOf('right') });
  const { copy, axes } = copied(machine, { shift: [0, 0], phase: 0, plane: plane.id });
  expect(new Set(copy.mechanism.bodies.map((body) => body.plane))).toEqual(new Set([plane.id]));
  const [one, other] = [simulate(machine), simulate(copy)];
  clean(other);
  for (const [from, to] of axes) {
    const [a, b] = [mechanismSamples(machine, one, `drive:${from}:effort`)!, mechanismSamples(copy, other, `drive:${to}:effort`)!]; // prettier-ignore
    expect(apart(a, b)).toBeLessThan(1e-9 * Math.max(peak(a), 1e-3));
  }
});
