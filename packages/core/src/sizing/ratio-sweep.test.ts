import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { newAxis, newMachine, readMachineText, type Axis, type Machine } from '../machine';
import { readCatalogue } from '../format';
import { dutyOf } from './duty';
import type { Motor } from './motor';
import { rankMotors } from './rank';
import { bestRatio, sweepRatios, SWEPT_RATIOS, type SweptRatio } from './ratio-sweep';
import { runMachine } from './run-machine';

const motors = readCatalogue(readFileSync(join(__dirname, '../../../../demo/motors.csv'), 'utf8'));
const demo = (file: string): Machine => {
  const read = readMachineText(readFileSync(join(__dirname, '../../../../demo', file), 'utf8'));
  if (!read.ok) throw new Error('unreadable');
  return read.machine;
};
const swept = async (machine: Machine, id: string, of: readonly Motor[] = motors): Promise<SweptRatio[]> => {
  const found = await sweepRatios(machine, id, of);
  if (typeof found === 'string') throw new Error(found);
  return found;
};

/** A table of pure inertia that swings to and fro behind a gearbox without losses. */
function table(inertia: number): { machine: Machine; axis: Axis } {
  const machine = newMachine('Table');
  const axis = newAxis('rotary', [], machine.cycle.given === 'time' ? machine.cycle.time : 1);
  axis.load = { ...axis.load, inertia, coulomb: 0, viscous: 0, imbalance: 0, force: 0 };
  axis.gearbox = { ratio: 5, inertia: 0, efficiency: 1, backEfficiency: 1, friction: 0 };
  axis.transmission = { kind: 'direct' };
  axis.sizing = { ...axis.sizing, inertiaRatio: 1000, brake: 'never', torqueReserve: 0, speedReserve: 0 };
  machine.axes.push(axis);
  return { machine, axis };
}

test('of a pure inertia the margin of the torque is largest at √(J load / J motor) (textbook: matched inertias)', async () => {
  const motor = { ...motors.find(({ type }) => type === 'Alder 2.4')!, maxSpeed: 1e4, ratedSpeed: 9e3, supplyVoltage: 5000 }; // prettier-ignore
  const { machine, axis } = table(motor.inertia * 20 ** 2);
  const all = await swept(machine, axis.id, [motor]);
  expect(all.map(({ ratio }) => ratio)).toEqual([...SWEPT_RATIOS]);
  const peak = ({ best }: SweptRatio) => best.checks.find(({ code }) => code === 'peak')!.margin;
  const top = all.reduce((best, row) => (peak(row) > peak(best) ? row : best));
  expect(top.ratio).toBe(20);
  expect(top.inertiaRatio).toBeCloseTo(1, 6);
  // Twice as far on either side costs the same.
  const at = (ratio: number) => peak(all.find((row) => row.ratio === ratio)!);
  expect(at(10)).toBeCloseTo(at(40), 6);
});

test('at the ratio an axis has, the sweep says what the ranking says', async () => {
  for (const file of ['six-station-dial.yoke.json', 'dosing-rocker.yoke.json', 'plug-arm-twin.yoke.json']) {
    const machine = demo(file);
    const axis = machine.axes[0]!;
    const gearbox = axis.gearbox ?? { ratio: 7.77, inertia: 1e-5, efficiency: 0.96, backEfficiency: 0.9, friction: 0 };
    axis.gearbox = gearbox;
    axis.sizing.motor = null;
    const { run } = await runMachine(machine, { motors });
    const ranking = rankMotors(motors, dutyOf(axis, run.axes.find(({ axisId }) => axisId === axis.id)!, run.times), axis.sizing); // prettier-ignore
    const present = (await swept(machine, axis.id)).find(({ isPresent }) => isPresent)!;
    expect(present.ratio).toBe(gearbox.ratio);
    expect(present.best).toEqual(ranking[0]);
  }
});

test('the best ratio taken is the lightest motor, and the ranking then says so too', async () => {
  const machine = demo('six-station-dial.yoke.json');
  const axis = machine.axes[0]!;
  axis.sizing = { ...axis.sizing, rankBy: 'mass', motor: null };
  const all = await swept(machine, axis.id);
  const best = bestRatio(all, 'mass')!;
  const fitting = all.filter(({ best: own }) => own.fits);
  expect(best.best.mass).toBe(Math.min(...fitting.map(({ best: own }) => own.mass)));
  axis.gearbox = { ...axis.gearbox!, ratio: best.ratio };
  const { run } = await runMachine(machine, { motors });
  expect(rankMotors(motors, dutyOf(axis, run.axes[0]!, run.times), axis.sizing)[0]).toEqual(best.best);
});

test('what has no run and what has no motors is said', async () => {
  const { machine, axis } = table(1);
  expect(await sweepRatios(machine, axis.id, [])).toMatch(/no motors/);
  expect(await sweepRatios(machine, 'gone', motors)).toMatch(/no such axis/);
  expect(bestRatio([], 'mass')).toBeNull();
});

test('of the small motors of the demonstration torque decides, not the smallest one there is', async () => {
  const { machine, axis } = table(4e-4);
  axis.gearbox!.ratio = 1;
  axis.sizing = { ...axis.sizing, torqueReserve: 0.3, speedReserve: 0.2 };
  const { run } = await runMachine(machine, { motors });
  const [first] = rankMotors(motors, dutyOf(axis, run.axes[0]!, run.times), axis.sizing);
  expect(first!.fits).toBe(true);
  expect(first!.motor.family).toBe('Cress');
  expect(first!.motor.type).not.toBe('Cress 0.01');
});
