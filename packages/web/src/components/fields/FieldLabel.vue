<script setup lang="ts">
import { wordFor } from '@/lib/glossary';

/** What a field is called; to those who do not see where it stands also what it is of. */
defineProps<{
  for: string;
  label: string;
  /** What the field is of, where several of its name stand on the page: “block 2”. */
  of?: string | undefined;
  /** Hides the label from sight, for cells of a table. */
  bare?: boolean;
}>();
</script>

<template>
  <label
    :for="$props.for"
    class="field-label"
    :class="{ 'visually-hidden': bare }"
    :data-word="!bare && wordFor(label) ? label : undefined"
    >{{ label }}<span v-if="of" class="visually-hidden"> of {{ of }}</span></label
  >
</template>
