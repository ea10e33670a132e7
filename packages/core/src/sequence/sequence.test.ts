import fc from 'fast-check';
import { type Condition, type Cue } from '../machine';
import { cue, cuedAxis, move, rises, sensor, sheetOf, wait } from '../../test/cycles';
import {
  checkSheet,
  compatible,
  compileSheet,
  ConditionError,
  conditionText,
  explainSheetFinding,
  judge,
  parseCondition,
  satisfiable,
  Signals,
  type World,
} from '.';

const machine = sheetOf(
  [cue('lift', wait(1), { name: 'Lift up' }), cue('and', wait(1), { name: 'Sort and pack' })],
  {
    sensors: [
      sensor('eye', { kind: 'button', presses: [] }, { name: 'Tray eye' }),
      sensor('eye2', { kind: 'button', presses: [] }, { name: 'Tray eye 2' }),
    ],
    flags: [{ id: 'full', name: 'Full', set: false }],
  },
  { axes: [cuedAxis('x', { name: 'Lift' })] },
);
machine.loose.grippers.push({ id: 'g', name: 'Hand', body: 'b', at: [0, 0], reach: 0.01, force: 10, kinds: [] });

const world = (more: Partial<World> = {}): World => ({
  sensor: () => false,
  edge: () => false,
  flag: () => false,
  running: () => false,
  endedNow: () => false,
  ends: () => 0,
  position: () => 0,
  rests: () => true,
  time: () => 0,
  holds: () => false,
  ...more,
});

