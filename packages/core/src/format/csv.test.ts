import fc from 'fast-check';
import Papa from 'papaparse';
import { CsvError, readCsv, splitHeading, writeCsv } from './csv';

test('text that a spreadsheet would carry out is written as text, and read back as it was', () => {
  const cells = ['=1+1', '+cmd', '-2+3', '@sum', "'=quoted", "''=twice", 'plain', '-', "it's"];
  const csv = writeCsv(
    ['=head', 'b'],
    cells.map((cell) => [cell, 1]),
  );
  const raw = Papa.parse<string[]>(csv, { skipEmptyLines: true }).data.flat();
  expect(raw.filter((cell) => /^[=+\-@\t\r]/.test(cell))).toEqual([]);
  const { header, rows } = readCsv(csv);
  expect(header).toEqual(['=head', 'b']);
  expect(rows.map(([cell]) => cell)).toEqual(cells);
});

test('numbers stay numbers, negative ones too', () => {
  expect(writeCsv(['a'], [[-1.5], ['-2'], ['+3e-4'], ['-.5']])).toBe('a\n-1.5\n-2\n+3e-4\n-.5\n');
});

test('whatever is written is read back (property)', () => {
  const cell = fc.string({ unit: 'grapheme' }).map((text) => text.trim());
  fc.assert(
    fc.property(fc.array(fc.tuple(cell, cell), { minLength: 1 }), (rows) => {
      const whole = rows.map((row) => ['x', ...row]);
      expect(readCsv(writeCsv(['n', 'a', 'b'], whole)).rows).toEqual(whole);
    }),
  );
});

test.each([
  ['torque [N m]', 'torque', 'N m'],
  ['  Rated torque  [N m] ', 'rated torque', 'N m'],
  ['type', 'type', ''],
  ['a [b] [c]', 'a [b]', 'c'],
  ['a [b', 'a [b', ''],
  ['[s]', '', 's'],
  ['a]', 'a]', ''],
])('the heading %j is taken apart', (text, name, unit) => expect(splitHeading(text)).toEqual({ name, unit }));

test.each([
  ['brackets', '['.repeat(1_000_000)],
  ['spaces', `a${' '.repeat(1_000_000)}b`],
  ['closing brackets', ']'.repeat(1_000_000)],
  ['pairs', '[ ]'.repeat(300_000)],
])('a heading of a million %s is taken apart in one pass, and refused as a heading', (_, text) => {
  expect(splitHeading(text).name.length).toBeLessThanOrEqual(text.length);
  expect(() => readCsv(`${text}\n1`)).toThrow(/200 are read at most/);
});

test('sizes beyond what is read are refused with the size', () => {
  expect(() => readCsv('a\n'.repeat(11_000_000))).toThrow(
    new CsvError('The file is larger than 20 MB (22 MB): leave out what is not needed, or thin the rows.'),
  );
  expect(() => readCsv('a,'.repeat(2000))).toThrow(/names 2001 columns; 1000 are read/);
});
