<script setup lang="ts">
import { formatQuantity, freeId, newVariant, type Variant } from '@yoke/core';
import { ElButton, ElInput } from 'element-plus';
import { computed, ref } from 'vue';
import FindingsList, { type ShownFinding } from '@/components/FindingsList.vue';
import { DeleteButton, TickBox } from '@/components/fields';
import { useCompare, useMachine, useRun, type Compared } from '@/stores';
import CompareTable from './CompareTable.vue';
import VariantFields from './VariantFields.vue';

/** Variants and kept runs: laid over the plots, held against the present run in one table, with what was found in them. */
defineProps<{
  /** Channels that are compared; those that are plotted where none are given. */
  channels?: readonly string[];
}>();
const machine = useMachine();
const results = useRun();
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

/** What another run found; a click leads the cursor to the same share of the present cycle. */
const foundIn = ({ findings, run }: Compared): ShownFinding[] =>
  findings.map(({ severity, text, time }) => ({
    severity,
    text,
    time: time === null || !run ? undefined : (time / run.cycleTime) * results.span,
  }));
const isShown = (id: string) => compare.shown.includes(id as (typeof compare.shown)[number]);
</script>

<template>
  <div class="compare">
    <h3>Variants <ElButton size="small" @click="addVariant">Add a variant</ElButton></h3>
    <ul>
      <li v-for="variant in variants" :key="variant.id">
        <TickBox :checked="isShown(`variant:${variant.id}`)" @change="compare.toggle(`variant:${variant.id}`)">
          {{ variant.name }}
        </TickBox>
        <button type="button" class="plain edit" @click="edited = edited === variant.id ? null : variant.id">
          {{ edited === variant.id ? 'Done' : 'Change' }}
        </button>
        <DeleteButton :label="`Delete ${variant.name}`" @click="removeVariant(variant)" />
        <VariantFields v-if="edited === variant.id" class="wide" :variant />
      </li>
    </ul>
    <CompareTable v-if="results.begun === null" v-bind="channels ? { channels } : {}" />
    <p v-else class="note">Figures to compare come with the whole cycle.</p>
    <h3>Kept runs</h3>
    <ul>
      <li v-for="run in compare.kept" :key="run.id">
        <TickBox :checked="isShown(`kept:${run.id}`)" @change="compare.toggle(`kept:${run.id}`)">
          {{ run.name }}
          <span class="soft"
            >{{
              run.cycleTime === null ? '' : `cycle ${formatQuantity(run.cycleTime, 'time', results.units, 4)}, `
            }}revision {{ run.revision }}</span
          >
        </TickBox>
        <DeleteButton :label="`Forget ${run.name}`" @click="compare.forget(run.id)" />
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
    <p v-for="entry in compare.entries.filter((e) => e.failure)" :key="entry.key" class="bad" role="alert">
      {{ entry.name }}: {{ entry.failure }}
    </p>
    <template v-for="entry in compare.entries" :key="entry.key">
      <section v-if="entry.findings.length > 0" :aria-label="`Findings of ${entry.name}`">
        <h3>Found in {{ entry.name }}</h3>
        <FindingsList :findings="foundIn(entry)" fine="" />
      </section>
    </template>
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
</style>
