<script setup lang="ts">
import { counted, VIEWS, type View } from '@yoke/core';
import { proxy } from 'comlink';
import { ElButton } from 'element-plus';
import { ref } from 'vue';
import { ChoiceField, TickBox } from '@/components/fields';
import type { Making } from '@/composables/useMaking';
import { download } from '@/lib/files';
import { useClearance, useCursor } from '@/stores';

/** A drawing of the machine from a side, as it stands at the cursor. */
const props = defineProps<{
  bodies: readonly { id: string; name: string }[];
  base: string;
  held: boolean;
  making: Making;
  time: string;
}>();
const clearance = useClearance();
const cursor = useCursor();
const view = ref<View>('front');
const withHidden = ref(true);
const FROM = Object.entries(VIEWS).map(([value, { label }]) => ({ value: value as View, label }));
const save = () =>
  props.making.make(async (share) => {
    const [from, dashed, time] = [view.value, withHidden.value, cursor.time];
    const bodies = props.bodies.map(({ id, name }) => ({ id, name }));
    const told = proxy(share);
    const { text, lines, hidden } = await clearance.made((worker) => worker.drawn(bodies, time, from, dashed, told));
    const name = `${props.base}-${from}.dxf`;
    download(name, text, 'image/vnd.dxf');
    const what = dashed ? `${counted(lines, 'line')}, ${hidden} of them hidden and dashed` : `${counted(lines, 'line')}, hidden ones left out`; // prettier-ignore
    return `${name}: ${VIEWS[from].label.toLowerCase()} at ${props.time}, in millimetres at full scale; ${what}; a layer for each body.`;
  });
</script>

<template>
  <div class="view">
    <ChoiceField :value="view" label="Seen from" :options="FROM" @choose="view = $event" />
    <TickBox :checked="withHidden" @change="withHidden = $event">hidden lines dashed</TickBox>
    <ElButton :disabled="held" @click="save">DXF at the cursor</ElButton>
  </div>
</template>

<style scoped>
.view {
  display: grid;
  grid-template-columns: 1fr 150px auto;
  gap: 6px;
  align-items: end;
  margin-top: 10px;
}
.view label {
  padding-bottom: 6px;
}
</style>
