import DxfParser, { type ICircleEntity, type IEntity, type ILwpolylineEntity } from 'dxf-parser';
import type { Point2 } from '../geometry';
import { VIEWS } from '../machine';
import { ownMesh, type Mesh } from '../solid';
import { readDxf, writeView } from './index';

const outline: Point2[] = [[0, 0], [0.3, 0], [0.3, 0.2], [0, 0.2]]; // prettier-ignore
const ring = Array.from({ length: 48 }, (_, i): Point2 => {
  const angle = (-2 * Math.PI * i) / 48;
  return [0.15 + 0.03 * Math.cos(angle), 0.1 + 0.03 * Math.sin(angle)];
});
const plate = { name: 'Plate', mesh: ownMesh({ kind: 'plate', outline, holes: [ring], thickness: 0.02 }, 1e-4) };
const block = ownMesh({ kind: 'box', size: [0.1, 0.1, 0.1] }, 1e-4);
const behind: Mesh = { ...block, points: block.points.map((own, i) => own + [0.2, 0.2, -0.3][i % 3]!) };

/** What another reader finds in a drawing. */
function readBack(text: string) {
  const { entities, tables, header } = new DxfParser().parseSync(text)!;
  return { entities, types: tables.lineType.lineTypes, unit: header.$INSUNITS };
}
const isCircle = (entity: IEntity): entity is ICircleEntity => entity.type === 'CIRCLE';
const isLine = (entity: IEntity): entity is ILwpolylineEntity => entity.type === 'LWPOLYLINE';

/** The line type of a layer, which that reader passes over: group 6 of its record in the table (DXF reference). */
function lineTypeOf(text: string, name: string): string | undefined {
  const lines = text.split(/\r?\n/).map((line) => line.trim());
  const groups = Array.from({ length: Math.floor(lines.length / 2) }, (_, i) => [lines[2 * i]!, lines[2 * i + 1]!]);
  const starts = groups.flatMap(([code, value], i) => (code === '0' && value === 'LAYER' ? [i] : []));
  for (const start of starts) {
    const end = groups.findIndex(([code], i) => i > start && code === '0');
    const own = groups.slice(start, end);
    if (own.some(([code, value]) => code === '2' && value === name)) return own.find(([code]) => code === '6')?.[1];
  }
  return undefined;
}

test('a view is read back by a second reader: outline, hole as a circle, in millimetres', () => {
  const { text, lines, hidden } = writeView([plate], VIEWS.front.axes, true);
  expect({ lines, hidden }).toEqual({ lines: 2, hidden: 0 });
  const { entities, unit } = readBack(text);
  expect(unit).toBe(4);
  const circle = entities.find(isCircle)!;
  expect(circle).toMatchObject({ layer: 'Plate', radius: expect.closeTo(30, 6) as number });
  expect(circle.center).toMatchObject({ x: expect.closeTo(150, 6) as number, y: expect.closeTo(100, 6) as number });
  const rim = entities.find(isLine)!;
  expect(rim.shape).toBe(true);
  const xs = rim.vertices.map(({ x }) => x).sort((a, b) => a - b);
  [0, 0, 300, 300].forEach((x, i) => expect(xs[i]).toBeCloseTo(x, 6));
});

test('hidden lines are dashed, on layers of their own, or left out', () => {
  const solids = [plate, { name: 'Block', mesh: behind }];
  const dashed = writeView(solids, VIEWS.front.axes, true);
  expect(dashed.hidden).toBe(1);
  const { entities, types } = readBack(dashed.text);
  const hidden = entities.filter(isLine).filter(({ layer }) => layer === 'Block hidden');
  expect(hidden).toHaveLength(1);
  // A corner of the block is behind the plate: two of its sides, half of each (0.15 to 0.25, seen from 0.3 and 0.2).
  const [a, b, c] = hidden[0]!.vertices;
  const ends = [a!, b!, c!].map(({ x, y }) => [Math.round(x), Math.round(y)]);
  expect(ends).toContainEqual([150, 150]);
  expect(ends).toContainEqual([150, 200]);
  expect(ends).toContainEqual([250, 150]);
  expect(lineTypeOf(dashed.text, 'Block hidden')).toBe('DASHED');
  expect(lineTypeOf(dashed.text, 'Block')).toBe('CONTINUOUS');
  expect(types.DASHED!.pattern.map(Number)).toEqual([6, -1.5]);
  const without = writeView(solids, VIEWS.front.axes, false);
  expect(without.hidden).toBe(0);
  expect(without.lines).toBe(dashed.lines - 1);
  expect(readBack(without.text).entities.map(({ layer }) => layer)).not.toContain('Block hidden');
});

test('our own reader has it as outlines again', () => {
  const { outlines, unit } = readDxf(writeView([plate], VIEWS.front.axes, false).text);
  expect(unit).toBe(1);
  expect(outlines.map(({ closed }) => closed)).toEqual([true, true]);
});
