import { loadContact } from '../contact';
import { cue, cuedAxis, move, on, sensor, sheetOf, stop, wait } from '../../test/cycles';
import { simulateCycle, type CycleRecord } from '../cycle';
import type { Cue, Machine } from '../machine';
import { motionAt } from '../motion';
import {
  checkSheet,
  explainSheetFinding,
  insertAfter,
  mirrorMoves,
  removeCue,
  shiftCue,
  splitMove,
  stagger,
  stretchCue,
  type Acted,
} from '.';

beforeAll(() => loadContact());
const axes = () => [cuedAxis('x'), cuedAxis('y', { colour: 1 })];
const row = (...cues: Cue[]): Machine => sheetOf(cues, {}, { axes: axes() });
const start = { position: 0 };
const actedIn = (machine: Machine): Map<string, Acted> => {
  const { record, found } = simulateCycle(machine);
  return new Map(
    record.moves.map((m) => [
      m.cue,
      {
        from: m.from,
        to: m.to,
        start: motionAt(found.motions.axes.get(m.axis)!, m.from).position + 0 * start.position,
      },
    ]),
  );
};
const times = (record: CycleRecord) =>
  Object.fromEntries(record.moves.map((m) => [m.cue, [m.from, m.to].map((t) => Number(t.toFixed(6)))]));

describe('edits of the sheet', () => {
  const out = () =>
    row(
      cue('a', move('x', 0.2, 0.5)),
      cue('b', move('y', 0.1, 0.4), { after: ['a'], delay: 0.1 }),
      cue('end', stop, { after: ['b'] }),
    );

  test('mirroring makes the way back, in the opposite order with the same gaps', () => {
    const machine = out();
    const sequence = mirrorMoves(machine.sequence, ['a', 'b'], actedIn(machine));
    const { record, found } = simulateCycle({ ...machine, sequence });
    expect(record.duration).toBeCloseTo(2, 9);
    for (const axis of ['x', 'y'])
      expect(motionAt(found.motions.axes.get(axis)!, record.duration).position).toBeCloseTo(0, 12);
    // The motion is its own mirror image about the turn.
    for (const t of [0.2, 0.55, 0.8])
      for (const axis of ['x', 'y'])
        expect(motionAt(found.motions.axes.get(axis)!, 2 - t).position).toBeCloseTo(
          motionAt(found.motions.axes.get(axis)!, t).position,
          9,
        );
    expect(record.end).toBe('stop');
  });

  test('splitting puts a wait into a move', () => {
    const machine = out();
    const sequence = splitMove(machine.sequence, 'a', actedIn(machine).get('a')!, 0.2, 0.4, 0.3);
    expect(sequence.cues.map(({ name }) => name)).toEqual(['a', 'a waits', 'a goes on', 'b', 'end']);
    const { record, found } = simulateCycle({ ...machine, sequence });
    const x = found.motions.axes.get('x')!;
    expect(motionAt(x, 0.35).position).toBeCloseTo(0.08, 9);
    expect(motionAt(x, 0.8).position).toBeCloseTo(0.2, 9);
    expect(record.duration).toBeCloseTo(0.8 + 0.5, 9);
  });

  test('inserting and removing keep the chain together', () => {
    const { sequence } = out();
    const more = insertAfter(sequence, 'a', cue('n', wait(1)));
    expect(more.cues.find(({ id }) => id === 'b')!.after).toEqual(['n']);
    expect(removeCue(more, 'n')).toEqual(sequence);
    expect(removeCue(sequence, 'b').cues.find(({ id }) => id === 'end')!.after).toEqual(['a']);
  });

  test('shifting a cue later delays it, earlier lets it overlap what came before', () => {
    const machine = out();
    const acted = actedIn(machine);
    const later = simulateCycle({ ...machine, sequence: shiftCue(machine.sequence, 'b', 0.2, acted) }).record;
    expect(times(later).b).toEqual([0.8, 1.2]);
    const sequence = shiftCue(machine.sequence, 'b', -0.3, acted);
    const earlier = simulateCycle({ ...machine, sequence }).record;
    expect(times(earlier).b).toEqual([0.3, 0.7]);
    expect(times(earlier).a).toEqual([0, 0.5]);
  });

  test('staggering lets moves start one after the other', () => {
    const machine = row(
      cue('s', wait(0.1)),
      cue('a', move('x', 0.2, 0.5), { after: ['s'] }),
      cue('b', move('y', 0.1, 0.5), { after: ['a'] }),
    );
    const { record } = simulateCycle({ ...machine, sequence: stagger(machine.sequence, ['a', 'b'], 0.15) });
    expect(times(record)).toEqual({ a: [0.1, 0.6], b: [0.25, 0.75] });
  });

  test('stretching changes the time of a move', () => {
    const machine = out();
    expect(simulateCycle({ ...machine, sequence: stretchCue(machine.sequence, 'a', 0.7) }).record.duration).toBeCloseTo(
      1.2,
      9,
    );
  });
});

