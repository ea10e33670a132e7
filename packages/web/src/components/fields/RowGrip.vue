<script setup lang="ts">
/** The handle by which a row is dragged to another place. */
const emit = defineEmits<{ take: []; release: [] }>();
</script>

<template>
  <span class="grip" draggable="true" title="Drag to another place" @dragstart="emit('take')" @dragend="emit('release')"
    >⠿</span
  >
</template>

<style scoped>
.grip {
  cursor: grab;
  color: var(--ink-soft);
}
</style>
