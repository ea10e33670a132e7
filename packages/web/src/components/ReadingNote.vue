<script setup lang="ts">
import { ElButton } from 'element-plus';
import { useAside } from '@/stores/aside';

/** How far the reading of a file is, with a way to give it up. */
const aside = useAside();
</script>

<template>
  <p v-if="aside.reading" class="reading" role="status">
    <span
      >Reading {{ aside.reading.name
      }}<template v-if="aside.reading.share > 0"> – {{ Math.round(aside.reading.share * 100) }} %</template> …</span
    >
    <ElButton size="small" @click="aside.cancel()">Cancel reading</ElButton>
  </p>
</template>

<style scoped>
.reading {
  display: flex;
  align-items: center;
  gap: 10px;
  margin: 6px 0;
}
</style>
