import { XMLParser } from 'fast-xml-parser';
import svgpath from 'svgpath';
import {
  checkSize,
  LineCollector,
  OutlineError,
  type Outline,
  type OutlineDrawing,
  type ReadProgress,
} from './outline';

/** Groups within groups that are followed at most. */
const MOST_GROUPS = 60;

/** Pixels of SVG in a millimetre (CSS: 96 to the inch). */
const SVG_PIXEL = 25.4 / 96;

/**
 * Reads paths, polygons, polylines, lines, rectangles, circles and ellipses from SVG text; y is turned upwards.
 * Groups with an identifier are the layers; their transforms are followed.
 * @throws OutlineError where the text is no SVG or holds no outline
 */
export function readSvg(text: string, progress?: ReadProgress): OutlineDrawing {
  checkSize(text);
  type Node = Record<string, unknown>;
  let tree: Node[];
  try {
    tree = new XMLParser({
      ignoreAttributes: false,
      attributeNamePrefix: '',
      preserveOrder: true,
      processEntities: false,
    }).parse(text) as Node[];
  } catch {
    throw new OutlineError(
      'This is no SVG drawing that can be read: its tags are not closed, not quoted, or nested too deep. Save it again as plain SVG.',
    );
  }
  progress?.(0.3);
  const collector = new LineCollector();
  const silent = new Set(['?xml', 'title', 'desc', 'metadata', 'defs', 'style', '#text']);
  const walk = (nodes: Node[], layer: string, transforms: string[], depth: number): void => {
    if (depth > MOST_GROUPS)
      throw new OutlineError(`The drawing nests more than ${MOST_GROUPS} groups: ungroup it, and save it again.`);
    for (const node of nodes) {
      const tag = Object.keys(node).find((key) => key !== ':@');
      if (!tag || silent.has(tag)) continue;
      const a = (node[':@'] ?? {}) as Record<string, string>;
      const own = a.transform ? [...transforms, a.transform] : transforms;
      if (tag === 'svg' || tag === 'g' || tag === 'a') {
        walk(node[tag] as Node[], tag === 'g' ? (a.id ?? layer) : layer, own, depth + 1);
        continue;
      }
      const d = svgData(tag, a);
      if (d === null) {
        collector.ignore(tag);
        continue;
      }
      let path = svgpath(d);
      for (const transform of [...own].reverse()) path = path.transform(transform);
      for (const line of flatten(path)) collector.add({ ...line, layer }, tag);
    }
  };
  if (!tree.some((node) => 'svg' in node)) throw new OutlineError('This is no SVG drawing: it has no svg element.');
  walk(tree, 'drawing', [], 0);
  return collector.finish(unitOf(tree), 'path or shape', progress && ((share) => progress(0.6 + 0.4 * share)));
}

/** Millimetres in a length of SVG by its unit (CSS: absolute lengths). */
const SVG_LENGTHS: Record<string, number> = {
  '': SVG_PIXEL,
  px: SVG_PIXEL,
  mm: 1,
  cm: 10,
  q: 0.25,
  in: 25.4,
  pt: 25.4 / 72,
  pc: 25.4 / 6,
};

/** A length of SVG in mm; null where it is none, or a share of something. */
function millimetres(text: string | undefined): number | null {
  const found = /^([\d.]+(?:e[+-]?\d+)?) ?([a-z]*)$/i.exec(text?.trim() ?? '');
  const factor = found && SVG_LENGTHS[found[2]!.toLowerCase()];
  const value = found ? Number(found[1]) : NaN;
  return factor !== null && factor !== undefined && value > 0 && Number.isFinite(value) ? value * factor : null;
}

/** Millimetres in a unit of the drawing: by its size and what it shows (SVG: viewBox, scaled to fit); else a pixel. */
function unitOf(tree: readonly Record<string, unknown>[]): number {
  const root = tree.find((node) => 'svg' in node)!;
  const a = (root[':@'] ?? {}) as Record<string, string>;
  const [, , wide, tall] = (a.viewBox ?? '')
    .trim()
    .split(/[\s,]+/)
    .map(Number);
  const scales = [
    [millimetres(a.width), wide],
    [millimetres(a.height), tall],
  ].flatMap(([size, shown]) =>
    // prettier-ignore
    typeof size === 'number' && typeof shown === 'number' && shown > 0 ? [size / shown] : [],
  );
  return scales.length > 0 ? Math.min(...scales) : SVG_PIXEL;
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
