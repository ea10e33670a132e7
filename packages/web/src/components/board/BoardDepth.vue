<script setup lang="ts">
import { useEventListener } from '@vueuse/core';
import SpaceView from '@/components/space/SpaceView.vue';
import { useMechanismColours } from '@/composables/useMechanismColours';
import { useSpaceDrag } from '@/composables/useSpaceDrag';
import { useBoard, useMachine, useSeeing } from '@/stores';
import HeldNote from './HeldNote.vue';

/** The drawn machine in depth: chosen there, and dragged along its freedoms with the hand. */
defineEmits<{ missing: [] }>();
const board = useBoard();
const machine = useMachine();
const seeing = useSeeing();
const colours = useMechanismColours(
  () => machine.document,
  () => board.colouring,
  () => new Set(board.mobility?.modes.flatMap(({ bodies }) => bodies)),
);

const { pull, letGo } = useSpaceDrag(
  () => {
    const q = board.hand ?? board.shownState();
    return board.model && q ? { model: board.model, q } : null;
  },
  (q, body) => {
    if (!board.selection.includes(body)) board.select(body);
    board.hand = q;
  },
);
useEventListener(window, 'keydown', (event) => {
  if ((event.target as HTMLElement).closest('input, textarea, select, [role="combobox"]')) return;
  if (event.key === 'Delete' || event.key === 'Backspace') board.remove();
  else if (event.key !== 'Escape') return;
  else if (board.tool !== 'choose') board.tool = 'choose';
  else board.select(null);
});
function draw(plane: string): void {
  board.showPlane(plane);
  seeing.depth = false;
}
</script>

<template>
  <div class="depth">
    <SpaceView
      :machine="machine.document!"
      :poses="board.poses"
      :colours
      :run="null"
      :time="0"
      :selection="board.selection"
      :hand="board.tool === 'hand'"
      directions
      @select="(id, more) => board.select(id, more)"
      @pull="pull"
      @let-go="letGo"
      @plane="draw"
      @missing="$emit('missing')"
    />
    <p class="hint">
      {{
        board.tool === 'hand'
          ? 'Press on a body and drag it along its freedoms; drives let go.'
          : board.message ||
            'Drag to turn, right button to move, wheel to zoom. Double click a body to draw in its plane.'
      }}
    </p>
    <HeldNote />
  </div>
</template>

<style scoped>
.depth {
  position: relative;
  min-height: 0;
  height: 100%;
}
.hint {
  position: absolute;
  left: 10px;
  top: 6px;
  margin: 0;
  font-size: 12.5px;
  color: var(--ink-soft);
  pointer-events: none;
}
</style>
