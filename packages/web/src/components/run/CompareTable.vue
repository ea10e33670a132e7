<script setup lang="ts">
import {
  changeWords,
  channelFacts,
  displayUnit,
  formatNumber,
  formatQuantity,
  mechanismSamples,
  type ChannelFacts,
  type Extreme,
} from '@yoke/core';
import { computed } from 'vue';
import { useCompare, useCursor, useRun, useSeeing } from '@/stores';

/** Extremes with their times, and RMS, of the channels that are plotted: of this run and of those laid over it. */
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
  const ids = [...new Set(seeing.plots.flatMap(({ channels }) => channels))];
  return ids.flatMap((id) => {
    const channel = seeing.byId.get(id);
    const own = seeing.samples(id);
    const base = own && channelFacts(run, own);
    if (!channel || !base) return [];
    const { symbol, factor } = displayUnit(channel.kind, results.units);
    const all = [
      { facts: base, own: true },
      ...compare.entries.map((entry) => {
        const samples = entry.run ? mechanismSamples(entry.document, entry.run, id) : undefined;
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
function show(share: number): void {
  cursor.stopAt(share * results.span);
}
</script>

<template>
  <table v-if="table.length > 0" class="rows">
    <thead>
      <tr>
        <th scope="col">Channel</th>
        <th scope="col" class="number">This run</th>
        <th v-for="entry in compare.entries" :key="entry.key" scope="col" class="number">
          {{ entry.name
          }}<span v-if="entry.broken" class="bad" :title="entry.broken.text"><br />broken: see below</span>
        </th>
      </tr>
    </thead>
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
