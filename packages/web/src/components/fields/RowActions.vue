<script setup lang="ts">
import { ArrowDown, ArrowUp, Trash2 } from '@lucide/vue';
import IconButton from './IconButton.vue';

/** What can be done with one row of a list whose order counts; more may stand in the middle and at the end. */
defineProps<{
  /** What the row is called: “block 2”. */
  row: string;
  index: number;
  count: number;
}>();
const emit = defineEmits<{ move: [to: number]; remove: [] }>();
const first = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
</script>

<template>
  <IconButton
    :icon="ArrowUp"
    :size="14"
    :disabled="index === 0"
    :aria-label="`${first(row)} up`"
    title="Earlier"
    @click="emit('move', index - 1)"
  />
  <IconButton
    :icon="ArrowDown"
    :size="14"
    :disabled="index === count - 1"
    :aria-label="`${first(row)} down`"
    title="Later"
    @click="emit('move', index + 1)"
  />
  <slot />
  <IconButton :icon="Trash2" :size="14" :aria-label="`Delete ${row}`" title="Delete" @click="emit('remove')" />
  <slot name="end" />
</template>
