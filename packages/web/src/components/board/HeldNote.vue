<script setup lang="ts">
import { useBoard, useTransfer } from '@/stores';

/** What becomes of a pose that is held by hand. */
const board = useBoard();
const transfer = useTransfer();
function mark(): void {
  transfer.held = board.hand;
  transfer.add(null);
  board.hand = null;
  board.message = `${transfer.message} Move, “Pose to pose”, leads from one to another.`;
}
</script>

<template>
  <div v-if="board.hand" class="held">
    Moved by hand.
    <button type="button" @click="board.hand = null">Back to the start pose</button>
    <button type="button" @click="board.keepPose()">Start from here</button>
    <button v-if="transfer.solver" type="button" @click="mark">Mark this pose</button>
  </div>
</template>

<style scoped>
.held {
  position: absolute;
  top: 8px;
  left: 50%;
  transform: translateX(-50%);
  display: flex;
  width: max-content;
  gap: 8px;
  align-items: center;
  padding: 4px 10px;
  border-radius: var(--radius);
  background: var(--attention-soft);
  color: var(--attention-ink);
}
.held button {
  border: 1px solid currentcolor;
  background: var(--panel);
  color: inherit;
  font: inherit;
  border-radius: var(--radius);
  cursor: pointer;
  padding: 1px 8px;
}
</style>
