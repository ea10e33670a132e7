<script setup lang="ts">
import { formatQuantity } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed, ref } from 'vue';
import { ChoiceField, ManyField } from '@/components/fields';
import type { Making } from '@/composables/useMaking';
import { download, fileName } from '@/lib/files';
import { useClearance, useMachine, useRun } from '@/stores';

/** The space that bodies sweep together over the cycle. */
const props = defineProps<{
  bodies: readonly { id: string; name: string }[];
  base: string;
  held: boolean;
  making: Making;
}>();
const machine = useMachine();
const results = useRun();
const clearance = useClearance();
const chosen = ref<string[]>([]);
const ids = computed(() => chosen.value.filter((id) => props.bodies.some((own) => own.id === id)));
const cells = ref<'64' | '128' | '200'>('128');
const CELLS = { 64: 'Coarse', 128: 'Fine', 200: 'Very fine' };
const sweep = () =>
  props.making.make(async () => {
    const own = ids.value;
    const name = props.bodies.filter(({ id }) => own.includes(id)).map((body) => body.name).join(', '); // prettier-ignore
    const run = results.run!;
    const { mesh, outside } = await clearance.made((worker) => worker.swept([...own], Number(cells.value)));
    clearance.swept = { name, mesh, outside, run };
    return '';
  });
const shown = computed(() => (clearance.swept && clearance.swept.run === results.run ? clearance.swept : null));
const save = () =>
  props.making.make(async () => {
    const { name, mesh } = shown.value!;
    const file = `${props.base}-${fileName(name)}-swept.stl`;
    download(file, await clearance.made((worker) => worker.plainStl(mesh, name)), 'model/stl');
    return `${file}: in millimetres.`;
  });
</script>

<template>
  <div class="swept">
    <ManyField :value="ids" label="Space swept by" :options="bodies" none="choose bodies" @choose="chosen = $event" />
    <ChoiceField :value="cells" label="How finely" :options="CELLS" @choose="cells = $event" />
    <ElButton :disabled="held || ids.length === 0" @click="sweep">Find the space</ElButton>
  </div>
  <template v-if="shown">
    <p role="status">
      {{ shown.name }} stays within this space over the whole cycle; it reaches beyond what is swept by
      {{ formatQuantity(shown.outside, 'length', machine.units, 2) }} at most. In Run it is seen in depth.
    </p>
    <div class="buttons">
      <ElButton :disabled="held" @click="save">Save the space as STL</ElButton>
      <ElButton @click="clearance.swept = null">Show it no more</ElButton>
    </div>
  </template>
</template>

<style scoped>
@import '@/style/take-away.css';
.swept {
  display: grid;
  grid-template-columns: 1fr 110px auto;
  gap: 6px;
  align-items: end;
  margin-top: 10px;
}
</style>
