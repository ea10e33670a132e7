<script setup lang="ts">
import { ElButton } from 'element-plus';
import { defineAsyncComponent, onBeforeUnmount, ref, watch } from 'vue';
import AppHeader from '@/components/AppHeader.vue';
import BudgetBar from '@/components/BudgetBar.vue';
import ConflictBar from '@/components/ConflictBar.vue';
import CycleDiagram from '@/components/CycleDiagram.vue';
import MachineBar from '@/components/MachineBar.vue';
import KeySheet from '@/components/KeySheet.vue';
import RunBar from '@/components/RunBar.vue';
// Not loaded when asked for: who types on after `/` would write past it.
import FindBar from '@/components/help/FindBar.vue';
import WordNote from '@/components/help/WordNote.vue';
import { useFocusKeeper } from '@/composables/useFocusKeeper';
import { useShortcuts } from '@/composables/useShortcuts';
import { useCatalogue } from '@/stores/catalogue';
import { useClearance } from '@/stores/clearance';
import { useCursor } from '@/stores/cursor';
import { useMachine } from '@/stores/machine';
import { usePreferences } from '@/stores/preferences';

const WordsPanel = defineAsyncComponent(() => import('@/components/help/WordsPanel.vue'));
const GuideStrip = defineAsyncComponent(() => import('@/components/help/GuideStrip.vue'));

const props = defineProps<{ id: string }>();
const machine = useMachine();
const catalogue = useCatalogue();
const cursor = useCursor();
// What is watched is computed wherever one is: stages tell by it how they stand.
useClearance();
const preferences = usePreferences();
const help = ref(false);

const finding = ref(false);
const words = ref(false);
const word = ref<string | null>(null);
function showWords(asked: string | null = null): void {
  // Pressed again it closes.
  words.value = asked !== null || !words.value;
  word.value = asked;
}
const toggleGuide = () => void (preferences.walk = preferences.walk === null ? 'choose' : null);

useFocusKeeper();
useShortcuts({
  help: () => (help.value = !help.value),
  find: () => (finding.value = machine.document !== null),
  words: () => showWords(),
  guide: toggleGuide,
});
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
    <AppHeader
      :open="machine.document !== null"
      @help="help = !help"
      @find="finding = true"
      @words="showWords()"
      @guide="toggleGuide"
      ><MachineBar v-if="machine.document" /><span v-else class="grow" />
    </AppHeader>
    <KeySheet v-if="help" @close="help = false" />
    <FindBar v-if="finding" @close="finding = false" @explain="showWords" />
    <WordsPanel v-if="words" :key="word ?? ''" :word @close="words = false" />
    <WordNote />
    <ConflictBar />
    <BudgetBar />
    <RunBar />
    <template v-if="machine.document">
      <CycleDiagram />
      <main class="content">
        <RouterView />
      </main>
      <GuideStrip v-if="preferences.walk !== null" />
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
