import { cycleTime, type Machine } from '../machine';
import {
  CHANNEL_IDS,
  channelSpec,
  mechanismChannels,
  mechanismSamples,
  signalChannels,
  type ChannelId,
  type MechanismChannel,
  type Run,
} from '../run';
import { cycleTimes, type CycleRecord } from './cycle-record';
import { widthsOf } from './record';

/** A run with what came of its cycle, where it has one. */
export interface Ran {
  run: Run;
  record: Pick<CycleRecord, 'parts' | 'fates' | 'cycles' | 'lastByRow' | 'duration'> | null;
}

/** Loose parts that have channels of their own: what comes after them is in the file of all ways. */
const MOST_PARTS = 60;

type PartChannel = readonly [quantity: string, label: string, kind: MechanismChannel['kind']];
const PART: readonly PartChannel[] = [
  ['x', 'x', 'length'],
  ['y', 'y', 'length'],
  ['angle', 'angle', 'angle'],
  ['v', 'speed', 'velocity'],
];
const PART_IN_SPACE: readonly PartChannel[] = [
  ['x', 'x', 'length'],
  ['y', 'y', 'length'],
  ['z', 'z', 'length'],
  ['tilt', 'tilt of its y against the vertical', 'angle'],
  ['v', 'speed', 'velocity'],
];

/** Every channel that a run has, in the order in which they are offered: of axes, mechanism, signals and loose parts. */
export function everyChannel(machine: Machine, { run, record }: Ran): MechanismChannel[] {
  return [
    ...machine.axes
      .filter(({ id }) => run.axes.some(({ axisId }) => axisId === id))
      .flatMap(({ id, name, kind }) =>
        CHANNEL_IDS.map((channel): MechanismChannel => {
          const spec = channelSpec(channel, kind);
          const label = spec.label.charAt(0).toLowerCase() + spec.label.slice(1);
          return { id: `axis:${id}:${channel}`, group: 'axis', object: name, label, kind: spec.kind };
        }),
      ),
    ...(run.mechanism ? mechanismChannels(machine, run.mechanism) : []),
    ...signalChannels(machine, run),
    ...(record?.fates ?? []).slice(0, MOST_PARTS).flatMap(({ number, kind }) => {
      const object = `Part ${number + 1}, ${machine.loose.kinds.find(({ id }) => id === kind)?.name ?? kind}`;
      return (record?.parts.space ? PART_IN_SPACE : PART).map(([quantity, label, as]): MechanismChannel => ({
        id: `part:${number}:${quantity}`,
        group: 'part',
        object,
        label,
        kind: as,
      }));
    }),
  ];
}

/** Samples of any channel over the times of the run; undefined where the run does not have it (any more). */
export function everySamples(machine: Machine, { run, record }: Ran, id: string): Float64Array | undefined {
  const [group, key, quantity] = id.split(':') as [string, string, string];
  if (group === 'axis') return run.axes.find(({ axisId }) => axisId === key)?.channels[quantity as ChannelId];
  if (group === 'part') return record ? partSamples(record.parts, Number(key), quantity, run.times) : undefined;
  return mechanismSamples(machine, run, id);
}

/** Places of a part, straight between the frames that are kept; NaN while it is not there. */
function partSamples(
  parts: CycleRecord['parts'],
  part: number,
  quantity: string,
  times: Float64Array,
): Float64Array | undefined {
  const { times: frames, starts, data, space } = parts;
  const width = widthsOf(parts).part;
  const rows: { time: number; x: number; y: number; z: number; angle: number; tilt: number }[] = [];
  frames.forEach((time, frame) => {
    for (let at = starts[frame]!; at < starts[frame + 1]!; at += width) {
      if (data[at] !== part) continue;
      const [x, y, third] = [data[at + 1]!, data[at + 2]!, data[at + 3]!];
      // The y of the turned axes of the part along that of the world.
      const up = space ? 1 - 2 * (data[at + 5]! ** 2 + data[at + 7]! ** 2) : 1;
      const tilt = Math.acos(Math.max(-1, Math.min(1, up)));
      rows.push({ time, x, y, z: space ? third : 0, angle: space ? 0 : third, tilt });
    }
  });
  if (rows.length === 0) return undefined;
  let k = 0;
  return times.map((time) => {
    if (time < rows[0]!.time - 1e-9 || time > rows.at(-1)!.time + 1e-9) return NaN;
    while (k + 2 < rows.length && rows[k + 1]!.time <= time) k++;
    const [one, two] = [rows[k]!, rows[Math.min(k + 1, rows.length - 1)]!];
    const width = two.time - one.time;
    if (quantity === 'v') return width > 0 ? Math.hypot(two.x - one.x, two.y - one.y, two.z - one.z) / width : NaN;
    const share = width > 0 ? Math.min(1, Math.max(0, (time - one.time) / width)) : 0;
    const value = (row: typeof one) => row[quantity as 'x' | 'y' | 'z' | 'angle' | 'tilt'];
    return value(one) + (value(two) - value(one)) * share;
  });
}

/** One measure of how long a cycle takes, s. */
export interface CycleMeasure {
  label: string;
  time: number;
}

/** How long the cycles of a run took: as given, or as the simulated cycles came out. */
export function cycleMeasures(machine: Machine, { run, record }: Ran): CycleMeasure[] {
  const times = record ? cycleTimes(record) : [];
  if (!record || times.length === 0) return [{ label: 'cycle', time: record ? run.cycleTime : cycleTime(machine) }];
  const mean = times.reduce((sum, time) => sum + time, 0) / times.length;
  return [
    { label: times.length > 1 ? 'mean cycle' : 'cycle', time: mean },
    ...(times.length > 1
      ? [
          { label: 'longest cycle', time: Math.max(...times) },
          { label: 'shortest cycle', time: Math.min(...times) },
        ]
      : []),
    { label: 'whole run', time: record.duration },
  ];
}
