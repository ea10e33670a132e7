<script setup lang="ts">
import { ElButton } from 'element-plus';
import { ref } from 'vue';

/** Hands over the text of a file that is chosen; one that is larger than is read is refused before it is opened. */
const props = withDefaults(defineProps<{ accept: string; most?: number; raw?: boolean }>(), { most: 5_000_000 });
const emit = defineEmits<{
  read: [text: string, name: string];
  /** The file itself, where it is no text. */
  file: [file: File];
}>();
const input = ref<HTMLInputElement>();
const refusal = ref('');

const megabytes = (bytes: number) => `${Number((bytes / 1e6).toPrecision(2))} MB`;

async function take(event: Event): Promise<void> {
  const target = event.target as HTMLInputElement;
  refusal.value = '';
  for (const file of target.files ?? []) {
    if (file.size > props.most)
      refusal.value = `${file.name} has ${megabytes(file.size)}; ${megabytes(props.most)} are read at most. Leave out what is not needed.`;
    else if (props.raw) emit('file', file);
    else emit('read', await file.text(), file.name);
  }
  // The same file may be chosen again after it was corrected.
  target.value = '';
}
</script>

<template>
  <span class="file">
    <ElButton @click="input?.click()"><slot /></ElButton>
    <input ref="input" type="file" hidden :accept @change="take" />
    <span v-if="refusal" class="bad" role="alert">{{ refusal }}</span>
  </span>
</template>

<style scoped>
.bad {
  display: block;
  margin-top: 4px;
}
</style>
