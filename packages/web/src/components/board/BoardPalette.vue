<script setup lang="ts">
import { TOOL_HINTS, type Tool } from '@/lib/board-tools';
import { useBoard } from '@/stores';
import ToolIcon from './ToolIcon.vue';

/** The tools of the drawing board, in the order of the work: bodies, what ties them, what pushes them. */
const board = useBoard();
const GROUPS: { name: string; tools: [Tool, string][] }[] = [
  { name: 'Choose', tools: [['choose', 'Choose and redraw'], ['hand', 'Move by hand']] }, // prettier-ignore
  { name: 'Bodies', tools: [['bar', 'Bar'], ['plate', 'Plate'], ['disc', 'Disc']] }, // prettier-ignore
  {
    name: 'Ties',
    tools: [
      ['ground', 'Ground pin'],
      ['pin', 'Pin'],
      ['slide', 'Slide'],
      ['slot', 'Slot'],
      ['weld', 'Weld'],
      ['path', 'Path'],
      ['follow', 'Guide or cam'],
      ['cylinder', 'Cylinder'],
    ],
  },
  { name: 'Loads', tools: [['spring', 'Spring'], ['damper', 'Damper'], ['force', 'Force'], ['torque', 'Torque']] }, // prettier-ignore
  { name: 'See', tools: [['trace', 'Trace a point'], ['measure', 'Measure']] }, // prettier-ignore
];
</script>

<template>
  <div class="palette" role="toolbar" aria-label="Drawing tools">
    <div v-for="group in GROUPS" :key="group.name" class="group" role="group" :aria-label="group.name">
      <button
        v-for="[tool, label] in group.tools"
        :key="tool"
        type="button"
        :class="{ on: board.tool === tool }"
        :aria-pressed="board.tool === tool"
        :aria-label="label"
        :title="`${label}: ${TOOL_HINTS[tool]}`"
        @click="board.tool = tool"
      >
        <ToolIcon :tool />
      </button>
    </div>
  </div>
</template>

<style scoped>
.palette {
  display: flex;
  gap: 10px;
  flex-wrap: wrap;
}
.group {
  display: flex;
  border-bottom: 2px solid var(--line);
}
button {
  width: 29px;
  height: 28px;
  display: grid;
  place-items: center;
  padding: 0;
  border: 0;
  border-radius: var(--radius) var(--radius) 0 0;
  background: none;
  color: var(--ink);
  cursor: pointer;
}
button:hover {
  background: var(--sunken);
}
button.on {
  background: var(--primary);
  color: var(--panel);
}
</style>
