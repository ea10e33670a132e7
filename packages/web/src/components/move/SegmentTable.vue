<script setup lang="ts">
import {
  deleteSegment,
  insertSegment,
  LAWS,
  mirrorSegments,
  planKnees,
  reorderSegment,
  segmentRole,
  setKneePosition,
  setSegmentTime,
  splitSegment,
  type Axis,
  type LawId,
  type Segment,
} from '@yoke/core';
import { FlipHorizontal2, Scissors, Spline } from '@lucide/vue';
import { ElButton } from 'element-plus';
import { computed, ref } from 'vue';
import { ChoiceField, IconButton, QuantityField, RowActions, RowGrip } from '@/components/fields';
import { useCursor, useMachine } from '@/stores';
import { useMotionEdit } from '@/composables/useMotionEdit';
import { usePlanEdit } from '@/composables/usePlanEdit';
import { useRowDrag } from '@/composables/useRowDrag';
import KneeFields from './KneeFields.vue';

/** The plan of an axis as a table; it edits the same plan as the lane above. */
const props = defineProps<{ axis: Axis }>();
const machine = useMachine();
const cursor = useCursor();
const { valueKind, placeKind } = useMotionEdit();
/** Knees whose speed and acceleration are open to be set. */
const open = ref<Set<number>>(new Set());
function toggleKnee(knee: number): void {
  const next = new Set(open.value);
  if (!next.delete(knee)) next.add(knee);
  open.value = next;
}
const hasWish = (knee: number) => {
  const segment = props.axis.plan.segments[knee - 1];
  return knee === 0 ? props.axis.plan.knee !== undefined : segment?.kind === 'move' && segment.knee !== undefined;
};
const knees = computed(() => planKnees(props.axis.plan));
const laws = LAWS.map(({ id, name, advice }) => ({ value: id as LawId, label: name, hint: advice }));
const move = (from: number, to: number) => apply('reorder segments', (plan) => reorderSegment(plan, from, to));
const { dragging, drop } = useRowDrag(move);

const { apply, newId } = usePlanEdit(() => props.axis);

const setTime = (id: string) => (value: number | null) =>
  apply('segment time', (plan) => setSegmentTime(plan, id, value!));
const setTo = (index: number) => (value: number | null) =>
  apply('segment position', (plan) => setKneePosition(plan, index + 1, value!));
const setStart = (value: number | null) => apply('start position', (plan) => setKneePosition(plan, 0, value!));
const setStroke = (index: number) => (value: number | null) =>
  apply('segment stroke', (plan) => setKneePosition(plan, index + 1, knees.value[index]!.position + value!));

function setLaw(id: string, law: LawId): void {
  machine.editAxis('change the law', (draft) => {
    const segment = draft.plan.segments.find((s) => s.id === id);
    if (segment?.kind === 'move') segment.law = { id: law };
  });
}

const parameters = (segment: Segment) =>
  segment.kind === 'move' ? (LAWS.find(({ id }) => id === segment.law.id)?.parameters ?? []) : [];

/** A parameter that is one of a few values is chosen. */
const chosen = (segment: Segment, name: string, usual: number) =>
  String((segment.kind === 'move' ? segment.law.parameters?.[name] : undefined) ?? usual);
const setParameter = (id: string, name: string) => (value: number | null) =>
  machine.editAxis('adjust the law', (draft) => {
    const segment = draft.plan.segments.find((s) => s.id === id);
    if (segment?.kind === 'move') segment.law.parameters = { ...segment.law.parameters, [name]: value! };
  });

const reaches = computed(
  () => ({ position: 'Reaches', velocity: 'Velocity', acceleration: 'Acceleration' })[props.axis.motion.level],
);

/** A new segment goes behind the one the cursor is in. */
function add(kind: Segment['kind']): void {
  const index = Math.min(
    props.axis.plan.segments.length,
    knees.value.slice(1).findIndex(({ time }) => time > cursor.time) + 1 || props.axis.plan.segments.length,
  );
  const id = newId()();
  const duration = Number((machine.cycle / 10).toPrecision(3));
  const from = knees.value[index]!.position;
  const positions = knees.value.map(({ position }) => position);
  const size = Math.max(...positions) - Math.min(...positions) || (props.axis.kind === 'linear' ? 0.1 : Math.PI / 2);
  const highest = Math.max(...positions);
  const to = from < highest ? highest : from - size;
  apply(`add a ${kind}`, (plan) =>
    insertSegment(
      plan,
      index,
      kind === 'dwell' ? { kind, id, duration } : { kind, id, duration, to, law: { id: 'poly345' } },
    ),
  );
}

const current = computed(() =>
  props.axis.plan.segments.findIndex(
    (_, i) => knees.value[i]!.time <= cursor.time && cursor.time < knees.value[i + 1]!.time,
  ),
);
</script>

