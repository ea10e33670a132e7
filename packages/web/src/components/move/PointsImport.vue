<script setup lang="ts">
import {
  counted,
  columnKinds,
  guessColumns,
  motionRows,
  readRawTable,
  splitHeading,
  type Axis,
  type ColumnChoice,
  type RawTable,
  type Separator,
} from '@yoke/core';
import { ElButton, ElInput } from 'element-plus';
import { computed, ref, watch } from 'vue';
import { ChoiceField, FileButton, NameField } from '@/components/fields';
import { useMachine } from '@/stores';

/** A table from elsewhere: pasted or read, with its separator, decimal sign, columns and units to be chosen. */
const props = defineProps<{ axis: Axis; columns: string }>();
const emit = defineEmits<{ read: [rows: number[][]]; close: [] }>();
const machine = useMachine();
const text = ref('');
const separator = ref<Separator | 'auto'>('auto');
const decimal = ref<'.' | ',' | 'auto'>('auto');
const choice = ref<ColumnChoice | null>(null);

const table = computed<{ raw: RawTable } | { error: string } | null>(() => {
  if (text.value.trim() === '') return null;
  try {
    return {
      raw: readRawTable(text.value, {
        ...(separator.value === 'auto' ? {} : { separator: separator.value }),
        ...(decimal.value === 'auto' ? {} : { decimal: decimal.value }),
      }),
    };
  } catch (error) {
    return { error: (error as Error).message };
  }
});
watch(table, (found) => (choice.value = found && 'raw' in found ? guessColumns(found.raw) : null));

const options = computed(() => {
  if (!table.value || !('raw' in table.value)) return [];
  const { header, rows } = table.value.raw;
  const width = Math.max(...rows.map((row) => row.length));
  return Array.from({ length: width }, (_, c) => ({ value: String(c), label: header?.[c] || `Column ${c + 1}` }));
});
const FIELDS = [
  { key: 'place', label: 'Runs over', optional: false },
  { key: 'value', label: 'Values', optional: false },
  { key: 'velocity', label: 'Velocities', optional: true },
  { key: 'acceleration', label: 'Accelerations', optional: true },
] as const;
type Key = (typeof FIELDS)[number]['key'];
const setColumn = (key: Key, value: string) => {
  if (choice.value) choice.value = { ...choice.value, [key]: value === '' ? null : Number(value) };
};
const setUnit = (key: Key, value: string) => {
  if (choice.value) choice.value = { ...choice.value, units: { ...choice.value.units, [key]: value.trim() } };
};
const kinds = computed(() => {
  const found = columnKinds(
    props.axis.kind,
    props.axis.motion.over === 'master' ? machine.document!.master.kind : null,
  );
  // Values of a table at a lower level are velocities or accelerations.
  const { level } = props.axis.motion;
  return level === 'position' ? found : { ...found, value: found[level] };
});
const unitOf = (key: Key) => {
  if (!choice.value || !table.value || !('raw' in table.value)) return '';
  const column = choice.value[key];
  return column === null ? '' : splitHeading(table.value.raw.header?.[column] ?? '').unit;
};
const outcome = computed<{ rows: number[][] } | { error: string } | null>(() => {
  if (!table.value || 'error' in table.value) return table.value;
  if (!choice.value) return null;
  try {
    return { rows: motionRows(table.value.raw, choice.value, kinds.value, machine.units) };
  } catch (error) {
    return { error: (error as Error).message };
  }
});
const preview = computed(() => (table.value && 'raw' in table.value ? table.value.raw.rows.slice(0, 3) : []));
</script>

<template>
  <section class="import" aria-label="Table from elsewhere">
    <ElInput
      v-model="text"
      type="textarea"
      :rows="4"
      aria-label="Pasted table"
      placeholder="Paste cells from a spreadsheet or CSV here: two columns at least"
    />
    <div class="line">
      <FileButton accept=".csv,.txt,.tsv,text/csv" @read="(content) => (text = content)">Read a file …</FileButton>
      <ChoiceField
        bare
        :value="separator"
        label="Separator"
        :options="{ auto: 'Separator: found', ',': 'Comma', ';': 'Semicolon', '\t': 'Tab' }"
        @choose="separator = $event"
      />
      <ChoiceField
        bare
        :value="decimal"
        label="Decimal sign"
        :options="{ auto: 'Decimals: found', '.': 'Point', ',': 'Comma' }"
        @choose="decimal = $event"
      />
    </div>
    <template v-if="choice && options.length > 0">
      <div class="columns">
        <template v-for="field in FIELDS" :key="field.key">
          <ChoiceField
            :value="choice[field.key] === null ? '' : String(choice[field.key])"
            :label="field.label"
            :options="field.optional ? [{ value: '', label: 'none' }, ...options] : options"
            @choose="setColumn(field.key, $event)"
          />
          <NameField
            v-if="choice[field.key] !== null"
            :most="20"
            :value="choice.units[field.key]"
            :label="`Unit of ${field.label.toLowerCase()}`"
            :placeholder="unitOf(field.key) || 'as shown'"
            :commit="(value) => (setUnit(field.key, value), null)"
          />
          <span v-else />
        </template>
      </div>
      <table class="rows preview">
        <tbody>
          <tr v-for="(row, i) in preview" :key="i">
            <td v-for="(cell, c) in row" :key="c" class="figures">{{ cell }}</td>
          </tr>
        </tbody>
      </table>
    </template>
    <p v-if="outcome && 'error' in outcome" class="bad" role="alert">{{ outcome.error }}</p>
    <div class="line">
      <ElButton
        size="small"
        type="primary"
        :disabled="!outcome || 'error' in outcome"
        @click="outcome && 'rows' in outcome && emit('read', outcome.rows)"
      >
        {{ outcome && 'rows' in outcome ? `Take ${counted(outcome.rows.length, 'row')}` : 'Take the rows' }}
      </ElButton>
      <ElButton size="small" @click="emit('close')">Close</ElButton>
    </div>
  </section>
</template>

<style scoped>
.import {
  display: grid;
  gap: 8px;
  padding: 8px;
  background: var(--sunken);
  border-radius: var(--radius);
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}
.line :deep(.choice) {
  width: 150px;
}
.columns {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 6px 8px;
  align-items: end;
}
.preview {
  font-size: 11px;
}
p {
  margin: 0;
}
</style>
