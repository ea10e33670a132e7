import { convexHull, seenFromFront, solidOf, spacePieces, turnedBy, widthsOf, type ConvexSolid, type CycleRecord, type Machine, type Place3, type Point2 } from '@yoke/core'; // prettier-ignore

type LooseKind = Pick<Machine['loose']['kinds'][number], 'shape' | 'mass'>;
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

/** A part as it lies at a time: m and rad, as it is seen from the front. */
export interface LyingPart {
  number: number;
  kind: string;
  x: number;
  y: number;
  angle: number;
  /** Where it stands, if parts move in space; it is then not turned by its angle alone. */
  place: Place3 | null;
}

/** Parts that are there at a frame of {@link frameAt}. */
export function partsAt(record: Kept | null, frame: number): LyingPart[] {
  if (!record || frame < 0) return [];
  const { data, starts, space } = record.parts;
  const width = widthsOf(record.parts).part;
  const list: LyingPart[] = [];
  for (let i = starts[frame]!; i < starts[frame + 1]!; i += width) {
    const number = data[i]!;
    const kind = record.fates[number]?.kind ?? '';
    const [x = 0, y = 0, third = 0, qw = 1, qx = 0, qy = 0, qz = 0] = data.subarray(i + 1, i + width);
    const place = space ? { x, y, z: third, qw, qx, qy, qz } : null;
    list.push({ number, kind, x, y, angle: space ? 0 : third, place });
  }
  return list;
}

/** Platforms, and fingers behind them, of which a record keeps how far they went. */
export const shiftsOf = ({ platforms, grippers, space }: Machine['loose']): number =>
  platforms.length + (space ? 2 * grippers.filter(({ fingers }) => fingers).length : 0);

/** How far a sprung platform has given way at a frame along x, y and z, m. */
export function platformShift(
  record: Kept | null,
  frame: number,
  index: number,
  count: number,
): [number, number, number] {
  const parts = record?.parts;
  if (!parts || frame < 0) return [0, 0, 0];
  const { platform } = widthsOf(parts);
  const at = (frame * count + index) * platform;
  return [parts.platforms[at] ?? 0, parts.platforms[at + 1] ?? 0, platform > 2 ? (parts.platforms[at + 2] ?? 0) : 0];
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
export function cornersOf(kind: LooseKind): [number, number][] {
  const shape = seenFromFront(kind.shape);
  if (!shape) return shadow(spacePieces(kind).map(solidOf), null)[0]!.map(([x, y]) => [x, y]);
  if (shape.kind === 'circle')
    return Array.from({ length: 32 }, (_, i) => {
      const angle = (2 * Math.PI * i) / 32;
      return [shape.radius * Math.cos(angle), shape.radius * Math.sin(angle)];
    });
  if (shape.kind !== 'box') return shape.points.map(([x, y]) => [x, y]);
  const [w, h] = [shape.width / 2, shape.height / 2];
  return [[-w, -h], [w, -h], [w, h], [-w, h]]; // prettier-ignore
}

/** Places of a quarter turn of a round edge. */
const QUARTER = 6;
const RING = Array.from({ length: 4 * QUARTER }, (_, i) => {
  const angle = (Math.PI * i) / (2 * QUARTER);
  return [Math.cos(angle), Math.sin(angle)] as const;
});

/**
 * Outlines of convex pieces as they are seen from the front, about the origin of their part, m.
 * @param place how the part is turned; as it is drawn where none is given
 */
export function shadow(pieces: readonly ConvexSolid[], place: Place3 | null): Point2[][] {
  const seen = (x: number, y: number, z: number) => (place ? turnedBy(place, [x, y, z]) : [x, y, z]);
  return pieces.map(({ corners, radius, disc }) => {
    const flat: Point2[] = [];
    for (let i = 0; i < corners.length; i += 3) {
      const at = [corners[i]!, corners[i + 1]!, corners[i + 2]!];
      const rim = disc
        ? RING.map(([c, s]) =>
            at.map((part, k) => part + (k === disc.axis ? 0 : disc.radius * (k === (disc.axis + 1) % 3 ? c : s))),
          )
        : [at];
      for (const [x, y, z] of rim) {
        const [px, py] = seen(x!, y!, z!);
        if (radius > 0) for (const [c, s] of RING) flat.push([px! + radius * c, py! + radius * s]);
        else flat.push([px!, py!]);
      }
    }
    return convexHull(flat);
  });
}

/** Corners of what a sensor with a place looks at, in the frame of what carries it; null for one without a place. */
export function sightOf({ sensing }: Sensor): {
  body: string;
  area: boolean;
  corners: [number, number][];
  /** How much higher than its first corner each one lies, m. */
  rises: number[];
} | null {
  if (sensing.kind !== 'beam' && sensing.kind !== 'area' && sensing.kind !== 'proximity') return null;
  const { from, to, body, kind } = sensing;
  const area = kind === 'area';
  const corners: [number, number][] = area ? [from, [to[0], from[1]], to, [from[0], to[1]]] : [from, to];
  const rises = sensing.kind === 'beam' ? [0, (sensing.toLevel ?? sensing.level ?? 0) - (sensing.level ?? 0)] : [];
  return { body, area, corners, rises };
}
