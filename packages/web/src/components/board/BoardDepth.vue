<script setup lang="ts">
import { useEventListener } from '@vueuse/core';
import SpaceView from '@/components/space/SpaceView.vue';
import { useMechanismColours } from '@/composables/useMechanismColours';
import { useSpaceDrag } from '@/composables/useSpaceDrag';
import { useBoard, useMachine, useSeeing } from '@/stores';
import type { Hit } from '@/lib/space/scene';
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
    return board.model && q ? { model: board.model, q, ends: board.ends } : null;
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
  else if (board.picking) board.picking = null;
  else if (board.tool !== 'choose') board.tool = 'choose';
  else board.select(null);
});
/** Chooses what was pressed, or takes the drawn point of it that lies nearest where a panel asks for one. */
function press(id: string | null, more: boolean, hit: Hit | null): void {
  const { picking, model } = board;
  const q = board.shownState();
  if (!picking || !model || !q) return board.select(id, more);
  const body = board.mechanism!.bodies.find((own) => own.id === hit?.body);
  // Beside all bodies nothing is taken: what is asked for stays asked.
  if (!hit || !body) return;
  model.tree.pose(q);
  const near = body.points
    .map((point) => {
      const at = model.tree.spotOf(model.tree.point({ body: body.id, point: point.id }));
      return { point, far: Math.hypot(...hit.at.map((part, k) => part - at[k]!)) };
    })
    .sort((x, y) => x.far - y.far)[0];
  if (!near) return;
  board.picking = null;
  picking.take({ body: body.id, at: [...near.point.at], point: near.point.id });
}
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
      @select="press"
      @pull="pull"
      @let-go="letGo"
      @plane="draw"
      @missing="$emit('missing')"
    />
    <p class="hint">
      {{
        board.tool === 'hand'
          ? 'Press on a body and drag it along its freedoms; drives let go, ends of travel hold.'
          : board.picking?.asks ||
            board.message ||
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
