<script setup lang="ts" generic="T extends string">
import { ElOption, ElSelect } from 'element-plus';
import '@/style/select';
import { computed, useId, type Component } from 'vue';
import FieldLabel from './FieldLabel.vue';

interface Choice {
  value: T;
  label: string;
  hint?: string;
  disabled?: boolean;
}
/** A choice among a few named values. */
const props = defineProps<{
  value: T;
  label: string;
  of?: string | undefined;
  bare?: boolean;
  /** What can be chosen; where there is nothing more to say of it, its name by each value. */
  options: readonly Choice[] | Readonly<Record<T, string>>;
}>();
const emit = defineEmits<{ choose: [value: T] }>();
const choices = computed<readonly Choice[]>(() =>
  Array.isArray(props.options)
    ? (props.options as readonly Choice[])
    : Object.entries(props.options as Record<T, string>).map(([value, label]) => ({
        value: value as T,
        label: label as string,
      })),
);
const id = useId();
// An empty text is a choice too: none, the master.
const NOTHING = [null, undefined];
// Its published types describe its props as their own declarations.
const Option = ElOption as Component;
</script>

<template>
  <div class="choice">
    <FieldLabel :for="id" :label :of :bare />
    <ElSelect
      :id
      :model-value="value as string"
      :empty-values="NOTHING"
      :aria-label="of ? `${label} of ${of}` : label"
      @change="emit('choose', $event as T)"
    >
      <Option
        v-for="option in choices"
        :key="String(option.value)"
        :value="option.value"
        :label="option.label"
        :title="option.hint"
        :disabled="option.disabled ?? false"
      />
    </ElSelect>
  </div>
</template>
