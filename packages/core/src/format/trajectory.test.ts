import fc from 'fast-check';
import { LAW_IDS } from '../law';
import { newAxis, newMachine, type Axis, type Machine } from '../machine';
import { motionAt, motionBlocks, pointsMotion } from '../motion';
import {
  camTable,
  camTableCsv,
  camTableError,
  checkPlcXml,
  columnKinds,
  guessColumns,
  makeTrajectory,
  motionOfAxis,
  motionRows,
  plcName,
  plcXml,
  readCamTableCsv,
  readPlcXml,
  readRawTable,
  readStructuredText,
  readTrajectoryCsv,
  readTrajectoryJson,
  structuredText,
  tableError,
  trajectoryCsv,
  trajectoryJson,
  writeMotionRows,
  type Trajectory,
} from './index';

function lift(
  law: Axis['plan']['segments'][number] extends infer S ? (S extends { law: infer L } ? L : never) : never = {
    id: 'poly4567',
  },
  units: Machine['units'] = 'metric',
  kind: Axis['kind'] = 'linear',
): { machine: Machine; axis: Axis } {
  const machine = { ...newMachine('Lift', units), cycle: { given: 'time' as const, time: 1 } };
  const axis = newAxis(kind, [], 1);
  axis.name = 'Plug lift';
  axis.plan = {
    start: 0,
    segments: [
      { kind: 'move', id: 'a', duration: 0.4, to: 0.3, law },
      { kind: 'dwell', id: 'b', duration: 0.1 },
      { kind: 'move', id: 'c', duration: 0.5, to: 0, law },
    ],
  };
  machine.axes = [axis];
  return { machine, axis };
}

describe('point tables', () => {
  test('by step: evenly spaced, both ends; by error: as few as keep it', () => {
    const { machine, axis } = lift();
    const even = makeTrajectory(machine, axis, 'pvt', { by: 'step', step: 0.01 });
    expect(even.rows).toHaveLength(101);
    expect(even.rows[40]).toEqual([0.4, 0.3, 0].map((x) => expect.closeTo(x, 12)));
    const motion = motionOfAxis(machine, axis);
    for (const [form, error] of [
      ['pvt', 1e-5],
      ['pvat', 1e-6],
      ['pvat', 1e-8],
    ] as const) {
      const found = makeTrajectory(machine, axis, form, { by: 'error', error });
      expect(tableError(found.rows, motion).position.most).toBeLessThan(1.5 * error);
      const finer = makeTrajectory(machine, axis, form, { by: 'error', error: error / 100 });
      expect(finer.rows.length).toBeGreaterThan(found.rows.length);
    }
  });
  test('a quintic needs fewer points than a cubic for the same error', () => {
    const { machine, axis } = lift({ id: 'cycloidal' });
    const count = (form: 'pvt' | 'pvat') =>
      makeTrajectory(machine, axis, form, { by: 'error', error: 1e-6 }).rows.length;
    expect(count('pvat')).toBeLessThan(count('pvt') / 2);
  });
  test.each([
    ['error', { by: 'error', error: 1e-6 }],
    ['step', { by: 'step', step: 0.03 }],
  ] as const)(
    'by %s: where acceleration steps both sides are written, and the curve between has neither error',
    (_by, spacing) => {
      // Constant acceleration over 0.4 s to 0.3 m: ±4 h/T² = ±7.5 m/s², and as much back over 0.5 s: ∓4.8 m/s².
      const { machine, axis } = lift({ id: 'quadratic' });
      const motion = motionOfAxis(machine, axis);
      const { rows } = makeTrajectory(machine, axis, 'pvat', spacing);
      const at = (time: number) => rows.filter((r) => Math.abs(r[0]! - time) < 1e-9).map((r) => r[3]);
      expect(at(0)).toEqual([expect.closeTo(7.5, 9)]);
      for (const [time, before, after] of [
        [0.2, 7.5, -7.5],
        [0.4, -7.5, 0],
        [0.5, 0, -4.8],
        [0.75, -4.8, 4.8],
      ] as const)
        // prettier-ignore
        expect(at(time)).toEqual([expect.closeTo(before, 9), expect.closeTo(after, 9)]);
      expect(at(1)).toEqual([expect.closeTo(4.8, 9)]);
      const error = tableError(rows, motion);
      expect(error.position.most).toBeLessThan(1e-12);
      expect(error.velocity.most).toBeLessThan(1e-10);
      expect(error.acceleration.most).toBeLessThan(1e-8);
      // Made a motion through points again, it has the same steps.
      const back = pointsMotion(rows, { way: 'quintic', ends: 'free', tolerance: 0 }, 1);
      expect(back.steps.map((t) => Number(t.toFixed(9)))).toEqual([0.2, 0.4, 0.5, 0.75]);
      expect(motionAt(back, 0.2, 'before').acceleration).toBeCloseTo(7.5, 8);
    },
  );
  test('the error of acceleration is stated with its place, where a table is too coarse for it', () => {
    const { machine, axis } = lift({ id: 'cycloidal' });
    const motion = motionOfAxis(machine, axis);
    const { rows } = makeTrajectory(machine, axis, 'pvat', { by: 'step', step: 0.1 });
    const { acceleration } = tableError(rows, motion);
    const curve = pointsMotion(rows, { way: 'quintic', ends: 'free', tolerance: 0 }, 1);
    const there = Math.abs(motionAt(curve, acceleration.time).acceleration - motionAt(motion, acceleration.time).acceleration); // prettier-ignore
    expect(there).toBeCloseTo(acceleration.most, 9);
    expect(acceleration.most).toBeGreaterThan(0.02);
  });
  test('too fine a step is refused with the finest that is allowed', () => {
    const { machine, axis } = lift();
    expect(() => makeTrajectory(machine, axis, 'pvt', { by: 'step', step: 1e-6 })).toThrow(/at least 0.0000500 s/);
  });
});

