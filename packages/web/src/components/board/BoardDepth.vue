<script setup lang="ts">
import { copyOf, dragInSpace, turnedBack, type SpacePoint } from '@yoke/core';
import { useEventListener } from '@vueuse/core';
import SpaceView from '@/components/space/SpaceView.vue';
import { useMechanismColours } from '@/composables/useMechanismColours';
import type { Hit } from '@/lib/space/scene';
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

let grip: { hit: Hit; point: SpacePoint } | null = null;
/** Where a body was taken hold of, seen from its centre of mass. */
function takeHold(hit: Hit): SpacePoint | null {
  const q = board.shownState();
  const { model } = board;
  const body = model?.tree.bodies.findIndex(({ id }) => id === hit.body) ?? -1;
  if (!model || !q || body < 0) return null;
  const { tree } = model;
  tree.pose(q);
  const centre = tree.at.subarray(3 * body, 3 * body + 3);
  const axes = [...tree.axes.subarray(9 * body, 9 * body + 9)];
  const local = turnedBack(axes, [hit.at[0] - centre[0]!, hit.at[1] - centre[1]!, hit.at[2] - centre[2]!]);
  return { body, plane: -1, local, chain: tree.chainOf(body) };
}
type At = [number, number, number];
function pull(hit: Hit, to: At, axes: [At, At]): void {
  const { model } = board;
  const q = board.hand ?? board.shownState();
  if (!model || !q) return;
  if (grip?.hit !== hit) {
    const point = takeHold(hit);
    grip = point && { hit, point };
    board.select(hit.body);
  }
  if (!grip) return;
  const moved = copyOf(q);
  dragInSpace(model, moved, grip.point, to, axes);
  board.hand = moved;
}
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
      @select="(id, more) => board.select(id, more)"
      @pull="pull"
      @let-go="grip = null"
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
