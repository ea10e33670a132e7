<script setup lang="ts">
import { newCylinder, type Axis } from '@yoke/core';
import { ref } from 'vue';
import { SchemaFields, ToggleField } from '@/components/fields';
import { useAxisFields } from '@/composables/useAxisFields';
import { useMachine } from '@/stores';

/** What a pneumatic cylinder does when a cue switches it. */
const props = defineProps<{ axis: Axis }>();
const machine = useMachine();
const { fields, change } = useAxisFields(() => props.axis);
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
</script>

<template>
  <section class="panel" aria-label="Cylinder">
    <h2>Cylinder</h2>
    <ToggleField :value="axis.cylinder !== null" label="Pneumatic, switched by cues" @change="setCylinder" />
    <p v-if="message" class="bad" role="alert">{{ message }}</p>
    <template v-if="axis.cylinder">
      <template v-for="{ key, label } in WAYS" :key>
        <h3>{{ label }}</h3>
        <div class="fields">
          <SchemaFields :fields="fields(`cylinder.${key}`)" :change />
        </div>
      </template>
      <h3>Both</h3>
      <div class="fields">
        <SchemaFields :fields="fields('cylinder.acceleration')" :change />
      </div>
    </template>
  </section>
</template>

<style scoped>
@import './fields.css';
</style>
