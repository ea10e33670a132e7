<script setup lang="ts">
import { ElInput } from 'element-plus';
import { ref, useId, watch } from 'vue';
import FieldLabel from './FieldLabel.vue';

/** A name or another short text; one that is refused stays in the box with the reason below. */
const props = defineProps<{
  value: string;
  label?: string;
  of?: string | undefined;
  /** Hides the label from sight, for cells of a table. */
  bare?: boolean;
  placeholder?: string;
  /** Most characters; 80 for names. */
  most?: number;
  commit: (value: string) => string | null;
}>();
const id = useId();
const text = ref('');
const error = ref<string | null>(null);
/** What is too long is told while it is still whole, rather than cut off unseen. */
function take(): void {
  const wanted = text.value.trim();
  const most = props.most ?? 80;
  error.value =
    wanted.length > most
      ? `This has ${wanted.length} characters, ${most} are the most: shorten it.`
      : props.commit(wanted);
}
watch(
  () => props.value,
  (value) => {
    text.value = value;
    error.value = null;
  },
  { immediate: true },
);
</script>

<template>
  <div>
    <FieldLabel :for="id" :label="label ?? 'Name'" :of :bare />
    <ElInput :id v-model="text" :placeholder="placeholder ?? ''" @change="take" />
    <p v-if="error" class="bad" role="alert">{{ error }}</p>
  </div>
</template>
