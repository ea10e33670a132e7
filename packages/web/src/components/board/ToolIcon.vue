<script setup lang="ts">
import type { Tool } from '@/lib/board-tools';

/** Pictures of the board's tools, drawn for it. */
defineProps<{ tool: Tool }>();

const SHAPES: Record<Tool, string> = {
  choose: 'M5 3l4 13 2.5-5L17 9z',
  hand: 'M4 14c3-1 3-6 6-6s3 4 6 3M10 8V3M7.5 5.5L10 3l2.5 2.5',
  bar: 'M4.5 15.5L15.5 4.5M3 14l3 3M14 3l3 3',
  plate: 'M4 15L7 4l9 4-2 8z',
  disc: 'M10 3.5a6.5 6.5 0 1 0 .01 0M10 9.5v1M3.5 10H10',
  ground: 'M10 4.2a2 2 0 1 0 .01 0M10 8l-5 6h10zM4 14h12M5 17l2-3M9 17l2-3M13 17l2-3',
  pin: 'M10 7a3 3 0 1 0 .01 0M7.5 8L3 4M12.500 12L17 16',
  weld: 'M7 7h6v6H7zM3 10h4M13 10h4',
  slide: 'M2.500 6.500h15M2.500 13.500h15M7 7.800h6v4.400H7z',
  slot: 'M6 7h8a3 3 0 0 1 0 6H6a3 3 0 0 1 0-6zM7.500 8.800a1.200 1.200 0 1 0 .01 0',
  path: 'M3 15c3-12 6 2 8-4s4-6 6-7',
  follow: 'M3 14c4-6 10-6 14 0M10 4.500l3 3-3 3-3-3z',
  cylinder: 'M3 8h8v4H3zM11 10h6M17 8v4',
  spring: 'M2 10h2l1.500-4 3 8 3-8 3 8 1.500-4h2',
  damper: 'M2 10h5M7 6.500v7M7 6.500h6M7 13.500h6M10 8v4M10 10h8',
  force: 'M3 16L15 4M15 4h-5M15 4v5',
  torque: 'M15 14a6.500 6.500 0 1 1 1-6M16 3.500V8h-4.500',
  trace: 'M3 13c2-9 6-9 8-3s5 5 6-3M9.500 11.500a1.500 1.500 0 1 0 .01 0',
  measure: 'M3 13.500L13.500 3l3.500 3.500L6.500 17zM6.500 10l2 2M9 7.500l1.500 1.500M11.500 5l2 2',
};
</script>

<template>
  <svg viewBox="0 0 20 20" width="20" height="20" aria-hidden="true"><path :d="SHAPES[tool]" /></svg>
</template>

<style scoped>
path {
  fill: none;
  stroke: currentcolor;
  stroke-width: 1.5;
  stroke-linecap: round;
  stroke-linejoin: round;
}
</style>
