import type { CycleOptions } from '../cycle';
import type { Machine } from '../machine';
import type { Motor } from './motor';
import type { MachineRun } from './run-machine';

/** What tells a reader something and a run nothing. Names of axes and constants stand in formulas: they stay. */
const UNREAD_OF_MACHINE = new Set(['name', 'notes', 'variants', 'leads', 'poses', 'clearances']);
const UNREAD_OF_AXIS = new Set(['colour', 'alternatives', 'sizing', 'notes']);
const NAMED = new Set(['axes', 'constants']);

/** A value with the keys of its objects in order, so that equal things have one text. */
function ordered(value: unknown, unread: (key: string, depth: number) => boolean, depth = 0): unknown {
  if (Array.isArray(value)) return value.map((inner) => ordered(inner, unread, depth + 1));
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .filter(([key]) => !unread(key, depth))
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([key, inner]) => [key, ordered(inner, unread, depth + 1)]),
  );
}

/**
 * Everything that the numbers of {@link runBase} go by, as one text: two machines with one text have one run. Left out
 * are names of things, notes, colours, variants, leads, marked poses, clearances, solids that belong to no body, and what sizes motors.
 */
export function runInput(machine: Machine, { seed, friction, sensorDelay, step }: CycleOptions = {}): string {
  const parts = Object.entries(machine)
    .filter(([key]) => !UNREAD_OF_MACHINE.has(key))
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([key, value]) => {
      const axes = key === 'axes';
      const unread = NAMED.has(key)
        ? (inner: string, depth: number) => axes && depth === 1 && UNREAD_OF_AXIS.has(inner)
        : (inner: string, depth: number) =>
            inner === 'name' || (key === 'mechanism' && depth === 0 && inner === 'shapes');
      return [key, ordered(value, unread)];
    });
  return JSON.stringify([parts, [seed, friction, sensorDelay, step].map((value) => value ?? null)]);
}

/** What rotors go by beside it, as one text: the motors chosen, and how their axes are sized. */
export function rotorInput(machine: Machine, motors: readonly Motor[]): string {
  const chosen = machine.axes.flatMap(({ id, sizing }) => {
    const motor = motors.find(({ type }) => type === sizing.motor);
    return motor ? [[id, ordered(sizing, () => false), ordered(motor, () => false)]] : [];
  });
  return JSON.stringify(chosen);
}

/**
 * Everything that a result goes by, as one text: a result is kept by the hash of it.
 * @param release the computation as it is: what another one found is not taken for what this one would find
 */
export const resultInput = (
  release: string,
  machine: Machine,
  motors: readonly Motor[],
  draw: CycleOptions = {},
): string => [release, runInput(machine, draw), rotorInput(machine, motors)].join('\n');

/** Whether a result can be kept for another time: what was found in it holds no sentences, in which names might stand. */
export function isKeepable({ run }: Pick<MachineRun, 'run'>): boolean {
  const all = [...run.findings, ...(run.mechanism?.findings ?? []), ...run.axes.flatMap(({ findings }) => findings)];
  return all.every((finding) => !('text' in finding));
}
