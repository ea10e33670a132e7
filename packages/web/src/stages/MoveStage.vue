<script setup lang="ts">
import { fitToCycle, planDuration } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed, nextTick } from 'vue';
import CurveStack from '@/components/CurveStack.vue';
import FindingsList from '@/components/FindingsList.vue';
import MotionSourcePanel from '@/components/move/MotionSourcePanel.vue';
import SegmentTable from '@/components/move/SegmentTable.vue';
import NoAxis from '@/components/NoAxis.vue';
import { usePlanFindings } from '@/composables/useFindings';
import { channelPanels } from '@/composables/usePanels';
import { useMachine } from '@/stores/machine';
import { useRun } from '@/stores/run';

const machine = useMachine();
const results = useRun();
const findings = usePlanFindings();

const panels = computed(() => {
  const { axis, run, axisRun, units } = results;
  if (!axis || !run || !axisRun) return [];
  return channelPanels(axis, run, axisRun, units, ['position', 'velocity', 'acceleration', 'jerk'], axis.limits);
});

const fits = computed(
  () =>
    !machine.axis ||
    machine.axis.motion.source.kind !== 'plan' ||
    machine.axis.plan.segments.length === 0 ||
    Math.abs(planDuration(machine.axis.plan) / machine.cycle - 1) < 1e-9,
);

function fit(): void {
  machine.editAxis('fit to the cycle', (draft) => {
    draft.plan = structuredClone(fitToCycle(machine.axis!.plan, machine.cycle)) as typeof draft.plan;
  });
}

const drawn = () =>
  void nextTick(() => {
    if (!results.stale) performance.mark('yoke-curves');
  });
</script>

<template>
  <NoAxis v-if="!machine.axis" />
  <div v-else class="stage move">
    <div class="left">
      <section class="panel" aria-label="Motion plan">
        <h2>{{ machine.axis.name }}: motion</h2>
        <MotionSourcePanel :axis="machine.axis" />
        <SegmentTable v-if="machine.axis.motion.source.kind === 'plan'" :key="machine.axis.id" :axis="machine.axis">
          <ElButton v-if="!fits" size="small" title="Stretch or shrink all segments alike" @click="fit"
            >Fit to the cycle</ElButton
          >
        </SegmentTable>
      </section>
      <section class="panel" aria-label="Checks">
        <h2>Checks</h2>
        <FindingsList :findings="findings" fine="The plan closes, runs without jumps and keeps all limits." />
      </section>
    </div>
    <CurveStack
      v-if="results.run && panels.length > 0"
      :panels="panels"
      :times="results.run.times"
      :stale="results.stale"
      @drawn="drawn"
    />
    <div v-else class="panel soft">Computing …</div>
  </div>
</template>

<style scoped>
.move {
  display: grid;
  grid-template: minmax(0, 1fr) / 610px minmax(0, 1fr);
  gap: 10px;
  overflow: hidden;
}
.left {
  display: grid;
  gap: 10px;
  align-content: start;
  overflow: auto;
  min-height: 0;
}
</style>
