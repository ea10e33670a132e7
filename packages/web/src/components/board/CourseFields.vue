<script setup lang="ts">
import type { Course, DrawnField, QuantityKind } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed, defineAsyncComponent } from 'vue';
import { DeleteButton, QuantityField, SchemaFields } from '@/components/fields';
import { useMachine } from '@/stores';

// The editor is large and seldom needed here.
const FormulaEditor = defineAsyncComponent(() => import('@/components/move/FormulaEditor.vue'));

/** How strong a force or torque is: constant, a smooth ramp, or a table, over time, cycle or a joint's position. */
const props = defineProps<{
  course: Course;
  kind: 'force' | 'torque';
  /** Those of its fields that the schema tells of. */
  fields: readonly DrawnField[];
  change: (make: (thing: object) => void, label: string) => string | null;
  commit: (course: Course) => string | null;
}>();
const machine = useMachine();

/** In what the places of a table are given. */
const placeKind = computed<QuantityKind>(() => {
  if (props.course.kind !== 'table' || props.course.over === 'cycle') return 'ratio';
  if (props.course.over === 'time') return 'time';
  const { joint } = props.course;
  return machine.document!.mechanism.joints.find(({ id }) => id === joint)?.kind === 'pin' ? 'angle' : 'length';
});
const setRows = (change: (rows: [number, number][]) => void): string | null => {
  if (props.course.kind !== 'table') return null;
  const rows = props.course.rows.map((r): [number, number] => [...r]);
  change(rows);
  return props.commit({ ...props.course, rows });
};
const setCell = (row: number, index: 0 | 1) => (value: number | null) =>
  setRows((rows) => void (rows[row]![index] = value!));
const addRow = () => setRows((rows) => void rows.push([...rows.at(-1)!]));
const removeRow = (index: number) => setRows((rows) => void rows.splice(index, 1));
</script>

<template>
  <div class="fields"><SchemaFields :fields :change /></div>
  <FormulaEditor
    v-if="course.kind === 'formula'"
    :text="course.text"
    :label="kind === 'force' ? 'Force by a formula' : 'Torque by a formula'"
    :names="{ axes: machine.axes.map(({ name }) => name), constants: machine.document!.constants }"
    :error="null"
    :example="kind === 'force' ? '20 N * pulse(t, 0.2 s, 0.6 s, 0.05 s)' : '2 Nm * sin(master)'"
    @change="(text) => commit({ kind: 'formula', text })"
  />
  <template v-if="course.kind === 'table'">
    <div v-for="(row, i) in course.rows" :key="i" class="row">
      <QuantityField bare :value="row[0]" :kind="placeKind" :label="`Row ${i + 1} place`" :commit="setCell(i, 0)" />
      <QuantityField bare :value="row[1]" :kind :label="`Row ${i + 1} value`" :commit="setCell(i, 1)" />
      <DeleteButton :disabled="course.rows.length <= 2" :label="`Remove row ${i + 1}`" @click="removeRow(i)" />
    </div>
    <ElButton size="small" @click="addRow">Add a row</ElButton>
  </template>
</template>

<style scoped>
@import './panel.css';
.row {
  display: grid;
  grid-template-columns: 1fr 1fr 28px;
  gap: 6px;
  margin-top: 4px;
}
</style>
