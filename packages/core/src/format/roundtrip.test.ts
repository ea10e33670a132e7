import fc from 'fast-check';
import { LAW_IDS } from '../law';
import { machineText, newAxis, newMachine, readMachineText, type Axis, type Machine } from '../machine';
import { readCatalogue, readForceTable, writeCatalogue, writeForceTable } from './index';
import type { Motor } from '../sizing';

/** JSON and CSV know no negative zero, and the smallest denormals have no digits to keep. */
const number = (min: number, max: number) =>
  fc.double({ min, max, noNaN: true, noDefaultInfinity: true }).map((x) => (Math.abs(x) < 1e-300 ? 0 : x));
const name = fc.string({ minLength: 1, maxLength: 40 }).filter((text) => /\S/.test(text));

const segment = (id: string) =>
  fc.oneof(
    fc.record({ kind: fc.constant('dwell' as const), id: fc.constant(id), duration: number(0.001, 10) }),
    fc.record({
      kind: fc.constant('move' as const),
      id: fc.constant(id),
      duration: number(0.001, 10),
      to: number(-5, 5),
      law: fc.record({ id: fc.constantFrom(...LAW_IDS) }),
    }),
  );

const axis: fc.Arbitrary<Axis> = fc
  .record({
    kind: fc.constantFrom('linear' as const, 'rotary' as const),
    name,
    reversed: fc.boolean(),
    slope: number(0, Math.PI / 2),
    coulomb: number(0, 100),
    start: number(-5, 5),
    segments: fc
      .integer({ min: 0, max: 6 })
      .chain((n) => fc.tuple(...Array.from({ length: n }, (_, i) => segment(`s${i}`)))),
  })
  .map(({ kind, name: own, reversed, slope, coulomb, start, segments }) => {
    const base = newAxis(kind, [], 2);
    return { ...base, name: own, reversed, load: { ...base.load, slope, coulomb }, plan: { start, segments } };
  });

const machine: fc.Arbitrary<Machine> = fc
  .record({
    name,
    notes: fc.string(),
    units: fc.constantFrom('metric' as const, 'inch' as const),
    axis,
    rate: number(0.01, 10),
  })
  .map(({ name: own, notes, units, axis: only, rate }) => ({
    ...newMachine(own, units),
    notes,
    cycle: { given: 'rate' as const, rate },
    axes: [only],
  }));

test('any machine comes back from its text unchanged', () => {
  fc.assert(
    fc.property(machine, (document) => {
      expect(readMachineText(machineText(document))).toEqual({ ok: true, machine: document });
    }),
    { numRuns: 150 },
  );
});

test('text that is cut off anywhere is refused, never half read', () => {
  const text = machineText(newMachine('Cut'));
  fc.assert(
    fc.property(fc.integer({ min: 0, max: text.trim().length - 1 }), (length) => {
      expect(readMachineText(text.slice(0, length)).ok).toBe(false);
    }),
  );
});

test('any force table comes back from CSV to twelve figures, in either system', () => {
  const rows = fc
    .array(fc.tuple(number(0, 10), number(-1e4, 1e4)), { minLength: 2, maxLength: 30 })
    .map((table) => table.sort((a, b) => a[0] - b[0]));
  fc.assert(
    fc.property(
      rows,
      fc.constantFrom('linear' as const, 'rotary' as const),
      fc.constantFrom('metric' as const, 'inch' as const),
      (table, kind, system) => {
        const read = readForceTable(writeForceTable(table, kind, system), kind, system);
        expect(read).toHaveLength(table.length);
        read.forEach(([time, force], i) => {
          expect(Math.abs(time - table[i]![0])).toBeLessThanOrEqual(1e-12 * Math.abs(time));
          expect(Math.abs(force - table[i]![1])).toBeLessThanOrEqual(1e-12 * Math.abs(force));
        });
      },
    ),
  );
});

test('any catalogue comes back from CSV', () => {
  const positive = number(1e-6, 1e4);
  const motor: fc.Arbitrary<Motor> = fc
    .record({
      family: fc.constantFrom('Alder', 'Mint, wild', 'The "tall" Ash'),
      ratedTorque: positive,
      ratedSpeed: positive,
      torqueConstant: positive,
      resistance: positive,
      inductance: positive,
      polePairs: fc.integer({ min: 1, max: 20 }),
      supplyVoltage: positive,
      inertia: positive,
      thermalTime: positive,
      mass: positive,
      brakeTorque: fc.option(positive),
      brakeInertia: positive,
      brakeMass: positive,
    })
    .map((m) => ({
      ...m,
      type: 'T',
      stallTorque: m.ratedTorque * 1.2,
      peakTorque: m.ratedTorque * 3,
      maxSpeed: m.ratedSpeed * 2,
    }));
  fc.assert(
    fc.property(motor, (one) => {
      const [read] = readCatalogue(writeCatalogue([one]));
      for (const key of Object.keys(one) as (keyof Motor)[]) {
        const [before, after] = [one[key], read![key]];
        if (typeof before === 'number')
          expect(Math.abs((after as number) - before)).toBeLessThanOrEqual(1e-11 * before);
        else expect(after).toBe(before);
      }
    }),
  );
});
