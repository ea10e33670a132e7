import Papa from 'papaparse';
import { AXIS_KINDS, displayUnit, parseQuantity, type AxisKind, type QuantityKind, type UnitSystem } from '../quantity';
import { CSV_MOST, CsvError, heading, splitHeading, writeCsv } from './csv';

/** Signs that can part the cells of a line. */
export const SEPARATORS = [',', ';', '\t'] as const;
export type Separator = (typeof SEPARATORS)[number];

/** A table as it came, before anyone has said what its columns mean. */
export interface RawTable {
  separator: Separator;
  decimal: '.' | ',';
  /** Headings, where the first line holds any. */
  header: string[] | null;
  rows: string[][];
}

const NUMBER = {
  '.': /^[+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:e[+-]?\d+)?$/i,
  ',': /^[+-]?(?:\d+(?:,\d*)?|,\d+)(?:e[+-]?\d+)?$/i,
};

/** Rows that a motion through points may have. */
const MOST_ROWS = 20_000;

/**
 * Takes text apart into cells: a file, or cells copied from a spreadsheet. What is not given is found from the text:
 * the separator, the decimal sign, and whether the first line is a heading.
 * @throws CsvError where there is nothing to read
 */
export function readRawTable(text: string, given: Partial<Pick<RawTable, 'separator' | 'decimal'>> = {}): RawTable {
  if (text.length > CSV_MOST)
    throw new CsvError(`The table is larger than ${CSV_MOST / 1e6} MB: thin its rows, or take a part of it.`);
  const clean = text.replace(/^\uFEFF/, '');
  const separator = given.separator ?? guessSeparator(clean);
  const { data } = Papa.parse<string[]>(clean, { skipEmptyLines: 'greedy', delimiter: separator });
  const lines = data.map((cells) => cells.map((cell) => cell.trim()));
  if (lines.length === 0) throw new CsvError('There is nothing to read: paste rows of at least two columns.');
  const cells = lines.slice(1).flat();
  const decimal = given.decimal ?? (separator !== ',' && cells.some((cell) => /^[+-]?\d+,\d+$/.test(cell)) ? ',' : '.');
  const [first] = lines as [string[]];
  const named = !first.every((cell) => NUMBER[decimal].test(cell));
  const rows = named ? lines.slice(1) : lines;
  if (rows.length === 0) throw new CsvError('The table has a heading but no rows.');
  if (rows.length > MOST_ROWS)
    throw new CsvError(`The table has ${rows.length} rows; ${MOST_ROWS} are taken at most: thin them.`);
  return { separator, decimal, header: named ? first : null, rows };
}

/** The sign that parts most lines into the same number of cells, two at least. */
function guessSeparator(text: string): Separator {
  const lines = text
    .split(/\r?\n/)
    .filter((line) => line.trim() !== '')
    .slice(0, 20);
  const score = (sign: Separator) => {
    const counts = lines.map((line) => line.split(sign).length);
    const most = Math.max(...counts);
    return most < 2 ? 0 : counts.filter((count) => count === most).length;
  };
  // A tab is never part of a number; a comma may be.
  return score('\t') > 0 ? '\t' : score(';') >= score(',') && score(';') > 0 ? ';' : ',';
}

/** Which column is which, counted from 0, and the unit its numbers are in (empty: that of the heading, or as shown). */
export interface ColumnChoice {
  place: number;
  value: number;
  velocity: number | null;
  acceleration: number | null;
  units: { place: string; value: string; velocity: string; acceleration: string };
}

const FIELDS = ['place', 'value', 'velocity', 'acceleration'] as const;
type Field = (typeof FIELDS)[number];

const WORDS: Record<Field, RegExp> = {
  place: /^(t|time|master|angle|phi|zeit)\b/i,
  value: /(position|^pos|^p$|^s$|^y$|stroke|way|value)/i,
  velocity: /(velocity|^vel|^v$|speed)/i,
  acceleration: /(acceleration|^acc|^a$)/i,
};

