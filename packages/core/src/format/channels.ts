import type { Machine } from '../machine';
import { displayUnit, toReading } from '../quantity';
import { channelSpec, mechanismChannels, mechanismSamples, signalChannels, type ChannelId, type Run } from '../run';
import { heading, writeCsv } from './csv';

/** One column of an export: a channel of an axis. */
export interface ChannelChoice {
  axisId: string;
  channel: ChannelId;
}

/** Figures written per number: more than any instrument reads, fewer than the noise of rounding. */
const DIGITS = 10;
const written = (value: number) => Number(value.toPrecision(DIGITS));

/** What the run did not reach stays empty. */
const cell = (value: number) => (Number.isFinite(value) ? written(value) : '');

/**
 * Channels of a run as CSV: `t [s],Dibber.position [mm],…`, in the machine's display units.
 * Channels of the mechanism follow those of the axes: `Crank.angle [°]`.
 * A time stands twice where the motion steps: once with the values before, once with those after.
 */
export function channelsCsv(
  machine: Machine,
  run: Run,
  choices: readonly ChannelChoice[],
  mechanismIds: readonly string[] = [],
): string {
  const columns = choices.flatMap(({ axisId, channel }) => {
    const axis = machine.axes.find(({ id }) => id === axisId);
    const samples = run.axes.find((axisRun) => axisRun.axisId === axisId)?.channels[channel];
    return axis && samples ? [{ axis, spec: channelSpec(channel, axis.kind), samples }] : [];
  });
  const known = new Map(
    [...(run.mechanism ? mechanismChannels(machine, run.mechanism) : []), ...signalChannels(machine, run)].map(
      (channel) => [channel.id, channel],
    ),
  );
  const own = mechanismIds.flatMap((id) => {
    const channel = known.get(id);
    const samples = mechanismSamples(machine, run, id);
    return channel && samples ? [{ channel, samples }] : [];
  });
  const header = [
    heading('t', 's'),
    ...columns.map(({ axis, spec }) =>
      heading(`${axis.name}.${spec.id}`, displayUnit(spec.kind, machine.units).symbol),
    ),
    ...own.map(({ channel }) =>
      heading(`${channel.object}.${channel.label}`, displayUnit(channel.kind, machine.units).symbol),
    ),
  ];
  const rows = Array.from(run.times, (time, k) => [
    written(time),
    ...columns.map(({ spec, samples }) => cell(toReading(samples[k]!, spec.kind, machine.units))),
    ...own.map(({ channel, samples }) => cell(toReading(samples[k]!, channel.kind, machine.units))),
  ]);
  return writeCsv(header, rows);
}

/** All channels of all axes, in order. */
export function allChannels(run: Run): ChannelChoice[] {
  return run.axes.flatMap(({ axisId, channels }) =>
    (Object.keys(channels) as ChannelId[]).map((channel) => ({ axisId, channel })),
  );
}

/** All channels of the mechanism, in order. */
export function allMechanismChannels(machine: Machine, run: Run): string[] {
  const drawn = run.mechanism ? mechanismChannels(machine, run.mechanism) : [];
  return [...drawn, ...signalChannels(machine, run)].map(({ id }) => id);
}