const READERS: [string, (t: Trajectory) => string, (text: string, t: Trajectory) => number[][]][] = [
  ['CSV', trajectoryCsv, readTrajectoryCsv],
  ['JSON', trajectoryJson, readTrajectoryJson],
  ['Structured Text', structuredText, readStructuredText],
  ['XML', (t) => plcXml(t, '2026-01-05T08:00:00Z'), readPlcXml],
];

describe.each(READERS)('%s read back', (_name, write, read) => {
  test('gives the same points to rounding, in any law, unit and kind of axis (property)', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...LAW_IDS),
        fc.constantFrom('metric' as const, 'inch' as const),
        fc.constantFrom('linear' as const, 'rotary' as const),
        fc.constantFrom('pvt' as const, 'pvat' as const),
        (id, units, kind, form) => {
          const { machine, axis } = lift({ id }, units, kind);
          const trajectory = makeTrajectory(machine, axis, form, { by: 'step', step: 0.02 });
          const back = read(write(trajectory), trajectory);
          expect(back).toHaveLength(trajectory.rows.length);
          back.forEach((row, i) =>
            row.forEach((value, c) =>
              expect(Math.abs(value - trajectory.rows[i]![c]!)).toBeLessThan(1e-12 * Math.max(1, Math.abs(value))),
            ),
          );
        },
      ),
      { numRuns: 25 },
    );
  });
  test('its largest error against the motion is that of the table', () => {
    const { machine, axis } = lift();
    const motion = motionOfAxis(machine, axis);
    const trajectory = makeTrajectory(machine, axis, 'pvat', { by: 'step', step: 0.01 });
    const error = tableError(read(write(trajectory), trajectory), motion);
    expect(error.position.most).toBeCloseTo(tableError(trajectory.rows, motion).position.most, 14);
    expect(error.position.most).toBeLessThan(1e-6);
  });
  test('what is no such file is refused', () => {
    const { machine, axis } = lift();
    const trajectory = makeTrajectory(machine, axis, 'pvt', { by: 'step', step: 0.1 });
    expect(() => read('nothing of the kind', trajectory)).toThrow();
    const spoiled = write(trajectory)
      .replace(/^t \[s\]/, 'master [°]')
      .replace('times', 'zeiten')
      .replace('"rows"', '"row"')
      .replaceAll('Variable', 'Wariable');
    expect(() => read(spoiled, trajectory)).toThrow();
  });
});

