<script setup lang="ts">
import { useEventListener } from '@vueuse/core';
import { ref, shallowRef } from 'vue';
import { wordFor, type Word } from '@/lib/glossary';

/** Explains a marked word while the pointer rests on it. */
const shown = shallowRef<Word | null>(null);
const place = ref({ left: 0, top: 0 });
let timer: ReturnType<typeof setTimeout> | undefined;
/** How long the pointer rests before a word is explained, ms. */
const REST = 350;

function hide(): void {
  clearTimeout(timer);
  shown.value = null;
}
useEventListener(document, 'pointerover', ({ target }) => {
  const marked = (target as Element | null)?.closest<HTMLElement>('[data-word]');
  hide();
  const found = marked && wordFor(marked.dataset.word ?? '');
  if (!marked || !found) return;
  timer = setTimeout(() => {
    const box = marked.getBoundingClientRect();
    const left = Math.max(8, Math.min(box.left, window.innerWidth - 340));
    const below = box.bottom + 120 < window.innerHeight;
    place.value = { left, top: below ? box.bottom + 6 : Math.max(8, box.top - 110) };
    shown.value = found;
  }, REST);
});
useEventListener(document, 'pointerdown', hide, { capture: true });
useEventListener(document, 'keydown', hide, { capture: true });
</script>

<template>
  <p v-if="shown" class="note" role="tooltip" :style="{ left: `${place.left}px`, top: `${place.top}px` }">
    <b>{{ shown.word }}</b> {{ shown.text }}
  </p>
</template>

<style scoped>
.note {
  position: fixed;
  z-index: 40;
  max-width: 330px;
  padding: 6px 10px;
  border: 1px solid var(--line);
  border-radius: var(--radius);
  background: var(--panel);
  box-shadow: var(--shadow);
  color: var(--ink);
  font: 13px/1.4 var(--words);
  pointer-events: none;
}
</style>
