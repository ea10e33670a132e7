<script setup lang="ts">
import { leavesFront } from '@yoke/core';
import { computed, defineAsyncComponent, ref } from 'vue';
import MechanismView from '@/components/run/MechanismView.vue';
import { useMechanismColours } from '@/composables/useMechanismColours';
import { usePosesAtCursor } from '@/composables/usePosesAtCursor';
import { useGap } from '@/composables/useGap';
import { useBoard, useClearance, useCursor, useRun, useSeeing } from '@/stores';

/** The machine at the cursor: flat as it is drawn (as the slot shows it, if there is one), or in depth. */
const props = defineProps<{
  /** Whether something is drawn by hand in the flat picture just now. */
  drawing?: boolean;
}>();
const SpaceView = defineAsyncComponent(() => import('./SpaceView.vue'));
const results = useRun();
const cursor = useCursor();
const seeing = useSeeing();
const board = useBoard();
const missing = ref(false);

const machine = computed(() => results.document);
/** Loose parts lie in the front plane: a machine with parts is seen flat until depth is asked for. */
const asItSuits = computed(
  () =>
    machine.value !== null &&
    leavesFront(machine.value.mechanism) &&
    (machine.value.loose.space || machine.value.loose.kinds.length === 0),
);
const inDepth = computed(() => !missing.value && !props.drawing && (seeing.depth ?? asItSuits.value));
const poses = usePosesAtCursor();
const { gap, lit } = useGap();
const clearance = useClearance();
const veil = computed(() => (clearance.swept?.run === results.run ? clearance.swept!.mesh : null));
const selection = computed(() => [...board.selection, ...lit.value]);
const colours = useMechanismColours(
  () => machine.value,
  () => 'axis',
  () => new Set<string>(),
);
</script>

<template>
  <div class="picture">
    <SpaceView
      v-if="inDepth && machine"
      :machine
      :poses
      :colours
      :run="results.run"
      :record="results.record"
      :time="cursor.time"
      :selection
      :gap
      :veil
      @select="(id, more) => board.select(id, more)"
      @missing="missing = true"
    />
    <slot v-else><MechanismView /></slot>
    <div class="sides" role="group" aria-label="How the machine is seen">
      <button type="button" :aria-pressed="!inDepth" @click="seeing.depth = false">Flat</button>
      <button type="button" :aria-pressed="inDepth" :disabled="missing" @click="seeing.depth = true">Depth</button>
    </div>
    <p v-if="missing" class="note" role="status">
      This browser has no WebGL: the machine is seen flat. Everything else works as it does.
    </p>
  </div>
</template>

<style scoped>
@import '@/style/sides.css';
.picture {
  position: relative;
  height: 100%;
  min-height: 0;
  overflow: hidden;
}
.sides {
  position: absolute;
  left: 8px;
  top: 6px;
}
.note {
  position: absolute;
  left: 8px;
  top: 32px;
  max-width: calc(100% - 16px);
  margin: 0;
  padding: 1px 6px;
  border-radius: var(--radius);
  background: var(--sunken);
  font-size: 12.5px;
  pointer-events: none;
}
</style>
