<script setup lang="ts">
import type { Component } from 'vue';

/** A small button with an icon; its name and hint are given as `aria-label` and `title`. */
withDefaults(defineProps<{ icon: Component; size?: number }>(), { size: 16 });
</script>

<template>
  <button type="button" class="icon-button"><component :is="icon" :size /></button>
</template>
