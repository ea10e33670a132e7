import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import Papa from 'papaparse';
import { newAxis, newMachine, readMachineText, type Machine } from '../machine';
import { simulate } from '../run';
import {
  allChannels,
  channelsCsv,
  lawCsv,
  lawsCsv,
  readCatalogue,
  readForceTable,
  writeCatalogue,
  writeForceTable,
} from './index';

const demo = (file: string) => readFileSync(join(__dirname, '../../../../demo', file), 'utf8');
const dibber = (): Machine => {
  const result = readMachineText(demo('dibber.yoke.json'));
  if (!result.ok) throw new Error('the demo is not valid');
  return result.machine;
};
const table = (csv: string) => Papa.parse<string[]>(csv, { skipEmptyLines: true }).data;

describe('channels', () => {
  test('have a header with units and give the values of the run back', () => {
    const machine = dibber();
    const run = simulate(machine);
    const [header, ...rows] = table(channelsCsv(machine, run, allChannels(run)));
    expect(header!.slice(0, 3)).toEqual(['t [s]', 'Dibber.position [mm]', 'Dibber.velocity [mm/s]']);
    expect(rows).toHaveLength(run.times.length);
    const torque = header!.indexOf('Dibber.shaftTorque [N·m]');
    rows.forEach((row, k) => expect(Number(row[torque])).toBeCloseTo(run.axes[0]!.channels.shaftTorque[k]!, 8));
  });

  test('follow the units of the machine', () => {
    const machine: Machine = { ...dibber(), units: 'inch' };
    const run = simulate(machine);
    const [header, ...rows] = table(channelsCsv(machine, run, [{ axisId: 'dibber', channel: 'position' }]));
    expect(header).toEqual(['t [s]', 'Dibber.position [in]']);
    expect(Math.max(...rows.map((row) => Number(row[1])))).toBeCloseTo(0.12 / 0.0254, 9);
  });
});

describe('force tables', () => {
  test('read units from the header, semicolons too, and come back unchanged', () => {
    const read = readForceTable('time [ms];force [kN]\n0;0\n500;0.2\n', 'linear', 'metric');
    expect(read).toEqual([
      [0, 0],
      [0.5, 200],
    ]);
    expect(readForceTable(writeForceTable(read, 'linear', 'inch'), 'linear', 'inch')[1]![1]).toBeCloseTo(200, 9);
  });

  test.each([
    ['t\n1\n', 'Two columns are needed'],
    ['t [s],F [N]\n0,1\n', 'At least two rows'],
    ['t [s],F [N]\n0,1\n1,x\n', 'Row 3, column “F [N]”'],
    ['t [s],F [N]\n1,1\n0,1\n', 'Row 3: its time lies before'],
    ['t [s],F [kg]\n0,1\n1,1\n', 'is the unit of a mass'],
    ['', 'The file is empty'],
    ['t [s],F [N]\n0,1,5\n', 'a decimal comma may have split a number'],
  ])('%j is refused with the place', (text, reason) => {
    expect(() => readForceTable(text, 'linear', 'metric')).toThrow(reason);
  });
});

describe('the motor catalogue', () => {
  test('comes back unchanged', () => {
    const motors = readCatalogue(demo('motors.csv'));
    expect(readCatalogue(writeCatalogue(motors))).toEqual(motors);
  });

  test('takes columns in any order and other units', () => {
    const [header, row] = table(demo('motors.csv'));
    const inertia = header!.indexOf('rotor inertia [kg cm^2]');
    const inch = header!.with(inertia, 'rotor inertia [lb in^2]').toReversed();
    const csv = Papa.unparse([inch, row!.with(inertia, '1').toReversed()]);
    expect(readCatalogue(csv)[0]!.inertia).toBeCloseTo(0.45359237 * 0.0254 ** 2, 12);
  });

  const lines = demo('motors.csv').trim().split('\n');
  test.each([
    [lines[0]!.replace('type,', 'model,'), 'The column “model” is not known'],
    [lines[0]!.replace('resistance [ohm],', ''), 'The column “resistance [ohm]” is missing'],
    [lines[0]!, 'holds no motors'],
    [`${lines[0]}\n${lines[1]}\n${lines[1]}`, 'Row 3: the type “Alder 0.32” stands in the file twice'],
    [
      `${lines[0]}\n${lines[1]!.replace(',1.06,', ',0.1,')}`,
      'Row 2, column “peak torque”: must not be below the stall torque',
    ],
    [`${lines[0]}\n${lines[1]!.replace(',0.256,', ',abc,')}`, 'Row 2, column “rated torque”'],
  ])('%#: a wrong file is refused with the place', (csv, reason) => {
    expect(() => readCatalogue(csv)).toThrow(reason);
  });
});

test('laws as CSV', () => {
  expect(table(lawsCsv()).find(([id]) => id === 'harmonic')).toEqual(['harmonic', '1.570796327', '4.934802201', 'inf']);
  const rows = table(lawCsv('poly345', 3));
  expect(rows).toEqual([
    ['tau', 'f', 'f1', 'f2', 'f3'],
    ['0', '0', '0', '0', '60'],
    ['0.5', '0.5', '1.875', '0', '-30'],
    ['1', '1', '0', '0', '60'],
  ]);
});

test('a new machine in either kind of axis exports without a gap', () => {
  const machine = newMachine('Gap');
  machine.axes = [newAxis('linear', [], 2)];
  machine.axes.push(newAxis('rotary', machine.axes, 2));
  const run = simulate(machine);
  for (const row of table(channelsCsv(machine, run, allChannels(run))).slice(1))
    expect(row.every((cell) => cell !== '' && Number.isFinite(Number(cell)))).toBe(true);
});
