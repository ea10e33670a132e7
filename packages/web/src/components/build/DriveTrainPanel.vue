<script setup lang="ts">
import { GEARBOX_DEFAULT, type Axis } from '@yoke/core';
import { ElSwitch } from 'element-plus';
import { computed } from 'vue';
import { SchemaFields } from '@/components/fields';
import { useAxisFields } from '@/composables/useAxisFields';
import { useMachine } from '@/stores';

/** From motor shaft to axis: a gearbox or none, then a screw, belt or rack, or straight on. */
const props = defineProps<{ axis: Axis }>();
const machine = useMachine();
const transmission = computed(() => props.axis.transmission);
const { fields, change } = useAxisFields(() => props.axis);
const setGearbox = (there: boolean) =>
  machine.editAxis('change the gearbox', (draft) => void (draft.gearbox = there ? { ...GEARBOX_DEFAULT } : null));
</script>

<template>
  <section class="panel" aria-label="Drive train">
    <h2>Drive train</h2>
    <div class="fields">
      <div>
        <span class="field-label">Gearbox at the motor</span>
        <ElSwitch :model-value="axis.gearbox !== null" aria-label="Gearbox" @change="setGearbox(Boolean($event))" />
      </div>
    </div>
    <div v-if="axis.gearbox" class="fields below">
      <SchemaFields :fields="fields('gearbox')" :change />
    </div>
    <template v-if="transmission.kind !== 'direct'">
      <h3>To the slide</h3>
      <div class="fields">
        <SchemaFields :fields="fields('transmission')" :change />
      </div>
    </template>
    <p v-else class="note">
      {{ axis.gearbox ? 'The gearbox output' : 'The motor shaft' }} turns
      {{ axis.joint === null ? 'the table' : 'the joint' }}{{ axis.gearbox ? '' : ' directly' }}.
    </p>
  </section>
</template>

<style scoped>
@import './fields.css';
.below {
  margin-top: 8px;
}
</style>
