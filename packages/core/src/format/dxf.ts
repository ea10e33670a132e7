import DxfParser from 'dxf-parser';
import DxfWriter from 'dxf-writer';
import type { Point2, Round } from '../geometry';
import { readableDxf, type Entities, type Insert, type ReadableDxf } from './dxf-groups';
import { HeavyPolyline, LightPolyline } from './dxf-polylines';
import {
  arcPoints,
  checkSize,
  LineCollector,
  OutlineError,
  type Outline,
  type OutlineDrawing,
  type ReadProgress,
} from './outline';

/** Highest degree of a spline that is read; drawings use 3, sometimes 5. */
const MOST_DEGREE = 15;

/** Millimetres in a unit by the number that DXF files give in $INSUNITS (DXF reference). */
const DXF_UNITS: Record<number, number> = { 1: 25.4, 2: 304.8, 4: 1, 5: 10, 6: 1000 };

/** Corners of a polyline with bulges turned into arcs (bulge: tangent of a quarter of the arc's angle, DXF reference). */
function withBulges(
  vertices: readonly { x: number; y: number; bulge?: number }[],
  closed: boolean,
): [number, number][] {
  const points: [number, number][] = [];
  vertices.forEach((from, i) => {
    const to = vertices[(i + 1) % vertices.length]!;
    points.push([from.x, from.y]);
    if (!from.bulge || (!closed && i === vertices.length - 1)) return;
    const chord = Math.hypot(to.x - from.x, to.y - from.y);
    // An arc between two points that coincide has no direction, and one this flat is a line.
    if (chord === 0 || Math.abs(from.bulge) < 1e-6) return;
    const sweep = 4 * Math.atan(from.bulge);
    const radius = chord / (2 * Math.sin(Math.abs(sweep) / 2));
    const height = radius * Math.cos(Math.abs(sweep) / 2) * Math.sign(sweep);
    const cx = (from.x + to.x) / 2 - ((to.y - from.y) / chord) * height;
    const cy = (from.y + to.y) / 2 + ((to.x - from.x) / chord) * height;
    points.push(...arcPoints(cx, cy, radius, Math.atan2(from.y - cy, from.x - cx), sweep).slice(1, -1));
  });
  return points;
}

/**
 * Reads lines, arcs, circles, ellipses, polylines and splines (by their control polygon's curve) from DXF text, and the
 * blocks that are put among them.
 * @throws OutlineError where the text is no DXF or holds no outline
 */
export function readDxf(text: string, progress?: ReadProgress): OutlineDrawing {
  checkSize(text);
  const { blocks, ignored, unit, ...drawing } = readableDxf(text);
  const collector = new LineCollector();
  const own = linesOf(drawing, collector, progress && ((share) => progress(0.6 * share)));
  for (const what of ignored) collector.ignore(what);
  for (const { type, ...line } of own) collector.add(line, type);
  new BlockPutter(blocks, collector).put(drawing.inserts, [], ([x, y]) => [x, y], null);
  return collector.finish(
    DXF_UNITS[unit ?? NaN] ?? null,
    'line, arc, circle, polyline or spline',
    progress && ((share) => progress(0.6 + 0.4 * share)),
  );
}

/** A line as it stands in the file, with what it is there. */
type TypedLine = Outline & { type: string };

/** The lines of entities that stand together; what is none is counted as not understood. */
function linesOf({ text }: Entities, collector: LineCollector, progress?: ReadProgress): TypedLine[] {
  let dxf: ReturnType<DxfParser['parseSync']>;
  try {
    const parser = new DxfParser();
    parser.registerEntityHandler(LightPolyline);
    parser.registerEntityHandler(HeavyPolyline);
    dxf = parser.parseSync(text);
  } catch {
    throw new OutlineError(
      'This is no DXF drawing that can be read: it breaks off, or its groups do not follow one another as they must. Save it as ASCII DXF.',
    );
  }
  if (!dxf) throw new OutlineError('This is no DXF drawing. Save it as ASCII DXF.');
  progress?.(0.5);
  const entities = ((dxf as { entities?: unknown }).entities ?? []) as DxfEntity[];
  const lines: TypedLine[] = [];
  entities.forEach((entity, i) => {
    const points = dxfPoints(entity);
    if (points) lines.push({ layer: entity.layer ?? '0', ...points, type: entity.type });
    else collector.ignore(entity.type);
    if (i % 2000 === 0) progress?.(0.5 + (0.5 * i) / entities.length);
  });
  return lines;
}