describe('conditions as text', () => {
  test.each<[string, Condition]>([
    ['Tray eye on', { op: 'on', sensor: 'eye' }],
    ['tray eye', { op: 'on', sensor: 'eye' }],
    ['Tray eye 2 comes on', { op: 'rises', sensor: 'eye2' }],
    ['↓ Tray eye', { op: 'falls', sensor: 'eye' }],
    ['Tray eye off', { op: 'not', of: { op: 'on', sensor: 'eye' } }],
    ['Full clear', { op: 'not', of: { op: 'flag', flag: 'full' } }],
    ['Lift at 120 mm', { op: 'at', axis: 'x', value: 0.12, within: 1e-4 }],
    ['Lift at 12 cm ± 2 mm', { op: 'at', axis: 'x', value: 0.12, within: 0.002 }],
    ['Lift at rest', { op: 'rests', axis: 'x' }],
    ['Lift up ended', { op: 'ended', cue: 'lift' }],
    ['Lift up ended >= 12', { op: 'count', cue: 'lift', is: '>=', value: 12 }],
    ['time 2 s', { op: 'time', at: 2 }],
    [
      'time 300 ms and Hand holds',
      {
        op: 'and',
        of: [
          { op: 'time', at: 0.3 },
          { op: 'holds', gripper: 'g' },
        ],
      },
    ],
    ['“Sort and pack” running', { op: 'running', cue: 'and' }],
    [
      'Full or Tray eye and not Lift up running',
      {
        op: 'or',
        of: [
          { op: 'flag', flag: 'full' },
          {
            op: 'and',
            of: [
              { op: 'on', sensor: 'eye' },
              { op: 'not', of: { op: 'running', cue: 'lift' } },
            ],
          },
        ],
      },
    ],
    [
      '(Full or Tray eye) and Lift at rest',
      {
        op: 'and',
        of: [
          {
            op: 'or',
            of: [
              { op: 'flag', flag: 'full' },
              { op: 'on', sensor: 'eye' },
            ],
          },
          { op: 'rests', axis: 'x' },
        ],
      },
    ],
  ])('%s', (text, condition) => {
    expect(parseCondition(text, machine)).toEqual(condition);
  });

  test('what cannot be read is named with its place', () => {
    const fail = (text: string) => {
      try {
        parseCondition(text, machine);
      } catch (error) {
        if (error instanceof ConditionError) return [error.message, error.from, error.to] as const;
      }
      throw new Error('no error');
    };
    expect(fail('Tray eye and Tary eye')[0]).toMatch(/“Tary” is no sensor/);
    expect(fail('Tray eye and Tary eye').slice(1)).toEqual([13, 17]);
    expect(fail('Lift up')[0]).toMatch(/What about the cue “Lift up”\? Write “running”, “ended”/);
    expect(fail('(Full or Tray eye')[0]).toMatch(/not closed/);
    expect(fail('Lift at 3 kg')[0]).toMatch(/length/);
    expect(fail('↑ Full')[0]).toMatch(/no sensor/);
    expect(fail('Full and')[0]).toMatch(/missing/);
    expect(fail('Lift up ended >= 1.5')[0]).toMatch(/whole number/);
  });

  const leaf: fc.Arbitrary<Condition> = fc.oneof(
    fc.constantFrom<Condition>(
      { op: 'on', sensor: 'eye' },
      { op: 'rises', sensor: 'eye2' },
      { op: 'falls', sensor: 'eye' },
      { op: 'flag', flag: 'full' },
      { op: 'running', cue: 'and' },
      { op: 'ended', cue: 'lift' },
      { op: 'rests', axis: 'x' },
      { op: 'holds', gripper: 'g' },
    ),
    fc.nat(50).map((value): Condition => ({ op: 'count', cue: 'lift', is: '<', value })),
    fc
      .integer({ min: -900, max: 900 })
      .map((mm): Condition => ({ op: 'at', axis: 'x', value: mm / 1000, within: 0.001 })),
    fc.nat(5000).map((ms): Condition => ({ op: 'time', at: ms / 1000 })),
  );
  const tree: fc.Arbitrary<Condition> = fc.letrec<{ c: Condition }>((tie) => ({
    c: fc.oneof(
      { depthSize: 'small' },
      leaf,
      tie('c').map((of): Condition => ({ op: 'not', of })),
      fc
        .tuple(fc.constantFrom('and' as const, 'or' as const), fc.array(tie('c'), { minLength: 2, maxLength: 3 }))
        .map(([op, of]): Condition => ({ op, of })),
    ),
  })).c;

  test('what is written reads back to the same meaning', () => {
    fc.assert(
      fc.property(tree, fc.infiniteStream(fc.boolean()), (condition, bits) => {
        const text = conditionText(condition, machine);
        const back = parseCondition(text, machine)!;
        // Once read, it is written the same way again.
        expect(conditionText(back, machine)).toBe(text);
        const memory = new Map<string, boolean>();
        const bit = (key: string) => {
          if (!memory.has(key)) memory.set(key, bits.next().value as boolean);
          return memory.get(key)!;
        };
        const w = world({
          sensor: (id) => bit(`s${id}`),
          edge: (id, to) => bit(`e${id}${String(to)}`),
          flag: (id) => bit(`f${id}`),
          running: (id) => bit(`r${id}`),
          endedNow: (id) => bit(`n${id}`),
          holds: (id) => bit(`h${id}`),
          rests: (id) => bit(`x${id}`),
          position: () => 0.12,
          ends: () => 7,
          time: () => 1.5,
        });
        expect(judge(back, w, true).holds).toBe(judge(condition, w, true).holds);
      }),
      { numRuns: 200 },
    );
  });
});

describe('conditions judged', () => {
  test('edges count only when fresh', () => {
    const w = world({ edge: (id, to) => id === 'eye' && to });
    expect(judge(rises('eye'), w, true).holds).toBe(true);
    expect(judge(rises('eye'), w, false).holds).toBe(false);
  });

  test('an “and” that fails names what fails', () => {
    const c: Condition = {
      op: 'and',
      of: [
        { op: 'flag', flag: 'full' },
        { op: 'on', sensor: 'eye' },
      ],
    };
    expect(judge(c, world({ flag: () => true }), true).because).toEqual([
      { term: { op: 'on', sensor: 'eye' }, is: false },
    ]);
  });

  test('contradictions and alternatives that exclude each other are seen', () => {
    const on: Condition = { op: 'on', sensor: 'eye' };
    const off: Condition = { op: 'not', of: on };
    expect(satisfiable({ op: 'and', of: [on, off] })).toBe(false);
    expect(satisfiable({ op: 'and', of: [rises('eye'), off] })).toBe(false);
    expect(compatible(on, off)).toBe(false);
    expect(compatible(on, null)).toBe(true);
    const few: Condition = { op: 'count', cue: 'lift', is: '<', value: 12 };
    const many: Condition = { op: 'count', cue: 'lift', is: '>=', value: 12 };
    expect(compatible(few, many)).toBe(false);
    expect(compatible(few, on)).toBe(true);
  });
});

