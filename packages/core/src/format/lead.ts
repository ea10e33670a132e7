import type { Machine } from '../machine';
import { displayUnit, toDisplay, type QuantityKind } from '../quantity';
import type { LeadSamples } from '../run';
import { heading, writeCsv } from './csv';

const COLUMNS = [
  ['arc', 'length along the path', 'length'],
  ['speed', 'speed', 'velocity'],
  ['tangential', 'acceleration along', 'acceleration'],
  ['normal', 'acceleration across', 'acceleration'],
  ['total', 'acceleration', 'acceleration'],
] as const satisfies readonly (readonly [keyof LeadSamples, string, QuantityKind])[];

/** What a tool point does along its path as CSV, in the machine's display units; curvature per display unit of length. */
export function leadCsv(samples: LeadSamples, { units }: Pick<Machine, 'units'>): string {
  const length = displayUnit('length', units);
  const rows = Array.from(samples.times, (time, k) => [
    Number(time.toPrecision(12)),
    ...COLUMNS.map(([id, , kind]) => Number(toDisplay(samples[id][k]!, kind, units).toPrecision(10))),
    Number((samples.curvature[k]! * length.factor).toPrecision(10)),
  ]);
  return writeCsv(
    [
      heading('t', 's'),
      ...COLUMNS.map(([, name, kind]) => heading(name, displayUnit(kind, units).symbol)),
      heading('curvature', `1/${length.symbol}`),
    ],
    rows,
  );
}
