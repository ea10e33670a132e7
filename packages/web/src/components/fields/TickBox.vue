<script setup lang="ts">
/** A box to tick; what it is of stands behind it. */
defineProps<{ checked: boolean }>();
const emit = defineEmits<{ change: [checked: boolean] }>();
</script>

<template>
  <label>
    <input type="checkbox" :checked @change="emit('change', ($event.target as HTMLInputElement).checked)" />
    <slot />
  </label>
</template>

<style scoped>
label {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
input {
  margin: 0;
  accent-color: var(--primary);
}
</style>
