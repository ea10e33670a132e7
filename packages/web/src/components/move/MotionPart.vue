<script setup lang="ts">
import { computed, nextTick } from 'vue';
import CurveStack from '@/components/CurveStack.vue';
import FindingsList from '@/components/FindingsList.vue';
import { usePlanFindings } from '@/composables/useFindings';
import { channelPanels } from '@/composables/usePanels';
import { useMachine, useRun } from '@/stores';
import AlternativesBar from './AlternativesBar.vue';
import BlockList from './BlockList.vue';
import FormulaPanel from './FormulaPanel.vue';
import MotionSourcePanel from './MotionSourcePanel.vue';
import PlanTools from './PlanTools.vue';
import PointsPanel from './PointsPanel.vue';
import SegmentTable from './SegmentTable.vue';

/** How the selected axis moves, and what that is worth, to the third derivative. */
const machine = useMachine();
const results = useRun();
const findings = usePlanFindings();
const axis = computed(() => machine.axis!);
const kind = computed(() => axis.value.motion.source.kind);

const panels = computed(() => {
  const { axis: ran, run, axisRun, units } = results;
  if (!ran || !run || !axisRun) return [];
  return channelPanels(ran, run, axisRun, units, ['position', 'velocity', 'acceleration', 'jerk'], ran.limits);
});

const drawn = () =>
  void nextTick(() => {
    if (!results.stale) performance.mark('yoke-curves');
  });
</script>

<template>
  <div class="halves">
    <div class="left">
      <section class="panel" aria-label="Motion plan">
        <h2>{{ axis.name }}: motion</h2>
        <MotionSourcePanel :key="axis.id" :axis />
        <template v-if="kind === 'plan'">
          <SegmentTable :key="axis.id" :axis />
          <PlanTools :axis />
        </template>
        <BlockList v-else-if="kind === 'moves'" :key="axis.id" :axis />
        <FormulaPanel v-else-if="kind === 'formula'" :key="axis.id" :axis />
        <PointsPanel v-else-if="kind === 'points'" :key="axis.id" :axis />
        <AlternativesBar :axis />
      </section>
      <section class="panel" aria-label="Checks">
        <h2>Checks</h2>
        <FindingsList :findings fine="The motion closes, runs without jumps and keeps all limits." />
      </section>
    </div>
    <CurveStack
      v-if="results.run && panels.length > 0"
      :panels
      :times="results.run.times"
      :stale="results.stale"
      @drawn="drawn"
    />
    <div v-else class="panel soft">
      {{ results.ask ? 'Not computed yet: the run asks first, above.' : 'Computing …' }}
    </div>
  </div>
</template>

<style scoped>
.halves {
  --left: 610px;
}
</style>
