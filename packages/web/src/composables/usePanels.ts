import {
  channelSpec,
  displayUnit,
  findPeak,
  formatNumber,
  type Axis,
  type AxisRun,
  type ChannelId,
  type Run,
  type UnitSystem,
} from '@yoke/core';
import type { CurvePanel } from '@/components/CurveStack.vue';

/** Samples of a channel in the unit shown. */
function inUnit(samples: Float64Array, factor: number): Float64Array {
  return factor === 1 ? samples : samples.map((value) => value / factor);
}

/**
 * Charts of some channels of an axis, each with its peak marked; channels given as a pair share a chart.
 * @param limits limits by channel, SI
 */
export function channelPanels(
  axis: Axis,
  run: Run,
  axisRun: AxisRun,
  system: UnitSystem,
  wanted: readonly (ChannelId | readonly [ChannelId, ChannelId])[],
  limits: Partial<Record<ChannelId, number | null>> = {},
): CurvePanel[] {
  return wanted.map((entry) => {
    const ids = typeof entry === 'string' ? [entry] : entry;
    const specs = ids.map((id) => channelSpec(id, axis.kind));
    const { symbol, factor } = displayUnit(specs[0]!.kind, system);
    const samples = ids.map((id) => inUnit(axisRun.channels[id], factor));
    const last = samples.at(-1)!;
    const peak = findPeak(run.times, last);
    const limit = limits[ids[0]!];
    return {
      id: ids.join(),
      title: specs[0]!.label,
      unit: symbol,
      curves: specs.map((spec, i) => ({
        label: spec.label,
        colour: specs.length > 1 && i === 0 ? '--ink-soft' : `--axis-${axis.colour}`,
        values: samples[i]!,
        dashed: specs.length > 1 && i === 0,
      })),
      limit: limit === null || limit === undefined ? undefined : { low: -limit / factor, high: limit / factor },
      marks: peak.value === 0 ? [] : [{ ...peak, text: `${formatNumber(peak.value)} at ${formatNumber(peak.time)} s` }],
    };
  });
}
