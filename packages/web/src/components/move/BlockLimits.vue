<script setup lang="ts">
import type { DrawnField, ServoBlock } from '@yoke/core';
import { ref } from 'vue';
import { SchemaFields } from '@/components/fields';

/** Limits that a block brings itself beside its velocity; left empty it takes those of the axis. */
const props = defineProps<{
  fields: readonly DrawnField[];
  change: (make: (block: ServoBlock) => void, label: string) => string | null;
  of: string;
}>();
const open = ref(props.fields.some(({ value }) => value !== null));
</script>

<template>
  <button type="button" class="plain more" :aria-expanded="open" @click="open = !open">
    {{ open ? 'limits ▾' : 'limits ▸' }}
  </button>
  <div v-if="open" class="limits"><SchemaFields :fields :change :of /></div>
</template>

<style scoped>
.more {
  color: var(--primary);
  font-size: 12.5px;
  align-self: end;
  padding-bottom: 6px;
}
.limits {
  flex-basis: 100%;
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 5px;
}
</style>
