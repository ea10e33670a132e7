<script setup lang="ts">
import { useCursor } from '@/stores/cursor';

/** Words that lead the cursor to a time. */
defineProps<{ time: number; title?: string }>();
const cursor = useCursor();
</script>

<template>
  <button type="button" class="plain" :title="title ?? 'Cursor to this place'" @click="cursor.stopAt(time)">
    <slot />
  </button>
</template>
