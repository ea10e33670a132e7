<script setup lang="ts">
import { leavesFront, massOf, standingOf, tracedPath, wayInSpace } from '@yoke/core';
import { computed } from 'vue';
import { intoWorld, polyline, type Projection } from '@/lib/board-view';
import { intoPlane } from '@/lib/plane-slice';
import { useBoard, usePreferences, useRun } from '@/stores';

/** What is seen of a mechanism on the board beside its parts: centres of round things, of mass, and traces of the last run. */
const props = defineProps<{
  projection: Projection;
  centres: readonly { body: string; at: readonly [number, number] }[];
}>();
const board = useBoard();
const preferences = usePreferences();
const results = useRun();

const masses = computed(() =>
  board.slice!.mechanism.bodies.flatMap((body, i) => {
    if (!preferences.massCentres && !board.selection.includes(body.id)) return [];
    const pose = board.slicePoses[i];
    if (!pose) return [];
    const at = intoWorld(pose, massOf(body).centre);
    return [{ id: body.id, name: body.name, x: props.projection.x(at[0]), y: props.projection.y(at[1]) }];
  }),
);

/** Paths of traced points, as far as the drawing is the one that was run. */
const traces = computed(() => {
  const { run, document } = results;
  if (!run?.mechanism || !document || results.stale) return [];
  const { mechanism } = document;
  const frame = leavesFront(mechanism) ? standingOf(mechanism, board.poses).plane(board.plane) : null;
  const ran = run.mechanism;
  return mechanism.traces.map((place) => ({
    key: `${place.body}.${place.point}`,
    chosen: board.selection.includes(place.body),
    d: polyline(
      frame ? wayInSpace(mechanism, ran, place).map((at) => intoPlane(frame, at)) : tracedPath(document, run, place),
      props.projection,
    ),
  }));
});
</script>

<template>
  <g class="marks">
    <path v-for="trace in traces" :key="trace.key" class="trace" :class="{ chosen: trace.chosen }" :d="trace.d" />
    <path
      v-for="({ body, at }, i) in centres"
      :key="`${body}${i}`"
      class="centre"
      d="M-5 0H5M0 -5V5"
      :transform="`translate(${projection.x(at[0])} ${projection.y(at[1])})`"
    />
    <g v-for="mass in masses" :key="mass.id" class="mass" :transform="`translate(${mass.x} ${mass.y})`">
      <title>Centre of mass of {{ mass.name }}</title>
      <circle r="6.5" />
      <path d="M0 0V-6.5A6.5 6.5 0 0 1 6.5 0ZM0 0V6.5A6.5 6.5 0 0 1 -6.5 0Z" />
    </g>
  </g>
</template>

<style scoped>
.marks {
  pointer-events: none;
}
.trace {
  fill: none;
  stroke: var(--attention);
  stroke-width: 1.5;
  stroke-opacity: 0.7;
}
.trace.chosen {
  stroke-width: 2.5;
  stroke-opacity: 1;
}
.centre {
  stroke: var(--ink-soft);
  stroke-width: 1.2;
}
.mass circle {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 1.2;
}
.mass path {
  fill: var(--ink);
}
</style>
