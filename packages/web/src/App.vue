<script setup lang="ts">
import { watch } from 'vue';
import { usePreferences } from './stores/preferences';

const preferences = usePreferences();
// At once, before whatever else reads the colours of the theme.
watch(
  () => preferences.dark,
  (dark) => (document.documentElement.dataset.theme = dark ? 'dark' : 'light'),
  { immediate: true, flush: 'sync' },
);
</script>

<template>
  <RouterView />
</template>
