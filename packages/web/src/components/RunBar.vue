<script setup lang="ts">
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import { useMachine, useRun } from '@/stores';

/** Says on every stage when what is shown is not to be relied on: a computation failed, a scattered run is shown, a step is too coarse. */
const results = useRun();
const machine = useMachine();
const coarse = computed(() => results.coarse);
const takeProposed = () => void machine.edit('use the proposed step', (draft) => void (draft.step = null));
</script>

<template>
  <div v-if="results.failure" class="notice-bar" role="alert" aria-label="Failed run">
    <span>{{ results.failure }}</span>
  </div>
  <div v-else-if="results.draw" class="notice-bar" role="status" aria-label="Scattered run">
    <span>
      One of many scattered runs is shown, on every stage: seed {{ results.draw.seed }}. Motors are ranked by it; files
      hold the machine’s own run.
    </span>
    <ElButton size="small" @click="results.runDraw(null)">Back to the machine’s own</ElButton>
  </div>
  <div v-else-if="coarse" class="notice-bar" role="alert" aria-label="Coarse run">
    <span>{{ coarse.text }}</span>
    <ElButton v-if="machine.document?.step" size="small" @click="takeProposed">Use the proposed step</ElButton>
  </div>
</template>
