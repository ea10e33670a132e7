import { addPlate, newMachine, takeFile, assignSolids, UNASSIGNED, type Machine } from '../machine';
import { simulate, type WatchedClearance } from '../run';
import { toldClearances, toldFindings, unknownClearance } from './index';

/** Two blocks that are watched, and what is found of them. */
function watched(
  distance: number,
  meetsFrom: number | null,
  stop = true,
): { machine: Machine; found: WatchedClearance } {
  const machine = newMachine('Watched');
  const corners = (x: number): [number, number][] => [[x, 0], [x + 0.1, 0], [x + 0.1, 0.1]]; // prettier-ignore
  const [a, b] = [addPlate(machine.mechanism, corners(0), 'Ram'), addPlate(machine.mechanism, corners(1), 'Anvil')];
  const watch = { id: 'w1', name: 'Gap', a: [a.id], b: [b.id], least: 0.002, stop };
  machine.clearances = { watches: [watch], byDesign: [] };
  const nearest = { a: a.id, b: b.id, times: [], distance: [], least: { distance, time: 0.4, onA: [0, 0, 0], onB: [0, 0, 0] }, meetsFrom } as const; // prettier-ignore
  return {
    machine,
    found: { watch, nearest: { ...nearest, times: [], distance: [] }, times: [], distance: [] } as WatchedClearance,
  };
}

test.each([
  [0.003, null, true, []],
  // Just as near as is allowed is near enough.
  [0.002, null, true, []],
  [0.0015, null, true, [['clearance', false]]],
  [0, 0.25, true, [['collision', true]]],
  [0, 0.25, false, [['collision', false]]],
] as const)('%d m apart, touching from %s s, ending the run: %s', (distance, meetsFrom, stop, wanted) => {
  const { machine, found } = watched(distance, meetsFrom, stop);
  expect(toldClearances(machine, [found]).map(({ code, breaks }) => [code, breaks])).toEqual(wanted);
});

test('what is told names both, the time and both lengths in the units of the machine', () => {
  const { machine, found } = watched(0.0015, null);
  const [near] = toldClearances(machine, [found]);
  expect(near!.text.replaceAll(/\s/g, ' ')).toBe(
    'Gap: “Ram” and “Anvil” come as near as 1.5 mm at 0.4 s, less than 2 mm.',
  );
  expect(near!.time).toBe(0.4);
  machine.units = 'inch';
  expect(toldClearances(machine, [found])[0]!.text).toMatch(/0\.0591\sin/);
});

test('a watch of which nothing was found is never fine; whether a run that may end by a collision is one is not known', () => {
  const { machine } = watched(1, null, true);
  expect(toldClearances(machine, [])).toMatchObject([{ severity: 'error', code: 'clearance-unknown' }]);
  expect(unknownClearance(machine, 'No shapes.')).toMatchObject({ severity: 'error', breaks: true });
  expect(unknownClearance(watched(1, null, false).machine, 'No shapes.').breaks).toBe(false);
});

test('forces of a body whose solids cannot be weighed are not taken for those of the machine', () => {
  const machine = newMachine('Open');
  const m = machine.mechanism;
  const body = addPlate(m, [[0, 0], [0.1, 0], [0.1, 0.1]], 'Cover'); // prettier-ignore
  takeFile(m, { name: 'a.stl', hash: '0'.repeat(64), solids: [{ key: 'shell', name: 'Shell', colour: null, digest: 'a', holds: null, problem: 'It is open.' }] }); // prettier-ignore
  assignSolids(m, [{ carrier: UNASSIGNED, id: m.shapes!.unassigned[0]!.id }], body.id);
  const told = () => toldFindings(machine, simulate(machine), null).filter(({ code }) => code === 'unweighed');
  expect(told()).toMatchObject([{ severity: 'error', breaks: true, text: expect.stringMatching(/“Cover” is not known: Shell/) as string }]); // prettier-ignore
  const own = m.bodies[0]!.solids![0]!.shape;
  if (own.kind === 'file') own.counts = 'nothing';
  expect(told()).toEqual([]);
});
