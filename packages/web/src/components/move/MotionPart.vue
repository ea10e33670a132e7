<script setup lang="ts">
import { AXIS_KINDS, displayUnit, formatNumber, pointErrors } from '@yoke/core';
import { computed, nextTick } from 'vue';
import CurveStack from '@/components/CurveStack.vue';
import { ToggleField } from '@/components/fields';
import FindingsList from '@/components/FindingsList.vue';
import { usePlanFindings } from '@/composables/useFindings';
import { channelPanels } from '@/composables/usePanels';
import { useMachine, useMotions, usePreferences, useRun } from '@/stores';
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
const motions = useMotions();
const preferences = usePreferences();
const findings = usePlanFindings();
const axis = computed(() => machine.axis!);
const kind = computed(() => axis.value.motion.source.kind);

const panels = computed(() => {
  const { axis: ran, run, axisRun, units } = results;
  if (!ran || !run || !axisRun) return [];
  const all = channelPanels(ran, run, axisRun, units, ['position', 'velocity', 'acceleration', 'jerk'], ran.limits);
  const { source, level, over } = ran.motion;
  if (source.kind !== 'points' || over !== 'time') return all;
  const kinds = AXIS_KINDS[ran.kind];
  const { factor, symbol } = displayUnit(kinds[level], units);
  const points = source.rows.map(([time, value]) => ({ time: time!, value: value! / factor }));
  const errors = pointErrors(motions.of(ran.id).motion, source.rows, level);
  const worst = errors.reduce((most, e, i) => (Math.abs(e) > Math.abs(errors[most] ?? 0) ? i : most), 0);
  const off = Math.abs(errors[worst] ?? 0);
  const marks = off > 1e-9 * Math.max(...points.map(({ value }) => Math.abs(value * factor))) ? [{ ...points[worst]!, text: `point ${worst + 1}: ${formatNumber(off / factor)} ${symbol} off` }] : []; // prettier-ignore
  return all.map((panel) => (panel.id === level ? { ...panel, points, marks: [...panel.marks!, ...marks] } : panel));
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
        <ToggleField
          class="follows"
          :value="preferences.cycleFollows"
          label="Cycle follows"
          title="When this motion needs more time than the cycle, the cycle gets longer by itself"
          @change="preferences.cycleFollows = $event"
        />
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
section {
  position: relative;
}
.follows {
  position: absolute;
  top: 8px;
  right: 12px;
  display: flex;
  gap: 8px;
  align-items: center;
}
.halves {
  --left: 610px;
}
</style>
