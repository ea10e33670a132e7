<script setup lang="ts">
import { computed } from 'vue';
import { useBoard, useMachine, useTransfer } from '@/stores';

/** What becomes of a pose that is held by hand. */
const board = useBoard();
const transfer = useTransfer();
const machine = useMachine();
/** Axes that the hand has brought to an end of their travel; where it moved none, those that stood at one already. */
const atEnd = computed(() => {
  const { hand, model } = board;
  if (!hand || !model) return '';
  const drives = board.ends.map(({ row, coordinate, min, max }) => {
    const { axisId, coordinate: own } = model.drives.find((drive) => drive.row === row)!;
    const near = 2e-3 * (own.angular ? 1 : model.scale);
    const value = coordinate.value(hand);
    return {
      name: `“${machine.axes.find(({ id }) => id === axisId)?.name}”`,
      isThere: (min !== null && value < min + near) || (max !== null && value > max - near),
      moved: Math.abs(value - coordinate.value(model.start)) > near,
    };
  });
  const someMoved = drives.some(({ moved }) => moved);
  const names = drives.filter(({ isThere, moved }) => isThere && (moved || !someMoved)).map(({ name }) => name);
  if (names.length === 0) return '';
  const shown = names.length > 3 ? [...names.slice(0, 2), `${names.length - 2} more`] : names;
  return `${shown.join(' and ')} ${names.length === 1 ? 'is at an end of its travel' : 'are at ends of their travel'}.`;
});
function mark(): void {
  transfer.held = board.hand;
  transfer.add(null);
  board.hand = null;
  board.message = `${transfer.message} Move, “Pose to pose”, leads from one to another.`;
}
</script>

<template>
  <div v-if="board.hand" class="held">
    Moved by hand. {{ atEnd }}
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
  flex-wrap: wrap;
  width: max-content;
  max-width: calc(100% - 16px);
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
