<script setup lang="ts">
import { type Axis } from '@yoke/core';
import { computed } from 'vue';
import { useMotionEdit } from '@/composables/useMotionEdit';
import { useMachine, useMotions } from '@/stores';
import ConstantsTable from './ConstantsTable.vue';
import FormulaEditor from './FormulaEditor.vue';

/** The formula that leads an axis, checked as it is typed. */
const props = defineProps<{ axis: Axis }>();
const machine = useMachine();
const motions = useMotions();
const { editSource } = useMotionEdit();
const text = computed(() => (props.axis.motion.source.kind === 'formula' ? props.axis.motion.source.text : ''));
const names = computed(() => ({
  axes: machine.axes.filter(({ id }) => id !== props.axis.id).map(({ name }) => name),
  constants: machine.document!.constants,
}));
const error = computed(() => {
  const found = motions.of(props.axis.id).problems.find(({ code }) => code === 'formula');
  return found?.code === 'formula' ? found : null;
});
const take = (next: string) =>
  editSource('formula', 'formula', (source) => void (source.text = next), `formula ${props.axis.id}`);
const wanted = computed(() => {
  const { level, over } = props.axis.motion;
  return `${level === 'position' ? 'Position' : level === 'velocity' ? 'Velocity' : 'Acceleration'} of ${props.axis.name} over ${over === 'master' ? 'the master' : 'time'}`;
});
</script>

<template>
  <div>
    <p class="wanted">{{ wanted }} =</p>
    <FormulaEditor
      :key="axis.id"
      :text
      :label="wanted"
      :names
      :error
      example="80 mm * rise(t, 0.1 s, 0.35 s)"
      @change="take"
    />
    <ConstantsTable />
  </div>
</template>

<style scoped>
.wanted {
  margin: 0 0 3px;
  font-weight: 500;
}
</style>
