<script setup lang="ts">
import { ref } from 'vue';
import { dragPointer } from '@/composables/usePointerDrag';

/** A line between two parts of a stage that is dragged to give one of them more room; arrows move it, a double click puts it back. */
const props = defineProps<{
  /** Whether the parts stand beside each other; else over each other. */
  beside?: boolean;
  label: string;
  /** Share of the room that the first part has, and bounds of it. */
  share: number;
  least?: number;
  most?: number;
}>();
const emit = defineEmits<{ change: [share: number | null] }>();
const grip = ref<HTMLElement>();

const set = (share: number) =>
  emit('change', Math.max(props.least ?? 0.2, Math.min(props.most ?? 0.85, Number(share.toFixed(3)))));
function drag(event: PointerEvent): void {
  if (event.button !== 0) return;
  const room = grip.value!.parentElement!.getBoundingClientRect();
  dragPointer(event, grip.value!, {
    move: ({ clientX, clientY }) =>
      set(props.beside ? (clientX - room.left) / room.width : (clientY - room.top) / room.height),
  });
}
function keyed(event: KeyboardEvent): void {
  const keys = props.beside ? ['ArrowLeft', 'ArrowRight'] : ['ArrowUp', 'ArrowDown'];
  const way = keys.indexOf(event.key);
  if (way < 0) return;
  event.preventDefault();
  event.stopPropagation();
  set(props.share + (way === 0 ? -0.03 : 0.03));
}
</script>

<template>
  <div
    ref="grip"
    class="grip"
    :class="{ beside }"
    role="separator"
    tabindex="0"
    :aria-orientation="beside ? 'vertical' : 'horizontal'"
    :aria-label="label"
    :aria-valuenow="Math.round(share * 100)"
    title="Drag to give more room; double click puts it back"
    @pointerdown.prevent="drag"
    @keydown="keyed"
    @dblclick="emit('change', null)"
  />
</template>

<style scoped>
.grip {
  cursor: ns-resize;
  touch-action: none;
  position: relative;
  border-radius: 3px;
}
.grip.beside {
  cursor: ew-resize;
}
.grip::after {
  content: '';
  position: absolute;
  left: calc(50% - 18px);
  top: calc(50% - 1.5px);
  width: 36px;
  height: 3px;
  border-radius: 2px;
  background: var(--line);
}
.grip.beside::after {
  left: calc(50% - 1.5px);
  top: calc(50% - 18px);
  width: 3px;
  height: 36px;
}
.grip:hover::after,
.grip:focus-visible::after {
  background: var(--primary);
}
</style>
