<script setup lang="ts">
import { ElButton } from 'element-plus';
import { computed, ref, watch } from 'vue';
import { ChoiceField } from '@/components/fields';
import CurveStack from '@/components/CurveStack.vue';
import ChainPanel from '@/components/cue/ChainPanel.vue';
import FindingsList from '@/components/FindingsList.vue';
import { usePlots } from '@/composables/usePlots';
import SplitGrip from '@/components/SplitGrip.vue';
import { useCursor, useMachine, usePreferences, useRun, useSeeing } from '@/stores';
import { useRunProgress } from '@/composables/useRunProgress';
import ClearancesPanel from './ClearancesPanel.vue';
import ComparePanel from './ComparePanel.vue';
import SceneView from '@/components/loose/SceneView.vue';
import MachinePicture from '@/components/space/MachinePicture.vue';
import PlotBar from './PlotBar.vue';
import TracePanel from './TracePanel.vue';

/** The mechanism's run: it plays, its channels are plotted, variants are held against it. */
const machine = useMachine();
const results = useRun();
const progress = useRunProgress();
const seeing = useSeeing();
const cursor = useCursor();
const panels = usePlots();
const preferences = usePreferences();
/** Rooms of the picture as it was dragged, else as it suits the window. */
const columns = computed(() =>
  preferences.runWidth === null
    ? {}
    : { gridTemplateColumns: `minmax(0, ${preferences.runWidth}fr) 8px minmax(0, ${1 - preferences.runWidth}fr)` },
);
const rows = computed(() =>
  preferences.runHeight === null
    ? {}
    : { gridTemplateRows: `minmax(0, ${preferences.runHeight}fr) 8px minmax(0, ${1 - preferences.runHeight}fr)` },
);
/** Of loose parts alone there is no mechanism to be drawn and traced. */
const hasMechanism = computed(() => (machine.document?.mechanism.bodies.length ?? 0) > 0);
/** Moments of rails and shafts are there, and are seen in depth. */
const inSpace = computed(() => (results.run?.mechanism?.bearings.length ?? 0) > 0 && seeing.depth !== false);
const part = ref<'findings' | 'compare' | 'traces' | 'cycle' | 'clearances'>(hasMechanism.value ? 'compare' : 'cycle');

watch(
  () => results.run,
  () => {
    if (results.run && seeing.plots.length === 0) seeing.begin();
  },
  { immediate: true },
);
const findings = computed(() =>
  results.findings.map(({ severity, text, time }) => ({ severity, text, time: time ?? undefined })),
);
const worst = computed(() =>
  (['error', 'warning'] as const)
    .flatMap((wanted) => findings.value.filter(({ severity }) => severity === wanted))
    .at(0),
);
</script>

