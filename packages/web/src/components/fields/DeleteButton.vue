<script setup lang="ts">
import { Trash2 } from '@lucide/vue';
import IconButton from './IconButton.vue';

/** Takes one entry out of a list. */
defineProps<{
  /** What is done to what, as it is read out: “Delete block 2”. */
  label: string;
  title?: string;
}>();
</script>

<template>
  <IconButton :icon="Trash2" :size="14" :aria-label="label" :title="title ?? 'Delete'" />
</template>
