<script setup lang="ts">
import { X } from '@lucide/vue';
import { useEventListener } from '@vueuse/core';
import { KEYS } from '@/composables/useShortcuts';
import IconButton from '@/components/fields/IconButton.vue';

const emit = defineEmits<{ close: [] }>();
useEventListener(window, 'keydown', (event) => event.key === 'Escape' && emit('close'));
</script>

<template>
  <aside class="sheet panel" aria-label="Keys">
    <IconButton :icon="X" class="close" aria-label="Close" @click="emit('close')" />
    <h2>Keys</h2>
    <dl>
      <template v-for="[key, meaning] in KEYS" :key>
        <dt class="figures">{{ key }}</dt>
        <dd>{{ meaning }}</dd>
      </template>
    </dl>
    <p class="soft">Numbers take units as typed: 12 in, 90 rpm, 5 lbf in, 1/3 s, 30 deg.</p>
  </aside>
</template>

<style scoped>
.sheet {
  position: fixed;
  right: 12px;
  top: 54px;
  width: 380px;
  z-index: 20;
}
.close {
  float: right;
}
dl {
  display: grid;
  grid-template-columns: 130px 1fr;
  gap: 5px 10px;
  margin: 4px 0 10px;
}
dd {
  margin: 0;
}
</style>
