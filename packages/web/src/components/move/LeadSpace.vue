<script setup lang="ts">
import {
  AxisPoses,
  framePoses,
  leadSpace,
  spaceTrace,
  valueAt,
  type LeadResult,
  type PathLead,
  type Pose,
} from '@yoke/core';
import { computed, defineAsyncComponent, ref } from 'vue';
import { useMechanismColours } from '@/composables/useMechanismColours';
import { useBoard, useCursor, useMachine } from '@/stores';

/** A path in space with the machine as it leads its tool along it at the cursor. */
const props = defineProps<{ lead: PathLead; result: LeadResult }>();
const SpaceView = defineAsyncComponent(() => import('@/components/space/SpaceView.vue'));
const machine = useMachine();
const board = useBoard();
const cursor = useCursor();
const missing = ref(false);
const colours = useMechanismColours(
  () => machine.document,
  () => 'axis',
  () => new Set<string>(),
);
const ways = computed(() => {
  try {
    const curve = leadSpace(props.lead);
    return curve ? [spaceTrace(curve, 300)] : [];
  } catch {
    // What is wrong with it is said beside.
    return [];
  }
});
const solver = computed(() => (machine.document ? AxisPoses.of(machine.document) : ''));
const poses = computed<Pose[]>(() => {
  const own = solver.value;
  if (typeof own === 'string') return machine.document?.mechanism.bodies.map(({ pose }) => pose) ?? [];
  const places = own.drawnPlaces;
  for (const { axisId, position } of props.result.still) places.set(axisId, position);
  for (const { axisId, rows } of props.result.required)
    places.set(
      axisId,
      valueAt(
        Float64Array.from(rows, ([time]) => time!),
        Float64Array.from(rows, ([, at]) => at!),
        cursor.time,
      ),
    );
  return framePoses(own.model.bodies, own.stateAt(places).q);
});
</script>

<template>
  <figure>
    <div class="picture">
      <p v-if="missing" class="soft">This browser has no WebGL: the path stands in the table below.</p>
      <SpaceView
        v-else-if="machine.document"
        :machine="machine.document"
        :poses
        :colours
        :run="null"
        :time="cursor.time"
        :selection="board.selection"
        :ways
        @select="(id, more) => board.select(id, more)"
        @missing="missing = true"
      />
    </div>
    <figcaption class="soft">
      The line is the path, corners blended; the machine stands as it does at the cursor.
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0 0 8px;
}
.picture {
  height: 210px;
  border: 1px solid var(--line-soft);
  border-radius: var(--radius);
  overflow: hidden;
}
figcaption {
  font-size: 12.5px;
}
</style>