describe('signals', () => {
  const one = (more: Partial<Parameters<typeof sensor>[2] & object>) =>
    new Signals([sensor('s', { kind: 'button', presses: [] }, more)]);

  test('delays and filter put changes off', () => {
    const s = one({ onDelay: 0.1, offDelay: 0.3, filter: 0.02 });
    s.sense('s', true, 1, null);
    expect(s.next()).toBeCloseTo(1.12, 12);
    expect(s.advance(1.11)).toEqual([]);
    expect(s.advance(1.2)).toMatchObject([{ sensor: 's', on: true, time: expect.closeTo(1.12, 12) as number }]);
    s.sense('s', false, 2, null);
    expect(s.next()).toBeCloseTo(2.32, 12);
  });

  test('a change that goes back in time is not seen', () => {
    const s = one({ filter: 0.05 });
    s.sense('s', true, 1, null);
    s.sense('s', false, 1.04, null);
    expect(s.next()).toBe(Infinity);
    expect(s.value('s')).toBe(false);
  });

  test('an inverted sensor is on while it senses nothing', () => {
    const s = one({ inverted: true });
    expect(s.value('s')).toBe(true);
    s.sense('s', true, 1, null);
    expect(s.advance(1)).toMatchObject([{ on: false }]);
  });
});

describe('the sheet as a net', () => {
  test('cues after one run in parallel, alternatives share a link', () => {
    const { transitions } = compileSheet(
      sheetOf([
        cue('a', wait(1)),
        cue('b', wait(1), { after: ['a'] }),
        cue('c', wait(1), { after: ['a'] }),
        cue('d', wait(1), { after: ['b'], choice: 'which' }),
        cue('e', wait(1), { after: ['b'], choice: 'which' }),
        cue('f', wait(1), { after: ['d', 'e'], join: 'any' }),
      ]).sequence,
    );
    const start = (id: string) => transitions.find((x) => x.id === `start ${id}`)!;
    expect(start('b').links).not.toEqual(start('c').links);
    expect(start('d').links).toEqual(start('e').links);
    expect(start('d').exclusive).toBe(start('e').exclusive);
    expect(start('f').links).toHaveLength(1);
  });
});

describe('large sheets', () => {
  const sheet = (n: number, change: (cue: Cue, i: number) => void = () => undefined) => {
    const cues = Array.from({ length: n }, (_, i) => cue(`c${i}`, { do: 'load', axis: 'x', force: 1 }));
    cues.forEach(change);
    return sheetOf(cues, {}, { axes: [cuedAxis('x')] });
  };
  const moves = (mover: Cue) => (mover.action = move('x', 0, 1, null));

  test('500 cues side by side: the two that want one axis are found among all situations, by the structure', () => {
    const machine = sheet(500, (cue, i) => {
      if (i === 3 || i === 444) moves(cue);
    });
    const fights = checkSheet(machine).filter(({ code }) => code === 'fight');
    expect(fights.map(({ cues }) => cues)).toEqual([['c3', 'c444']]);
  });

  test('500 cues in a row move one axis and never fight', () => {
    const machine = sheet(500, (cue, i) => {
      moves(cue);
      if (i > 0) cue.after = [`c${i - 1}`];
    });
    expect(checkSheet(machine).filter(({ code }) => code === 'fight' || code === 'more')).toEqual([]);
  });

  test('200 cues that all want one axis: some fights are listed, the others counted', () => {
    const found = checkSheet(sheet(200, moves));
    expect(found.filter(({ code }) => code === 'fight')).toHaveLength(60);
    const more = found.find(({ code }) => code === 'more')!;
    expect(more.count).toBe((200 * 199) / 2 - 60);
    expect(explainSheetFinding(more, sheet(1))).toBe('19840 more pairs of cues may want to move one axis at a time.');
  });
});
