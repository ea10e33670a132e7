<script setup lang="ts">
import { onMounted, ref, toRef, watch } from 'vue';
import { useFinder } from '@/composables/useFinder';

/** Finds anything of the machine by its name: things, channels, settings, words, and what can be done. */
const emit = defineEmits<{ close: []; explain: [word: string] }>();
const query = ref('');
const at = ref(0);
const box = ref<HTMLInputElement>();
const list = ref<HTMLElement>();
const { found } = useFinder(toRef(query), (word) => emit('explain', word));
/** Where the focus was: it goes back there when nothing was chosen. */
const before = document.activeElement as HTMLElement | null;

onMounted(() => box.value!.focus());
watch(found, () => (at.value = 0));
function close(): void {
  emit('close');
  before?.focus?.({ preventScroll: true });
}
function go(i: number): void {
  const one = found.value[i];
  if (!one) return;
  emit('close');
  one.go();
}
function keyed(event: KeyboardEvent): void {
  const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (step !== undefined) {
    event.preventDefault();
    at.value = (at.value + step + found.value.length) % Math.max(1, found.value.length);
    list.value?.children[at.value]?.scrollIntoView({ block: 'nearest' });
  } else if (event.key === 'Enter') {
    event.preventDefault();
    go(at.value);
  } else if (event.key === 'Escape') {
    event.preventDefault();
    event.stopPropagation();
    close();
  }
}
function left(event: FocusEvent): void {
  if (!(event.currentTarget as HTMLElement).contains(event.relatedTarget as Node | null)) emit('close');
}
</script>

<template>
  <div class="find panel" role="search" aria-label="Find" @focusout="left">
    <input
      ref="box"
      v-model="query"
      type="text"
      role="combobox"
      aria-expanded="true"
      aria-controls="found"
      :aria-activedescendant="found[at] ? `found-${at}` : undefined"
      aria-label="Find in this machine"
      placeholder="A body, cue, channel, setting, word, or what to do"
      maxlength="80"
      autocomplete="off"
      spellcheck="false"
      @keydown="keyed"
    />
    <ul id="found" ref="list" role="listbox" aria-label="Found">
      <li
        v-for="(one, i) in found"
        :id="`found-${i}`"
        :key="one.key"
        role="option"
        :aria-selected="i === at"
        :class="{ at: i === at }"
        @pointerdown.prevent="go(i)"
        @pointermove="at = i"
      >
        <span class="kind">{{ one.kind }}</span> {{ one.text }}
      </li>
      <li v-if="found.length === 0" class="none">Nothing of this machine has all of these words.</li>
    </ul>
  </div>
</template>

<style scoped>
.find {
  position: fixed;
  left: 50%;
  top: 52px;
  width: 520px;
  max-width: calc(100vw - 24px);
  transform: translateX(-50%);
  z-index: 30;
  padding: 8px;
}
input {
  width: 100%;
  height: 32px;
  border: 1px solid var(--line);
  border-radius: var(--radius);
  background: var(--panel);
  color: var(--ink);
  font: 15px var(--words);
  padding: 0 8px;
}
ul {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
  max-height: 46vh;
  overflow: auto;
}
li {
  display: grid;
  grid-template-columns: 132px 1fr;
  padding: 3px 8px;
  border-radius: 3px;
  cursor: pointer;
}
li.at {
  background: var(--sunken);
  box-shadow: inset 3px 0 var(--primary);
}
li.none {
  display: block;
  color: var(--ink-soft);
  cursor: default;
}
.kind {
  color: var(--ink-soft);
  font: 13px/20px var(--narrow);
}
</style>