describe('checks before the run', () => {
  const codes = (machine: Machine) => checkSheet(machine).map(({ code, cues }) => [code, ...cues]);

  test('a sound sheet has no findings', () => {
    expect(
      codes(
        row(
          cue('a', move('x', 0.2, 0.5)),
          cue('b', move('y', 0.2, 0.5), { after: ['a'] }),
          cue('c', wait(0.3), { after: ['a'] }),
          cue('d', move('x', 0, 0.5), { after: ['b', 'c'] }),
          cue('e', stop, { after: ['d'] }),
        ),
      ),
    ).toEqual([]);
  });

  test('a circle is named in its order, and what hangs on it', () => {
    const machine = row(
      cue('a', wait(1)),
      cue('b', wait(1), { after: ['a', 'c'] }),
      cue('c', wait(1), { after: ['b'] }),
      cue('d', wait(1), { after: ['c'] }),
    );
    expect(codes(machine)).toEqual([
      ['circle', 'b', 'c'],
      ['never', 'd'],
    ]);
    expect(explainSheetFinding(checkSheet(machine)[0]!, machine)).toBe(
      'Deadlock: “b” waits for “c” waits for “b”. Take one of them out of the circle.',
    );
  });

  test('contradictions, races, fights, joined alternatives', () => {
    const contradiction = row(cue('a', wait(1), { when: { op: 'and', of: [on('s'), { op: 'not', of: on('s') }] } }));
    contradiction.sequence.sensors.push(sensor('s', { kind: 'button', presses: [] }));
    expect(codes(contradiction)).toContainEqual(['contradiction', 'a']);
    expect(
      codes(
        row(
          cue('a', wait(1)),
          cue('b', wait(1), { after: ['a'], choice: 'k' }),
          cue('c', wait(1), { after: ['a'], choice: 'k' }),
        ),
      ),
    ).toEqual([['race', 'b', 'c']]);
    expect(
      codes(
        row(
          cue('a', wait(1)),
          cue('b', move('x', 0.1, 1), { after: ['a'] }),
          cue('c', move('x', 0.2, 1), { after: ['a'] }),
        ),
      ),
    ).toEqual([['fight', 'b', 'c']]);
    expect(
      codes(
        row(
          cue('a', wait(1)),
          cue('b', wait(1), { after: ['a'], choice: 'k', priority: 1 }),
          cue('c', wait(1), { after: ['a'], choice: 'k' }),
          cue('d', wait(1), { after: ['b', 'c'] }),
        ),
      ),
    ).toContainEqual(['dead-end', 'd']);
  });

  test('moves that cannot be made', () => {
    const machine = row(
      cue('a', move('x', 3, null)),
      cue('b', { do: 'cylinder', axis: 'y', to: 'out' }, { after: ['a'] }),
    );
    machine.axes[1]!.motion.source = { kind: 'plan' };
    expect(codes(machine)).toEqual([
      ['no-limits', 'a'],
      ['beyond', 'a'],
      ['not-led', 'b'],
    ]);
  });
});