<template>
  <div class="mechanism-run" :style="columns">
    <div class="left" :style="rows">
      <section class="panel drawing" :class="{ stale: results.stale }" aria-label="Animation">
        <header>
          <ChoiceField
            bare
            :value="cursor.mode"
            label="Playback"
            :options="{ loop: 'In a loop', once: 'Once', 'to-and-fro': 'There and back' }"
            @choose="cursor.mode = $event"
          />
          <label v-if="hasMechanism"><input v-model="seeing.arrows" type="checkbox" /> Forces</label>
          <label v-if="inSpace"><input v-model="seeing.moments" type="checkbox" /> Moments</label>
          <label v-if="hasMechanism"><input v-model="seeing.velocities" type="checkbox" /> Velocities</label>
          <label v-if="hasMechanism">
            Ghosts
            <select v-model.number="seeing.ghosts" aria-label="Ghost poses">
              <option v-for="n in [0, 4, 8, 16]" :key="n" :value="n">{{ n }}</option>
            </select>
          </label>
        </header>
        <MachinePicture v-if="hasMechanism" />
        <SceneView v-else :machine="machine.document!" :run="results.run" :record="results.record" />
      </section>
      <SplitGrip
        label="Height of the picture"
        :share="preferences.runHeight ?? 0.5"
        @change="preferences.runHeight = $event"
      />
      <section class="panel lower" aria-label="Compare and traces">
        <p v-if="results.failure" class="worst error" role="alert">{{ results.failure }}</p>
        <p v-else-if="results.stale" class="stale-note">
          {{
            results.begun === null
              ? 'The machine has changed; a new run is being computed'
              : 'The cycle is being computed'
          }}<template v-if="results.progress"
            >: {{ progress }} <ElButton size="small" @click="results.stop()">Stop</ElButton></template
          >.
        </p>
        <nav class="tabs">
          <button type="button" :aria-pressed="part === 'compare'" @click="part = 'compare'">Compare</button>
          <button v-if="results.record" type="button" :aria-pressed="part === 'cycle'" @click="part = 'cycle'">
            What happened
          </button>
          <button v-if="hasMechanism" type="button" :aria-pressed="part === 'traces'" @click="part = 'traces'">
            Traces and cams
          </button>
          <button v-if="hasMechanism" type="button" :aria-pressed="part === 'clearances'" @click="part = 'clearances'">
            Clearances
          </button>
          <button type="button" :aria-pressed="part === 'findings'" @click="part = 'findings'">
            Findings <span v-if="findings.length > 0">{{ findings.length }}</span>
          </button>
        </nav>
        <p v-if="part !== 'findings' && worst" class="worst" :class="worst.severity">{{ worst.text }}</p>
        <ComparePanel v-if="part === 'compare'" />
        <TracePanel v-else-if="part === 'traces'" />
        <ClearancesPanel v-else-if="part === 'clearances'" />
        <ChainPanel v-else-if="part === 'cycle' && results.begun === null" />
        <FindingsList
          v-else
          :findings
          :fine="
            results.stale
              ? 'What there is to be said comes with the run that is being computed.'
              : `${machine.document!.name} runs through its cycle without anything to be said.`
          "
        />
      </section>
    </div>
    <SplitGrip
      beside
      label="Width of the picture"
      :share="preferences.runWidth ?? 0.45"
      @change="preferences.runWidth = $event"
    />
    <div class="right">
      <PlotBar />
      <CurveStack v-if="results.run && panels.length > 0" :panels :times="results.run.times" :stale="results.stale" />
      <section v-else class="panel soft">Choose a channel above to plot it.</section>
    </div>
  </div>
</template>

<style scoped>
@import '@/style/parts.css';
.mechanism-run {
  display: grid;
  grid-template: minmax(0, 1fr) / minmax(0, 560px) 8px minmax(0, 1fr);
  gap: 1px;
  height: 100%;
  min-height: 0;
}
.left {
  display: grid;
  grid-template-rows: minmax(230px, 1fr) 8px minmax(0, 1fr);
  gap: 1px;
  min-height: 0;
}
.drawing {
  padding: 0;
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  min-height: 0;
  overflow: hidden;
}
.drawing.stale {
  opacity: 0.7;
}
header {
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 4px 8px;
  border-bottom: 1px solid var(--line-soft);
  font-size: 12.5px;
}
header :deep(.el-select) {
  width: 140px;
}
header select {
  font: inherit;
  color: inherit;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: var(--radius);
}
.lower {
  overflow: auto;
  padding: 6px 12px 10px;
}
nav {
  position: sticky;
  top: -6px;
  background: var(--panel);
  z-index: 1;
}
.worst {
  margin-top: 6px;
  padding: 4px 8px;
  border-left: 3px solid var(--line);
  font-size: 12.5px;
}
.worst.error {
  border-color: var(--bad);
  background: var(--bad-soft);
}
.stale-note {
  color: var(--attention-ink);
  font-size: 12.5px;
}
.right {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  gap: 8px;
  min-height: 0;
}
@media (min-width: 1700px) {
  .mechanism-run {
    grid-template-columns: 900px 8px minmax(0, 1fr);
  }
}
</style>
