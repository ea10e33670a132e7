<script setup lang="ts">
import { X } from '@lucide/vue';
import { useEventListener } from '@vueuse/core';
import { computed, onMounted, ref } from 'vue';
import IconButton from '@/components/fields/IconButton.vue';
import { GLOSSARY, wordFor } from '@/lib/glossary';

/** Words explained: those that stand on this screen first, then all. */
const props = defineProps<{
  /** A word to begin with. */
  word?: string | null;
}>();
const emit = defineEmits<{ close: [] }>();
const here = ref<ReadonlySet<string>>(new Set());
const panel = ref<HTMLElement>();
useEventListener(window, 'keydown', (event) => event.key === 'Escape' && emit('close'));

onMounted(() => {
  const marked = [...document.querySelectorAll<HTMLElement>('[data-word]')];
  here.value = new Set(marked.flatMap(({ dataset }) => wordFor(dataset.word ?? '')?.word ?? []));
  panel.value!.focus();
  if (props.word) requestAnimationFrame(() => document.getElementById(`word-${props.word}`)?.scrollIntoView());
});
const lists = computed(() => [
  { title: 'On this screen', words: GLOSSARY.filter(({ word }) => here.value.has(word)) },
  { title: here.value.size > 0 ? 'All others' : 'All words', words: GLOSSARY.filter(({ word }) => !here.value.has(word)) }, // prettier-ignore
]);
</script>

<template>
  <aside ref="panel" class="words panel" aria-label="Words" tabindex="-1">
    <IconButton :icon="X" class="close" aria-label="Close" @click="emit('close')" />
    <h2>Words</h2>
    <template v-for="{ title, words } in lists" :key="title">
      <template v-if="words.length > 0">
        <h3>{{ title }}</h3>
        <dl>
          <template v-for="entry in words" :key="entry.word">
            <dt :id="`word-${entry.word}`" :class="{ asked: entry.word === word }">{{ entry.word }}</dt>
            <dd>{{ entry.text }}</dd>
          </template>
        </dl>
      </template>
    </template>
  </aside>
</template>

<style scoped>
.words {
  position: fixed;
  right: 12px;
  top: 54px;
  bottom: 12px;
  width: 400px;
  z-index: 20;
  overflow: auto;
}
.close {
  float: right;
}
dl {
  margin: 2px 0 10px;
}
dt {
  font-weight: 600;
  margin-top: 6px;
}
dt.asked {
  color: var(--primary);
}
dd {
  margin: 0;
}
</style>
