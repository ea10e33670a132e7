import { polygonArea } from '../geometry';
import { OutlineError, readDxf, readSvg, writeDxf } from './outline';

const pairs = (...values: (string | number)[]) => values.join('\n');
const dxf = (...entities: string[]) => pairs(0, 'SECTION', 2, 'ENTITIES', ...entities, 0, 'ENDSEC', 0, 'EOF', '');

describe('DXF', () => {
  test('four lines that meet become one closed outline, whatever their order and sense', () => {
    const line = (x1: number, y1: number, x2: number, y2: number) =>
      pairs(0, 'LINE', 8, 'plate', 10, x1, 20, y1, 11, x2, 21, y2);
    const { outlines, layers } = readDxf(
      dxf(line(0, 0, 10, 0), line(0, 5, 0, 0), line(10, 0, 10, 5), line(0, 5, 10, 5)),
    );
    expect(layers).toEqual(['plate']);
    expect(outlines).toHaveLength(1);
    expect(outlines[0]!.closed).toBe(true);
    expect(polygonArea(outlines[0]!.points).area).toBeCloseTo(50, 9);
  });

  test('a polyline with bulges is a slot with round ends (bulge 1 is a half circle, DXF reference)', () => {
    const vertex = (x: number, y: number, bulge: number) => pairs(10, x, 20, y, 42, bulge);
    const text = dxf(
      pairs(0, 'LWPOLYLINE', 8, '0', 90, 4, 70, 1),
      vertex(0, 0, 0),
      vertex(10, 0, 1),
      vertex(10, 4, 0),
      vertex(0, 4, 1),
    );
    const [outline] = readDxf(text).outlines;
    expect(polygonArea(outline!.points).area / (40 + Math.PI * 4)).toBeCloseTo(1, 3);
  });

  test('circles and arcs; what is not understood is counted', () => {
    const text = dxf(
      pairs(0, 'CIRCLE', 8, 'holes', 10, 1, 20, 2, 40, 3),
      pairs(0, 'TEXT', 8, '0', 1, 'a note', 10, 0, 20, 0, 40, 1),
      pairs(0, 'TEXT', 8, '0', 1, 'another', 10, 0, 20, 0, 40, 1),
    );
    const { outlines, ignored } = readDxf(text);
    expect(polygonArea(outlines[0]!.points).area / (9 * Math.PI)).toBeCloseTo(1, 2);
    expect(ignored).toEqual([{ what: 'TEXT', count: 2 }]);
  });

  test('what is written is read back: places in mm, layer, unit', () => {
    const points: [number, number][] = [[0, 0], [0.1, 0], [0.1, 0.05]]; // prettier-ignore
    const { outlines, unit } = readDxf(writeDxf([{ layer: 'trace', closed: true, points }]));
    expect(unit).toBe(1);
    expect(outlines[0]).toMatchObject({ layer: 'trace', closed: true });
    expect(outlines[0]!.points).toEqual([[0, 0], [100, 0], [100, 50]]); // prettier-ignore
  });

  test.each([['nothing'], ['0\nSECTION\n2\nENTITIES\n0\nENDSEC\n0\nEOF\n']])(
    'text without outlines is refused in words',
    (text) => {
      expect(() => readDxf(text)).toThrow(OutlineError);
    },
  );
});

describe('SVG', () => {
  test('shapes with their transforms, y turned upwards; groups are layers', () => {
    const { outlines, layers, ignored } = readSvg(`<?xml version="1.0"?>
      <svg xmlns="http://www.w3.org/2000/svg"><title>t</title>
        <g id="body" transform="translate(10,0)"><rect x="0" y="0" width="4" height="2"/></g>
        <g id="holes"><circle cx="1" cy="1" r="0.5"/><text x="0" y="0">note</text></g>
      </svg>`);
    expect(layers.sort()).toEqual(['body', 'holes']);
    const rect = outlines.find(({ layer }) => layer === 'body')!;
    expect(polygonArea(rect.points)).toMatchObject({ area: 8 });
    expect(polygonArea(rect.points).centre).toEqual([12, -1]);
    expect(polygonArea(outlines.find(({ layer }) => layer === 'holes')!.points).area / (Math.PI / 4)).toBeCloseTo(1, 2);
    expect(ignored).toEqual([{ what: 'text', count: 1 }]);
  });

  test('curves of a path: a quarter by cubic, an arc, a quadratic', () => {
    const { outlines } = readSvg('<svg><path d="M0 0 C0 5 0 5 5 5 A5 5 0 0 1 10 10 Q5 5 0 10 Z"/></svg>');
    expect(outlines[0]!.closed).toBe(true);
    expect(outlines[0]!.points.length).toBeGreaterThan(40);
  });

  test('text that is no SVG is refused', () => {
    expect(() => readSvg('<p>no</p>')).toThrow('no svg element');
  });
});