/** How many columns or rows there are: one where the file says none, or something that is no number. */
const many = (count: number) => (count > 1 ? count : 1);
/** Blocks put within blocks that are followed at most, and blocks put in all. */
const MOST_DEPTH = 16;
const MOST_PUT = 100_000;

/** Puts the lines of blocks where they are inserted (DXF reference: INSERT, BLOCK). */
class BlockPutter {
  private readonly known = new Map<string, TypedLine[]>();
  private count = 0;

  constructor(
    private readonly blocks: ReadableDxf['blocks'],
    private readonly collector: LineCollector,
  ) {}

  /**
   * @param within names of the blocks that these stand in
   * @param place where a point of what they stand in is in the drawing
   * @param layer of what they stand in: theirs where they are on layer 0
   */
  put(
    inserts: readonly Insert[],
    within: readonly string[],
    place: (at: Point2) => [number, number],
    layer: string | null,
  ): void {
    for (const insert of inserts) {
      const block = this.blocks.get(insert.block);
      if (!block) {
        this.collector.ignore('INSERT without its block');
        continue;
      }
      if (within.includes(insert.block) || within.length >= MOST_DEPTH) {
        this.collector.ignore('block within itself');
        continue;
      }
      const own = insert.layer === '0' && layer !== null ? layer : insert.layer;
      const [c, s] = [Math.cos((insert.turn * Math.PI) / 180), Math.sin((insert.turn * Math.PI) / 180)];
      for (let row = 0; row < many(insert.rows); row++)
        for (let column = 0; column < many(insert.columns); column++) {
          if (++this.count > MOST_PUT)
            throw new OutlineError(
              `The drawing puts more than ${MOST_PUT.toLocaleString('en-GB')} blocks: save only the parts that are needed.`,
            );
          const moved = ([px, py]: Point2): [number, number] => {
            const x = insert.scaleX * (px - block.base[0]) + column * insert.columnWay;
            const y = insert.scaleY * (py - block.base[1]) + row * insert.rowWay;
            return place([insert.x + c * x - s * y, insert.y + s * x + c * y]);
          };
          for (const line of this.linesOf(insert.block, block))
            this.collector.add(
              { closed: line.closed, layer: line.layer === '0' ? own : line.layer, points: line.points.map(moved) },
              line.type,
            );
          this.put(block.inserts, [...within, insert.block], moved, own);
        }
    }
  }

  private linesOf(name: string, block: Entities): TypedLine[] {
    const known = this.known.get(name);
    if (known) return known;
    const made = linesOf(block, this.collector);
    this.known.set(name, made);
    return made;
  }
}

interface DxfEntity {
  type: string;
  layer?: string;
  vertices?: { x: number; y: number; bulge?: number }[];
  shape?: boolean;
  center?: { x: number; y: number };
  radius?: number;
  startAngle?: number;
  endAngle?: number;
  majorAxisEndPoint?: { x: number; y: number };
  axisRatio?: number;
  controlPoints?: { x: number; y: number }[];
  knotValues?: number[];
  degreeOfSplineCurve?: number;
  closed?: boolean;
}

function dxfPoints(entity: DxfEntity): Omit<Outline, 'layer'> | null {
  const { type, vertices, center, radius } = entity;
  if (type === 'LINE' && vertices && vertices.length > 1)
    return { closed: false, points: vertices.map(({ x, y }) => [x, y]) };
  if ((type === 'LWPOLYLINE' || type === 'POLYLINE') && vertices && vertices.length > 1) {
    const closed = Boolean(entity.shape);
    return { closed, points: withBulges(vertices, closed) };
  }
  if (type === 'CIRCLE' && center && radius)
    return { closed: true, points: arcPoints(center.x, center.y, radius, 0, 2 * Math.PI).slice(0, -1) };
  if (type === 'ARC' && center && radius) {
    const sweep = onceRound((entity.endAngle ?? 0) - (entity.startAngle ?? 0));
    return { closed: false, points: arcPoints(center.x, center.y, radius, entity.startAngle ?? 0, sweep) };
  }
  if (type === 'ELLIPSE' && center && entity.majorAxisEndPoint) {
    const { x: mx, y: my } = entity.majorAxisEndPoint;
    const ratio = entity.axisRatio ?? 1;
    const start = entity.startAngle ?? 0;
    const end = entity.endAngle ?? 2 * Math.PI;
    const sweep = onceRound(end - start);
    const points = arcPoints(0, 0, 1, start, sweep).map(([c, s]): [number, number] => [
      center.x + c * mx - s * ratio * my,
      center.y + c * my + s * ratio * mx,
    ]);
    const closed = Math.abs(sweep - 2 * Math.PI) < 1e-6;
    return { closed, points: closed ? points.slice(0, -1) : points };
  }
  if (type === 'SPLINE' && entity.controlPoints && entity.knotValues && entity.controlPoints.length > 1) {
    const { controlPoints, knotValues, degreeOfSplineCurve: degree = 3 } = entity;
    const whole = Number.isInteger(degree) && degree >= 1 && degree < controlPoints.length;
    if (!whole || degree > MOST_DEGREE || knotValues.length < controlPoints.length + degree + 1) return null;
    return { closed: false, points: bSpline(controlPoints, knotValues, degree) };
  }
  return null;
}

