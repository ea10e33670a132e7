<script setup lang="ts">
import { findPeak, formatQuantity, type ChannelGroup, type PeakKind } from '@yoke/core';
import { ElButton, ElOption, ElOptionGroup, ElSelect } from 'element-plus';
import '@/style/select';
import 'element-plus/theme-chalk/el-option-group.css';
import { computed, ref, type Component } from 'vue';
import { useCursor, useRun, useSeeing } from '@/stores';

/** Chooses channels for the plots, and leads the cursor to their peaks. */
const seeing = useSeeing();
const results = useRun();
const cursor = useCursor();
// Their published types describe their props as their own declarations.
const Select = ElSelect as Component;
const Option = ElOption as Component;
const Group = ElOptionGroup as Component;
const wanted = ref('');
const into = ref<number | null>(null);
const message = ref('');

const TITLES: Record<ChannelGroup, string> = {
  axis: 'Axes',
  drive: 'Drives in the mechanism',
  signal: 'Signals',
  body: 'Bodies',
  point: 'Points',
  joint: 'Joints',
  bearing: 'Loads of rails and shafts',
  element: 'Springs, loads, friction',
  energy: 'Energy and power',
  part: 'Loose parts',
};
/** Entries that are offered at once: a machine of many bodies has thousands, more than any list can hold. */
const MOST = 250;
const query = ref('');
const matching = computed(() => {
  const words = query.value.toLowerCase().split(/\s+/).filter(Boolean);
  const all = seeing.channels.map(({ id, group, object, label }) => ({ id, group, label: `${object}: ${label}` }));
  return all.filter(({ label }) => words.every((word) => label.toLowerCase().includes(word)));
});
const groups = computed(() => {
  const few = matching.value.slice(0, MOST);
  return (Object.keys(TITLES) as ChannelGroup[])
    .map((group) => ({ title: TITLES[group], items: few.filter((channel) => channel.group === group) }))
    .filter(({ items }) => items.length > 0);
});
const more = computed(() => Math.max(0, matching.value.length - MOST));
const shown = computed(() => seeing.plots.map((plot, i) => ({ id: plot.id, label: `Plot ${i + 1}` })));

function show(id: string): void {
  message.value = '';
  if (!id) return;
  if (into.value === null || !seeing.plots.some((plot) => plot.id === into.value)) seeing.add([id]);
  else message.value = seeing.toggle(into.value, id) ?? '';
  wanted.value = '';
}

const channel = computed(() => {
  const plot = seeing.plots.find(({ id }) => id === into.value) ?? seeing.plots[0];
  return plot ? seeing.byId.get(plot.channels[0] ?? '') : undefined;
});
const found = ref('');
function toPeak(kind: PeakKind): void {
  const samples = channel.value ? seeing.samples(channel.value.id) : undefined;
  if (!samples || !results.run || !channel.value) return;
  const peak = findPeak(results.run.times, samples, kind);
  cursor.stopAt(peak.time);
  const system = results.units;
  const sign =
    peak.value < 0 ? ', against the positive direction' : peak.value > 0 ? ', along the positive direction' : '';
  found.value = `${channel.value.object}, ${channel.value.label}: ${formatQuantity(peak.value, channel.value.kind, system, 4)} at ${formatQuantity(peak.time, 'time', system, 4)}${channel.value.id.endsWith(':v') || channel.value.id.endsWith(':force') ? '' : sign}. The pose there is shown.`;
}
</script>

<template>
  <div class="bar">
    <Select
      :model-value="wanted"
      filterable
      default-first-option
      :filter-method="(text: string) => (query = text)"
      placeholder="Show a channel …"
      aria-label="Show a channel"
      class="wide"
      @change="show(String($event))"
    >
      <Group v-for="group in groups" :key="group.title" :label="group.title">
        <Option v-for="item in group.items" :key="item.id" :value="item.id" :label="item.label" />
      </Group>
      <template v-if="more > 0" #footer>{{ more }} more: type some words of their names.</template>
    </Select>
    <Select :model-value="into ?? 0" aria-label="Into which plot" class="into" @change="into = Number($event) || null">
      <Option :value="0" label="in a new plot" />
      <Option v-for="plot in shown" :key="plot.id" :value="plot.id" :label="`over ${plot.label}`" />
    </Select>
    <span class="peaks">
      Peak
      <ElButton size="small" title="Largest magnitude of the first channel of the plot" @click="toPeak('magnitude')"
        >largest</ElButton
      >
      <ElButton size="small" @click="toPeak('maximum')">maximum</ElButton>
      <ElButton size="small" @click="toPeak('minimum')">minimum</ElButton>
    </span>
    <span v-for="(plot, i) in seeing.plots" :key="plot.id" class="chip">
      Plot {{ i + 1 }}
      <button type="button" :aria-label="`Close plot ${i + 1}`" @click="seeing.remove(plot.id)">×</button>
    </span>
    <p v-if="message || found" class="said" role="status">{{ message || found }}</p>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 8px;
  align-items: center;
}
.wide {
  width: 210px;
}
.into {
  width: 126px;
}
.peaks {
  font-size: 12.5px;
  color: var(--ink-soft);
  display: inline-flex;
  gap: 4px;
  align-items: center;
}
.peaks :deep(.el-button) {
  margin: 0;
  padding: 4px 7px;
}
.chip {
  font: 12.5px var(--narrow);
  border: 1px solid var(--line);
  border-radius: var(--radius);
  padding: 1px 2px 1px 7px;
}
.chip button {
  border: 0;
  background: none;
  color: inherit;
  cursor: pointer;
  font-size: 14px;
}
.said {
  flex-basis: 100%;
  font-size: 12.5px;
}
</style>
