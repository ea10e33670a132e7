<script setup lang="ts">
import { useBoard } from '@/stores';

/** What becomes of a pose that is held by hand. */
const board = useBoard();
</script>

<template>
  <div v-if="board.hand" class="held">
    Moved by hand.
    <button type="button" @click="board.hand = null">Back to the start pose</button>
    <button type="button" @click="board.keepPose()">Start from here</button>
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
