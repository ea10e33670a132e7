<script setup lang="ts">
import { ElButton } from 'element-plus';
import { useRun } from '@/stores';

/** Asks before a run that would take more than runs take without being asked for. */
const results = useRun();
</script>

<template>
  <div v-if="results.ask" class="notice-bar" role="alert" aria-label="Large run">
    <span
      >{{ results.ask }}<template v-if="results.run"> Until then the results shown are those of before.</template></span
    >
    <ElButton size="small" @click="results.runAnyway()">Run it anyway</ElButton>
  </div>
</template>
