import { displayUnit, findPeak, formatNumber, type MechanismChannel } from '@yoke/core';
import { computed } from 'vue';
import type { Curve } from '@/components/CurveChart.vue';
import type { CurvePanel } from '@/components/CurveStack.vue';
import { useCompare } from '@/stores/compare';
import { useRun } from '@/stores/run';
import { useSeeing, type Plot } from '@/stores/seeing';

/** Colour of a channel: that of its axis where it has one, else by its place in the plot. */
function colourOf(channel: MechanismChannel, place: number, axes: readonly { id: string; colour: number }[]): string {
  const axis =
    channel.group === 'drive' || channel.group === 'axis'
      ? axes.find(({ id }) => channel.id.split(':')[1] === id)
      : undefined;
  return `--axis-${axis?.colour ?? place % 8}`;
}

/** Charts of the chosen channels, with variants and kept runs laid over them. */
export function usePlots() {
  const seeing = useSeeing();
  const compare = useCompare();
  const results = useRun();

  function panelOf(plot: Plot): CurvePanel | null {
    const { run, document } = results;
    const channels = plot.channels.flatMap((id) => seeing.byId.get(id) ?? []);
    const [first] = channels;
    if (!run || !document || !first) return null;
    const { symbol, factor } = displayUnit(first.kind, results.units);
    const inUnit = (samples: Float64Array) => (factor === 1 ? samples : samples.map((value) => value / factor));
    /** All are the same of several things: the title says what. */
    const isOne = channels.length > 1 && new Set(channels.map(({ label }) => label)).size === 1;
    const curves: Curve[] = [];
    const marks: CurvePanel['marks'] = [];
    channels.forEach((channel, i) => {
      const samples = seeing.samples(channel.id);
      if (!samples) return;
      const values = inUnit(samples);
      curves.push({
        label: isOne ? channel.object : `${channel.object} ${channel.label}`,
        colour: colourOf(channel, i, document.axes),
        values,
      });
      const peak = findPeak(run.times, values);
      if (peak.value) marks.push({ ...peak, text: `${formatNumber(peak.value)} at ${formatNumber(peak.time)} s` });
      for (const entry of compare.entries) {
        const other = compare.overlay(entry, channel.id, run);
        if (other)
          curves.push({
            label: entry.name,
            colour: `--axis-${(i + 2 + compare.entries.indexOf(entry)) % 8}`,
            values: inUnit(other),
            dashed: true,
          });
      }
    });
    return {
      id: String(plot.id),
      title:
        channels.length === 1
          ? `${first.object}: ${first.label}`
          : [...new Set(channels.map(({ label }) => label))].join(', '),
      unit: symbol,
      curves,
      marks,
    };
  }
  return computed(() => seeing.plots.flatMap((plot) => panelOf(plot) ?? []));
}
