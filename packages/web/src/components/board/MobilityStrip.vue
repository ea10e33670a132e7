<script setup lang="ts">
import { computed } from 'vue';
import { useBoard } from '@/stores';

/** Mobility in one line, whatever is chosen; pressed, it shows the whole of it. */
const emit = defineEmits<{ whole: [] }>();
const board = useBoard();
const mobility = computed(() => board.mobility);
const text = computed(() => {
  const found = mobility.value;
  if (!found) return 'It does not go together';
  const { free, drives, remaining } = found;
  return `${free} ${free === 1 ? 'freedom' : 'freedoms'}, ${drives} ${drives === 1 ? 'drive' : 'drives'}, ${remaining === 0 ? 'none' : remaining} left free`;
});
const state = computed(() => {
  const { prepared } = board;
  if (!mobility.value || prepared?.findings.some(({ severity }) => severity === 'error')) return 'bad';
  return mobility.value.remaining > 0 || prepared?.findings.some(({ severity }) => severity === 'warning')
    ? 'note'
    : 'good';
});
function show(): void {
  board.select(null);
  emit('whole');
}
const WORDS = { good: 'all of it is driven', note: 'see what', bad: 'see what is wrong' } as const;
</script>

<template>
  <button
    v-if="board.mechanism && board.mechanism.bodies.length > 0"
    type="button"
    class="strip"
    :class="state"
    aria-label="Mobility"
    :aria-description="`${text}; ${WORDS[state]}`"
    @click="show"
  >
    <b data-word="Mobility">Mobility</b> {{ text }}
  </button>
</template>

<style scoped>
.strip {
  border: 1px solid var(--line);
  border-left-width: 4px;
  border-radius: var(--radius);
  background: var(--panel);
  color: var(--ink);
  font: 13px var(--narrow);
  text-align: left;
  padding: 3px 8px;
  cursor: pointer;
}
.good {
  border-left-color: var(--good);
}
.note {
  border-left-color: var(--attention);
}
.bad {
  border-left-color: var(--bad);
}
</style>
