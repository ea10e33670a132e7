import { loadContact } from '../contact';
import type { CueAction, Machine } from '../machine';
import { beltLine, cue, cuedAxis, move, onRail, sheetOf, stop, wait } from '../../test/cycles';
import { simulateCycle, type CycleRecord } from '.';

beforeAll(() => loadContact());

/** Where the only part is at the end: x and y of its frame, m. */
function last({ parts }: CycleRecord): [number, number] {
  const at = parts.starts[parts.times.length - 1]!;
  return [parts.data[at + 1]!, parts.data[at + 2]!];
}
/** After so long a rest the physics library lets bodies sleep, s. */
const LONG = 6;

// Newton: what rests is moved by what moves under it, however long it has rested.
test('a part that has rested long goes along when its belt starts', () => {
  const loose = beltLine(0.2, [0.01]);
  loose.belts[0]!.drive = { by: 'speed', speed: 0.2, running: false };
  loose.sources[0]!.velocity = [0, 0];
  const start: CueAction = { do: 'belt', belt: 'belt', speed: 0.2, ramp: 0.1 };
  const machine = sheetOf(
    [cue('rest', wait(LONG)), cue('go', start, { after: ['rest'] }), cue('run', wait(2), { after: ['go'] }), cue('end', stop, { after: ['run'] })], // prettier-ignore
    {},
    { loose },
  );
  machine.sequence.cycle = { starts: null, cycles: null, most: 12 };
  const { record } = simulateCycle(machine);
  // 2 s at 0.2 m/s, less half of the ramp and what it slips until friction has it at speed (v²/2μg, v/μg).
  expect(last(record)[0]).toBeCloseTo(0.2 * 2 - (0.2 * 0.1) / 2, 1);
  expect(last(record)[0]).toBeGreaterThan(0.35);
});

/** A box on a plate that an axis leads up or down once the box has rested long. */
function onPlate(way: number, time: number): Machine {
  const loose = beltLine(0.2, [0.01]);
  loose.belts = [];
  loose.sources[0]!.velocity = [0, 0];
  loose.solids = [{ body: 'b', material: 'rubber', as: 'exact' }];
  const machine: Machine = sheetOf(
    [cue('rest', wait(LONG)), cue('go', move('z', way, time), { after: ['rest'] }), cue('then', wait(0.5), { after: ['go'] }), cue('end', stop, { after: ['then'] })], // prettier-ignore
    {},
    { loose, axes: [cuedAxis('z', { joint: 'j' })] },
  );
  machine.sequence.cycle = { starts: null, cycles: null, most: 12 };
  const outline: [number, number][] = [[-0.1, -0.01], [0.1, -0.01], [0.1, 0], [-0.1, 0]]; // prettier-ignore
  onRail(machine, 0, 0, { kind: 'plate', outline, holes: [] });
  const joint = machine.mechanism.joints.find(({ id }) => id === 'j')!;
  if (joint.kind === 'slide') joint.angle = Math.PI / 2;
  return machine;
}

test.each([
  ['is lifted by', 0.1, 1],
  ['is let down by', -0.1, 1],
  ['falls on', -0.1, 0.1],
])('a part that has rested long %s the plate under it', (_, way, time) => {
  const { record } = simulateCycle(onPlate(way, time));
  expect(last(record)[1]).toBeCloseTo(0.01 + way, 3);
});
