<script setup lang="ts">
import { channelSpec, counted, displayUnit, findPeak, valueAt, type Axis, type ChannelId, type Run } from '@yoke/core';
import { computed, ref } from 'vue';
import AxisSketch from '@/components/AxisSketch.vue';
import type { Curve } from '@/components/CurveChart.vue';
import CurveStack from '@/components/CurveStack.vue';
import FindingsList from '@/components/FindingsList.vue';
import NoAxis from '@/components/NoAxis.vue';
import { QuantityField } from '@/components/fields';
import ComparePanel from '@/components/run/ComparePanel.vue';
import EnergyTable from '@/components/run/EnergyTable.vue';
import MechanismRunView from '@/components/run/MechanismRunView.vue';
import PeakTable from '@/components/run/PeakTable.vue';
import { useRunFindings } from '@/composables/useFindings';
import { channelPanels } from '@/composables/usePanels';
import { useCompare, useCursor, useMachine, useRun } from '@/stores';
import { useRunProgress } from '@/composables/useRunProgress';

const machine = useMachine();
const results = useRun();
const progress = useRunProgress();
const cursor = useCursor();
const compare = useCompare();
const findings = useRunFindings();

const wanted = ref<'mechanism' | 'axis' | null>(null);
const hasMechanism = computed(() => (machine.document?.mechanism.bodies.length ?? 0) > 0);
const part = computed(() => (hasMechanism.value ? (wanted.value ?? 'mechanism') : 'axis'));

const panels = computed(() => {
  const { axis, run, axisRun, units } = results;
  if (!axis || !run || !axisRun) return [];
  const torque = axis.sizing.motor ? (['shaftTorque', 'motorTorque'] as const) : 'shaftTorque';
  const shown = channelPanels(axis, run, axisRun, units, ['effort', torque, 'motorSpeed', 'motorPower']);
  return shown.map((panel) => ({ ...panel, curves: [...panel.curves, ...overlays(panel.id, axis, run)] }));
});
/** The same channel of variants and kept runs, laid over it. */
function overlays(channels: string, axis: Axis, run: Run): Curve[] {
  const id = channels.split(',').at(-1) as ChannelId;
  const { factor } = displayUnit(channelSpec(id, axis.kind).kind, results.units);
  return compare.entries.flatMap((entry, i) => {
    const other = compare.overlay(entry, `axis:${axis.id}:${id}`, run);
    return other
      ? [{ label: entry.name, colour: `--axis-${(axis.colour + i + 1) % 8}`, values: other.map((v) => v / factor), dashed: true }]
      : []; // prettier-ignore
  });
}
const comparing = ref(false);
/** What of an axis is held against other runs. */
const COMPARED = ['velocity', 'acceleration', 'effort', 'motorTorque', 'motorSpeed', 'motorPower'] as const;
const compared = computed(() => COMPARED.map((id) => `axis:${machine.axis?.id ?? ''}:${id}`));

const now = computed(() => {
  const { run, axisRun } = results;
  if (!run || !axisRun) return null;
  const { position, velocity, effort } = axisRun.channels;
  return {
    position: valueAt(run.times, position, cursor.time),
    velocity: valueAt(run.times, velocity, cursor.time),
    effort: valueAt(run.times, effort, cursor.time),
  };
});
const largest = computed(() => {
  const { run, axisRun } = results;
  if (!run || !axisRun) return { velocity: 0, effort: 0 };
  return {
    velocity: Math.abs(findPeak(run.times, axisRun.channels.velocity).value),
    effort: Math.abs(findPeak(run.times, axisRun.channels.effort).value),
  };
});
const setStep = (value: number | null) => machine.edit('sampling step', (draft) => void (draft.step = value));
</script>

