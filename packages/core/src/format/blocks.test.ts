import fc from 'fast-check';
import { polygonArea } from '../geometry';
import { readDxf, readSvg, writeDxf } from './index';

const pairs = (...values: (string | number)[]) => values.join('\n');
const section = (name: string, ...entities: string[]) => pairs(0, 'SECTION', 2, name, ...entities, 0, 'ENDSEC');
/** A block whose base is at a place, with entities in it. */
const block = (name: string, base: [number, number], ...entities: string[]) =>
  pairs(0, 'BLOCK', 8, '0', 2, name, 70, 0, 10, base[0], 20, base[1], 3, name, ...entities, 0, 'ENDBLK', 8, '0');
const insert = (name: string, x: number, y: number, ...more: (string | number)[]) =>
  pairs(0, 'INSERT', 8, 'drawn', 2, name, 10, x, 20, y, ...more);
const drawing = (blocks: string[], ...entities: string[]) => pairs(section('BLOCKS', ...blocks), section('ENTITIES', ...entities), 0, 'EOF', ''); // prettier-ignore
/** A closed rectangle from a corner, 10 wide and 4 high. */
const plate = (layer = '0', x = 0, y = 0) =>
  pairs(0, 'LWPOLYLINE', 8, layer, 90, 4, 70, 1, 10, x, 20, y, 10, x + 10, 20, y, 10, x + 10, 20, y + 4, 10, x, 20, y + 4); // prettier-ignore
const corners = (text: string) => readDxf(text).outlines.map(({ points }) => points.map((p) => p.map((v) => Math.round(v * 1e9) / 1e9 || 0))); // prettier-ignore

describe('blocks of a DXF drawing (DXF reference: BLOCK, INSERT)', () => {
  test('stand where they are put, by their base, turned and stretched', () => {
    const own = block('plate', [10, 4], plate());
    expect(corners(drawing([own], insert('plate', 100, 50)))).toEqual([[[90, 46], [100, 46], [100, 50], [90, 50]]]); // prettier-ignore
    // A quarter turn about the base: what lay left of it lies below.
    expect(corners(drawing([own], insert('plate', 0, 0, 50, 90)))).toEqual([[[4, -10], [4, 0], [0, 0], [0, -10]]]); // prettier-ignore
    expect(corners(drawing([own], insert('plate', 0, 0, 41, -1, 42, 2)))).toEqual([[[10, -8], [0, -8], [0, 0], [10, 0]]]); // prettier-ignore
  });

  test('in columns and rows, the spacing turned with them', () => {
    const text = drawing(
      [block('plate', [0, 0], plate())],
      insert('plate', 0, 0, 50, 90, 70, 3, 71, 2, 44, 20, 45, 10),
    );
    const first = corners(text).map(([corner]) => corner);
    expect(first).toEqual([[0, 0], [0, 20], [0, 40], [-10, 0], [-10, 20], [-10, 40]]); // prettier-ignore
  });

  test('within each other; layer 0 takes the layer of what it is put on', () => {
    const inner = block('hole', [0, 0], plate('0'), plate('marks', 0, 20));
    const outer = block('part', [0, 0], pairs(0, 'INSERT', 8, '0', 2, 'hole', 10, 5, 20, 5));
    const { outlines } = readDxf(drawing([inner, outer], insert('part', 100, 0)));
    expect(outlines.map(({ layer, points }) => [layer, ...points[0]!])).toEqual([
      ['drawn', 105, 5],
      ['marks', 105, 25],
    ]);
  });

  test('area and sense: a mirrored one is as large as it was (property)', () => {
    const turn = fc.integer({ min: -360, max: 360 });
    const scale = fc.constantFrom(-3, -1, 0.5, 2);
    fc.assert(
      fc.property(turn, scale, scale, (angle, sx, sy) => {
        const text = drawing([block('p', [3, 1], plate())], insert('p', 7, -2, 50, angle, 41, sx, 42, sy));
        expect(Math.abs(polygonArea(readDxf(text).outlines[0]!.points).area)).toBeCloseTo(40 * Math.abs(sx * sy), 6);
      }),
    );
  });

  test('one that is missing or stands within itself is counted, and the rest is read', () => {
    const text = drawing([block('me', [0, 0], plate(), insert('me', 1, 1))], insert('me', 0, 0), insert('gone', 0, 0));
    const { outlines, ignored } = readDxf(text);
    expect(outlines).toHaveLength(1);
    expect(ignored).toEqual([
      { what: 'block within itself', count: 1 },
      { what: 'INSERT without its block', count: 1 },
    ]);
  });

  test('more of them than any drawing has are refused, not gone through', () => {
    const empty = block('none', [0, 0]);
    const many = insert('none', 0, 0, 70, 30000, 71, 30000, 44, 1, 45, 1);
    expect(() => readDxf(drawing([empty], many))).toThrow(/puts more than 100,000 blocks/);
  });

  test('columns and rows that are no numbers, or none, are one', () => {
    const text = drawing([block('p', [0, 0], plate())], insert('p', 0, 0, 70, 'x', 71, 0));
    expect(readDxf(text).outlines).toHaveLength(1);
  });

  test('a drawing whose blocks are put nowhere has nothing of them', () => {
    const { outlines } = readDxf(drawing([block('spare', [0, 0], plate())], plate('0', 50, 50)));
    expect(outlines.map(({ points }) => points[0])).toEqual([[50, 50]]);
  });
});

describe('the size of an SVG drawing (SVG: width, height and viewBox; CSS: absolute lengths)', () => {
  const unit = (attributes: string) => readSvg(`<svg ${attributes}><rect width="10" height="5"/></svg>`).unit;

  test('is that of the page over what it shows', () => {
    expect(unit('width="210mm" height="297mm" viewBox="0 0 210 297"')).toBeCloseTo(1, 12);
    expect(unit('width="10cm" height="5cm" viewBox="0 0 1000 500"')).toBeCloseTo(0.1, 12);
    expect(unit('width="2in" height="1in" viewBox="-10 -10 200, 100"')).toBeCloseTo(0.254, 12);
    expect(unit('width="72pt" viewBox="0 0 25.4 10"')).toBeCloseTo(1, 12);
  });

  test('what it shows fits into the page: the smaller scale counts', () => {
    expect(unit('width="100mm" height="100mm" viewBox="0 0 100 200"')).toBeCloseTo(0.5, 12);
  });

  test('without them, or with shares of something, a unit is a pixel: 96 to the inch', () => {
    for (const none of ['', 'width="100%" viewBox="0 0 10 10"', 'viewBox="0 0 10 10"', 'width="30mm"'])
      expect(unit(none)).toBeCloseTo(25.4 / 96, 12);
    expect(unit('width="96" height="96" viewBox="0 0 96 96"')).toBeCloseTo(25.4 / 96, 12);
  });
});

test('several lines written on one layer are all read back', () => {
  const at = (x: number): [number, number][] => [[x, 0], [x + 0.01, 0], [x, 0.01]]; // prettier-ignore
  const text = writeDxf([0, 0.1, 0.2].map((x) => ({ layer: 'cut', closed: true, points: at(x) })));
  const { outlines, layers } = readDxf(text);
  expect(layers).toEqual(['cut']);
  expect(outlines.map(({ layer, closed, points }) => [layer, closed, points.length])).toEqual(Array.from({ length: 3 }, () => ['cut', true, 3])); // prettier-ignore
  expect(outlines[0]).toEqual({ layer: 'cut', closed: true, points: expect.any(Array) });
});
