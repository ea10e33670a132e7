<script setup lang="ts">
import { counted, writeForceTable, type Axis } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed, defineAsyncComponent, ref } from 'vue';
import { FileButton, SchemaFields } from '@/components/fields';
import { useAxisFields } from '@/composables/useAxisFields';
import { download, fileName } from '@/lib/files';
import ReadingNote from '@/components/ReadingNote.vue';
import { useAside } from '@/stores/aside';
import { useMachine, useRun } from '@/stores';

// The editor is large and seldom needed here.
const FormulaEditor = defineAsyncComponent(() => import('@/components/move/FormulaEditor.vue'));

/** What the axis has to move and to overcome. */
const props = defineProps<{ axis: Axis }>();
const machine = useMachine();
const linear = computed(() => props.axis.kind === 'linear');
const results = useRun();
/** What the last run found wrong with the formula of the load. */
const formulaError = computed(() => {
  const found = results
    .ofAxis(props.axis.id)
    ?.findings.find((finding) => finding.code === 'formula' && finding.where === 'load');
  return found?.code === 'formula' ? found : null;
});
const names = computed(() => ({
  axes: machine.axes.map(({ name }) => name),
  constants: machine.document!.constants,
}));
const setFormula = (text: string | null) =>
  machine.editAxis('formula of the load', (draft) => void (draft.load.formula = text), `load ${props.axis.id}`);
const aside = useAside();
const tableError = ref<string | null>(null);

const { fields, change } = useAxisFields(() => props.axis);

async function readTable(text: string, name: string): Promise<void> {
  try {
    const table = await aside.readForceTable(text, name, props.axis.kind, machine.units);
    tableError.value = machine.editAxis('force table', (draft) => void (draft.load.forceTable = table));
  } catch (error) {
    tableError.value = `${name}: ${(error as Error).message}`;
  }
}
const saveTable = () =>
  download(
    `${fileName(props.axis.name)}-force.csv`,
    writeForceTable(props.axis.load.forceTable!, props.axis.kind, machine.units),
    'text/csv',
  );
</script>

<template>
  <section class="panel" aria-label="Load">
    <h2>Load</h2>
    <div class="fields">
      <SchemaFields :fields="fields('load')" :change />
    </div>
    <p class="note">
      A force acts on the load: positive along the positive direction of the axis, so a resistance is negative.
    </p>
    <h3>{{ linear ? 'Force' : 'Torque' }} over the cycle</h3>
    <p v-if="axis.load.forceTable" class="table-line">
      {{ counted(axis.load.forceTable.length, 'row') }}, added to the constant {{ linear ? 'force' : 'torque' }}.
      <ElButton size="small" @click="saveTable">Save as CSV</ElButton>
      <ElButton
        size="small"
        @click="machine.editAxis('remove the force table', (draft) => void (draft.load.forceTable = null))"
        >Remove</ElButton
      >
    </p>
    <p v-else class="note">
      None. A CSV with the columns “t [s],{{ linear ? 'force [N]' : 'torque [N m]' }}” can be read in.
    </p>
    <div class="read">
      <FileButton accept=".csv,text/csv,.txt" @read="readTable">Read a CSV</FileButton><ReadingNote />
    </div>
    <p v-if="tableError" class="bad" role="alert">{{ tableError }}</p>
    <h3>{{ linear ? 'Force' : 'Torque' }} by a formula</h3>
    <template v-if="axis.load.formula !== null">
      <FormulaEditor
        :key="axis.id"
        :text="axis.load.formula"
        :label="linear ? 'Force on the load' : 'Torque on the load'"
        :names
        :error="formulaError"
        :example="linear ? '25 N * pulse(t, 0.2 s, 0.6 s, 0.05 s)' : '2 Nm * pulse(t, 0.2 s, 0.6 s, 0.05 s)'"
        @change="setFormula"
      />
      <ElButton size="small" @click="setFormula(null)">Remove the formula</ElButton>
    </template>
    <template v-else>
      <p class="note">None. It may speak of time, the master, and where and how fast every axis is.</p>
      <div class="read">
        <ElButton size="small" @click="setFormula(linear ? '0 N' : '0 Nm')">Add a formula</ElButton>
      </div>
    </template>
  </section>
</template>

<style scoped>
@import './fields.css';
.read {
  margin-top: 6px;
}
.table-line {
  display: flex;
  align-items: center;
  gap: 6px;
}
</style>
