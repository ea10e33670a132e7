<script setup lang="ts">
import { ElButton } from 'element-plus';
import { ref } from 'vue';

defineProps<{ accept: string }>();
const emit = defineEmits<{ read: [text: string, name: string] }>();
const input = ref<HTMLInputElement>();

async function take(event: Event): Promise<void> {
  const target = event.target as HTMLInputElement;
  for (const file of target.files ?? []) emit('read', await file.text(), file.name);
  // The same file may be chosen again after it was corrected.
  target.value = '';
}
</script>

<template>
  <span class="file">
    <ElButton @click="input?.click()"><slot /></ElButton>
    <input ref="input" type="file" hidden :accept="accept" @change="take" />
  </span>
</template>
