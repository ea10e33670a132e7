<script setup lang="ts">
import type { Axis } from '@yoke/core';
import { isHeldBack } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import { useRun } from '@/stores';

/** Says why nothing is ranked or delivered of a broken run, and lets the engineer insist where there is something. */
const { axis = undefined, what } = defineProps<{
  /** The axis that is looked at; all of them where none is given. */
  axis?: Axis;
  /** What would be done with the run: ranked, delivered. */
  what: 'ranked' | 'delivered';
}>();
const results = useRun();
const broken = computed(() => results.brokenFor(axis));
/** Whether there is anything to insist on: of an axis without a known duty nothing can be ranked. */
const possible = computed(() => {
  const run = axis && results.ofAxis(axis.id);
  return what === 'delivered' || (run !== null && run !== undefined && !isHeldBack(run));
});
</script>

<template>
  <div v-if="broken" class="notice-bar" role="alert" aria-label="Broken run">
    <span
      >{{ results.insisted && possible ? `Goes by a broken run: ` : `Nothing is ${what} of this run: `
      }}{{ broken.text }}
    </span>
    <ElButton v-if="possible && !results.insisted" size="small" @click="results.insist()">
      {{ what === 'ranked' ? 'Rank by what was run' : 'Deliver what was run' }}
    </ElButton>
  </div>
</template>
