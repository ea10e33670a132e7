import { loadContact } from '../contact';
import { cue, cuedAxis, move, on, sensor, sheetOf, stop, wait } from '../../test/cycles';
import { simulateCycle, type CycleRecord } from '../cycle';
import { newAxis, newMachine, readMachine, type Cue, type Machine } from '../machine';
import { motionAt } from '../motion';
import {
  checkSheet,
  explainSheetFinding,
  insertAfter,
  letCuesLead,
  mirrorMoves,
  removeCue,
  overtakes,
  shiftCue,
  splitMove,
  stagger,
  stretchCue,
  stretchWith,
  withAction,
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

  test('what a cue would overtake is told before it is shifted: the one before it, and how long after its start', () => {
    const machine = out();
    const acted = actedIn(machine);
    expect(overtakes(machine.sequence, 'b', 0.2, acted)).toBeNull();
    const found = overtakes(machine.sequence, 'b', -0.3, acted)!;
    expect(found.before.id).toBe('a');
    const [a, b] = ['a', 'b'].map((id) => times(simulateCycle({ ...machine, sequence: shiftCue(machine.sequence, 'b', -0.3, acted) }).record)[id]![0]!); // prettier-ignore
    expect(found.after).toBeCloseTo(b! - a!, 9);
    // With a delay of its own it has room first.
    const late = shiftCue(machine.sequence, 'b', 0.2, acted);
    expect(overtakes(late, 'b', -0.2, acted)).toBeNull();
  });

  test('stretched, what follows moves along or stays, as far as its delay gives way; and it is told', () => {
    const machine = out();
    const acted = actedIn(machine);
    const starts = (sequence: Machine['sequence']) => times(simulateCycle({ ...machine, sequence }).record).b![0]!;
    const before = acted.get('b')!.from;
    const moved = stretchWith(machine.sequence, 'a', 0.7, 'move', acted);
    expect(moved.later.map(({ cue: { id }, by }) => [id, by])).toEqual([['b', 0.2]]);
    expect(starts(moved.sequence)).toBeCloseTo(before + 0.2, 9);
    // Shorter: what follows waits a little longer, and stays.
    const shorter = stretchWith(machine.sequence, 'a', 0.4, 'stay', acted);
    expect(shorter.later).toMatchObject([{ by: 0 }]);
    expect(starts(shorter.sequence)).toBeCloseTo(before, 9);
    // Longer by more than its delay of 0.1 s: it gives way by that. With one of 0.25 s it stays.
    const partly = stretchWith(machine.sequence, 'a', 0.7, 'stay', acted);
    expect(partly.later).toMatchObject([{ by: 0.1 }]);
    expect(partly.sequence.cues.find(({ id }) => id === 'b')!.delay).toBe(0);
    const late = shiftCue(machine.sequence, 'b', 0.15, acted);
    expect(stretchWith(late, 'a', 0.7, 'stay', acted).later).toMatchObject([{ by: 0 }]);
  });

  test('stretched, what waits for several moves only as far as it waits for this one', () => {
    const machine = row(
      cue('a', move('x', 0.2, 0.5)),
      cue('c', move('y', 0.1, 0.6)),
      cue('d', wait(0.1), { after: ['a', 'c'] }),
      cue('end', stop, { after: ['d'] }),
    );
    const acted = actedIn(machine);
    for (const [time, wanted] of [
      [0.55, 0],
      [0.8, 0.2],
      [0.3, 0],
    ] as const) {
      // prettier-ignore
      const { sequence, later } = stretchWith(machine.sequence, 'a', time, 'move', acted);
      expect(later[0]!.by).toBeCloseTo(wanted, 9);
      const before = simulateCycle(machine).record.duration;
      expect(simulateCycle({ ...machine, sequence }).record.duration - before).toBeCloseTo(wanted, 9);
    }
  });

  test('a name that only says what the cue does goes along with it; one that was given stays', () => {
    const machine = out();
    const first = machine.sequence.cues[0]!;
    first.name = 'x moves';
    const toWait = (m: Machine, id: string) => withAction(m, id, (c) => void (c.action = wait(1))).cues.find((c) => c.id === id)!; // prettier-ignore
    expect(toWait(machine, 'a').name).toBe('Wait');
    first.name = 'x moves 2';
    expect(toWait(machine, 'a').name).toBe('Wait');
    first.name = 'Push it in';
    expect(toWait(machine, 'a').name).toBe('Push it in');
    expect(withAction(machine, 'b', (c) => void (c.delay = 1)).cues.find((c) => c.id === 'b')!.name).toBe('b');
  });

  test('an axis that cues lead keeps its motion aside, once', () => {
    const machine = newMachine('Aside');
    machine.axes.push(newAxis('linear', [], 2));
    const led = letCuesLead(machine, 'axis1');
    expect(led.axes[0]!.motion.source).toEqual({ kind: 'cues', start: 0 });
    const [kept, ...more] = led.axes[0]!.alternatives;
    expect(more).toEqual([]);
    expect(kept).toMatchObject({
      name: 'Before the cues',
      plan: machine.axes[0]!.plan,
      motion: machine.axes[0]!.motion,
    });
    expect(readMachine(led)).toMatchObject({ ok: true });
    expect(letCuesLead(led, 'axis1')).toEqual(led);
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