/** An angle as a sweep: more than 0, once round at most. */
function onceRound(angle: number): number {
  const rest = angle % (2 * Math.PI);
  return rest <= 0 ? rest + 2 * Math.PI : rest;
}

/** Points of a B-spline by de Boor's algorithm, eight to every span. */
function bSpline(
  control: readonly { x: number; y: number }[],
  knots: readonly number[],
  degree: number,
): [number, number][] {
  const points: [number, number][] = [];
  const first = degree;
  const last = control.length;
  const at = (u: number, span: number): [number, number] => {
    const d = Array.from({ length: degree + 1 }, (_, j) => {
      const { x, y } = control[span - degree + j]!;
      return [x, y] as [number, number];
    });
    for (let r = 1; r <= degree; r++)
      for (let j = degree; j >= r; j--) {
        const low = knots[span - degree + j]!;
        const high = knots[span + 1 + j - r]!;
        const share = high > low ? (u - low) / (high - low) : 0;
        d[j] = [d[j - 1]![0] + share * (d[j]![0] - d[j - 1]![0]), d[j - 1]![1] + share * (d[j]![1] - d[j - 1]![1])];
      }
    return d[degree]!;
  };
  for (let span = first; span < last; span++) {
    const [from, to] = [knots[span]!, knots[span + 1]!];
    if (to <= from) continue;
    for (let i = 0; i < 8; i++) points.push(at(from + ((to - from) * i) / 8, span));
  }
  let end = last - 1;
  while (end > first && knots[end + 1]! <= knots[end]!) end--;
  points.push(at(knots[last]!, end));
  return points;
}

/** A line of a drawing; points in m. */
export interface DxfLine {
  layer: string;
  closed: boolean;
  points: readonly Point2[];
  /** Where the points lie on a circle all round, that is written in their place. */
  round?: Round;
  /** As hidden lines are drawn (ISO 128: dashes four times as long as their gaps); all of a layer is dashed or nothing. */
  dashed?: boolean;
}

/** Dashes and gaps of hidden lines, mm, and the colour of their layers (grey in the index of DXF). */
const DASHES = [6, -1.5];
const HIDDEN_COLOUR = 8;

/** Outlines as DXF text in millimetres. */
export function writeDxf(lines: readonly DxfLine[]): string {
  const drawing = new DxfWriter();
  drawing.setUnits('Millimeters');
  if (lines.some(({ dashed }) => dashed)) drawing.addLineType('DASHED', 'Hidden: __ __ __', DASHES);
  const layers = new Set<string>();
  for (const { layer, closed, points, round, dashed } of lines) {
    const name = layer.replace(/[^\w -]/g, '_') || 'outline';
    // A layer that is added again would lose what is drawn on it.
    if (!layers.has(name))
      drawing.addLayer(name, dashed ? HIDDEN_COLOUR : DxfWriter.ACI.WHITE, dashed ? 'DASHED' : 'CONTINUOUS');
    layers.add(name);
    drawing.setActiveLayer(name);
    if (round) drawing.drawCircle(round.centre[0] * 1000, round.centre[1] * 1000, round.radius * 1000);
    else
      drawing.drawPolyline(
        points.map(([x, y]): [number, number] => [x * 1000, y * 1000]),
        closed,
      );
  }
  return drawing.toDxfString();
}
