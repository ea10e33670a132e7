<script setup lang="ts">
import { computed } from 'vue';
import { useMachine } from '@/stores/machine';

const machine = useMachine();
const note = computed(() => {
  const state = machine.saveState;
  switch (state.kind) {
    case 'saved':
      return { text: 'Saved', tone: 'soft' };
    case 'waiting':
    case 'saving':
      return { text: 'Saving …', tone: 'soft' };
    case 'offline':
      return { text: 'Not saved: no server', tone: 'bad' };
    case 'refused':
      return { text: 'Not saved: refused', tone: 'bad' };
    default:
      return { text: 'Not saved', tone: 'bad' };
  }
});
const detail = computed(() => {
  const state = machine.saveState;
  return 'message' in state ? state.message : undefined;
});
</script>

<template>
  <span class="save" :class="note.tone" role="status" :title="detail">{{ note.text }}</span>
</template>

<style scoped>
.save {
  font: 13px var(--narrow);
  white-space: nowrap;
}
</style>
