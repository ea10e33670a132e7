<script setup lang="ts">
import type { Projection } from '@/lib/board-view';
import type { Projected } from '@/lib/plane-slice';

/** Bodies that lie beside the plane that is drawn, faintly, by their silhouettes. */
defineProps<{
  others: readonly Projected[];
  projection: Projection;
  colours: Readonly<Record<string, string>>;
  /** Which of them light up: those that are too near to something, or looked at. */
  close?: readonly string[];
}>();
</script>

<template>
  <g :transform="projection.transform">
    <path
      v-for="{ id, silhouette } in others"
      :key="id"
      class="behind"
      :class="{ close: close?.includes(id) }"
      :d="silhouette"
      :style="{ '--tint': colours[id] ?? 'var(--ink-soft)' }"
    />
  </g>
</template>

<style scoped>
.behind {
  fill: var(--tint);
  fill-opacity: 0.08;
  stroke: var(--tint);
  stroke-opacity: 0.45;
  stroke-width: 1;
  vector-effect: non-scaling-stroke;
  pointer-events: none;
}
.behind.close {
  fill-opacity: 0.2;
  stroke: var(--attention);
  stroke-opacity: 1;
  stroke-width: 2;
}
</style>
