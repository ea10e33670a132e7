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

/**
 * Reads CSV text with a header row; the separator (comma, semicolon, tab) is found from the text.
 * @throws CsvError where there is no header, or a row has more cells than the header
 */
export function readCsv(text: string): CsvTable {
  const parsed = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), {
    skipEmptyLines: 'greedy',
    delimitersToGuess: [',', ';', '\t'],
  });
  const quotes = parsed.errors.find((error) => error.type === 'Quotes');
  if (quotes) throw new CsvError(`Row ${(quotes.row ?? 0) + 1}: a quotation mark is not closed.`);
  const [header, ...rows] = parsed.data.map((cells) => cells.map((cell) => cell.trim()));
  if (!header || header.every((cell) => cell === '')) throw new CsvError('The file is empty: a header row is needed.');
  rows.forEach((row, i) => {
    if (row.length > header.length)
      throw new CsvError(
        `Row ${i + 2} has ${row.length} cells, but the header names ${header.length} columns; a decimal comma may have split a number.`,
      );
  });
  return { header, rows };
}

/** Writes rows as CSV with a final line end. */
export function writeCsv(header: readonly string[], rows: readonly (readonly (string | number)[])[]): string {
  return `${Papa.unparse({ fields: [...header], data: rows as (string | number)[][] }, { newline: '\n' })}\n`;
}

/** Splits a column heading such as `torque [N m]` into its name and unit. */
export function splitHeading(heading: string): { name: string; unit: string } {
  const match = /^(.*?)\s*(?:\[([^\]]*)\])?$/.exec(heading.trim());
  return { name: (match?.[1] ?? heading).trim().toLowerCase(), unit: (match?.[2] ?? '').trim() };
}

/** Joins a name and a unit into a column heading. */
export function heading(name: string, unit: string): string {
  return unit === '' ? name : `${name} [${unit}]`;
}
