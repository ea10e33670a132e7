<script setup lang="ts">
import type { Run } from '@yoke/core';
import { computed } from 'vue';
import { useGap } from '@/composables/useGap';
import type { Projection } from '@/lib/board-view';
import { useRun } from '@/stores';

/** The nearest places of the pair that is looked at, as they lie in the front plane, joined by a line with its length. */
const props = defineProps<{ run: Run | null; projection: Projection }>();
const results = useRun();
const { gap } = useGap();
const drawn = computed(() => {
  // Another machine may be seen beside: the pair is not of its run.
  if (!gap.value || props.run === null || props.run !== results.run) return null;
  const { from, to, text } = gap.value;
  const { x, y } = props.projection;
  return { x1: x(from[0]), y1: y(from[1]), x2: x(to[0]), y2: y(to[1]), text };
});
</script>

<template>
  <g v-if="drawn" class="gap">
    <line :x1="drawn.x1" :y1="drawn.y1" :x2="drawn.x2" :y2="drawn.y2" />
    <circle :cx="drawn.x1" :cy="drawn.y1" r="3" />
    <circle :cx="drawn.x2" :cy="drawn.y2" r="3" />
    <text :x="(drawn.x1 + drawn.x2) / 2 + 8" :y="(drawn.y1 + drawn.y2) / 2 - 8">{{ drawn.text }}</text>
  </g>
</template>

<style scoped>
.gap {
  pointer-events: none;
}
line {
  stroke: var(--attention);
  stroke-width: 2;
}
circle {
  fill: var(--attention);
}
text {
  font: 600 13px var(--narrow);
  fill: var(--attention-ink);
  paint-order: stroke;
  stroke: var(--panel);
  stroke-width: 3px;
}
</style>
