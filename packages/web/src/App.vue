<script setup lang="ts">
import { usePreferences } from './stores/preferences';

usePreferences();
</script>

<template>
  <RouterView />
</template>