/** Carries out the body of the block: Structured Text turned into JavaScript, statement by statement. */
function runBlock(text: string, time: number): { Position: number; Velocity: number; Acceleration: number } {
  const arrays = [...text.matchAll(/\b(\w+) : ARRAY\[0\.\.\d+\] OF LREAL := \[([^\]]*)\]/g)].map(
    ([, name, values]) => `const ${name!} = [${values!}];`,
  );
  const body = text
    .slice(text.lastIndexOf('END_VAR') + 'END_VAR'.length, text.indexOf('END_FUNCTION_BLOCK'))
    .replaceAll('(low + high) / 2', 'Math.trunc((low + high) / 2)')
    .replace(/IF (.*?) THEN/g, 'if ($1) {')
    .replaceAll('ELSE', '} else {')
    .replaceAll('END_IF;', '}')
    .replace(/WHILE (.*?) DO/g, 'while ($1) {')
    .replaceAll('END_WHILE;', '}')
    .replaceAll(':=', '=');
  const code = `${arrays.join('\n')} let x, h, u, d, p0, v0, v1, c2, c3, c4, c5, a0, a1, low, high, middle, Position, Velocity, Acceleration; ${body} return { Position, Velocity, Acceleration };`;
  return new Function('Time', code)(time) as ReturnType<typeof runBlock>;
}

describe('the function block', () => {
  test('where acceleration steps it has the value of the side it comes from, on either side', () => {
    const { machine, axis } = lift({ id: 'quadratic' });
    const text = structuredText(makeTrajectory(machine, axis, 'pvat', { by: 'error', error: 1e-6 }));
    const sides = [0.2 - 1e-9, 0.2, 0.2 + 1e-9].map((time) => runBlock(text, time).Acceleration);
    expect(sides).toEqual([7500, -7500, -7500].map((a) => expect.closeTo(a, 4)));
  });
  test.each(['pvt', 'pvat'] as const)('%s: carried out, it gives the motion', (form) => {
    const { machine, axis } = lift();
    const motion = motionOfAxis(machine, axis);
    const text = structuredText(makeTrajectory(machine, axis, form, { by: 'step', step: 0.005 }));
    for (const time of [-1, 0, 0.0031, 0.2, 0.317, 0.45, 0.77, 0.999, 1, 3]) {
      const block = runBlock(text, time);
      const state = motionAt(motion, Math.max(0, Math.min(1, time)));
      expect(block.Position).toBeCloseTo(state.position * 1000, form === 'pvt' ? 3 : 5);
      expect(block.Velocity).toBeCloseTo(state.velocity * 1000, form === 'pvt' ? 0 : 2);
      if (form === 'pvat') expect(block.Acceleration).toBeCloseTo(state.acceleration * 1000, -1);
    }
  });
  test('names are made fit for IEC 61131-3', () => {
    expect(plcName('Tray belt 2')).toBe('Tray_belt_2');
    expect(plcName('3. Hübschlift')).toBe('Axis_3_Hubschlift');
    expect(plcName('«»')).toBe('Axis_1');
  });
  test('the XML has the structure of the standard; one that has not is refused by element', () => {
    const { machine, axis } = lift();
    const xml = plcXml(makeTrajectory(machine, axis, 'pvat', { by: 'step', step: 0.1 }), '2026-01-05T08:00:00Z');
    expect(() => checkPlcXml(xml)).not.toThrow();
    expect(() => checkPlcXml(xml.replaceAll('MainBody', 'Body'))).toThrow(/FunctionBlock/);
    expect(() => checkPlcXml(xml.replace('<Instances/>', '').replace('<Types>', '<Instances/><Types>'))).toThrow(
      /order/,
    );
  });
});

test('cam table: master, position and slope; read back it is the motion', () => {
  const { machine, axis } = lift({ id: 'cycloidal' });
  const table = camTable(machine, axis, 360);
  expect(table.rows).toHaveLength(361);
  // Half of the rise at 72° (0.2 s of 1 s); the slope there is 2·s/0.4 s over 2π/s.
  expect(table.rows[72]).toEqual(
    [0.4 * Math.PI, 0.15, (2 * 0.3) / 0.4 / (2 * Math.PI)].map((x) => expect.closeTo(x, 8)),
  );
  const rows = readCamTableCsv(camTableCsv(machine, axis, table), machine, axis);
  expect(camTableError(machine, axis, rows)).toBeLessThan(1e-10);
  expect(camTable(machine, axis, 720).lineError / table.lineError).toBeCloseTo(0.25, 1);
});

