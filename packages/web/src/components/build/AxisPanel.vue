<script setup lang="ts">
import { newAxis, positiveDirection, renameAxis, type Axis } from '@yoke/core';
import { ArrowLeftRight } from '@lucide/vue';
import { ElButton, ElInput, ElSwitch } from 'element-plus';
import 'element-plus/theme-chalk/el-switch.css';
import { computed, ref, watch } from 'vue';
import { ChoiceField, SchemaFields } from '@/components/fields';
import { useAxisFields } from '@/composables/useAxisFields';
import { useMachine } from '@/stores';

/** What an axis is: how it moves, how far, and what it may do. */
const props = defineProps<{ axis: Axis }>();
const machine = useMachine();
const { fields, change } = useAxisFields(() => props.axis);
const name = ref('');
const nameError = ref<string | null>(null);
watch(
  () => props.axis.name,
  (value) => (name.value = value),
  { immediate: true },
);

const direction = computed(() => positiveDirection(props.axis, machine.document!.mechanism));

/** Another kind of axis takes its own starting values; name, colour and place stay. */
function setKind(kind: Axis['kind']): void {
  if (kind === props.axis.kind) return;
  const { id, name: kept, colour } = props.axis;
  machine.edit('change the kind of axis', (draft) => {
    const index = draft.axes.findIndex((axis) => axis.id === id);
    draft.axes[index] = { ...newAxis(kind, [], machine.cycle), id, name: kept, colour } as (typeof draft.axes)[number];
  });
}

const setEndless = (endless: boolean) =>
  machine.editAxis('ends of travel', (draft) => {
    const positions = [
      draft.plan.start,
      draft.home,
      ...draft.plan.segments.flatMap((s) => (s.kind === 'move' ? [s.to] : [])),
    ];
    const low = Math.min(...positions);
    const high = Math.max(...positions);
    draft.travel = endless ? null : { min: low, max: high > low ? high : low + 0.1 };
  });
const rename = () =>
  (nameError.value = machine.edit('rename the axis', (draft) => {
    // Formulas that speak of the axis go along.
    const { axes } = renameAxis(machine.document!, props.axis.id, name.value.trim());
    axes.forEach(({ name: next, motion, alternatives, load }, i) => {
      const axis = draft.axes[i]!;
      axis.name = next;
      if (motion !== machine.axes[i]!.motion) axis.motion = plain(motion) as typeof axis.motion;
      if (load !== machine.axes[i]!.load) axis.load = plain(load) as typeof axis.load;
      if (alternatives.length > 0) axis.alternatives = plain(alternatives) as typeof axis.alternatives;
    });
  }));
const plain = <T,>(value: T): T => JSON.parse(JSON.stringify(value)) as T;
</script>

<template>
  <section class="panel" aria-label="Axis">
    <h2>Axis</h2>
    <div class="fields">
      <div class="wide">
        <label class="field-label" for="axis-name">Name</label>
        <ElInput id="axis-name" v-model="name" maxlength="80" @change="rename" />
        <p v-if="nameError" class="bad">{{ nameError }}</p>
      </div>
      <ChoiceField
        :value="axis.kind"
        label="Motion"
        :options="{ linear: 'Slides', rotary: 'Turns' }"
        @choose="setKind"
      />
      <div>
        <span class="field-label">Positive direction</span>
        <ElButton
          class="direction"
          title="Turn the positive direction round"
          :aria-label="`Positive direction is ${direction}; turn it round`"
          @click="machine.editAxis('turn the direction round', (draft) => void (draft.reversed = !draft.reversed))"
          ><ArrowLeftRight :size="14" />{{ direction }}</ElButton
        >
      </div>
    </div>
    <h3>Travel</h3>
    <div class="fields">
      <div>
        <span class="field-label">Without ends</span>
        <ElSwitch
          :model-value="axis.travel === null"
          aria-label="Axis without ends"
          @change="setEndless(Boolean($event))"
        />
      </div>
      <SchemaFields :fields="fields('travel', 'home')" :change />
    </div>
    <h3>Limits</h3>
    <div class="fields">
      <SchemaFields :fields="fields('limits', 'smooth')" :change />
    </div>
  </section>
</template>

<style scoped>
@import './fields.css';
.direction {
  width: 100%;
  padding: 0 8px;
}
.direction :deep(span) {
  gap: 6px;
}
</style>
