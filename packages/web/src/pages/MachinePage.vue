<script setup lang="ts">
import { ElButton } from 'element-plus';
import { onBeforeUnmount, ref, watch } from 'vue';
import AppHeader from '@/components/AppHeader.vue';
import BudgetBar from '@/components/BudgetBar.vue';
import ConflictBar from '@/components/ConflictBar.vue';
import CycleDiagram from '@/components/CycleDiagram.vue';
import MachineBar from '@/components/MachineBar.vue';
import KeySheet from '@/components/KeySheet.vue';
import RunBar from '@/components/RunBar.vue';
import { useShortcuts } from '@/composables/useShortcuts';
import { useCatalogue } from '@/stores/catalogue';
import { useCursor } from '@/stores/cursor';
import { useMachine } from '@/stores/machine';

const props = defineProps<{ id: string }>();
const machine = useMachine();
const catalogue = useCatalogue();
const cursor = useCursor();
const help = ref(false);

useShortcuts(() => (help.value = !help.value));
void catalogue.load();
watch(
  () => props.id,
  (id) => {
    cursor.pause();
    cursor.moveTo(0);
    cursor.zoom = null;
    void machine.open(id);
  },
  { immediate: true },
);
watch(
  () => machine.document?.name,
  (name) => (document.title = name ? `${name} – Yoke` : 'Yoke'),
);
onBeforeUnmount(() => {
  cursor.pause();
  void machine.close();
});
</script>

<template>
  <div class="page">
    <AppHeader @help="help = !help"><MachineBar v-if="machine.document" /><span v-else class="grow" /></AppHeader>
    <KeySheet v-if="help" @close="help = false" />
    <ConflictBar />
    <BudgetBar />
    <RunBar />
    <template v-if="machine.document">
      <CycleDiagram />
      <main class="content">
        <RouterView />
      </main>
    </template>
    <div v-else-if="machine.load.kind === 'failed'" class="message">
      <h2>This machine cannot be opened</h2>
      <p>{{ machine.load.message }}</p>
      <p>
        <ElButton type="primary" @click="machine.reload()">Try again</ElButton>
        <RouterLink to="/">All machines</RouterLink>
      </p>
    </div>
    <div v-else class="message soft">Opening the machine …</div>
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  display: flex;
  flex-direction: column;
}
.content {
  flex: 1;
  min-height: 0;
}
.message {
  padding: 80px 12px;
  text-align: center;
  display: grid;
  gap: 12px;
  justify-items: center;
}
.message p > * {
  margin: 0 8px;
}
</style>
