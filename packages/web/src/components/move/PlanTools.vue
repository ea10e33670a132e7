<script setup lang="ts">
import {
  endPlanAt,
  fitToCycle,
  formatQuantity,
  mirrorSegments,
  planDuration,
  pathLength,
  planFills,
  planKnees,
  movingMachine,
  planLength,
  scalePlan,
  scaleTimes,
  shiftPlan,
  type Axis,
} from '@yoke/core';
import { ElButton, ElInput } from 'element-plus';
import { computed, ref } from 'vue';
import { ChoiceField, QuantityField } from '@/components/fields';
import { useMotionEdit } from '@/composables/useMotionEdit';
import { usePlanEdit } from '@/composables/usePlanEdit';
import { useMachine } from '@/stores';

/** What can be done to a plan as a whole: mirror, shift in phase, stretch, turn round, copy to another axis. */
const props = defineProps<{ axis: Axis }>();
const machine = useMachine();
const { placeKind } = useMotionEdit();
const shift = ref(0);
const factor = ref('2');
const what = ref<'stroke' | 'time'>('stroke');

const { apply, newId } = usePlanEdit(() => props.axis);
const length = computed(() => planLength(movingMachine(machine.document!), props.axis));
const fits = computed(() => planFills(movingMachine(machine.document!), props.axis));
const others = computed(() => machine.axes.filter(({ id, kind }) => id !== props.axis.id && kind === props.axis.kind));
const copyTo = (id: string) =>
  machine.edit('copy the plan', (draft) => {
    const found = draft.axes.find((a) => a.id === id);
    if (!found) return;
    found.plan = JSON.parse(JSON.stringify(props.axis.plan)) as typeof found.plan;
    found.motion = JSON.parse(
      JSON.stringify({ ...props.axis.motion, source: { kind: 'plan' } }),
    ) as typeof found.motion;
  });
/** Whole length of the path that the axis leads along, m; null where it leads along none. */
const wholePath = computed(() => {
  const { mechanism } = machine.document!;
  return props.axis.motion.level === 'position'
    ? pathLength(mechanism, mechanism.joints.find(({ id }) => id === props.axis.joint)) // prettier-ignore
    : null;
});
const reach = computed(() => {
  const positions = planKnees(props.axis.plan).map(({ position }) => position);
  return Math.max(...positions) - Math.min(...positions);
});
const strokeByPath = () =>
  apply('the whole path as the stroke', (plan) => scalePlan(plan, wholePath.value! / reach.value));
const endByPath = () => apply('the whole path as the end', (plan) => endPlanAt(plan, plan.start + wholePath.value!));
const number = computed(() => Number(factor.value.replace(',', '.')));
const valid = computed(
  () => Number.isFinite(number.value) && number.value !== 0 && (what.value === 'stroke' || number.value > 0),
);
const scale = () =>
  apply(`scale the ${what.value}`, (plan) =>
    what.value === 'stroke' ? scalePlan(plan, number.value) : scaleTimes(plan, number.value),
  );
</script>

<template>
  <div class="tools">
    <ElButton
      v-if="!fits && placeKind !== 'time'"
      size="small"
      type="primary"
      title="Stretch or shrink all segments alike"
      @click="apply('fit to the cycle', (plan) => fitToCycle(plan, length))"
    >
      Fit to the master
    </ElButton>
    <ElButton
      size="small"
      title="Add the way back of the whole plan"
      @click="apply('mirror the plan', (plan) => mirrorSegments(plan, 0, plan.segments.length - 1, newId()))"
      >Mirror all</ElButton
    >
    <ElButton
      size="small"
      title="Runs the same way on the other side of its start"
      @click="apply('turn the plan round', (plan) => scalePlan(plan, -1))"
      >Turn round</ElButton
    >
    <span class="group">
      <ChoiceField
        bare
        :value="what"
        label="What is scaled"
        :options="{ stroke: 'Stroke', time: 'Time' }"
        @choose="what = $event"
      />
      <span>×</span>
      <ElInput v-model="factor" size="small" aria-label="Factor" class="factor" />
      <ElButton size="small" :disabled="!valid" @click="scale">Scale</ElButton>
    </span>
    <span class="group">
      <QuantityField
        bare
        :value="shift"
        :kind="placeKind"
        label="Shift by"
        :commit="(value) => ((shift = value!), null)"
      />
      <ElButton
        size="small"
        :disabled="shift === 0"
        title="Later by this much, round the cycle; a move is not cut"
        @click="apply('shift in phase', (plan) => shiftPlan(plan, shift, newId()))"
        >Shift</ElButton
      >
      <ElButton
        size="small"
        title="Half of the plan's length"
        @click="apply('shift by half', (plan) => shiftPlan(plan, planDuration(plan) / 2, newId()))"
        >Half a cycle</ElButton
      >
    </span>
    <span v-if="wholePath !== null" class="group whole">
      <span class="soft">Whole path, {{ formatQuantity(wholePath, 'length', machine.units, 5) }}</span>
      <ElButton
        size="small"
        :disabled="reach === 0"
        title="Stretches the plan so that it goes just so far between its ends"
        @click="strokeByPath"
        >As the stroke</ElButton
      >
      <ElButton
        size="small"
        :disabled="!axis.plan.segments.some(({ kind }) => kind === 'move')"
        title="The last move ends so far behind the start of the plan"
        @click="endByPath"
        >As the end</ElButton
      >
    </span>
    <ChoiceField
      v-if="others.length > 0"
      bare
      class="copy"
      value="none"
      label="Copy this plan to another axis"
      :options="[{ value: 'none', label: 'Copy to …' }, ...others.map(({ id, name }) => ({ value: id, label: name }))]"
      @choose="$event !== 'none' && copyTo($event)"
    />
  </div>
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 8px;
  align-items: center;
}
.tools :deep(.el-button + .el-button) {
  margin-left: 0;
}
.group {
  display: flex;
  gap: 4px;
  align-items: center;
}
.group :deep(.choice) {
  width: 84px;
}
.group :deep(.quantity) {
  width: 86px;
}
.factor {
  width: 52px;
}
.copy {
  width: 120px;
}
</style>
