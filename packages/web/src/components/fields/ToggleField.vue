<script setup lang="ts">
import { ElSwitch } from 'element-plus';
import 'element-plus/theme-chalk/el-switch.css';

/** Something that is on or off. */
defineProps<{ value: boolean; label: string; of?: string | undefined }>();
const emit = defineEmits<{ change: [value: boolean] }>();
</script>

<template>
  <div class="toggle">
    <span class="field-label">{{ label }}</span>
    <ElSwitch
      :model-value="value"
      :aria-label="of ? `${label} of ${of}` : label"
      @change="emit('change', Boolean($event))"
    />
  </div>
</template>
