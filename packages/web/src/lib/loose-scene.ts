import { PART_WIDTH, type CycleRecord, type Machine } from '@yoke/core';

type LooseKind = Pick<Machine['loose']['kinds'][number], 'shape'>;
type Sensor = Pick<Machine['sequence']['sensors'][number], 'sensing'>;
/** What is read of a run's record. */
type Kept = Pick<CycleRecord, 'parts' | 'fates' | 'signals'>;

/** The picture of the parts record that stands at a time, −1 before any. */
export function frameAt(record: Kept | null, time: number): number {
  const parts = record?.parts;
  if (!parts || parts.times.length === 0) return -1;
  let low = 0;
  let high = parts.times.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >>> 1;
    if (parts.times[middle]! <= time + 1e-9) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** A part as it lies at a time: m and rad, in the front plane. */
export interface LyingPart {
  number: number;
  kind: string;
  x: number;
  y: number;
  angle: number;
}

/** Parts that are there at a frame of {@link frameAt}. */
export function partsAt(record: Kept | null, frame: number): LyingPart[] {
  if (!record || frame < 0) return [];
  const { data, starts } = record.parts;
  const list: LyingPart[] = [];
  for (let i = starts[frame]!; i < starts[frame + 1]!; i += PART_WIDTH) {
    const number = data[i]!;
    const kind = record.fates[number]?.kind ?? '';
    list.push({ number, kind, x: data[i + 1]!, y: data[i + 2]!, angle: data[i + 3]! });
  }
  return list;
}

/** How far a sprung platform has given way at a frame, m. */
export function platformShift(record: Kept | null, frame: number, index: number, count: number): [number, number] {
  // prettier-ignore
  const parts = record?.parts;
  if (!parts || frame < 0) return [0, 0];
  const at = (frame * count + index) * 2;
  return [parts.platforms[at] ?? 0, parts.platforms[at + 1] ?? 0];
}

/** Sensors that are on at a time. */
export function litAt(record: Kept | null, time: number): Set<string> {
  const on = new Set<string>();
  for (const { sensor, first, times } of record?.signals ?? []) {
    let changes = -1;
    for (const change of times) if (change <= time + 1e-9) changes++;
    if ((changes % 2 === 0) === first) on.add(sensor);
  }
  return on;
}

/** Corners of a kind of part in its own frame, m; a disc as a polygon that looks round. */
export function cornersOf({ shape }: LooseKind): [number, number][] {
  if (shape.kind === 'circle')
    return Array.from({ length: 32 }, (_, i) => {
      const angle = (2 * Math.PI * i) / 32;
      return [shape.radius * Math.cos(angle), shape.radius * Math.sin(angle)];
    });
  if (shape.kind !== 'box') return shape.points.map(([x, y]) => [x, y]);
  const [w, h] = [shape.width / 2, shape.height / 2];
  return [[-w, -h], [w, -h], [w, h], [-w, h]]; // prettier-ignore
}

/** Corners of what a sensor with a place looks at, in the frame of what carries it; null for one without a place. */
export function sightOf({ sensing }: Sensor): { body: string; area: boolean; corners: [number, number][] } | null {
  if (sensing.kind !== 'beam' && sensing.kind !== 'area' && sensing.kind !== 'proximity') return null;
  const { from, to, body, kind } = sensing;
  const area = kind === 'area';
  const corners: [number, number][] = area ? [from, [to[0], from[1]], to, [from[0], to[1]]] : [from, to];
  return { body, area, corners };
}
