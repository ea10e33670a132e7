<script setup lang="ts">
import {
  changeWords,
  channelFacts,
  displayUnit,
  formatNumber,
  formatQuantity,
  cycleMeasures,
  everySamples,
  type ChannelFacts,
  type Extreme,
} from '@yoke/core';
import { computed } from 'vue';
import { useCompare, useCursor, useRun, useSeeing } from '@/stores';

/** Extremes with their times, and RMS, of the channels that are plotted: of this run and of those laid over it. */
const props = defineProps<{
  /** Channels of the table; those that are plotted where none are given. */
  channels?: readonly string[];
}>();
const results = useRun();
const seeing = useSeeing();
const compare = useCompare();
const cursor = useCursor();

interface Cell {
  value: string;
  change: string;
  /** Time of an extreme and the share of the cycle, from 0 to 1. */
  at: string;
  share: number | null;
  /** Whether the run did not get through, so that this is what it came to until then. */
  partial: boolean;
}
const WHAT = { maximum: 'maximum', minimum: 'minimum', rms: 'RMS' } as const;
type What = keyof typeof WHAT;
const valueOf = (facts: ChannelFacts, what: What) => (what === 'rms' ? facts.rms : facts[what].value);
const round = (value: number) => formatNumber(Number(value.toPrecision(4)));

const table = computed(() => {
  const { run, document } = results;
  if (!run || !document) return [];
  const ids = props.channels ?? [...new Set(seeing.plots.flatMap(({ channels }) => channels))];
  return ids.flatMap((id) => {
    const channel = seeing.byId.get(id);
    const own = seeing.samples(id);
    const base = own && channelFacts(run, own);
    if (!channel || !base) return [];
    const { symbol, factor } = displayUnit(channel.kind, results.units);
    const all = [
      { facts: base, own: true },
      ...compare.entries.map((entry) => {
        const samples = entry.run
          ? everySamples(entry.document, { run: entry.run, record: entry.record }, id)
          : undefined;
        return { facts: entry.run && samples ? channelFacts(entry.run, samples) : null, own: false };
      }),
    ];
    // Beside the largest of them, what is left of differences of rounding is nothing.
    const negligible = 1e-9 * Math.max(Math.abs(base.maximum.value), Math.abs(base.minimum.value));
    const cellOf = (facts: ChannelFacts | null, what: What, isOwn: boolean): Cell | null => {
      if (!facts) return null;
      const extreme: Extreme | null = what === 'rms' ? null : facts[what];
      const value = valueOf(facts, what);
      return {
        value: round(Math.abs(value) <= negligible ? 0 : value / factor),
        change: isOwn ? '' : changeWords(value, valueOf(base, what), negligible),
        at: extreme ? formatQuantity(extreme.time, 'time', results.units, 4) : '',
        share: extreme?.share ?? null,
        partial: !facts.complete,
      };
    };
    const rows = (Object.keys(WHAT) as What[]).map((what) => ({
      key: `${id}.${what}`,
      label: what === 'maximum' ? `${channel.object}: ${channel.label}` : '',
      what: WHAT[what],
      symbol,
      cells: all.map(({ facts, own: isOwn }) => cellOf(facts, what, isOwn)),
    }));
    return [rows];
  });
});
/** How long the cycles took: each measure of this run, beside the same of the others. */
const times = computed(() => {
  const { run, record, document } = results;
  if (!run || !document) return [];
  const own = cycleMeasures(document, { run, record });
  const others = compare.entries.map((entry) =>
    entry.run ? cycleMeasures(entry.document, { run: entry.run, record: entry.record }) : [],
  );
  const labels = [...new Set([own, ...others].flatMap((list) => list.map(({ label }) => label)))];
  const shown = (time: number | undefined) =>
    time === undefined ? '' : formatQuantity(time, 'time', results.units, 5);
  return labels.map((label) => {
    const base = own.find((measure) => measure.label === label)?.time;
    return {
      label,
      own: shown(base),
      others: others.map((list) => {
        const time = list.find((measure) => measure.label === label)?.time;
        return {
          value: shown(time),
          change: time === undefined || base === undefined ? '' : changeWords(time, base),
        };
      }),
    };
  });
});
function show(share: number): void {
  cursor.stopAt(share * results.span);
}
</script>

<template>
  <table v-if="table.length > 0 || times.length > 0" class="rows" aria-label="Runs compared">
    <thead>
      <tr>
        <th scope="col">Channel</th>
        <th scope="col" class="number">This run</th>
        <th v-for="entry in compare.entries" :key="entry.key" scope="col" class="number">
          {{ entry.name
          }}<span v-if="entry.broken" class="bad" :title="entry.broken.text"><br />broken: see below</span>
        </th>
        <th v-for="entry in compare.pending" :key="entry.key" scope="col" class="number soft" role="status">
          {{ entry.name }}<br />is computed …
        </th>
      </tr>
    </thead>
    <tbody v-if="times.length > 0">
      <tr v-for="(row, i) in times" :key="row.label">
        <td>
          <span v-if="i === 0" class="channel">Time of the cycle</span><span class="soft">{{ row.label }}</span>
        </td>
        <td class="number">{{ row.own }}</td>
        <td v-for="(cell, k) in row.others" :key="k" class="number">
          {{ cell.value }}<span v-if="cell.change" class="soft change">{{ cell.change }}</span>
        </td>
      </tr>
    </tbody>
    <tbody v-for="rows in table" :key="rows[0]!.key">
      <tr v-for="row in rows" :key="row.key">
        <td>
          <span v-if="row.label" class="channel">{{ row.label }}</span>
          <span class="soft">{{ row.what }} [{{ row.symbol }}]</span>
        </td>
        <td v-for="(cell, i) in row.cells" :key="i" class="number">
          <template v-if="cell">
            <span :class="{ bad: cell.partial }" :title="cell.partial ? 'Until the run broke off' : undefined">{{
              cell.value
            }}</span>
            <span v-if="cell.change" class="soft change">{{ cell.change }}</span>
            <button
              v-if="cell.share !== null"
              type="button"
              class="plain soft at"
              title="Cursor to this place"
              @click="show(cell.share)"
            >
              at {{ cell.at }}
            </button>
          </template>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
table {
  margin-top: 8px;
}
td {
  vertical-align: top;
}
.channel,
.change,
.at {
  display: block;
}
.at {
  font-size: 11.5px;
  margin-left: auto;
}
.at:hover {
  color: var(--primary);
  text-decoration: underline;
}
</style>
