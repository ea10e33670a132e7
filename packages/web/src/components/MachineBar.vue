<script setup lang="ts">
import { Redo2, Undo2 } from '@lucide/vue';
import { computed, ref, watch } from 'vue';
import { useMachine } from '@/stores/machine';
import SaveNote from './SaveNote.vue';
import StageNav from './StageNav.vue';
import IconButton from '@/components/fields/IconButton.vue';

/** What the header holds of the machine that is open: its name, how it is saved, its stages, units, and undo. */
const machine = useMachine();
const name = ref('');
const nameError = ref<string | null>(null);

watch(
  () => machine.document?.name,
  (value) => (name.value = value ?? ''),
  { immediate: true },
);

function rename(): void {
  nameError.value = machine.edit('rename', (draft) => void (draft.name = name.value.trim()));
}

const units = computed({
  get: () => machine.units,
  set: (value) => machine.edit('change units', (draft) => void (draft.units = value)),
});
const history = computed(() => [
  { what: 'Undo', icon: Undo2, label: machine.undoLabel, key: 'Ctrl+Z', run: () => machine.undo() },
  { what: 'Redo', icon: Redo2, label: machine.redoLabel, key: 'Ctrl+Y', run: () => machine.redo() },
]);
</script>

<template>
  <input
    v-model="name"
    class="name"
    aria-label="Name of the machine"
    maxlength="80"
    :class="{ bad: nameError }"
    :title="nameError ?? 'Name of the machine'"
    @change="rename"
    @keydown.enter="($event.target as HTMLInputElement).blur()"
  />
  <SaveNote />
  <StageNav />
  <div class="units" role="group" aria-label="Units">
    <button
      v-for="system in ['metric', 'inch'] as const"
      :key="system"
      type="button"
      class="plain"
      :aria-pressed="units === system"
      @click="units = system"
    >
      {{ system === 'metric' ? 'mm' : 'in' }}
    </button>
  </div>
  <IconButton
    v-for="{ what, icon, label, key, run } in history"
    :key="what"
    :icon
    :size="17"
    :disabled="!label"
    :title="label ? `${what}: ${label} (${key})` : `Nothing to ${what.toLowerCase()}`"
    :aria-label="what"
    @click="run"
  />
</template>

<style scoped>
.name {
  width: 190px;
  height: 28px;
  border: 1px solid transparent;
  border-radius: var(--radius);
  background: none;
  color: var(--ink);
  font: 500 14px var(--words);
  padding: 0 6px;
  text-overflow: ellipsis;
}
.name:hover,
.name:focus {
  border-color: var(--line);
  background: var(--sunken);
}
.name.bad {
  border-color: var(--bad);
}
.units {
  display: flex;
  border: 1px solid var(--line);
  border-radius: var(--radius);
  overflow: hidden;
  margin: 0 4px;
}
.units button {
  padding: 3px 9px;
  font-size: 12.5px;
}
.units button[aria-pressed='true'] {
  background: var(--primary);
  color: var(--panel);
}
</style>
