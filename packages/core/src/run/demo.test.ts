import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { applyVariant, readMachineText, type Machine } from '../machine';
import { loadContact } from '../contact';
import { hasCycle, runCycle } from '../cycle';
import { findPeak, simulate, type Run } from './index';

beforeAll(() => loadContact());

const folder = join(__dirname, '../../../../demo');
const files = readdirSync(folder).filter((file) => file.endsWith('.yoke.json'));

function open(file: string): Machine {
  const result = readMachineText(readFileSync(join(folder, file), 'utf8'));
  if (!result.ok) throw new Error(file);
  return result.machine;
}
/** The run of a machine, through its cues where it has any. */
const runOf = (machine: Machine): Run => (hasCycle(machine) ? runCycle(machine).run : simulate(machine));
const largest = (values: Float64Array) => values.reduce((most, v) => Math.max(most, Math.abs(v)), 0);

test.each(files)('%s runs whole, without an error, and says that it is invented', (file) => {
  const machine = open(file);
  expect(machine.notes.toLowerCase()).toMatch(/invented|made up/);
  const run = runOf(machine);
  const findings = [...run.findings, ...run.axes.flatMap((a) => a.findings), ...(run.mechanism?.findings ?? [])];
  expect(findings.filter(({ severity }) => severity === 'error')).toEqual([]);
  for (const { channels } of run.axes)
    for (const samples of Object.values(channels)) expect(samples.every(Number.isFinite)).toBe(true);
});

describe.each(files.filter((file) => open(file).mechanism.bodies.length > 0))('%s', (file) => {
  test('virtual work closes at every sample: drives + loads − losses = change of the energies', () => {
    const { mechanism, times } = runOf(open(file));
    const { energy } = mechanism!;
    expect(mechanism!.reached).toBe(times.length);
    expect(largest(energy.residual)).toBeLessThan(1e-9 * (largest(energy.drives) + largest(energy.lost)));
    // And over the cycle: the work put in is the change of what is stored.
    let put = 0;
    for (let k = 1; k < times.length; k++) {
      const power = (i: number) => energy.drives[i]! + energy.loads[i]! - energy.lost[i]!;
      put += ((power(k) + power(k - 1)) / 2) * (times[k]! - times[k - 1]!);
    }
    const stored = (k: number) => energy.kinetic[k]! + energy.potential[k]! + energy.elastic[k]!;
    const scale = largest(energy.drives) * times.at(-1)!;
    expect((put - (stored(times.length - 1) - stored(0))) / scale).toBeCloseTo(0, 4);
  });

  test('every variant runs, or says what stands against it', () => {
    const machine = open(file);
    for (const variant of machine.variants) {
      const run = simulate(applyVariant(machine, variant));
      expect(run.mechanism!.reached).toBe(run.times.length);
    }
  });
});

test('label dabber: the roller stays on the cam at its speed, and lifts off above a certain one', () => {
  const machine = open('label-dabber.yoke.json');
  const lifts = (speed: number) =>
    simulate(applyVariant(machine, { ...machine.variants[0]!, gravity: true, speed })).mechanism!.findings.some(
      ({ code }) => code === 'lift-off',
    );
  expect([1, 1.5].map(lifts)).toEqual([false, false]);
  expect(lifts(3)).toBe(true);
});

test('twin plug arm: the second does half a turn later what the first does', () => {
  const { axes, times } = simulate(open('plug-arm-twin.yoke.json'));
  const half = (times.length - 1) / 2;
  const [one, two] = axes.map(({ channels }) => channels.effort) as [Float64Array, Float64Array];
  for (let k = 0; k < half; k += 25) expect(two[k + half]!).toBeCloseTo(one[k]!, 7);
});

test('six-station dial: it turns by a sixth in a third of the cycle, and rests for two thirds', () => {
  const machine = open('six-station-dial.yoke.json');
  const { mechanism, times } = simulate(machine);
  const wheel = mechanism!.joints[1]!;
  expect(Math.abs(wheel.position!.at(-1)! - wheel.position![0]!)).toBeCloseTo(Math.PI / 3, 9);
  let moving = 0;
  for (let k = 1; k < times.length; k++)
    if (Math.abs(wheel.rate![k]!) + Math.abs(wheel.rate![k - 1]!) > 1e-9) moving += times[k]! - times[k - 1]!;
  expect(moving / times.at(-1)!).toBeCloseTo(1 / 3, 2);
});

test('lifted cover: without its balance spring the cylinder has more to hold', () => {
  const machine = open('lifted-cover.yoke.json');
  const peak = (m: Machine) => {
    const run = simulate(m);
    return Math.abs(findPeak(run.times, run.axes[0]!.channels.effort).value);
  };
  const without = machine.variants.find(({ off }) => off.length > 0)!;
  expect(peak(applyVariant(machine, without))).toBeGreaterThan(1.3 * peak(machine));
});
