import { widthsOf, type CycleRecord } from '../cycle';
import type { Machine } from '../machine';
import { displayUnit, toDisplay } from '../quantity';
import { heading, writeCsv } from './csv';

/** Figures that a part's place has: it is kept in single precision. */
const DIGITS = 7;

/**
 * The ways of all loose parts as CSV, frame by frame in the machine's display units: `t [s],part,kind,x [mm],…`; in space with z
 * and the turn as a unit quaternion.
 */
export function partsCsv({ parts, fates }: Pick<CycleRecord, 'parts' | 'fates'>, machine: Machine): string {
  const length = displayUnit('length', machine.units).symbol;
  const width = widthsOf(parts).part;
  const stands = parts.space ? [heading('z', length), 'qw', 'qx', 'qy', 'qz'] : [heading('angle', '°')];
  const header = [heading('t', 's'), 'part', 'kind', heading('x', length), heading('y', length), ...stands];
  const written = (value: number) => Number(value.toPrecision(DIGITS));
  const place = (value: number) => written(toDisplay(value, 'length', machine.units));
  const nameOf = new Map(machine.loose.kinds.map(({ id, name }) => [id, name]));
  const rows: (string | number)[][] = [];
  parts.times.forEach((time, frame) => {
    for (let at = parts.starts[frame]!; at < parts.starts[frame + 1]!; at += width) {
      const [number = 0, x = 0, y = 0, third = 0, ...turn] = parts.data.subarray(at, at + width);
      const kind = fates.find((fate) => fate.number === number)?.kind ?? '';
      rows.push([
        Number(time.toFixed(9)),
        number + 1,
        nameOf.get(kind) ?? kind,
        place(x),
        place(y),
        ...(parts.space ? [place(third), ...turn.map(written)] : [written((third * 180) / Math.PI)]),
      ]);
    }
  });
  return writeCsv(header, rows);
}
