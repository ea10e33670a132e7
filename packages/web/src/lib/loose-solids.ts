import { ACROSS, beltInSpace, fingerPieces, placeIn, slabsAlong, spacePieces, STILL3, surfacePieces, type ContactPiece, type CycleRecord, type Machine, type Place3, type Pose } from '@yoke/core'; // prettier-ignore
import { resolvedColour } from './axis-look';
import { loosePlaces } from './loose-places';
import { frameAt, litAt, partsAt, platformShift, shiftsOf, sightOf } from './loose-scene';
import type { LooseThings } from './space/loose';

type At = [number, number, number];

/** The edges of a box or rectangle, corner by corner, as one line that goes over all of them. */
function boxLine(a: readonly [number, number], b: readonly [number, number], half: number): At[] {
  const ring = (z: number): At[] => [
    [a[0], a[1], z],
    [b[0], a[1], z],
    [b[0], b[1], z],
    [a[0], b[1], z],
    [a[0], a[1], z],
  ];
  const [low, high] = [ring(-half), ring(half)];
  return [...low, high[0]!, high[1]!, low[1]!, high[1]!, high[2]!, low[2]!, high[2]!, high[3]!, low[3]!, high[3]!, high[4]!]; // prettier-ignore
}

/** Loose parts that move in space, what handles them, and sensors, as they stand at a time. */
export function looseSolids(
  machine: Machine,
  poses: readonly Pose[],
  record: CycleRecord | null,
  time: number,
): LooseThings {
  const { loose, sequence } = machine;
  const { frame: frameOf, spot } = loosePlaces(machine, poses);
  const soft = resolvedColour('--ink-soft');
  const frame = frameAt(record, time);
  const lit = litAt(record, time);
  const solids: LooseThings['solids'][number][] = [];
  /** @param of what the shape is kept by; another shape has another one */
  const add = (of: string, pieces: readonly ContactPiece[], place: Place3, colour: string) =>
    void (pieces.length > 0 && solids.push({ key: `${of}:${JSON.stringify(pieces, (_, v: unknown) => (v instanceof Float64Array ? [...v] : v))}`, pieces, place, colour })); // prettier-ignore
  const kinds = new Map(loose.kinds.map((kind) => [kind.id, { pieces: spacePieces(kind), colour: resolvedColour(`--axis-${kind.colour}`) }])); // prettier-ignore
  const there = partsAt(record, frame);
  for (const { kind, place } of there) {
    const own = kinds.get(kind);
    if (own && place) add('part', own.pieces, place, own.colour);
  }
  for (const surface of loose.surfaces) add('surface', surfacePieces(surface), frameOf(surface), soft);
  for (const belt of loose.belts) {
    const { face, guides, at } = beltInSpace(belt);
    const stands = placeIn(frameOf(belt), at);
    add('belt', face, stands, resolvedColour('--ink'));
    add('belt', guides, stands, soft);
  }
  loose.platforms.forEach((platform, i) => {
    const { from, to, thickness, width = ACROSS } = platform;
    const [x, y, z] = platformShift(record, frame, i, shiftsOf(loose));
    const stands = frameOf(platform);
    add('platform', slabsAlong([from, to], thickness, width), { ...stands, x: stands.x + x, y: stands.y + y, z: stands.z + z }, resolvedColour('--ink')); // prettier-ignore
  });
  loose.grippers
    .filter(({ fingers }) => fingers)
    .forEach((gripper, i) => {
      const from = loose.platforms.length + 2 * i;
      const closed = [0, 1].map((k) => platformShift(record, frame, from + k, shiftsOf(loose))[0]);
      // Each finger by itself keeps its shape; how far it has closed is where it stands.
      fingerPieces(gripper, [0, 0]).forEach((piece, k) => {
        const { angle } = gripper.fingers!;
        const along = (k === 0 ? 1 : -1) * closed[k]!;
        const stands = frameOf(gripper);
        const moved = placeIn(stands, { ...STILL3, x: along * Math.cos(angle), y: along * Math.sin(angle) });
        add('finger', [piece], moved, resolvedColour('--primary'));
      });
    });
  const lines: LooseThings['lines'][number][] = [
    ...loose.sinks.map((sink) => ({
      points: boxLine(sink.from, sink.to, (sink.width ?? ACROSS) / 2).map(([x, y, z]) => spot(sink, [x, y], z)),
      colour: resolvedColour(sink.counts === 'missed' ? '--bad' : '--good'),
      strong: false,
    })),
    ...loose.grippers
      .filter(({ fingers }) => !fingers)
      .map((gripper) => ({
        points: Array.from({ length: 25 }, (_, i) => {
          const angle = (2 * Math.PI * i) / 24;
          const [x, y] = gripper.at;
          return spot(gripper, [x + gripper.reach * Math.cos(angle), y + gripper.reach * Math.sin(angle)]);
        }),
        colour: resolvedColour('--primary'),
        strong: false,
      })),
    ...sequence.sensors.flatMap((sensor) => {
      const { sensing } = sensor;
      const sight = sightOf(sensor);
      if (!sight || !('from' in sensing)) return [];
      const half = sensing.kind === 'beam' ? 0 : (sensing.width ?? ACROSS) / 2;
      const points: At[] =
        sensing.kind === 'beam'
          ? sight.corners.map((corner, i) => spot(sensing, corner, sight.rises[i] ?? 0))
          : boxLine(sensing.from, sensing.to, half).map(([x, y, z]) => spot(sensing, [x, y], z));
      return [
        { points, colour: lit.has(sensor.id) ? resolvedColour('--attention') : soft, strong: lit.has(sensor.id) },
      ];
    }),
  ];
  // Without a run sources show what they will give.
  if (there.length === 0)
    for (const source of loose.sources) {
      const own = kinds.get(source.kind);
      const [x, y, z] = spot(source, source.at);
      if (own) add('part', own.pieces, { ...placeIn(frameOf(source), turnOf(source)), x, y, z }, soft);
    }
  return { parts: [], lines, solids };
}

/** How a source turns what it gives, in its plane. */
function turnOf({ angle, tilt = 0, swivel = 0 }: Machine['loose']['sources'][number]): Place3 {
  const about = (axis: 'qx' | 'qy' | 'qz', by: number): Place3 => ({ ...STILL3, qw: Math.cos(by / 2), [axis]: Math.sin(by / 2) }); // prettier-ignore
  return placeIn(placeIn(about('qz', angle), about('qy', swivel)), about('qx', tilt));
}
