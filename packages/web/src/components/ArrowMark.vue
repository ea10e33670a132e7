<script setup lang="ts">
/** An arrow of signed length along x; nothing where it is too short to see. */
defineProps<{ length: number; colour: string; wide?: boolean }>();
</script>

<template>
  <g v-if="Math.abs(length) > 3">
    <line x1="0" y1="0" :x2="length - Math.sign(length) * 5" y2="0" :stroke="colour" :stroke-width="wide ? 4 : 2" />
    <path :d="`M${length} 0l${-Math.sign(length) * 8} -5v10z`" :fill="colour" />
  </g>
</template>
