import DxfParser from 'dxf-parser';
import DxfWriter from 'dxf-writer';
import type { Point2 } from '../geometry';
import { readableDxf } from './dxf-groups';
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
 * Reads lines, arcs, circles, ellipses, polylines and splines (by their control polygon's curve) from DXF text.
 * @throws OutlineError where the text is no DXF or holds no outline
 */
export function readDxf(text: string, progress?: ReadProgress): OutlineDrawing {
  checkSize(text);
  const { text: readable, ignored, unit } = readableDxf(text);
  let dxf: ReturnType<DxfParser['parseSync']>;
  try {
    const parser = new DxfParser();
    parser.registerEntityHandler(LightPolyline);
    parser.registerEntityHandler(HeavyPolyline);
    dxf = parser.parseSync(readable);
  } catch {
    throw new OutlineError(
      'This is no DXF drawing that can be read: it breaks off, or its groups do not follow one another as they must. Save it as ASCII DXF.',
    );
  }
  if (!dxf) throw new OutlineError('This is no DXF drawing. Save it as ASCII DXF.');
  progress?.(0.3);
  const collector = new LineCollector();
  for (const what of ignored) collector.ignore(what);
  const entities = ((dxf as { entities?: unknown }).entities ?? []) as DxfEntity[];
  entities.forEach((entity, i) => {
    const points = dxfPoints(entity);
    if (points) collector.add({ layer: entity.layer ?? '0', ...points }, entity.type);
    else collector.ignore(entity.type);
    if (i % 2000 === 0) progress?.(0.3 + (0.3 * i) / entities.length);
  });
  return collector.finish(
    DXF_UNITS[unit ?? NaN] ?? null,
    'line, arc, circle, polyline or spline',
    progress && ((share) => progress(0.6 + 0.4 * share)),
  );
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

/** Outlines as DXF text in millimetres; points are given in m. */
export function writeDxf(lines: readonly { layer: string; closed: boolean; points: readonly Point2[] }[]): string {
  const drawing = new DxfWriter();
  drawing.setUnits('Millimeters');
  for (const { layer, closed, points } of lines) {
    const name = layer.replace(/[^\w -]/g, '_') || 'outline';
    drawing.addLayer(name, DxfWriter.ACI.WHITE, 'CONTINUOUS');
    drawing.setActiveLayer(name);
    drawing.drawPolyline(
      points.map(([x, y]): [number, number] => [x * 1000, y * 1000]),
      closed,
    );
  }
  return drawing.toDxfString();
}
