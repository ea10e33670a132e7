<script setup lang="ts">
import { ElButton } from 'element-plus';
import { useRouter } from 'vue-router';
import { api } from '@/api/client';
import { useMachine } from '@/stores/machine';

const machine = useMachine();
const router = useRouter();

/** Keeps this window's work as a machine of its own, beside the other's. */
async function keepAsCopy(): Promise<void> {
  if (!machine.document) return;
  const name = `${machine.document.name.slice(0, 60)} (from this window)`;
  const created = await api.createMachine({ ...machine.document, name });
  machine.forgetSaving();
  await router.push(`/machine/${created.id}/build`);
}
</script>

<template>
  <div v-if="machine.saveState.kind === 'conflict'" class="bar" role="alert">
    <span>This machine was changed in another window. Your changes here are not saved yet.</span>
    <ElButton size="small" @click="keepAsCopy">Keep mine as a copy</ElButton>
    <ElButton size="small" @click="machine.reload()">Take theirs</ElButton>
    <ElButton size="small" @click="machine.overwrite()">Replace theirs with mine</ElButton>
  </div>
  <div v-else-if="machine.saveState.kind === 'gone'" class="bar" role="alert">
    <span>This machine was deleted in another window. Your changes here are not saved.</span>
    <ElButton size="small" @click="keepAsCopy">Keep mine as a copy</ElButton>
  </div>
  <div v-else-if="machine.saveState.kind === 'offline'" class="bar" role="alert">
    <span>{{ machine.saveState.message }} Your changes are kept here and saved as soon as it answers.</span>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 6px 12px;
  background: var(--attention-soft);
  border-bottom: 1px solid var(--attention);
}
.bar span {
  flex: 1;
}
</style>
