<script setup lang="ts">
import { AXIS_KINDS, formatNumber, toDisplay, type Axis, type QuantityKind } from '@yoke/core';
import { computed, ref } from 'vue';
import QuantityField from '@/components/QuantityField.vue';
import { useMachine } from '@/stores/machine';

/** Limits that a block brings itself; left empty it takes those of the axis. */
type Limits = Record<'velocity' | 'acceleration' | 'deceleration' | 'jerk', number | null>;
const props = defineProps<{ axis: Axis; block: Limits; number: number }>();
const emit = defineEmits<{ change: [key: keyof Limits, value: number | null] }>();
const machine = useMachine();
const open = ref(
  Object.values(props.block).some((value) => typeof value === 'number' && value !== null) &&
    props.block.velocity !== null,
);
const kinds = computed(() => AXIS_KINDS[props.axis.kind]);
const fields = computed(() => {
  const { limits } = props.axis;
  const usual = (value: number | null, kind: QuantityKind, or: string) =>
    value === null ? or : formatNumber(toDisplay(value, kind, machine.units), 3);
  const acceleration = props.block.acceleration ?? limits.acceleration;
  return [
    {
      key: 'velocity',
      label: 'Velocity',
      kind: kinds.value.velocity,
      placeholder: usual(limits.velocity, kinds.value.velocity, 'needed'),
    },
    {
      key: 'acceleration',
      label: 'Acceleration',
      kind: kinds.value.acceleration,
      placeholder: usual(limits.acceleration, kinds.value.acceleration, 'needed'),
    },
    {
      key: 'deceleration',
      label: 'Deceleration',
      kind: kinds.value.acceleration,
      placeholder: usual(acceleration, kinds.value.acceleration, 'as above'),
    },
    {
      key: 'jerk',
      label: 'Jerk',
      kind: kinds.value.jerk,
      placeholder: usual(limits.jerk, kinds.value.jerk, 'no limit'),
    },
  ] as const;
});
const set = (key: keyof Limits) => (value: number | null) => {
  if (value !== null && value <= 0) return 'Must be greater than zero, or empty for that of the axis.';
  emit('change', key, value);
  return null;
};
</script>

<template>
  <button type="button" class="plain more" :aria-expanded="open" @click="open = !open">
    {{ open ? 'limits ▾' : 'limits ▸' }}
  </button>
  <div v-if="open" class="limits">
    <QuantityField
      v-for="field in fields"
      :key="field.key"
      optional
      :value="block[field.key]"
      :kind="field.kind"
      :label="field.label"
      :placeholder="field.placeholder"
      :commit="set(field.key)"
    />
  </div>
</template>

<style scoped>
.more {
  color: var(--primary);
  font-size: 12.5px;
  padding-top: 5px;
}
.limits {
  flex-basis: 100%;
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 5px;
}
</style>
