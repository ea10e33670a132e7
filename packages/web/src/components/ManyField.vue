<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus';
import 'element-plus/theme-chalk/el-select.css';
import 'element-plus/theme-chalk/el-option.css';
import 'element-plus/theme-chalk/el-popper.css';
import 'element-plus/theme-chalk/el-scrollbar.css';
import 'element-plus/theme-chalk/el-tag.css';
import { useId, type Component } from 'vue';

/** Any number of a few named values. */
defineProps<{
  value: readonly string[];
  label: string;
  options: readonly { id: string; name: string }[];
  none?: string;
}>();
const emit = defineEmits<{ choose: [ids: string[]] }>();
const id = useId();
// Their published types describe props as their own declarations.
const Select = ElSelect as Component;
const Option = ElOption as Component;
</script>

<template>
  <div>
    <label :for="id" class="field-label">{{ label }}</label>
    <Select
      :id="id"
      :model-value="value"
      multiple
      :placeholder="none ?? 'none'"
      :aria-label="label"
      @update:model-value="emit('choose', $event as string[])"
    >
      <Option v-for="option in options" :key="option.id" :value="option.id" :label="option.name" />
    </Select>
  </div>
</template>

<style scoped>
div :deep(.el-tag) {
  --el-tag-text-color: var(--ink);
  --el-tag-bg-color: var(--sunken);
  --el-tag-border-color: var(--line);
  font: 13px var(--narrow);
}
</style>
