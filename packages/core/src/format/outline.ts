import DxfParser from 'dxf-parser';
import DxfWriter from 'dxf-writer';
import { XMLParser } from 'fast-xml-parser';
import svgpath from 'svgpath';
import type { Point2 } from '../geometry';

/** A drawing that cannot be read; the message names the reason and what to do. */
export class OutlineError extends Error {
  override name = 'OutlineError';
}

/** One line of a drawing in the units of its file. */
export interface Outline {
  layer: string;
  closed: boolean;
  points: [number, number][];
}

/** What was read from a drawing, and what was not understood: each kind with its number. */
export interface OutlineDrawing {
  outlines: Outline[];
  layers: string[];
  /** Millimetres in one unit of the file, where the file says so. */
  unit: number | null;
  ignored: { what: string; count: number }[];
}

/** Pieces into which a full circle is divided. */
const CIRCLE_PIECES = 96;

/** Points of an arc from direction `start` over `sweep`, both ends included. */
function arcPoints(cx: number, cy: number, r: number, start: number, sweep: number): [number, number][] {
  const pieces = Math.max(2, Math.ceil((Math.abs(sweep) / (2 * Math.PI)) * CIRCLE_PIECES));
  return Array.from({ length: pieces + 1 }, (_, i) => {
    const angle = start + (sweep * i) / pieces;
    return [cx + r * Math.cos(angle), cy + r * Math.sin(angle)];
  });
}

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
    const sweep = 4 * Math.atan(from.bulge);
    const chord = Math.hypot(to.x - from.x, to.y - from.y);
    const radius = chord / (2 * Math.sin(Math.abs(sweep) / 2));
    const height = radius * Math.cos(Math.abs(sweep) / 2) * Math.sign(sweep);
    const cx = (from.x + to.x) / 2 - ((to.y - from.y) / chord) * height;
    const cy = (from.y + to.y) / 2 + ((to.x - from.x) / chord) * height;
    points.push(...arcPoints(cx, cy, radius, Math.atan2(from.y - cy, from.x - cx), sweep).slice(1, -1));
  });
  return points;
}

/** Joins open lines of one layer whose ends meet into longer lines, and closes those that come back. */
function join(lines: readonly Outline[]): Outline[] {
  const size = Math.max(
    1e-9,
    ...lines.flatMap(({ points }) => points.map(([x, y]) => Math.max(Math.abs(x), Math.abs(y)))),
  );
  const meet = (a: Point2, b: Point2) => Math.hypot(a[0] - b[0], a[1] - b[1]) < 1e-5 * size;
  const open = lines.filter(({ closed }) => !closed).map((line) => ({ ...line, points: [...line.points] }));
  const done: Outline[] = lines.filter(({ closed }) => closed);
  while (open.length > 0) {
    const line = open.pop()!;
    for (let found = true; found;) {
      found = false;
      for (let i = 0; i < open.length; i++) {
        const other = open[i]!;
        if (other.layer !== line.layer) continue;
        const end = line.points.at(-1)!;
        const start = line.points[0]!;
        if (meet(end, other.points[0]!)) line.points.push(...other.points.slice(1));
        else if (meet(end, other.points.at(-1)!)) line.points.push(...other.points.reverse().slice(1));
        else if (meet(start, other.points.at(-1)!)) line.points.unshift(...other.points.slice(0, -1));
        else if (meet(start, other.points[0]!)) line.points.unshift(...other.points.reverse().slice(0, -1));
        else continue;
        open.splice(i, 1);
        found = true;
        break;
      }
    }
    const closed = line.points.length > 3 && meet(line.points[0]!, line.points.at(-1)!);
    done.push(closed ? { ...line, closed, points: line.points.slice(0, -1) } : line);
  }
  return done;
}

function tally(names: readonly string[]): OutlineDrawing['ignored'] {
  const counts = new Map<string, number>();
  for (const name of names) counts.set(name, (counts.get(name) ?? 0) + 1);
  return [...counts].map(([what, count]) => ({ what, count }));
}

/** Millimetres in a unit by the number that DXF files give in $INSUNITS (DXF reference). */
const DXF_UNITS: Record<number, number> = { 1: 25.4, 2: 304.8, 4: 1, 5: 10, 6: 1000 };

/**
 * Reads lines, arcs, circles, ellipses, polylines and splines (by their control polygon's curve) from DXF text.
 * @throws OutlineError where the text is no DXF or holds no outline
 */
