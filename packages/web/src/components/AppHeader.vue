<script setup lang="ts">
import { HelpCircle, Moon, Redo2, Sun, Undo2 } from '@lucide/vue';
import { computed, ref, watch } from 'vue';
import { useMachine } from '@/stores/machine';
import { usePreferences } from '@/stores/preferences';
import SaveNote from './SaveNote.vue';
import StageNav from './StageNav.vue';
import IconButton from '@/components/fields/IconButton.vue';

const emit = defineEmits<{ help: [] }>();
const machine = useMachine();
const preferences = usePreferences();
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
  <header class="header">
    <RouterLink to="/" class="brand" title="All machines">
      <img src="/mark.svg" alt="" width="24" height="24" />
      <span>Yoke</span>
    </RouterLink>
    <template v-if="machine.document">
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
    <span v-else class="grow" />
    <button
      type="button"
      class="icon-button"
      :title="preferences.dark ? 'Light theme' : 'Dark theme'"
      :aria-label="preferences.dark ? 'Light theme' : 'Dark theme'"
      @click="preferences.theme = preferences.dark ? 'light' : 'dark'"
    >
      <Sun v-if="preferences.dark" :size="17" /><Moon v-else :size="17" />
    </button>
    <IconButton :icon="HelpCircle" :size="17" title="Keys (?)" aria-label="Keys" @click="emit('help')" />
  </header>
</template>

<style scoped>
.header {
  display: flex;
  align-items: center;
  gap: 6px;
  height: 46px;
  padding: 0 12px;
  background: var(--panel);
  border-bottom: 1px solid var(--line);
}
.brand {
  display: flex;
  align-items: center;
  gap: 7px;
  font: 600 17px var(--words);
  color: var(--ink);
  text-decoration: none;
  margin-right: 8px;
}
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
.grow {
  flex: 1;
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