/** Columns guessed from headings; without any, the first two. */
export function guessColumns({ header, rows }: RawTable): ColumnChoice {
  const units = { place: '', value: '', velocity: '', acceleration: '' };
  const names = header?.map((cell) => splitHeading(cell)) ?? [];
  const find = (field: Field) => names.findIndex(({ name }) => WORDS[field].test(name.split('.').at(-1)!));
  const place = Math.max(0, find('place'));
  const found = find('value');
  const value = found >= 0 ? found : place === 0 ? Math.min(1, rows[0]!.length - 1) : 0;
  const or = (field: Field) => {
    const at = find(field);
    return at >= 0 && at !== place && at !== value ? at : null;
  };
  return { place, value, velocity: or('velocity'), acceleration: or('acceleration'), units };
}

/** Kinds of the columns of a motion of an axis. */
export function columnKinds(axis: AxisKind, master: AxisKind | null): Record<Field, QuantityKind> {
  const kinds = AXIS_KINDS[axis];
  return {
    place: master === null ? 'time' : AXIS_KINDS[master].position,
    value: kinds.position,
    velocity: kinds.velocity,
    acceleration: kinds.acceleration,
  };
}

/**
 * A quantity in a cell of a table, in SI units: in the unit given, else that of its heading, else the one shown.
 * @throws CsvError naming the row and column at fault
 */
export function quantityIn(
  table: RawTable,
  row: number,
  column: number,
  kind: QuantityKind,
  system: UnitSystem,
  unit = '',
): number {
  const name = table.header?.[column] ?? `${column + 1}`;
  const where = `Row ${row + 1 + (table.header ? 1 : 0)}, column “${name}”`;
  const cell = table.rows[row]![column];
  if (cell === undefined || cell === '') throw new CsvError(`${where} is empty: fill it or delete the row.`);
  if (!NUMBER[table.decimal].test(cell))
    throw new CsvError(`${where}: “${cell}” is no number with a decimal ${table.decimal === '.' ? 'point' : 'comma'}.`);
  const known = unit || splitHeading(table.header?.[column] ?? '').unit;
  const parsed = parseQuantity(`${cell.replace(',', '.')} ${known}`, kind, system);
  if (!parsed.ok) throw new CsvError(`${where}: ${parsed.message}`);
  return parsed.value;
}

/**
 * Reads the rows of a table as motion points in SI units: place, value, and velocity and acceleration where chosen.
 * @throws CsvError naming the row and column at fault
 */
export function motionRows(
  table: RawTable,
  choice: ColumnChoice,
  kinds: Record<Field, QuantityKind>,
  system: UnitSystem,
): number[][] {
  const wanted = FIELDS.filter(
    (field) => choice[field] !== null && (field !== 'acceleration' || choice.velocity !== null),
  );
  return table.rows.map((_, i) =>
    wanted.map((field) => {
      const column = choice[field]!;
      return quantityIn(table, i, column, kinds[field], system, choice.units[field]);
    }),
  );
}

/** Writes points as CSV with units in the header; {@link readRawTable} and {@link motionRows} read them back. */
export function writeMotionRows(
  rows: readonly (readonly number[])[],
  kinds: Record<Field, QuantityKind>,
  system: UnitSystem,
): string {
  const names = {
    place: kinds.place === 'time' ? 't' : 'master',
    value: 'position',
    velocity: 'velocity',
    acceleration: 'acceleration',
  };
  const columns = FIELDS.slice(0, rows[0]?.length ?? 2);
  const units = columns.map((field) => displayUnit(kinds[field], system));
  return writeCsv(
    columns.map((field, c) => heading(names[field], units[c]!.symbol)),
    rows.map((row) => row.map((value, c) => Number((value / units[c]!.factor).toPrecision(15)))),
  );
}
