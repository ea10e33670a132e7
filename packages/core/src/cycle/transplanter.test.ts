import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { loadContact } from '../contact';
import { eventsCsv } from '../format';
import { applyVariant, readMachineText, type Machine } from '../machine';
import { checkSheet } from '../sequence';
import { histogram, simulateCycle, studyDraws, studyRun, worstOf, type CycleRecord } from '.';

beforeAll(() => loadContact());

function open(name: string): Machine {
  const read = readMachineText(readFileSync(join(__dirname, `../../../../demo/${name}.yoke.json`), 'utf8'));
  if (!read.ok) throw new Error(name);
  return read.machine;
}

/** Last places of all parts, by number. */
function places({ parts }: CycleRecord): Map<number, [x: number, y: number, angle: number]> {
  const last = parts.times.length - 1;
  const found = new Map<number, [number, number, number]>();
  for (let i = parts.starts[last]!; i < parts.starts[last + 1]!; i += 4)
    found.set(parts.data[i]!, [parts.data[i + 1]!, parts.data[i + 2]!, parts.data[i + 3]!]);
  return found;
}

describe('the seedling transplanter', () => {
  const machine = open('seedling-transplanter');
  let record: CycleRecord;
  beforeAll(() => (record = simulateCycle(machine).record));

  test('is as large as it says: axes, sensors, cues, and a sheet without findings', () => {
    expect(machine.axes.length).toBeGreaterThanOrEqual(6);
    expect(machine.sequence.sensors.length).toBeGreaterThanOrEqual(8);
    expect(machine.sequence.cues.length).toBeGreaterThanOrEqual(25);
    expect(checkSheet(machine).filter(({ severity }) => severity === 'error')).toEqual([]);
  });

  test('puts twelve plugs upright into the twelve pockets of a tray, and the tray out', () => {
    expect(record.end).toBe('stop');
    const tray = record.fates.find(({ kind }) => kind === 'tray')!.number;
    const at = places(record);
    const [x, y, angle] = at.get(tray)!;
    // It lies on the exit platform, beyond the belt.
    expect(x + 0.183).toBeGreaterThan(1.156);
    const offsets = record.fates
      .filter(({ kind }) => kind === 'plug')
      .map(({ number }) => {
        const [px, py, turned] = at.get(number)!;
        expect(Math.abs(turned)).toBeLessThan(0.2);
        expect(py - y).toBeLessThan(0.03);
        return (px - x) / Math.cos(angle);
      })
      .sort((a, b) => a - b);
    expect(offsets).toHaveLength(12);
    offsets.forEach((offset, i) => expect(Math.abs(offset - (0.018 + 0.03 * i))).toBeLessThan(0.004));
  });

  test('waits when a plug is late, and says so; the other cycles are alike', () => {
    const cycles = record.cycles.slice(1).map((time, i) => time - record.cycles[i]!);
    expect(cycles).toHaveLength(12);
    // The eighth plug comes four seconds late.
    const usual = cycles[0]!;
    cycles.forEach((time, i) =>
      i === 6 || i === 11 ? expect(time).toBeGreaterThan(usual + 1) : expect(time).toBeCloseTo(usual, 1),
    );
    expect(record.findings.filter(({ code }) => code === 'alarm')).toHaveLength(1);
    expect(record.findings.map(({ code }) => code)).not.toContain('lost');
  });

  test('keeps the gripper clear of the dibber', () => {
    const [curve] = record.clearances;
    expect(curve!.least.clearance).toBeGreaterThan(0.005);
    expect(curve!.violated).toBeNull();
    expect(curve!.clearance.length).toBe(record.steps);
  });

  test('its log says of every event what it came from', () => {
    const csv = eventsCsv(record, machine).split('\n');
    expect(csv[0]).toBe('t [s],kind,event,cause');
    expect(csv.some((line) => line.includes('Gripper takes part 1') && line.includes('Plug taken acts'))).toBe(true);
    for (const event of record.events.slice(1)) {
      expect(event.causes.length).toBeGreaterThan(0);
      for (const cause of event.causes) expect(record.events[cause]!.time).toBeLessThanOrEqual(event.time + 1e-9);
    }
  });

  test('an emergency stop in the middle brings everything to rest', () => {
    const stopped = structuredClone(machine);
    const button = stopped.sequence.sensors.find(({ name }) => name === 'Emergency stop')!;
    button.sensing = { kind: 'button', presses: [{ at: 5.2, hold: 1 }] };
    const { record: short, found } = simulateCycle(stopped);
    expect(short.end).toBe('emergency');
    expect(short.duration).toBeCloseTo(5.2 + stopped.sequence.emergency.ramp, 6);
    for (const motion of found.motions.axes.values()) expect(motion.duration).toBeCloseTo(short.duration, 9);
  });
});

describe('the seed chute', () => {
  test('more friction lands more seeds in the cup', () => {
    const chute = open('seed-chute');
    const landed = (machine: Machine) =>
      simulateCycle(machine).record.fates.filter(
        ({ sink }) => machine.loose.sinks.find(({ id }) => id === sink)?.counts === 'done',
      ).length;
    const [polished, dusty] = chute.variants.map((variant) => landed(applyVariant(chute, variant)));
    expect(polished).toBeLessThan(landed(chute));
    expect(dusty).toBe(20);
  });

  test('a study: the same draws give the same runs, others scatter, the worst is found', () => {
    const chute = open('seed-chute');
    const draws = studyDraws({ runs: 4, seed: 3, sensorDelay: 0, friction: 0.2, torques: false });
    expect(studyDraws({ runs: 4, seed: 3, sensorDelay: 0, friction: 0.2, torques: false })).toEqual(draws);
    for (const { friction } of draws) expect(Math.abs(friction - 1)).toBeLessThanOrEqual(0.2);
    const runs = draws.map((draw) => studyRun(chute, draw, false));
    expect(studyRun(chute, draws[1]!, false)).toEqual(runs[1]);
    expect(new Set(runs.map(({ missed }) => missed)).size).toBeGreaterThan(1);
    expect(worstOf(runs)!.missed).toBe(Math.max(...runs.map(({ missed }) => missed)));
    expect(histogram(runs.map(({ missed }) => missed)).counts.reduce((a, b) => a + b, 0)).toBe(4);
  });
});
