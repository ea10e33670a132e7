<script setup lang="ts">
import { ElButton } from 'element-plus';
import { useRouter } from 'vue-router';
import { api } from '@/api/client';
import { useMachine } from '@/stores/machine';

const machine = useMachine();
const router = useRouter();

const when = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' });

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
  <div v-if="machine.saveState.kind === 'conflict'" class="notice-bar" role="alert">
    <span>This machine was changed in another window. Your changes here are not saved yet.</span>
    <ElButton size="small" @click="keepAsCopy">Keep mine as a copy</ElButton>
    <ElButton size="small" @click="machine.takeTheirs()">Take theirs</ElButton>
    <ElButton size="small" @click="machine.overwrite()">Replace theirs with mine</ElButton>
  </div>
  <div v-else-if="machine.saveState.kind === 'gone'" class="notice-bar" role="alert">
    <span>This machine was deleted in another window. Your changes here are not saved.</span>
    <ElButton size="small" @click="keepAsCopy">Keep mine as a copy</ElButton>
  </div>
  <div v-else-if="machine.saveState.kind === 'offline'" class="notice-bar" role="alert">
    <span>{{ machine.saveState.message }} Your changes are kept here and saved as soon as it answers.</span>
  </div>
  <div v-if="machine.draft" class="notice-bar" role="status" aria-label="Unsaved changes">
    <span
      >Changes of {{ when.format(machine.draft.at) }} had not been saved when their window ended; this browser has kept
      them.<template v-if="machine.draft.overtaken">
        The machine was changed since: taking them back puts them in the place of that.</template
      ></span
    >
    <ElButton size="small" type="primary" @click="machine.takeDraft()">Take them back</ElButton>
    <ElButton size="small" @click="machine.forgetDraft()">Forget them</ElButton>
  </div>
</template>