test('where the master rests at its ends a cam table still has the slope of the shape', () => {
  const machine = newMachine('Follower');
  machine.cycle = { given: 'time', time: 2 };
  machine.master.course = { kind: 'ramp', speed: 5, up: 0.5, down: 0.5, stop: 7.5, law: 'poly345' };
  const axis = newAxis('linear', [], 2);
  axis.motion = { ...axis.motion, over: 'time', source: { kind: 'follow', axis: null, ratio: 0.02, offset: 0.1 } };
  machine.axes = [axis];
  for (const [, , slope] of camTable(machine, axis, 50).rows) expect(slope).toBeCloseTo(0.02, 6);
});

describe('tables from elsewhere', () => {
  const kinds = columnKinds('linear', null);
  const read = (text: string, system: 'metric' | 'inch' = 'metric') => {
    const raw = readRawTable(text);
    return motionRows(raw, guessColumns(raw), kinds, system);
  };
  test('semicolons and decimal commas, headings with units in any order', () => {
    expect(read('Pos [mm];t [s]\n0,0;0,0\n12,5;0,1\n')).toEqual([
      [0, 0],
      [0.1, 0.0125],
    ]);
  });
  test('cells copied from a spreadsheet, without headings, in the units shown', () => {
    expect(read('0\t0\n0.1\t25\n', 'inch')).toEqual([
      [0, 0],
      [0.1, expect.closeTo(25 * 0.0254, 12)],
    ]);
  });
  test('columns, units, separator and decimal sign can be chosen', () => {
    const raw = readRawTable('a|b|c\n1|2|3'.replaceAll('|', ','), { separator: ',', decimal: '.' });
    const choice = {
      ...guessColumns(raw),
      place: 2,
      value: 0,
      units: { place: 'ms', value: 'cm', velocity: '', acceleration: '' },
    };
    expect(motionRows(raw, choice, kinds, 'metric')).toEqual([[expect.closeTo(0.003, 12), expect.closeTo(0.01, 12)]]);
  });
  test('what cannot be read is named by row and column', () => {
    expect(() => read('t [s],position [mm]\n0,0\n0.1,abc\n')).toThrow(
      'Row 3, column “position [mm]”: “abc” is no number with a decimal point.',
    );
    expect(() => read('t [s],position [N]\n0,0\n')).toThrow(/unit of a force/);
    expect(() => read('t [s],position [mm]\n0,\n')).toThrow(/Row 2.*is empty/);
    expect(() => readRawTable('  \n')).toThrow(/nothing to read/);
    expect(() => readRawTable('t,position\n')).toThrow(/no rows/);
  });
  test('written rows are read back (property)', () => {
    const number = fc.double({ min: -10, max: 10, noNaN: true }).map((x) => (Math.abs(x) < 1e-300 ? 0 : x));
    fc.assert(
      fc.property(
        fc.array(fc.tuple(number, number, number, number), { minLength: 1, maxLength: 20 }),
        fc.constantFrom('metric' as const, 'inch' as const),
        (rows, system) => {
          const back = read(writeMotionRows(rows, kinds, system), system);
          back.forEach((row, i) =>
            row.forEach((value, c) => expect(Math.abs(value - rows[i]![c]!)).toBeLessThan(1e-12)),
          );
        },
      ),
    );
  });
});

test('an axis that cues move is refused with what to take instead, not written as if it stood still', () => {
  const machine = newMachine('Cued');
  const axis = newAxis('linear', [], 2);
  axis.motion.source = { kind: 'cues', start: 0.1 };
  machine.axes.push(axis);
  expect(() => makeTrajectory(machine, axis, 'pvat', { by: 'step', step: 0.1 })).toThrow(/Slide is moved by cues/);
  expect(() => camTable(machine, axis, 36)).toThrow(/moved by cues/);
});

test('servo moves made of the plan that a new axis begins with are written, and read back as they are', () => {
  const machine = newMachine('Blocks');
  const axis = newAxis('linear', [], 2);
  machine.axes.push(axis);
  const blocks = motionBlocks(motionOfAxis(machine, axis), axis.limits);
  axis.motion = { ...axis.motion, source: { kind: 'moves', blocks } };
  for (const form of ['pvt', 'pvat'] as const)
    for (const spacing of [
      { by: 'error', error: 1e-5 },
      { by: 'step', step: 0.01 },
    ] as const) {
      const made = makeTrajectory(machine, axis, form, spacing);
      made.rows.slice(1).forEach((row, k) => expect(row[0]! - made.rows[k]![0]!).toBeGreaterThanOrEqual(0));
      expect(tableError(made.rows, motionOfAxis(machine, axis)).position.most).toBeLessThan(2e-5);
    }
});
