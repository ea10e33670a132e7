import { readDxf, readSvg, Scatter } from '@yoke/core';
import { readCatalogue, readForceTable, readMachineText, readRawTable } from '@yoke/core';

const dxf = (...pairs: (string | number)[]) =>
  [0, 'SECTION', 2, 'ENTITIES', ...pairs, 0, 'ENDSEC', 0, 'EOF', ''].join('\n');

const polyline = dxf(0, 'POLYLINE', 8, 'p', 70, 1, 0, 'VERTEX', 10, 0, 20, 0, 42, 1, 0, 'VERTEX', 10, 1, 20, 2, 0, 'SEQEND'); // prettier-ignore
/** The other sections of a DXF file, each with a little in it. */
const sections = [
  0, 'SECTION', 2, 'HEADER', 9, '$INSUNITS', 70, 4, 9, '$EXTMIN', 10, 0, 20, 0, 30, 0, 0, 'ENDSEC',
  0, 'SECTION', 2, 'TABLES', 0, 'TABLE', 2, 'LAYER', 70, 1, 0, 'LAYER', 2, 'a', 70, 0, 62, 7, 6, 'CONTINUOUS', 0, 'ENDTAB', 0, 'ENDSEC',
  0, 'SECTION', 2, 'BLOCKS', 0, 'BLOCK', 8, '0', 2, 'b', 70, 0, 10, 0, 20, 0, 3, 'b', 0, 'LINE', 8, '0', 10, 0, 20, 0, 11, 1, 21, 1, 0, 'ENDBLK', 8, '0', 0, 'ENDSEC',
].join('\n') + '\n' + polyline; // prettier-ignore

/** Files as they should be; what is done to them makes them hostile. */
const FILES: [string, (text: string) => unknown][] = [
  [dxf(0, 'LINE', 8, 'a', 10, 0, 20, 0, 11, 1, 21, 1, 0, 'ARC', 8, 'a', 10, 0, 20, 0, 40, 3, 50, 0, 51, 90), readDxf],
  [dxf(0, 'LWPOLYLINE', 8, '0', 90, 3, 70, 1, 10, 0, 20, 0, 42, 1, 10, 5, 20, 0, 42, -0.5, 10, 5, 20, 5), readDxf],
  [
    dxf(
      0,
      'SPLINE',
      8,
      '0',
      70,
      8,
      71,
      3,
      72,
      8,
      73,
      4,
      ...[0, 0, 0, 0, 1, 1, 1, 1].flatMap((k) => [40, k]),
      ...[0, 1, 2, 3].flatMap((p) => [10, p, 20, p % 2]),
    ),
    readDxf,
  ],
  [polyline, readDxf],
  [sections, readDxf],
  ['<svg><g id="a" transform="rotate(30)"><path d="M0 0 L10 0 A5 5 0 0 1 10 10 C3 3 2 2 1 1 Z"/></g></svg>', readSvg],
  ['<svg><rect width="4" height="2"/><circle r="3"/><polygon points="0,0 1,1 2,0"/></svg>', readSvg],
  ['t [s],force [N]\n0,1\n0.5,2\n1,1\n', (text) => readForceTable(text, 'linear', 'metric')],
  ['t;position\n0;0\n0,5;10\n1;0\n', (text) => readRawTable(text)],
  ['type,family,rated torque [N m]\nA,B,1\n', readCatalogue],
  ['{"format":"yoke-machine","version":4,"name":"x"}', (text) => { const read = readMachineText(text); if (!read.ok) throw new RangeError('refused'); }], // prettier-ignore
];
/** Pieces that make trouble where they stand. */
const PIECES = [
  '1e9',
  '-1e308',
  'NaN',
  '1e-320',
  '',
  ' '.repeat(3000),
  '['.repeat(3000),
  '<g>'.repeat(150),
  '\u0000',
  '"',
  '0\nLINE\n',
  'M0 0',
  'A1e9 1e9 0 0 1 1 1',
  'L1 1'.repeat(500),
];
/** Errors that say in words what is wrong with a file. */
const WORDS = new Set(['OutlineError', 'CsvError', 'RangeError']);

/** What a row of hostile files came to. */
export interface ImportReport {
  refused: number;
  read: number;
  wrong: { seed: number; text: string }[];
}

/** Reads files with pieces put in, taken out and doubled, by their seeds: refused in words or read, and nothing else. */
export function hostileImports(from: number, count: number): ImportReport {
  const report: ImportReport = { refused: 0, read: 0, wrong: [] };
  for (let seed = from; seed < from + count; seed++) {
    const scatter = new Scatter(seed);
    const pick = <T>(list: readonly T[]): T => list[Math.floor(scatter.uniform() * list.length)]!;
    const [file, read] = pick(FILES);
    let text = file;
    for (let n = 1 + Math.floor(scatter.uniform() * 4); n > 0; n--) {
      const at = Math.floor(scatter.uniform() * text.length);
      const die = scatter.uniform();
      if (die < 0.5) text = text.slice(0, at) + pick(PIECES) + text.slice(at + Math.floor(scatter.uniform() * 6));
      else if (die < 0.75) text = text.slice(0, at) + text.slice(at + Math.floor(scatter.uniform() * 30));
      else text += text.slice(at);
    }
    try {
      const result = JSON.stringify(read(text)) ?? '';
      if (/null,null|\[null/.test(result)) throw new Error('A place that is no number.');
      report.read++;
    } catch (error) {
      const { name, message, stack } = error as Error;
      if (WORDS.has(name) && message.trim() !== '' && !/undefined/.test(message)) report.refused++;
      else
        report.wrong.push({ seed, text: `${name}: ${message.slice(0, 200)} ${stack?.split('\n')[1]?.trim() ?? ''}` });
    }
  }
  return report;
}
