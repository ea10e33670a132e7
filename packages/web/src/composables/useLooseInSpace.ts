import { GROUND, standingOf, type CycleRecord, type Machine, type Pose } from '@yoke/core';
import { computed, type Ref } from 'vue';
import { resolvedColour } from '@/lib/axis-look';
import { looseSolids } from '@/lib/loose-solids';
import { cornersOf, frameAt, litAt, partsAt, platformShift, sightOf } from '@/lib/loose-scene';
import type { LooseThings } from '@/lib/space/loose';

type At = [number, number, number];

/** Loose parts and sensors in depth: as they are where parts move in space, else flat, at the level of their plane. */
export function useLooseInSpace(
  machine: Readonly<Ref<Machine>>,
  record: Readonly<Ref<CycleRecord | null>>,
  poses: Readonly<Ref<readonly Pose[]>>,
  time: Readonly<Ref<number>>,
) {
  return computed<LooseThings>(() => {
    const { loose, sequence, mechanism } = machine.value;
    if (loose.kinds.length === 0 && sequence.sensors.every((sensor) => sightOf(sensor) === null))
      return { parts: [], lines: [], solids: [] };
    if (loose.space) return looseSolids(machine.value, poses.value, record.value, time.value);
    const standing = standingOf(mechanism, poses.value);
    const onBody = (body: string, [x, y]: readonly [number, number]): At => {
      if (body === GROUND || !mechanism.bodies.some(({ id }) => id === body)) return [x, y, 0];
      const { at, axes } = standing.body(body);
      return [0, 3, 6].map((row, k) => at[k]! + axes[row]! * x + axes[row + 1]! * y) as At;
    };
    const soft = resolvedColour('--ink-soft');
    const ink = resolvedColour('--ink');
    const frame = frameAt(record.value, time.value);
    const kinds = new Map(loose.kinds.map((kind) => [kind.id, kind]));
    const parts = partsAt(record.value, frame).flatMap(({ kind, x, y, angle }) => {
      const own = kinds.get(kind);
      return own ? [{ kind, corners: cornersOf(own), x, y, angle, colour: resolvedColour(`--axis-${own.colour}`) }] : []; // prettier-ignore
    });
    const flat = ([x, y]: readonly [number, number]): At => [x, y, 0];
    const lit = litAt(record.value, time.value);
    const lines: LooseThings['lines'] = [
      ...loose.belts.map(({ from, to }) => ({ points: [flat(from), flat(to)], colour: ink, strong: true })),
      ...loose.surfaces.map(({ body, line }) => ({ points: line.map((p) => onBody(body, p)), colour: soft, strong: true })), // prettier-ignore
      ...loose.platforms.map(({ from, to }, i) => {
        const [dx, dy] = platformShift(record.value, frame, i, loose.platforms.length);
        return { points: [from, to].map(([x, y]): At => [x + dx, y + dy, 0]), colour: ink, strong: true };
      }),
      ...loose.sinks.map(({ from: [x0, y0], to: [x1, y1], counts }) => ({
        points: ([[x0, y0], [x1, y0], [x1, y1], [x0, y1], [x0, y0]] as const).map(flat), // prettier-ignore
        colour: resolvedColour(counts === 'missed' ? '--bad' : '--good'),
        strong: false,
      })),
      ...loose.grippers.map(({ body, at: [x, y], reach }) => ({
        points: Array.from({ length: 25 }, (_, i) => {
          const angle = (2 * Math.PI * i) / 24;
          return onBody(body, [x + reach * Math.cos(angle), y + reach * Math.sin(angle)]);
        }),
        colour: resolvedColour('--primary'),
        strong: false,
      })),
      ...sequence.sensors.flatMap((sensor) => {
        const sight = sightOf(sensor);
        if (!sight) return [];
        const corners = sight.corners.map((p) => onBody(sight.body, p));
        const on = lit.has(sensor.id);
        return [
          {
            points: sight.area ? [...corners, corners[0]!] : corners,
            colour: resolvedColour(on ? '--attention' : '--ink-soft'),
            strong: on,
          },
        ];
      }),
    ];
    return { parts, lines, solids: [] };
  });
}
