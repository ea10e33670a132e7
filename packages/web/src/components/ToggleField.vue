<script setup lang="ts">
import { ElSwitch } from 'element-plus';
import 'element-plus/theme-chalk/el-switch.css';

/** Something that is on or off. */
defineProps<{ value: boolean; label: string }>();
const emit = defineEmits<{ change: [value: boolean] }>();
</script>

<template>
  <div class="toggle">
    <span class="field-label">{{ label }}</span>
    <ElSwitch :model-value="value" :aria-label="label" @change="emit('change', Boolean($event))" />
  </div>
</template>
