<script setup lang="ts">
import {
  counted,
  AXIS_KINDS,
  cleanPoints,
  columnKinds,
  displayUnit,
  formatQuantity,
  motionPoints,
  pointErrors,
  writeMotionRows,
  type Axis,
  type AxisMotion,
} from '@yoke/core';
import { Plus } from '@lucide/vue';
import { ElButton } from 'element-plus';
import { computed, ref } from 'vue';
import { ChoiceField, DeleteButton, IconButton, QuantityField } from '@/components/fields';
import { useMotionEdit } from '@/composables/useMotionEdit';
import { download, fileName } from '@/lib/files';
import { useMachine, useMotions } from '@/stores';
import PointsImport from './PointsImport.vue';

/** Points that a motion passes: typed, pasted, read from a file, cleaned, fitted, and written out again. */
const props = defineProps<{ axis: Axis }>();
const machine = useMachine();
const motions = useMotions();
const { editSource, valueKind, placeKind } = useMotionEdit();
type Points = Extract<AxisMotion['source'], { kind: 'points' }>;
const source = computed(() => props.axis.motion.source as Points);
const rows = computed(() => source.value.rows);
const importing = ref(false);
const notes = ref<string[]>([]);
/** Rows shown at once: a long table stays quick to work in. */
const PAGE = 10;
const first = ref(0);
const shown = computed(() => rows.value.slice(first.value, first.value + PAGE));
const columns = computed(() => rows.value[0]?.length ?? 2);
const kinds = computed(
  () =>
    [
      placeKind.value,
      valueKind.value,
      AXIS_KINDS[props.axis.kind].velocity,
      AXIS_KINDS[props.axis.kind].acceleration,
    ] as const,
);
const heads = computed(() =>
  [
    placeKind.value === 'time' ? 'Time' : 'Master',
    { position: 'Position', velocity: 'Velocity', acceleration: 'Acceleration' }[props.axis.motion.level],
    'Velocity',
    'Acceleration',
  ].slice(0, columns.value),
);

const edit = (label: string, recipe: (points: Points) => void) => editSource('points', label, recipe);
const setCell = (row: number, column: number) => (value: number | null) =>
  edit('a point', (points) => void (points.rows[row]![column] = value!));
const remove = (row: number) => edit('delete a point', (points) => void points.rows.splice(row, 1));
/** A new point lies between its neighbours, on the motion as it is. */
const insert = (row: number) =>
  edit('insert a point', (points) => {
    const [a, b] = [points.rows[row]!, points.rows[row + 1]];
    const fresh = b
      ? a.map((value, c) => (value + b[c]!) / 2)
      : a.map((value, c) => (c === 0 ? value + machine.cycle / 20 : value));
    points.rows.splice(row + 1, 0, fresh);
  });

const showPlace = (place: number) => formatQuantity(place, placeKind.value, machine.units, 5);
function take(read: number[][]): void {
  const cleaned = cleanPoints(read, showPlace);
  notes.value = [`${counted(read.length, 'row')} read.`, ...cleaned.notes];
  edit('read a table', (points) => {
    points.rows = cleaned.points;
    const [start, end] = [cleaned.points[0]?.[1] ?? 0, cleaned.points.at(-1)?.[1] ?? 0];
    if (points.ends === 'cyclic' && start !== end) points.ends = 'free';
  });
  first.value = 0;
  importing.value = false;
}
function clean(): void {
  const cleaned = cleanPoints(rows.value, showPlace);
  notes.value = cleaned.notes.length > 0 ? cleaned.notes : ['In order: no doubles, no gaps.'];
  edit('clean the table', (points) => void (points.rows = cleaned.points));
}
/** Reads the motion as it is off again at evenly spaced places: what was smoothed becomes the points. */
const resample = () =>
  edit('read the points off the curve', (points) => {
    const { motion } = motions.of(props.axis.id);
    const inside = motionPoints({ ...motion, edges: [] }, Math.max(5, points.rows.length));
    points.rows = inside;
    points.tolerance = 0;
  });
const save = () =>
  download(
    `${fileName(machine.document!.name)}-${fileName(props.axis.name)}-table.csv`,
    writeMotionRows(
      rows.value,
      columnKinds(props.axis.kind, props.axis.motion.over === 'master' ? machine.document!.master.kind : null),
      machine.units,
    ),
    'text/csv',
  );
/** How far the curve passes its points by, where it may; null where it goes through all of them. */
const errors = computed(() => {
  if (props.axis.motion.over !== 'time' || failed.value) return null;
  const found = pointErrors(motions.of(props.axis.id).motion, rows.value, props.axis.motion.level);
  const size = Math.max(...rows.value.map((row) => Math.abs(row[1]!)));
  return found.some((error) => Math.abs(error) > 1e-9 * size) ? found : null;
});
const offText = (row: number) => {
  const error = errors.value?.[row] ?? NaN;
  return Number.isNaN(error) ? '–' : formatQuantity(error, valueKind.value, machine.units, 3);
};
const failed = computed(() => motions.of(props.axis.id).problems.find(({ code }) => code === 'motion'));
</script>

