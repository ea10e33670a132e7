<script setup lang="ts">
import { formatQuantity, GROUND } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import { resolvedColour } from '@/lib/axis-look';
import { download, fileName } from '@/lib/files';
import { useMaking } from '@/composables/useMaking';
import { useMechanismColours } from '@/composables/useMechanismColours';
import { useClearance, useCursor, useMachine, useRun } from '@/stores';
import SweptPart from './SweptPart.vue';
import ViewPart from './ViewPart.vue';

/** The machine as shapes: at the cursor, over the whole cycle, drawn from a side, and the space that bodies sweep. */
const machine = useMachine();
const results = useRun();
const cursor = useCursor();
const clearance = useClearance();
const making = useMaking();
const { busy, share, message, make } = making;
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
const moving = computed(() => bodies.value.filter(({ id }) => id !== GROUND));
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
    <ViewPart :bodies :base :held :making :time="time()" />
    <SweptPart :bodies="moving" :base :held :making />
    <p v-if="busy" class="soft" role="status">
      Shapes are being made{{ share === null ? '' : `: ${Math.round(share * 100)} %` }} …
      <ElButton size="small" @click="clearance.stop()">Stop</ElButton>
    </p>
    <p v-if="message" role="status">{{ message }}</p>
  </section>
</template>

<style scoped>
@import '@/style/take-away.css';
</style>