<template>
  <div v-if="!machine.axis && !hasMechanism && results.record && machine.document" class="stage whole">
    <MechanismRunView />
  </div>
  <NoAxis v-else-if="!machine.axis && !hasMechanism" />
  <div v-else class="stage whole" :class="{ split: hasMechanism }">
    <nav v-if="hasMechanism" class="parts" aria-label="Parts of Run">
      <button type="button" :aria-pressed="part === 'mechanism'" @click="wanted = 'mechanism'">Mechanism</button>
      <button type="button" :aria-pressed="part === 'axis'" :disabled="!machine.axis" @click="wanted = 'axis'">
        Axis and motor: {{ machine.axis?.name ?? 'none yet' }}
      </button>
    </nav>
    <MechanismRunView v-if="part === 'mechanism'" />
    <div v-else-if="machine.axis" class="run">
      <div class="left">
        <section class="panel drawing" aria-label="Animation">
          <AxisSketch
            v-if="now"
            :axis="machine.axis"
            :position="now.position"
            :velocity="now.velocity"
            :effort="now.effort"
            :largest-velocity="largest.velocity"
            :largest-effort="largest.effort"
          />
          <p class="key">
            <span class="thin" /> velocity <span class="thick" />
            {{ machine.axis.kind === 'linear' ? 'force' : 'torque' }} of the drive
          </p>
        </section>
        <section v-if="results.run && results.axisRun" class="panel tables" aria-label="Peaks and energy">
          <nav class="tabs" aria-label="Peaks or compare">
            <button type="button" :aria-pressed="!comparing" @click="comparing = false">Peaks and energy</button>
            <button type="button" :aria-pressed="comparing" @click="comparing = true">Compare</button>
          </nav>
          <ComparePanel v-if="comparing" :channels="compared" />
          <template v-else-if="results.begun === null">
            <PeakTable :axis="machine.axis" :run="results.run" :axis-run="results.axisRun" />
            <EnergyTable :axis-run="results.axisRun" :cycle="cursor.span" />
          </template>
          <p v-else class="soft">Peaks and energies come with the whole cycle: {{ progress }}.</p>
          <div class="step">
            <QuantityField
              :value="machine.document!.step"
              kind="time"
              label="Sampling step"
              optional
              :placeholder="`${Number(results.run.proposedStep.toPrecision(3))} proposed`"
              :commit="setStep"
            />
            <p class="soft">{{ counted(results.run.times.length, 'sample') }} over the cycle.</p>
          </div>
          <FindingsList v-if="findings.length > 0" :findings fine="" />
        </section>
      </div>
      <CurveStack v-if="results.run && panels.length > 0" :panels :times="results.run.times" :stale="results.stale" />
      <div v-else-if="results.failure" class="panel bad" role="alert">The run failed: {{ results.failure }}</div>
      <div v-else class="panel soft">
        {{ results.ask ? 'Not computed yet: the run asks first, above.' : 'Computing …' }}
      </div>
    </div>
  </div>
</template>

<style scoped>
@import '@/style/parts.css';
.whole {
  overflow: hidden;
}
.whole.split {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  gap: 6px;
}
.run {
  height: 100%;
  min-height: 0;
  display: grid;
  grid-template: minmax(0, 1fr) / 440px minmax(0, 1fr);
  gap: 10px;
  overflow: hidden;
}
.left {
  display: grid;
  gap: 10px;
  grid-template-rows: minmax(165px, 1fr) auto;
  overflow: auto;
  min-height: 0;
}
.drawing {
  position: relative;
  padding: 4px;
  min-height: 0;
}
.key {
  position: absolute;
  right: 10px;
  bottom: 6px;
  font: 12px var(--narrow);
  color: var(--ink-soft);
}
.thin,
.thick {
  display: inline-block;
  width: 18px;
  border-top: 2px solid var(--primary);
  vertical-align: middle;
  margin: 0 3px 0 8px;
}
.thin {
  border-color: currentcolor;
}
.thick {
  border-top: 4px solid var(--ink);
}
.tables {
  display: grid;
  gap: 4px;
  padding: 4px 12px 8px;
}
.step {
  display: grid;
  grid-template-columns: 160px 1fr;
  gap: 10px;
  align-items: end;
}
.run :deep(table.rows td) {
  padding: 0.5px 4px;
}
@media (min-width: 1700px) {
  .run {
    grid-template-columns: 640px minmax(0, 1fr);
  }
}
</style>