<template>
  <div class="points">
    <div class="fit">
      <template v-if="columns === 2">
        <ChoiceField
          :value="source.way"
          label="Between points"
          :options="[
            { value: 'quintic', label: 'Quintic spline', hint: 'Smooth to the fourth derivative' },
            { value: 'cubic', label: 'Cubic spline', hint: 'Smooth in velocity and acceleration' },
            { value: 'line', label: 'Straight lines', hint: 'Velocity jumps at every point' },
          ]"
          @choose="(way) => edit('between the points', (points) => void (points.way = way))"
        />
        <ChoiceField
          v-if="source.way !== 'line'"
          :value="source.ends"
          label="Ends"
          :options="[
            { value: 'rest', label: 'At rest' },
            { value: 'free', label: 'Free' },
            { value: 'cyclic', label: 'Cyclic', hint: 'The end goes over smoothly into the start' },
          ]"
          @choose="(ends) => edit('ends of the curve', (points) => void (points.ends = ends))"
        />
        <QuantityField
          v-if="source.way !== 'line'"
          :value="source.tolerance"
          :kind="valueKind"
          label="Smoothing within"
          hint="The smoothest curve that stays this close to every point; 0 passes through them"
          :min="0"
          :commit="(value) => edit('smoothing', (points) => void (points.tolerance = value!))"
        />
      </template>
      <p v-else class="soft">
        The rows bring their velocities{{ columns === 4 ? ' and accelerations' : '' }}: the curve meets them.
      </p>
    </div>
    <PointsImport
      v-if="importing"
      :axis
      :columns="displayUnit(valueKind, machine.units).symbol"
      @read="take"
      @close="importing = false"
    />
    <p v-if="failed" class="bad" role="alert">{{ failed.code === 'motion' ? failed.text : '' }}</p>
    <table v-if="rows.length > 0" class="rows">
      <thead>
        <tr>
          <th scope="col">#</th>
          <th v-for="(head, c) in heads" :key="c" scope="col">{{ head }}</th>
          <th v-if="errors" scope="col" title="How far the curve passes the point by">Off</th>
          <th scope="col"><span class="visually-hidden">Actions</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, k) in shown" :key="first + k">
          <td class="soft figures">{{ first + k + 1 }}</td>
          <td v-for="(value, c) in row" :key="c">
            <QuantityField
              bare
              :value
              :kind="kinds[c]!"
              :label="`${heads[c]} of point ${first + k + 1}`"
              :commit="setCell(first + k, c)"
            />
          </td>
          <td v-if="errors" class="off figures">{{ offText(first + k) }}</td>
          <td class="actions">
            <IconButton
              :icon="Plus"
              :size="14"
              :aria-label="`Insert a point after ${first + k + 1}`"
              title="Insert a point behind it"
              @click="insert(first + k)"
            />
            <DeleteButton :label="`Delete point ${first + k + 1}`" @click="remove(first + k)" />
          </td>
        </tr>
      </tbody>
    </table>
    <div v-if="rows.length > PAGE" class="pages">
      <ElButton size="small" :disabled="first === 0" @click="first = Math.max(0, first - PAGE)">Earlier rows</ElButton>
      <span class="soft">{{ first + 1 }} to {{ Math.min(rows.length, first + PAGE) }} of {{ rows.length }}</span>
      <ElButton size="small" :disabled="first + PAGE >= rows.length" @click="first += PAGE">Later rows</ElButton>
    </div>
    <div class="add">
      <ElButton size="small" :aria-expanded="importing" @click="importing = !importing"
        >Paste or read a file …</ElButton
      >
      <ElButton size="small" title="Sort, merge doubles, name gaps" @click="clean">Clean</ElButton>
      <ElButton v-if="source.tolerance > 0" size="small" title="The smoothed curve becomes the points" @click="resample"
        >Take the smoothed curve</ElButton
      >
      <ElButton size="small" @click="save">Save as CSV</ElButton>
    </div>
    <ul v-if="notes.length > 0" class="notes" aria-label="Notes on the table">
      <li v-for="note in notes" :key="note">{{ note }}</li>
    </ul>
  </div>
</template>

<style scoped>
.points {
  display: grid;
  gap: 8px;
}
.fit {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 10px;
}
.fit p {
  grid-column: 1 / -1;
  margin: 0;
}
td {
  padding: 1px 3px;
}
td :deep(.el-input__inner) {
  font-size: 11.5px;
}
td :deep(.el-input__wrapper) {
  padding: 0 5px;
}
.off {
  text-align: right;
  white-space: nowrap;
  color: var(--ink-soft);
}
.actions {
  white-space: nowrap;
  width: 48px;
}
.actions .icon-button {
  width: 20px;
}
.pages,
.add {
  display: flex;
  gap: 6px;
  align-items: center;
  flex-wrap: wrap;
}
.add :deep(.el-button + .el-button) {
  margin-left: 0;
}
.notes {
  margin: 0;
  padding-left: 18px;
  font-size: 12.5px;
  color: var(--ink-soft);
}
</style>
