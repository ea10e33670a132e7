<script setup lang="ts">
import { formatQuantity, GROUND } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed, ref } from 'vue';
import { ChoiceField } from '@/components/fields';
import { resolvedColour } from '@/lib/axis-look';
import { download, fileName } from '@/lib/files';
import { useMechanismColours } from '@/composables/useMechanismColours';
import { useClearance, useCursor, useMachine, useRun } from '@/stores';

/** The machine as shapes: at the cursor, over the whole cycle, and the space that a body sweeps. */
const machine = useMachine();
const results = useRun();
const cursor = useCursor();
const clearance = useClearance();
const message = ref('');
const busy = ref(false);
const base = computed(() => fileName(machine.document?.name ?? ''));
const broken = computed(() => results.beside.pending || (results.brokenFor() !== null && !results.insisted));
const held = computed(() => results.stale || !results.run || broken.value || busy.value);
const colours = useMechanismColours(
  () => results.document,
  () => 'axis',
  () => new Set<string>(),
);
/** Bodies, and the ground where it has solids, as a file shows them. */
const bodies = computed(() => {
  const { document } = results;
  if (!document) return [];
  const plain = (colour = '') => resolvedColour(/^var\((--[\w-]+)\)$/.exec(colour)?.[1] ?? '--ink-soft');
  const own = document.mechanism.bodies.map(({ id, name }) => ({ id, name, colour: plain(colours.value[id]) }));
  return clearance.skins?.has(GROUND) ? [{ id: GROUND, name: 'Ground', colour: plain() }, ...own] : own;
});
const chosen = ref('');
const swept = computed(() => bodies.value.filter(({ id }) => id !== GROUND).map(({ id, name }) => ({ value: id, label: name }))); // prettier-ignore
const body = computed(() => (swept.value.some(({ value }) => value === chosen.value) ? chosen.value : (swept.value[0]?.value ?? ''))); // prettier-ignore
const cells = ref<'64' | '128' | '200'>('128');
const CELLS = { 64: 'Coarse', 128: 'Fine', 200: 'Very fine' };

/** Makes something beside the page; what goes wrong is said. */
async function make(what: () => Promise<string>): Promise<void> {
  busy.value = true;
  message.value = '';
  try {
    message.value = await what();
  } catch (error) {
    message.value = (error as Error).message;
  } finally {
    busy.value = false;
  }
}
const time = () => formatQuantity(cursor.time, 'time', machine.units);
const saveStl = () =>
  make(async () => {
    const ids = bodies.value.map(({ id }) => id);
    const at = cursor.time;
    download(
      `${base.value}.stl`,
      await clearance.made((worker) => worker.stl(ids, at, machine.document!.name)),
      'model/stl',
    );
    return `${base.value}.stl: the pose at ${time()}, in millimetres.`;
  });
const saveGltf = (whole: boolean) =>
  make(async () => {
    const at = whole ? null : cursor.time;
    const given = bodies.value.map((own) => ({ ...own }));
    const content = await clearance.made((worker) => worker.gltf(given, at, machine.document!.name));
    const name = `${base.value}${whole ? '-cycle' : ''}.glb`;
    download(name, content, 'model/gltf-binary');
    return whole ? `${name}: all bodies, moving over the whole cycle.` : `${name}: the pose at ${time()}.`;
  });
const sweep = () =>
  make(async () => {
    const { value: id, label } = swept.value.find(({ value }) => value === body.value)!;
    const run = results.run!;
    const { mesh, outside } = await clearance.made((worker) => worker.swept(id, Number(cells.value)));
    clearance.swept = { id, name: label, mesh, outside, run };
    return '';
  });
const shown = computed(() => (clearance.swept && clearance.swept.run === results.run ? clearance.swept : null));
const saveSwept = () =>
  make(async () => {
    const { name, mesh } = shown.value!;
    const file = `${base.value}-${fileName(name)}-swept.stl`;
    download(file, await clearance.made((worker) => worker.plainStl(mesh, name)), 'model/stl');
    return `${file}: in millimetres.`;
  });
</script>

<template>
  <section class="panel" aria-label="Shapes">
    <h2>The machine as shapes</h2>
    <p class="soft">Solids where there are any, else outlines as thick as they are; names and colours in glTF.</p>
    <div class="buttons">
      <ElButton :disabled="held" @click="saveStl">STL at the cursor</ElButton>
      <ElButton :disabled="held" @click="saveGltf(false)">GLB at the cursor</ElButton>
      <ElButton :disabled="held" @click="saveGltf(true)">GLB of the cycle, moving</ElButton>
    </div>
    <div class="swept">
      <ChoiceField :value="body" label="Space swept by" :options="swept" @choose="chosen = $event" />
      <ChoiceField :value="cells" label="How finely" :options="CELLS" @choose="cells = $event" />
      <ElButton :disabled="held || body === ''" @click="sweep">Find the space</ElButton>
    </div>
    <p v-if="shown" role="status">
      {{ shown.name }} stays within this space over the whole cycle; it reaches beyond what is swept by
      {{ formatQuantity(shown.outside, 'length', machine.units, 2) }} at most. In Run it is seen in depth.
    </p>
    <div v-if="shown" class="buttons">
      <ElButton :disabled="held" @click="saveSwept">Save the space as STL</ElButton>
      <ElButton @click="clearance.swept = null">Show it no more</ElButton>
    </div>
    <p v-if="busy" class="soft" role="status">Shapes are being made …</p>
    <p v-if="message" role="status">{{ message }}</p>
  </section>
</template>

<style scoped>
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.buttons :deep(.el-button) {
  margin: 0;
}
.swept {
  display: grid;
  grid-template-columns: 1fr 110px auto;
  gap: 6px;
  align-items: end;
  margin-top: 10px;
}
p {
  margin: 6px 0;
}
</style>
