import fc from 'fast-check';
import { polygonArea } from '../geometry';
import { OutlineError, readDxf, readSvg, writeDxf } from './index';

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

describe('hostile drawings', () => {
  const line = (x1: number, y1: number, x2: number, y2: number) =>
    pairs(0, 'LINE', 8, '0', 10, x1, 20, y1, 11, x2, 21, y2);

  test('lines that lie apart, and lines that all meet in one point, are joined in one pass', () => {
    const apart = readDxf(dxf(...Array.from({ length: 50_000 }, (_, i) => line(3 * i, 0, 3 * i + 1, 1))));
    expect(apart.outlines).toHaveLength(50_000);
    const star = readDxf(dxf(...Array.from({ length: 20_000 }, (_, i) => line(0, 0, 1000 + i, 1000 - i))));
    expect(star.outlines.every(({ points }) => points.length >= 2)).toBe(true);
  });

  test('a ring cut into pieces in any order and sense comes back whole (property)', () => {
    fc.assert(
      fc.property(fc.integer({ min: 4, max: 60 }), fc.integer(), (n, seed) => {
        const at = (i: number) => [Math.cos((2 * Math.PI * i) / n) * 100, Math.sin((2 * Math.PI * i) / n) * 100];
        const pieces = Array.from({ length: n }, (_, i) => {
          const [a, b] = [at(i), at((i + 1) % n)];
          return ((seed >> (i % 30)) & 1) === 1 ? line(b[0]!, b[1]!, a[0]!, a[1]!) : line(a[0]!, a[1]!, b[0]!, b[1]!);
        }).sort((a, b) => ((a.length * 7 + seed) % 13) - ((b.length * 7 + seed) % 13));
        const { outlines } = readDxf(dxf(...pieces));
        expect(outlines).toHaveLength(1);
        expect(outlines[0]!.closed).toBe(true);
        expect(polygonArea(outlines[0]!.points).area).toBeCloseTo((n / 2) * 1e4 * Math.sin((2 * Math.PI) / n), 3);
      }),
    );
  });

  test('an arc of a billion turns is an arc of one at most', () => {
    const arc = pairs(0, 'ARC', 8, '0', 10, 0, 20, 0, 40, 1e9, 50, 0, 51, 1e9);
    expect(readDxf(dxf(arc)).outlines[0]!.points.length).toBeLessThan(100);
  });

  test('bulges between coinciding corners and flat bulges make no number that is none', () => {
    const vertex = (x: number, y: number, bulge: number) => pairs(10, x, 20, y, 42, bulge);
    const text = dxf(
      pairs(0, 'LWPOLYLINE', 8, '0', 90, 4, 70, 1),
      vertex(0, 0, 1),
      vertex(0, 0, 1e-300),
      vertex(10, 0, 1e9),
      vertex(10, 10, 0),
    );
    for (const [x, y] of readDxf(text).outlines[0]!.points) expect([x, y].every(Number.isFinite)).toBe(true);
  });

  test('tables, blocks and headers that are torn are never looked at; the unit and other entities are', () => {
    const torn = pairs(0, 'SECTION', 2, 'TABLES', 0, 'TABLE', 2, 'LAYER', 0, 'VPORT', 0, 'ENDSEC');
    const header = pairs(0, 'SECTION', 2, 'HEADER', 9, '$INSUNITS', 70, 6, 20, 1, 0, 'ENDSEC');
    const text = `${header}\n${torn}\n${dxf(line(0, 0, 1, 1), pairs(0, 'INSERT', 2, 'b', 66, 1, 0, 'ATTRIB', 1, 'x', 0, 'SEQEND'))}`;
    expect(readDxf(text)).toMatchObject({
      unit: 1000,
      ignored: [
        { what: 'ATTRIB', count: 1 },
        { what: 'INSERT without its block', count: 1 },
      ],
    });
    expect(() => readDxf(text.replace('EOF', 'ENDSEC'))).toThrow('it breaks off before its end');
  });

  test('polylines that lack a y, an end or what they claim are read once and counted, and nothing goes round for ever', () => {
    const light = (...groups: (string | number)[]) => pairs(0, 'LWPOLYLINE', 8, '0', 90, 3, 70, 1, ...groups);
    const torn = light(10, 0, 20, 0, 42, 1, 10, 5, 22, -0.5, 10, 5, 20, 5);
    expect(readDxf(dxf(torn, line(0, 0, 1, 1)))).toMatchObject({
      ignored: [{ what: 'LWPOLYLINE without a place', count: 1 }],
    });
    const endless = pairs(0, 'POLYLINE', 8, 'p', 70, 1, ...[0, 1, 2].flatMap((x) => [0, 'VERTEX', 10, x, 20, x * x]));
    const { outlines } = readDxf(dxf(endless, line(9, 9, 10, 10)));
    expect(outlines.map(({ points, layer }) => [layer, points.length])).toEqual([
      ['p', 3],
      ['0', 2],
    ]);
    const half = pairs(0, 'LINE', 8, '0', 11, 1, 21, 1);
    expect(readDxf(dxf(half, line(0, 0, 1, 1))).ignored).toEqual([{ what: 'LINE', count: 1 }]);
    const bare = [light(), light(10, 7, 20, 7)];
    const arc = pairs(0, 'ARC', 8, '0', 10, 0, 20, 0, 40, 3, 50, 0, 51, 'nowhere');
    const few = readDxf(dxf(...bare, arc, line(0, 0, 1, 1)));
    expect([few.outlines.length, few.ignored]).toEqual([
      1,
      [
        { what: 'LWPOLYLINE', count: 2 },
        { what: 'ARC without a place', count: 1 },
      ],
    ]);
    const boast = pairs(0, 'LWPOLYLINE', 8, '0', 90, 1e9, 70, 0, 10, 0, 20, 0, 10, 1, 20, 0);
    expect(readDxf(dxf(boast)).outlines[0]!.points).toEqual([[0, 0], [1, 0]]); // prettier-ignore
  });

  test('a spline of degree 1000, and one without enough knots, are counted as not understood', () => {
    const spline = (degree: number, knots: number) =>
      pairs(
        0, 'SPLINE', 8, '0', 70, 8, 71, degree, 72, knots, 73, 4,
        ...Array.from({ length: knots }, (_, i) => pairs(40, i)),
        ...[0, 1, 2, 3].map((i) => pairs(10, i, 20, i % 2)),
      ); // prettier-ignore
    const { ignored, outlines } = readDxf(dxf(spline(1000, 1005), spline(3, 4), line(0, 0, 1, 1)));
    expect([ignored, outlines.length]).toEqual([[{ what: 'SPLINE', count: 2 }], 1]);
  });

  test('a polyline of a million corners, and a file beyond the limit, are refused with the bound', () => {
    const corners = `M0 0${'L1 1L2 0'.repeat(300_000)}`;
    expect(() => readSvg(`<svg><path d="${corners}"/></svg>`)).toThrow(/more than 200,000 lines or 500,000 points/);
    expect(() => readDxf(' '.repeat(31_000_000))).toThrow('The drawing has 31 MB; 30 MB are read at most');
  });

  test('groups nested without end are refused', () => {
    const deep = `${'<g>'.repeat(80)}<path d="M0 0L1 1"/>${'</g>'.repeat(80)}`;
    expect(() => readSvg(`<svg>${deep}</svg>`)).toThrow(/nests more than 60 groups/);
    const deeper = `${'<g>'.repeat(100_000)}${'</g>'.repeat(100_000)}`;
    expect(() => readSvg(`<svg>${deeper}</svg>`)).toThrow(OutlineError);
  });

  test('20,000 lines of SVG are joined in one pass, with progress', () => {
    const shares: number[] = [];
    const lines = Array.from({ length: 20_000 }, (_, i) => `<line x1="${i}" y1="0" x2="${i}" y2="5"/>`).join('');
    expect(readSvg(`<svg>${lines}</svg>`, (share) => shares.push(share)).outlines).toHaveLength(20_000);
    expect(shares.length).toBeGreaterThan(5);
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
  });
});
