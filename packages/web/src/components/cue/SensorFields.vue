<script setup lang="ts">
import { drawnFields, sensorSchema, type Sensor } from '@yoke/core';
import { computed } from 'vue';
import { SchemaFields } from '@/components/fields';
import { useCues, useMachine } from '@/stores';

/** What a sensor senses, and what becomes of its signal. */
const props = defineProps<{ sensor: Sensor }>();
const machine = useMachine();
const cues = useCues();
const fields = computed(() => drawnFields(sensorSchema, props.sensor, machine.document!));
const change = (make: (sensor: Sensor) => void) =>
  cues.edit('a sensor', (s) => {
    const found = s.sensors.find(({ id }) => id === props.sensor.id);
    if (found) make(found);
    return s;
  });
</script>

<template>
  <div class="sensor-fields"><SchemaFields :fields :change /></div>
</template>

<style scoped>
.sensor-fields {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 7px 8px;
  align-items: start;
}
</style>
