import { AXIS_KINDS, displayUnit, parseQuantity, type AxisKind, type UnitSystem } from '../quantity';
import { CsvError, heading, readCsv, splitHeading, writeCsv } from './csv';

/** Pairs of time in s and force in N or torque in N·m. */
export type ForceTable = [number, number][];

/**
 * Reads a force (or torque) over cycle time from CSV with two columns, for example `t [s],force [N]`.
 * Units in the header count; without them the display units are taken.
 * @throws CsvError naming the row and column at fault
 */
export function readForceTable(text: string, axis: AxisKind, system: UnitSystem): ForceTable {
  const { header, rows } = readCsv(text);
  if (header.length < 2) throw new CsvError('Two columns are needed: time and force, for example “t [s],force [N]”.');
  const units = [splitHeading(header[0]!).unit, splitHeading(header[1]!).unit];
  const kinds = ['time', AXIS_KINDS[axis].effort] as const;
  const table = rows.map((row, i): [number, number] => {
    const cell = (column: 0 | 1) => {
      const parsed = parseQuantity(`${row[column] ?? ''} ${units[column]}`, kinds[column], system);
      if (!parsed.ok) throw new CsvError(`Row ${i + 2}, column “${header[column]}”: ${parsed.message}`);
      return parsed.value;
    };
    return [cell(0), cell(1)];
  });
  if (table.length < 2) throw new CsvError('At least two rows are needed below the header.');
  table.forEach(([time], i) => {
    if (time < 0) throw new CsvError(`Row ${i + 2}: the time must not be negative.`);
    if (i > 0 && time < table[i - 1]![0])
      throw new CsvError(`Row ${i + 2}: its time lies before that of the row above; sort the rows by time.`);
  });
  return table;
}

/** Writes a force table as CSV that {@link readForceTable} reads back. */
export function writeForceTable(table: Readonly<ForceTable>, axis: AxisKind, system: UnitSystem): string {
  const kind = AXIS_KINDS[axis].effort;
  const { symbol, factor } = displayUnit(kind, system);
  return writeCsv(
    [heading('t', 's'), heading(kind, symbol)],
    table.map(([time, force]) => [time, force / factor]),
  );
}
