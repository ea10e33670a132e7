<script setup lang="ts">
import type { Course, QuantityKind } from '@yoke/core';
import { ElButton } from 'element-plus';
import { Trash2 } from '@lucide/vue';
import { computed, defineAsyncComponent } from 'vue';
import ChoiceField from '@/components/ChoiceField.vue';
import IconButton from '@/components/IconButton.vue';
import QuantityField from '@/components/QuantityField.vue';
import { useBoard } from '@/stores/board';
import { useMachine } from '@/stores/machine';

// The editor is large and seldom needed here.
const FormulaEditor = defineAsyncComponent(() => import('@/components/move/FormulaEditor.vue'));

/** How strong a force or torque is: constant, a smooth ramp, or a table, over time, cycle or a joint's position. */
const props = defineProps<{ course: Course; kind: QuantityKind; commit: (course: Course) => string | null }>();
const board = useBoard();
const machine = useMachine();

const over = computed(() => ('over' in props.course ? props.course.over : 'cycle'));
const joint = computed(() => ('joint' in props.course ? props.course.joint : null));
const joints = computed(() =>
  board.mechanism!.joints.filter(({ kind }) => kind !== 'weld').map(({ id, name }) => ({ value: id, label: name })),
);
const placeKind = computed<QuantityKind>(() => {
  if (over.value === 'time') return 'time';
  if (over.value === 'cycle') return 'ratio';
  return board.mechanism!.joints.find(({ id }) => id === joint.value)?.kind === 'pin' ? 'angle' : 'length';
});

function setKind(kind: Course['kind']): void {
  const base = { over: over.value, joint: joint.value };
  const { course } = props;
  const value =
    course.kind === 'constant'
      ? course.value
      : course.kind === 'ramp'
        ? course.to[1]
        : course.kind === 'table'
          ? (course.rows[0]?.[1] ?? 0)
          : 0;
  props.commit(
    kind === 'formula'
      ? { kind, text: `${value} ${props.kind === 'force' ? 'N' : 'Nm'}` }
      : kind === 'constant'
      ? { kind, value }
      : kind === 'ramp'
        ? { kind, ...base, from: [0.2, 0], to: [0.5, value] }
        : { kind, ...base, rows: [[0, value], [1, value]] }, // prettier-ignore
  );
}
const change = (part: Record<string, unknown>) => props.commit({ ...props.course, ...part } as Course);
const setOver = (value: 'time' | 'cycle' | 'position') =>
  change({ over: value, joint: value === 'position' ? (joint.value ?? joints.value[0]?.value ?? null) : null });
const setEnd = (end: 'from' | 'to', index: 0 | 1) => (value: number | null) => {
  if (props.course.kind !== 'ramp') return null;
  const pair: [number, number] = [...props.course[end]];
  pair[index] = value!;
  return change({ [end]: pair });
};
const setCell = (row: number, index: 0 | 1) => (value: number | null) => {
  if (props.course.kind !== 'table') return null;
  const rows = props.course.rows.map((r): [number, number] => [...r]);
  rows[row]![index] = value!;
  return change({ rows });
};
function addRow(): void {
  if (props.course.kind !== 'table') return;
  const last = props.course.rows.at(-1)!;
  change({ rows: [...props.course.rows, [...last]] });
}
function removeRow(index: number): void {
  if (props.course.kind === 'table') change({ rows: props.course.rows.filter((_, i) => i !== index) });
}
</script>

<template>
  <div class="fields">
    <ChoiceField
      :value="course.kind"
      label="Strength"
      :options="[
        { value: 'constant', label: 'Constant' },
        { value: 'ramp', label: 'Smooth ramp' },
        { value: 'table', label: 'Table' },
        { value: 'formula', label: 'Formula' },
      ]"
      @choose="setKind"
    />
    <QuantityField
      v-if="course.kind === 'constant'"
      :value="course.value"
      :kind="kind"
      label="Value"
      :commit="(v) => change({ value: v })"
    />
    <ChoiceField
      v-else-if="'over' in course"
      :value="course.over"
      label="Over"
      :options="[
        { value: 'cycle', label: 'Cycle' },
        { value: 'time', label: 'Time' },
        { value: 'position', label: 'Position' },
      ]"
      @choose="setOver"
    />
    <ChoiceField
      v-if="'over' in course && course.over === 'position'"
      :value="course.joint ?? ''"
      label="Of the joint"
      :options="joints"
      @choose="change({ joint: $event })"
    />
    <template v-if="course.kind === 'ramp'">
      <QuantityField :value="course.from[0]" :kind="placeKind" label="Begins at" :commit="setEnd('from', 0)" />
      <QuantityField :value="course.from[1]" :kind="kind" label="Before" :commit="setEnd('from', 1)" />
      <QuantityField :value="course.to[0]" :kind="placeKind" label="Ends at" :commit="setEnd('to', 0)" />
      <QuantityField :value="course.to[1]" :kind="kind" label="After" :commit="setEnd('to', 1)" />
    </template>
  </div>
  <FormulaEditor
    v-if="course.kind === 'formula'"
    :text="course.text"
    :label="kind === 'force' ? 'Force by a formula' : 'Torque by a formula'"
    :names="{ axes: machine.axes.map(({ name }) => name), constants: machine.document!.constants }"
    :error="null"
    :example="kind === 'force' ? '20 N * pulse(t, 0.2 s, 0.6 s, 0.05 s)' : '2 Nm * sin(master)'"
    @change="(text) => change({ text })"
  />
  <template v-if="course.kind === 'table'">
    <div v-for="(row, i) in course.rows" :key="i" class="row">
      <QuantityField bare :value="row[0]" :kind="placeKind" :label="`Row ${i + 1} place`" :commit="setCell(i, 0)" />
      <QuantityField bare :value="row[1]" :kind="kind" :label="`Row ${i + 1} value`" :commit="setCell(i, 1)" />
      <IconButton
        :icon="Trash2"
        :size="14"
        :disabled="course.rows.length <= 2"
        :aria-label="`Remove row ${i + 1}`"
        @click="removeRow(i)"
      />
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