<template>
  <div class="segments">
    <table class="rows">
      <thead>
        <tr>
          <th scope="col" />
          <th scope="col">Segment</th>
          <th scope="col" class="time">{{ placeKind === 'time' ? 'Time' : 'Master' }}</th>
          <th scope="col" class="place">{{ reaches }}</th>
          <th scope="col" class="place">{{ axis.motion.level === 'position' ? 'Stroke' : 'Change' }}</th>
          <th scope="col" data-word="Law">Law</th>
          <th scope="col"><span class="visually-hidden">Actions</span></th>
        </tr>
      </thead>
      <tbody>
        <tr class="start">
          <td />
          <td class="soft">start</td>
          <td />
          <td>
            <QuantityField bare :value="axis.plan.start" :kind="valueKind" label="Start position" :commit="setStart" />
          </td>
          <td colspan="2" />
          <td class="actions">
            <IconButton
              :icon="Spline"
              :size="14"
              :class="{ set: hasWish(0) }"
              aria-label="Velocity and acceleration at the start"
              title="Velocity and acceleration at the start"
              @click="toggleKnee(0)"
            />
          </td>
        </tr>
        <tr v-if="open.has(0)">
          <td colspan="7"><KneeFields :axis :knee="0" /></td>
        </tr>
        <template v-for="(segment, i) in axis.plan.segments" :key="segment.id">
          <tr :class="{ current: i === current, over: dragging !== null }" @dragover.prevent @drop.prevent="drop(i)">
            <td class="grip"><RowGrip @take="dragging = i" @release="dragging = null" /></td>
            <td class="role">
              <span class="soft">{{ i + 1 }}</span>
              {{ segmentRole(segment.kind, knees[i + 1]!.position - knees[i]!.position) }}
            </td>
            <td>
              <QuantityField
                bare
                :value="segment.duration"
                :kind="placeKind"
                :label="`Time of segment ${i + 1}`"
                :commit="setTime(segment.id)"
              />
            </td>
            <template v-if="segment.kind === 'move'">
              <td>
                <QuantityField
                  bare
                  :value="segment.to"
                  :kind="valueKind"
                  :label="`Position after segment ${i + 1}`"
                  :commit="setTo(i)"
                />
              </td>
              <td>
                <QuantityField
                  bare
                  :value="segment.to - knees[i]!.position"
                  :kind="valueKind"
                  :label="`Stroke of segment ${i + 1}`"
                  :commit="setStroke(i)"
                />
              </td>
              <td class="law">
                <ChoiceField
                  bare
                  :value="segment.law.id"
                  :label="`Law of segment ${i + 1}`"
                  :options="laws"
                  @choose="setLaw(segment.id, $event)"
                />
                <div v-if="parameters(segment).length > 0" class="parameters">
                  <template v-for="parameter in parameters(segment)" :key="parameter.name">
                    <ChoiceField
                      v-if="parameter.choices"
                      :value="chosen(segment, parameter.name, parameter.default)"
                      :label="parameter.label"
                      :options="
                        parameter.choices.map((value: number) => ({ value: String(value), label: String(value) }))
                      "
                      @choose="setParameter(segment.id, parameter.name)(Number($event))"
                    />
                    <QuantityField
                      v-else
                      :value="segment.law.parameters?.[parameter.name] ?? parameter.default"
                      kind="ratio"
                      :label="parameter.label"
                      :min="parameter.min"
                      :max="parameter.max"
                      :commit="setParameter(segment.id, parameter.name)"
                    />
                  </template>
                </div>
              </td>
            </template>
            <td v-else colspan="3" class="soft">rests</td>
            <td class="actions">
              <RowActions
                :row="`segment ${i + 1}`"
                :index="i"
                :count="axis.plan.segments.length"
                @move="move(i, $event)"
                @remove="apply('delete a segment', (plan) => deleteSegment(plan, segment.id))"
              >
                <IconButton
                  :icon="Scissors"
                  :size="14"
                  :aria-label="`Split segment ${i + 1}`"
                  title="Split in two halves; Shift: with a wait between"
                  @click="
                    apply('split a segment', (plan) =>
                      splitSegment(plan, segment.id, newId(), 0.5, $event.shiftKey ? machine.cycle / 20 : 0),
                    )
                  "
                />
                <IconButton
                  :icon="FlipHorizontal2"
                  :size="14"
                  :aria-label="`Mirror segment ${i + 1}`"
                  title="Mirror: add its way back behind it"
                  @click="apply('mirror a segment', (plan) => mirrorSegments(plan, i, i, newId()))"
                />
                <template #end>
                  <IconButton
                    v-if="segment.kind === 'move'"
                    :icon="Spline"
                    :size="14"
                    :class="{ set: hasWish(i + 1) }"
                    :aria-label="`Velocity and acceleration at the end of segment ${i + 1}`"
                    title="Velocity and acceleration at its end"
                    @click="toggleKnee(i + 1)"
                  />
                </template>
              </RowActions>
            </td>
          </tr>
          <tr v-if="open.has(i + 1) && segment.kind === 'move'">
            <td colspan="7"><KneeFields :axis :knee="i + 1" /></td>
          </tr>
        </template>
      </tbody>
    </table>
    <div class="add">
      <ElButton size="small" @click="add('move')">Insert a move</ElButton>
      <ElButton size="small" @click="add('dwell')">Insert a dwell</ElButton>
      <slot />
    </div>
  </div>
</template>

<style scoped>
@import '@/style/row-buttons.css';
table.rows td {
  padding: 2px 3px;
  vertical-align: top;
}
table.rows th {
  padding: 2px 3px;
}
.role {
  white-space: nowrap;
  padding-top: 7px !important;
  width: 68px;
}
td.soft {
  padding-top: 7px;
}
.time {
  width: 84px;
}
.place {
  width: 94px;
}
.segments :deep(.el-input__wrapper) {
  padding: 0 6px;
}
.grip {
  padding-top: 6px !important;
  width: 14px;
}
tr.current {
  box-shadow: inset 2px 0 0 var(--attention);
}
.law {
  width: 138px;
}
.parameters {
  display: grid;
  gap: 2px;
  margin-top: 2px;
}
.actions {
  white-space: nowrap;
  width: 126px;
}
.actions :deep(.icon-button.set) {
  color: var(--attention-ink);
}
.actions :deep(.icon-button) {
  width: 20px;
}
</style>
