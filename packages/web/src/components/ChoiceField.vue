<script setup lang="ts" generic="T extends string">
import { ElOption, ElSelect } from 'element-plus';
import 'element-plus/theme-chalk/el-select.css';
import 'element-plus/theme-chalk/el-option.css';
import 'element-plus/theme-chalk/el-popper.css';
import 'element-plus/theme-chalk/el-scrollbar.css';
import 'element-plus/theme-chalk/el-tag.css';
import { useId, type Component } from 'vue';

/** A choice among a few named values. */
defineProps<{
  value: T;
  label: string;
  bare?: boolean;
  options: readonly { value: T; label: string; hint?: string; disabled?: boolean }[];
}>();
const emit = defineEmits<{ choose: [value: T] }>();
const id = useId();
// Its published types describe its props as their own declarations.
const Option = ElOption as Component;
</script>

<template>
  <div class="choice">
    <label :for="id" class="field-label" :class="{ 'visually-hidden': bare }">{{ label }}</label>
    <ElSelect :id="id" :model-value="value as string" :aria-label="label" @change="emit('choose', $event as T)">
      <Option
        v-for="option in options"
        :key="String(option.value)"
        :value="option.value"
        :label="option.label"
        :title="option.hint"
        :disabled="option.disabled ?? false"
      />
    </ElSelect>
  </div>
</template>
