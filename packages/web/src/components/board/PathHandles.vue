<script setup lang="ts">
import { emptyCurvePoint, pathCurve, pieceStarts } from '@yoke/core';
import { computed } from 'vue';
import type { usePathHandles } from '@/composables/usePathHandles';
import { intoWorld, polyline, type Projection } from '@/lib/board-view';
import { useBoard } from '@/stores';

/** Over the chosen path: the piece pointed at, its points, and what its arcs bend by. */
const props = defineProps<{ paths: ReturnType<typeof usePathHandles>; projection: Projection }>();
const board = useBoard();
const handles = computed(() =>
  props.paths.handles.value.map(({ handle, at: [x, y] }) => ({
    what: handle.what,
    x: props.projection.x(x),
    y: props.projection.y(y),
  })),
);
/** Points along the piece that is chosen. */
const piece = computed(() => {
  const shape = props.paths.path.value?.shape;
  if (board.pathPiece === null || shape?.kind !== 'chain') return '';
  try {
    const curve = pathCurve(shape);
    const [from, to] = pieceStarts(shape).slice(board.pathPiece);
    if (from === undefined || to === undefined) return '';
    const p = emptyCurvePoint();
    const points = Array.from({ length: 41 }, (_, i) => {
      curve.at(Math.min(from + ((to - from) * i) / 40, curve.length * (1 - 1e-12)), p);
      return intoWorld(props.paths.pose.value, [p.x, p.y]);
    });
    return polyline(points, props.projection);
  } catch {
    return '';
  }
});
</script>

<template>
  <g v-if="paths.path.value" class="handles">
    <path v-if="piece" class="piece" :d="piece" />
    <template v-for="({ what, x, y }, i) in handles" :key="i">
      <circle v-if="what === 'point'" :cx="x" :cy="y" r="5" :class="{ chosen: board.pathHandle === i }" />
      <path v-else :d="`M${x} ${y - 6}l6 6l-6 6l-6 -6Z`" :class="{ chosen: board.pathHandle === i }" />
    </template>
  </g>
</template>

<style scoped>
.handles {
  pointer-events: none;
}
.piece {
  fill: none;
  stroke: var(--attention);
  stroke-width: 3;
}
circle,
path:not(.piece) {
  fill: var(--panel);
  stroke: var(--primary);
  stroke-width: 2;
}
.chosen {
  fill: var(--attention);
  stroke: var(--attention);
}
</style>
