import type { UnitSystem } from '../quantity';
import { CsvError, splitHeading } from './csv';
import { quantityIn, readRawTable } from './motion-table';

/**
 * Reads places in space from a table: columns named x, y and z, or the first three; in the units of the headings, else
 * in the one shown.
 * @returns places in m
 * @throws CsvError naming the row and column at fault
 */
export function readPlaces(text: string, system: UnitSystem): [number, number, number][] {
  const table = readRawTable(text);
  const names = table.header?.map((cell) => splitHeading(cell).name.trim().toLowerCase()) ?? [];
  const named = ['x', 'y', 'z'].map((name) => names.findIndex((own) => own === name || own.endsWith(`.${name}`)));
  const columns = named.every((column) => column >= 0) ? named : [0, 1, 2];
  if (columns.some((column) => column >= table.rows[0]!.length))
    throw new CsvError('Places need three columns: x, y and z.');
  return table.rows.map(
    (_, row) => columns.map((column) => quantityIn(table, row, column, 'length', system)) as [number, number, number],
  );
}
