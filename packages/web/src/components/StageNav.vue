<script setup lang="ts">
import { useRoute } from 'vue-router';
import { useStageStates } from '@/composables/useStageStates';
import { STAGES } from '@/lib/stages';
import { useMachine } from '@/stores/machine';

const machine = useMachine();
const route = useRoute();
const states = useStageStates();
</script>

<template>
  <nav class="stages" aria-label="Stages">
    <RouterLink
      v-for="stage in STAGES"
      :key="stage.id"
      :to="`/machine/${machine.id}/${stage.id}`"
      class="stage-link"
      :class="[states[stage.id].kind, { current: route.name === stage.id }]"
      :title="`${stage.question} – ${states[stage.id].words} (key ${stage.digit})`"
    >
      <span class="dot" aria-hidden="true" />{{ stage.label }}
      <span class="visually-hidden">, {{ states[stage.id].words }}</span>
    </RouterLink>
  </nav>
</template>

<style scoped>
.stages {
  flex: 1;
  display: flex;
  justify-content: center;
  align-self: stretch;
}
.stage-link {
  display: flex;
  align-items: center;
  gap: 6px;
  padding: 0 14px;
  color: var(--ink-soft);
  font-weight: 500;
  font-size: 14px;
  text-decoration: none;
  border-bottom: 3px solid transparent;
  border-top: 3px solid transparent;
}
.stage-link:hover {
  color: var(--ink);
  background: var(--sunken);
}
.stage-link.current {
  color: var(--ink);
  border-bottom-color: var(--primary);
}
.dot {
  width: 8px;
  height: 8px;
  border-radius: 50%;
  border: 1.5px solid var(--ink-soft);
}
.ready .dot {
  background: var(--good);
  border-color: var(--good);
}
.attention .dot {
  background: var(--attention);
  border-color: var(--attention);
  border-radius: 1px;
}
.stale .dot {
  background: var(--line);
  transition: background 0s 150ms;
}
</style>
