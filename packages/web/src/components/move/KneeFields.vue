<script setup lang="ts">
import { AXIS_KINDS, formatQuantity, kneeStates, setKneeWish, type Axis, type KneeWish } from '@yoke/core';
import { computed } from 'vue';
import { ChoiceField, QuantityField } from '@/components/fields';
import { useMachine } from '@/stores';

/** Velocity and acceleration at one knee of a plan: by itself, given, or free to join its neighbours smoothly. */
const props = defineProps<{ axis: Axis; knee: number }>();
const machine = useMachine();
const kinds = computed(() => AXIS_KINDS[props.axis.kind]);
const wish = computed<KneeWish | undefined>(() => {
  const { plan } = props.axis;
  const segment = plan.segments[props.knee - 1];
  return props.knee === 0 ? plan.knee : segment?.kind === 'move' ? segment.knee : undefined;
});
const state = computed(() => kneeStates(props.axis.plan)[props.knee]!);
const set = (next: KneeWish | undefined) =>
  machine.editAxis('speed at a knee', (draft) => {
    draft.plan = JSON.parse(JSON.stringify(setKneeWish(props.axis.plan, props.knee, next))) as typeof draft.plan;
  });
const choose = (mode: 'self' | 'given') => {
  const round = (value: number) => Number(value.toPrecision(6));
  set(mode === 'self' ? undefined : { velocity: round(state.value.velocity), acceleration: null });
};
const now = computed(
  () =>
    `now ${formatQuantity(state.value.velocity, kinds.value.velocity, machine.units, 4)}, ${formatQuantity(state.value.acceleration, kinds.value.acceleration, machine.units, 4)}`,
);
</script>

<template>
  <div class="knee">
    <ChoiceField
      :value="wish ? 'given' : 'self'"
      :label="knee === 0 ? 'At the start' : `At the end of segment ${knee}`"
      :options="[
        { value: 'self', label: 'By itself', hint: 'Rest, or the speed of a straight line next to it' },
        { value: 'given', label: 'Given or free' },
      ]"
      @choose="choose"
    />
    <template v-if="wish">
      <QuantityField
        :value="wish.velocity"
        :kind="kinds.velocity"
        optional
        placeholder="free"
        label="Velocity"
        :commit="(v) => set({ ...wish!, velocity: v })"
      />
      <QuantityField
        :value="wish.acceleration"
        :kind="kinds.acceleration"
        optional
        placeholder="free"
        label="Acceleration"
        :commit="(v) => set({ ...wish!, acceleration: v })"
      />
    </template>
    <p class="soft">{{ now }}</p>
  </div>
</template>

<style scoped>
.knee {
  display: grid;
  grid-template-columns: repeat(3, 130px) 1fr;
  gap: 8px;
  align-items: end;
  padding: 2px 0 6px 22px;
}
p {
  margin: 0 0 5px;
  font-size: 12.5px;
}
</style>
