<script setup lang="ts">
import {
  displayUnit,
  findPeak,
  formatNumber,
  freeId,
  mechanismSamples,
  newVariant,
  rmsOf,
  type Variant,
} from '@yoke/core';
import { ElButton, ElInput } from 'element-plus';
import { Trash2 } from '@lucide/vue';
import { computed, ref } from 'vue';
import IconButton from '@/components/IconButton.vue';
import { useCompare } from '@/stores/compare';
import { useMachine } from '@/stores/machine';
import { useRun } from '@/stores/run';
import { useSeeing } from '@/stores/seeing';
import VariantFields from './VariantFields.vue';

/** Variants and kept runs: laid over the plots, their peaks and RMS values in one table with differences. */
const machine = useMachine();
const results = useRun();
const seeing = useSeeing();
const compare = useCompare();
const name = ref('');
const edited = ref<string | null>(null);

const variants = computed(() => machine.document?.variants ?? []);
function addVariant(): void {
  const id = freeId('v', variants.value.map((v) => v.id)); // prettier-ignore
  const label = freeId('Variant ', variants.value.map((v) => v.name)); // prettier-ignore
  machine.edit('add a variant', (draft) => void draft.variants.push(newVariant(id, label)));
  edited.value = id;
}
function removeVariant(variant: Variant): void {
  if (compare.shown.includes(`variant:${variant.id}`)) compare.toggle(`variant:${variant.id}`);
  machine.edit(
    `delete ${variant.name}`,
    (draft) => void (draft.variants = draft.variants.filter(({ id }) => id !== variant.id)),
  );
}
async function keep(): Promise<void> {
  const now = new Date();
  const label =
    name.value.trim() || `Run of ${now.toLocaleString('en-GB', { dateStyle: 'short', timeStyle: 'medium' })}`;
  await compare.keep(label);
  name.value = '';
}

/** How a magnitude differs: as a factor where it is large, else in percent. */
function changeOf(value: number, from: number): string {
  if (from === 0) return '';
  const ratio = Math.abs(value / from);
  if (ratio >= 10) return `× ${formatNumber(Number(ratio.toPrecision(4)))}`;
  const percent = (ratio - 1) * 100;
  return `${percent > 0 ? '+' : ''}${percent.toFixed(1)} %`;
}

/** Rows: the channels in the plots; columns: this run and those laid over it. */
const table = computed(() => {
  const { run, document } = results;
  if (!run || !document) return [];
  const ids = [...new Set(seeing.plots.flatMap(({ channels }) => channels))];
  return ids.flatMap((id) => {
    const channel = seeing.byId.get(id);
    const own = seeing.samples(id);
    if (!channel || !own) return [];
    const { symbol, factor } = displayUnit(channel.kind, results.units);
    const base = { peak: findPeak(run.times, own).value / factor, rms: rmsOf(run.times, own) / factor };
    const others = compare.entries.map((entry) => {
      const samples = entry.run ? mechanismSamples(entry.document, entry.run, id) : undefined;
      if (!entry.run || !samples) return null;
      const peak = findPeak(entry.run.times, samples).value / factor;
      const rms = rmsOf(entry.run.times, samples) / factor;
      return { peak, rms, peakChange: changeOf(peak, base.peak), rmsChange: changeOf(rms, base.rms) };
    });
    return [{ id, label: `${channel.object}: ${channel.label}`, symbol, base, others }];
  });
});
const round = (value: number) => formatNumber(Number(value.toPrecision(4)));
</script>

<template>
  <div class="compare">
    <h3>Variants <ElButton size="small" @click="addVariant">Add a variant</ElButton></h3>
    <ul>
      <li v-for="variant in variants" :key="variant.id">
        <label>
          <input
            type="checkbox"
            :checked="compare.shown.includes(`variant:${variant.id}`)"
            @change="compare.toggle(`variant:${variant.id}`)"
          />
          {{ variant.name }}
        </label>
        <button type="button" class="plain edit" @click="edited = edited === variant.id ? null : variant.id">
          {{ edited === variant.id ? 'Done' : 'Change' }}
        </button>
        <IconButton :icon="Trash2" :size="14" :aria-label="`Delete ${variant.name}`" @click="removeVariant(variant)" />
        <VariantFields v-if="edited === variant.id" class="wide" :variant="variant" />
      </li>
    </ul>
    <table v-if="table.length > 0" class="rows">
      <thead>
        <tr>
          <th>Channel</th>
          <th class="number">This run</th>
          <th v-for="entry in compare.entries" :key="entry.key" class="number">{{ entry.name }}</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="row in table" :key="row.id">
          <tr>
            <td>{{ row.label }}, peak [{{ row.symbol }}]</td>
            <td class="number">{{ round(row.base.peak) }}</td>
            <td v-for="(other, i) in row.others" :key="i" class="number">
              <template v-if="other"
                >{{ round(other.peak) }}<br /><span class="soft">{{ other.peakChange }}</span></template
              >
            </td>
          </tr>
          <tr>
            <td class="soft">RMS [{{ row.symbol }}]</td>
            <td class="number">{{ round(row.base.rms) }}</td>
            <td v-for="(other, i) in row.others" :key="i" class="number">
              <template v-if="other"
                >{{ round(other.rms) }}<br /><span class="soft">{{ other.rmsChange }}</span></template
              >
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <h3>Kept runs</h3>
    <ul>
      <li v-for="run in compare.kept" :key="run.id">
        <label>
          <input
            type="checkbox"
            :checked="compare.shown.includes(`kept:${run.id}`)"
            @change="compare.toggle(`kept:${run.id}`)"
          />
          {{ run.name }} <span class="soft">revision {{ run.revision }}</span>
        </label>
        <IconButton :icon="Trash2" :size="14" :aria-label="`Forget ${run.name}`" @click="compare.forget(run.id)" />
      </li>
    </ul>
    <div class="keep">
      <ElInput
        v-model="name"
        size="small"
        maxlength="80"
        placeholder="Name of this run"
        aria-label="Name of this run"
      />
      <ElButton size="small" :disabled="results.stale" @click="keep">Keep this run</ElButton>
    </div>
    <p v-if="compare.message" class="note" role="status">{{ compare.message }}</p>
    <p v-for="entry in compare.entries.filter((e) => e.failure)" :key="entry.key" class="bad">
      {{ entry.name }}: {{ entry.failure }}
    </p>
  </div>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 2px 0 4px;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 1fr auto auto;
  align-items: center;
  gap: 6px;
}
li label {
  display: flex;
  gap: 6px;
  align-items: center;
}
.wide {
  grid-column: 1 / -1;
}
.edit {
  color: var(--primary);
  font-size: 12.5px;
}
h3 {
  margin: 8px 0 2px;
}
.keep {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 6px;
}
.note {
  font-size: 12.5px;
  color: var(--ink-soft);
}
table {
  margin-top: 8px;
}
</style>
