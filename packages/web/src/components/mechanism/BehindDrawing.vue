<script setup lang="ts">
import type { Projection } from '@/lib/board-view';
import type { Projected } from '@/lib/plane-slice';

/** Bodies that lie beside the plane that is drawn, faintly, by their silhouettes. */
defineProps<{
  others: readonly Projected[];
  projection: Projection;
  colours: Readonly<Record<string, string>>;
}>();
</script>

<template>
  <g :transform="projection.transform">
    <path
      v-for="{ id, silhouette } in others"
      :key="id"
      class="behind"
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
</style>