export function readDxf(text: string): OutlineDrawing {
  let dxf: ReturnType<DxfParser['parseSync']>;
  try {
    dxf = new DxfParser().parseSync(text);
  } catch (error) {
    throw new OutlineError(
      `This is no DXF drawing that can be read (${(error as Error).message}). Save it as ASCII DXF.`,
    );
  }
  if (!dxf) throw new OutlineError('This is no DXF drawing. Save it as ASCII DXF.');
  const lines: Outline[] = [];
  const ignored: string[] = [];
  for (const entity of dxf.entities as DxfEntity[]) {
    const points = dxfPoints(entity);
    if (points) lines.push({ layer: entity.layer ?? '0', ...points });
    else ignored.push(entity.type);
  }
  const outlines = join(lines);
  if (outlines.length === 0)
    throw new OutlineError(
      `The drawing holds no line, arc, circle, polyline or spline${ignored.length > 0 ? `, only ${[...new Set(ignored)].join(', ')}` : ''}.`,
    );
  const unit = DXF_UNITS[Number((dxf.header as Record<string, unknown> | undefined)?.$INSUNITS)] ?? null;
  return { outlines, layers: [...new Set(outlines.map(({ layer }) => layer))], unit, ignored: tally(ignored) };
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
  if (type === 'LINE' && vertices) return { closed: false, points: vertices.map(({ x, y }) => [x, y]) };
  if ((type === 'LWPOLYLINE' || type === 'POLYLINE') && vertices && vertices.length > 1) {
    const closed = Boolean(entity.shape);
    return { closed, points: withBulges(vertices, closed) };
  }
  if (type === 'CIRCLE' && center && radius)
    return { closed: true, points: arcPoints(center.x, center.y, radius, 0, 2 * Math.PI).slice(0, -1) };
  if (type === 'ARC' && center && radius) {
    let sweep = (entity.endAngle ?? 0) - (entity.startAngle ?? 0);
    if (sweep <= 0) sweep += 2 * Math.PI;
    return { closed: false, points: arcPoints(center.x, center.y, radius, entity.startAngle ?? 0, sweep) };
  }
  if (type === 'ELLIPSE' && center && entity.majorAxisEndPoint) {
    const { x: mx, y: my } = entity.majorAxisEndPoint;
    const ratio = entity.axisRatio ?? 1;
    const start = entity.startAngle ?? 0;
    const end = entity.endAngle ?? 2 * Math.PI;
    const sweep = end - start > 0 ? end - start : end - start + 2 * Math.PI;
    const points = arcPoints(0, 0, 1, start, sweep).map(([c, s]): [number, number] => [
      center.x + c * mx - s * ratio * my,
      center.y + c * my + s * ratio * mx,
    ]);
    const closed = Math.abs(sweep - 2 * Math.PI) < 1e-6;
    return { closed, points: closed ? points.slice(0, -1) : points };
  }
  if (type === 'SPLINE' && entity.controlPoints && entity.knotValues && entity.controlPoints.length > 1)
    return { closed: false, points: bSpline(entity.controlPoints, entity.knotValues, entity.degreeOfSplineCurve ?? 3) };
  return null;
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

/** Pixels of SVG in a millimetre (CSS: 96 to the inch). */
const SVG_PIXEL = 25.4 / 96;

/**
 * Reads paths, polygons, polylines, lines, rectangles, circles and ellipses from SVG text; y is turned upwards.
 * Groups with an identifier are the layers; their transforms are followed.
 * @throws OutlineError where the text is no SVG or holds no outline
 */
export function readSvg(text: string): OutlineDrawing {
  type Node = Record<string, unknown>;
  let tree: Node[];
  try {
    tree = new XMLParser({
      ignoreAttributes: false,
      attributeNamePrefix: '',
      preserveOrder: true,
      processEntities: false,
    }).parse(text) as Node[];
  } catch (error) {
    throw new OutlineError(`This is no SVG drawing that can be read (${(error as Error).message}).`);
  }
  const lines: Outline[] = [];
  const ignored: string[] = [];
  const silent = new Set(['?xml', 'title', 'desc', 'metadata', 'defs', 'style', '#text']);
  const walk = (nodes: Node[], layer: string, transforms: string[]): void => {
    for (const node of nodes) {
      const tag = Object.keys(node).find((key) => key !== ':@');
      if (!tag || silent.has(tag)) continue;
      const a = (node[':@'] ?? {}) as Record<string, string>;
      const own = a.transform ? [...transforms, a.transform] : transforms;
      if (tag === 'svg' || tag === 'g' || tag === 'a') {
        walk(node[tag] as Node[], tag === 'g' ? (a.id ?? layer) : layer, own);
        continue;
      }
      const d = svgData(tag, a);
      if (d === null) {
        ignored.push(tag);
        continue;
      }
      let path = svgpath(d);
      for (const transform of [...own].reverse()) path = path.transform(transform);
      lines.push(...flatten(path).map((line) => ({ ...line, layer })));
    }
  };
  if (!tree.some((node) => 'svg' in node)) throw new OutlineError('This is no SVG drawing: it has no svg element.');
  walk(tree, 'drawing', []);
  const outlines = join(lines);
  if (outlines.length === 0)
    throw new OutlineError(
      `The drawing holds no path or shape${ignored.length > 0 ? `, only ${[...new Set(ignored)].join(', ')}` : ''}.`,
    );
  return {
    outlines,
    layers: [...new Set(outlines.map(({ layer }) => layer))],
    unit: SVG_PIXEL,
    ignored: tally(ignored),
  };
}

function svgData(tag: string, a: Record<string, string>): string | null {
  const n = (key: string) => Number.parseFloat(a[key] ?? '0') || 0;
  if (tag === 'path') return a.d ?? '';
  if (tag === 'line') return `M${n('x1')} ${n('y1')}L${n('x2')} ${n('y2')}`;
  if (tag === 'polyline' || tag === 'polygon') return `M${a.points ?? ''}${tag === 'polygon' ? 'Z' : ''}`;
  if (tag === 'rect') return `M${n('x')} ${n('y')}h${n('width')}v${n('height')}h${-n('width')}Z`;
  if (tag === 'circle' || tag === 'ellipse') {
    const [rx, ry] = tag === 'circle' ? [n('r'), n('r')] : [n('rx'), n('ry')];
    return `M${n('cx') - rx} ${n('cy')}a${rx} ${ry} 0 1 0 ${2 * rx} 0a${rx} ${ry} 0 1 0 ${-2 * rx} 0Z`;
  }
  return null;
}

/** A path's curves as points, y upwards; one line for every part. */
function flatten(path: ReturnType<typeof svgpath>): Omit<Outline, 'layer'>[] {
  const lines: Omit<Outline, 'layer'>[] = [];
  let points: [number, number][] = [];
  const finish = (closed: boolean) => {
    if (points.length > 1) lines.push({ closed, points: points.map(([x, y]) => [x, -y || 0]) });
    points = [];
  };
  path
    .abs()
    .unarc()
    .unshort()
    .iterate((segment, _index, x, y) => {
      const [command, ...v] = segment as [string, ...number[]];
      if (command === 'M') {
        finish(false);
        points = [[v[0]!, v[1]!]];
      } else if (command === 'Z') {
        const first = points[0];
        const last = points.at(-1);
        if (first && last && points.length > 1 && Math.hypot(first[0] - last[0], first[1] - last[1]) < 1e-9)
          points.pop();
        finish(true);
        if (first) points = [first];
      } else if (command === 'L') points.push([v[0]!, v[1]!]);
      else if (command === 'H') points.push([v[0]!, y]);
      else if (command === 'V') points.push([x, v[0]!]);
      else {
        const c: [number, number, number, number, number, number] =
          command === 'Q'
            ? [
                x + (2 / 3) * (v[0]! - x),
                y + (2 / 3) * (v[1]! - y),
                v[2]! + (2 / 3) * (v[0]! - v[2]!),
                v[3]! + (2 / 3) * (v[1]! - v[3]!),
                v[2]!,
                v[3]!,
              ]
            : (v as [number, number, number, number, number, number]);
        const pieces = 16;
        for (let i = 1; i <= pieces; i++) {
          const t = i / pieces;
          const u = 1 - t;
          points.push([
            u ** 3 * x + 3 * u * u * t * c[0] + 3 * u * t * t * c[2] + t ** 3 * c[4],
            u ** 3 * y + 3 * u * u * t * c[1] + 3 * u * t * t * c[3] + t ** 3 * c[5],
          ]);
        }
      }
    });
  finish(false);
  return lines;
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
