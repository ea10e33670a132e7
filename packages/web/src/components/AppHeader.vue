<script setup lang="ts">
import { BookOpen, Compass, HelpCircle, Moon, Search, Sun } from '@lucide/vue';
import { usePreferences } from '@/stores/preferences';
import IconButton from '@/components/fields/IconButton.vue';

/** The head of every page; what belongs to the machine that is open stands in its middle. */
defineProps<{
  /** Whether a machine is open: then there is something to be found and explained. */
  open?: boolean;
}>();
const emit = defineEmits<{ help: []; find: []; words: []; guide: [] }>();
const preferences = usePreferences();
</script>

<template>
  <header class="header">
    <RouterLink to="/" class="brand" title="All machines">
      <img src="/mark.svg" alt="" width="24" height="24" />
      <span>Yoke</span>
    </RouterLink>
    <slot><span class="grow" /></slot>
    <template v-if="open">
      <IconButton :icon="Search" :size="17" title="Find (/)" aria-label="Find" @click="emit('find')" />
      <IconButton :icon="Compass" :size="17" title="Guide (G)" aria-label="Guide" @click="emit('guide')" />
      <IconButton :icon="BookOpen" :size="17" title="Words (W)" aria-label="Words" @click="emit('words')" />
    </template>
    <button
      type="button"
      class="icon-button"
      :title="preferences.dark ? 'Light theme' : 'Dark theme'"
      :aria-label="preferences.dark ? 'Light theme' : 'Dark theme'"
      @click="preferences.theme = preferences.dark ? 'light' : 'dark'"
    >
      <Sun v-if="preferences.dark" :size="17" /><Moon v-else :size="17" />
    </button>
    <IconButton :icon="HelpCircle" :size="17" title="Keys (?)" aria-label="Keys" @click="emit('help')" />
  </header>
</template>

<style scoped>
.header {
  display: flex;
  align-items: center;
  gap: 6px;
  height: 46px;
  padding: 0 12px;
  background: var(--panel);
  border-bottom: 1px solid var(--line);
}
.brand {
  display: flex;
  align-items: center;
  gap: 7px;
  font: 600 17px var(--words);
  color: var(--ink);
  text-decoration: none;
  margin-right: 8px;
}
.header :deep(.grow) {
  flex: 1;
}
</style>
