import Papa from 'papaparse';

/** A CSV file that cannot be read; the message names the place and what to do. */
export class CsvError extends Error {
  override name = 'CsvError';
}

/** A table read from CSV: its header and its rows, blank lines left out. */
export interface CsvTable {
  header: string[];
  rows: string[][];
}

/** Largest CSV text that is read, in characters; most columns; longest heading. */
export const CSV_MOST = 20_000_000;
const MOST_COLUMNS = 1000;
const LONGEST_HEADING = 200;

/**
 * Cells that a spreadsheet would take for a formula, numbers left out: they are written with an apostrophe before
 * them, as text. Cells that begin with apostrophes before such a sign get one more, so that reading takes one away.
 */
const FORMULA = /^'*[=+\-@\t\r]/;
const NUMBER = /^[+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:e[+-]?\d+)?$/i;

const asText = (cell: string | number): string | number =>
  typeof cell === 'string' && FORMULA.test(cell) && !NUMBER.test(cell) ? `'${cell}` : cell;
const fromText = (cell: string): string => (cell.startsWith("'") && FORMULA.test(cell) ? cell.slice(1) : cell);

/**
 * Reads CSV text with a header row; the separator (comma, semicolon, tab) is found from the text.
 * @throws CsvError where there is no header, a row has more cells than the header, or the text is larger than is read
 */
export function readCsv(text: string): CsvTable {
  if (text.length > CSV_MOST)
    throw new CsvError(
      `The file is larger than ${CSV_MOST / 1e6} MB (${Math.ceil(text.length / 1e6)} MB): leave out what is not needed, or thin the rows.`,
    );
  const parsed = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), {
    skipEmptyLines: 'greedy',
    delimitersToGuess: [',', ';', '\t'],
  });
  const quotes = parsed.errors.find((error) => error.type === 'Quotes');
  if (quotes) throw new CsvError(`Row ${(quotes.row ?? 0) + 1}: a quotation mark is not closed.`);
  const [header, ...rows] = parsed.data.map((cells) => cells.map((cell) => fromText(cell.trim())));
  if (!header || header.every((cell) => cell === '')) throw new CsvError('The file is empty: a header row is needed.');
  if (header.length > MOST_COLUMNS)
    throw new CsvError(`The header names ${header.length} columns; ${MOST_COLUMNS} are read at most.`);
  const long = header.find((cell) => cell.length > LONGEST_HEADING);
  if (long !== undefined)
    throw new CsvError(
      `A heading has ${long.length} characters (“${long.slice(0, 30)}…”); ${LONGEST_HEADING} are read at most: is this a table?`,
    );
  rows.forEach((row, i) => {
    if (row.length > header.length)
      throw new CsvError(
        `Row ${i + 2} has ${row.length} cells, but the header names ${header.length} columns; a decimal comma may have split a number.`,
      );
  });
  return { header, rows };
}

/** Writes rows as CSV with a final line end; text that a spreadsheet would carry out as a formula is marked as text. */
export function writeCsv(header: readonly string[], rows: readonly (readonly (string | number)[])[]): string {
  const data = rows.map((row) => row.map(asText));
  return `${Papa.unparse({ fields: header.map((cell) => String(asText(cell))), data }, { newline: '\n' })}\n`;
}

/** Splits a column heading such as `torque [N m]` into its name and unit. */
export function splitHeading(heading: string): { name: string; unit: string } {
  const text = heading.trim();
  if (!text.endsWith(']')) return { name: text.toLowerCase(), unit: '' };
  const open = text.indexOf('[', text.lastIndexOf(']', text.length - 2) + 1);
  if (open < 0) return { name: text.toLowerCase(), unit: '' };
  return { name: text.slice(0, open).trim().toLowerCase(), unit: text.slice(open + 1, -1).trim() };
}

/** Joins a name and a unit into a column heading. */
export function heading(name: string, unit: string): string {
  return unit === '' ? name : `${name} [${unit}]`;
}
