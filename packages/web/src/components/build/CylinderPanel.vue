<script setup lang="ts">
import { AXIS_KINDS, newCylinder, type Axis, type Cylinder } from '@yoke/core';
import { computed, ref } from 'vue';
import QuantityField from '@/components/QuantityField.vue';
import ToggleField from '@/components/ToggleField.vue';
import { useMachine } from '@/stores/machine';

/** What a pneumatic cylinder does when a cue switches it. */
const props = defineProps<{ axis: Axis }>();
const machine = useMachine();
const kinds = computed(() => AXIS_KINDS[props.axis.kind]);
const message = ref('');
const WAYS = [
  { key: 'out', label: 'Out, to the upper end' },
  { key: 'in', label: 'In, to the lower end' },
] as const;

function setCylinder(on: boolean): void {
  message.value =
    machine.editAxis('a cylinder', (draft) => {
      draft.cylinder = on ? newCylinder() : null;
      if (on && !draft.travel) draft.travel = { min: 0, max: 0.1 };
    }) ?? '';
}
const set = (way: 'out' | 'in', key: keyof Cylinder['out']) => (value: number | null) =>
  key === 'speed' && value! <= 0
    ? 'Must be greater than zero.'
    : machine.editAxis('a cylinder', (draft) => void (draft.cylinder![way][key] = value!));
const setAcceleration = (value: number | null) =>
  value! > 0
    ? machine.editAxis('a cylinder', (draft) => void (draft.cylinder!.acceleration = value!))
    : 'Must be greater than zero.';
</script>

<template>
  <section class="panel" aria-label="Cylinder">
    <h2>Cylinder</h2>
    <ToggleField :value="axis.cylinder !== null" label="Pneumatic, switched by cues" @change="setCylinder" />
    <p v-if="message" class="bad" role="alert">{{ message }}</p>
    <template v-if="axis.cylinder">
      <template v-for="{ key, label } in WAYS" :key="key">
        <h3>{{ label }}</h3>
        <div class="fields">
          <QuantityField
            :value="axis.cylinder[key].fill"
            kind="time"
            label="Fills in"
            :min="0"
            :commit="set(key, 'fill')"
          />
          <QuantityField
            :value="axis.cylinder[key].speed"
            :kind="kinds.velocity"
            label="Throttled to"
            :commit="set(key, 'speed')"
          />
          <QuantityField
            :value="axis.cylinder[key].cushion"
            :kind="kinds.position"
            label="Cushion"
            :min="0"
            :commit="set(key, 'cushion')"
          />
          <QuantityField
            :value="axis.cylinder[key].endSpeed"
            :kind="kinds.velocity"
            label="Meets its end at"
            :min="0"
            :commit="set(key, 'endSpeed')"
          />
        </div>
      </template>
      <h3>Both</h3>
      <div class="fields">
        <QuantityField
          :value="axis.cylinder.acceleration"
          :kind="kinds.acceleration"
          label="Gets going with"
          :commit="setAcceleration"
        />
      </div>
    </template>
  </section>
</template>

<style scoped>
@import './fields.css';
</style>
