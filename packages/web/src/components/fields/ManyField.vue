<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus';
import '@/style/select';
import { useId, type Component } from 'vue';
import FieldLabel from './FieldLabel.vue';

/** Any number of a few named values. */
defineProps<{
  value: readonly string[];
  label: string;
  of?: string | undefined;
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
    <FieldLabel :for="id" :label :of />
    <Select
      :id
      :model-value="value"
      multiple
      :placeholder="none ?? 'none'"
      :aria-label="of ? `${label} of ${of}` : label"
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
