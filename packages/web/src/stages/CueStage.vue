<script setup lang="ts">
import { LOOSE_LISTS } from '@yoke/core';
import { computed, defineAsyncComponent, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import ChainPanel from '@/components/cue/ChainPanel.vue';
import CueDiagram from '@/components/cue/CueDiagram.vue';
import CueFields from '@/components/cue/CueFields.vue';
import CueSheet from '@/components/cue/CueSheet.vue';
import EventLog from '@/components/cue/EventLog.vue';
import RulesPart from '@/components/cue/RulesPart.vue';
import SensorPart from '@/components/cue/SensorPart.vue';
import LoosePart from '@/components/loose/LoosePart.vue';
import SceneView from '@/components/loose/SceneView.vue';
import MachinePicture from '@/components/space/MachinePicture.vue';
import FindingsList from '@/components/FindingsList.vue';
import { useCues, useLoose, useMachine, useRun } from '@/stores';
import { useRunProgress } from '@/composables/useRunProgress';

/** What starts what: the cue sheet as rows, as a graph and over time, with the machine beside it. */
const machine = useMachine();
const cues = useCues();
const loose = useLoose();
const results = useRun();
const progress = useRunProgress();
const route = useRoute();
const router = useRouter();
const PARTS = [
  { id: 'sheet', name: 'Sheet', is: CueSheet },
  { id: 'time', name: 'Over time', is: CueDiagram },
  { id: 'graph', name: 'Graph', is: defineAsyncComponent(() => import('@/components/cue/CueGraph.vue')) },
  { id: 'sensors', name: 'Sensors', is: SensorPart },
  { id: 'parts', name: 'Loose parts', is: LoosePart },
  { id: 'rules', name: 'Rules', is: RulesPart },
  { id: 'many', name: 'Many runs', is: defineAsyncComponent(() => import('@/components/cue/ManyRuns.vue')) },
] as const;
const part = computed(() => PARTS.find(({ id }) => id === route.query.part) ?? PARTS[0]);
const choose = (id: string) => void router.replace({ query: { part: id } });

const side = ref<'cue' | 'log' | 'chain' | 'findings' | null>(null);
watch(
  () => cues.opened,
  () => (side.value = 'cue'),
);
/** A chosen cue is shown in full unless something else was asked for. */
const shownSide = computed(
  () =>
    side.value ??
    (cues.cue ? 'cue' : cues.findings.some(({ severity }) => severity === 'error') ? 'findings' : 'chain'),
);
const worst = computed(() => cues.findings.filter(({ severity }) => severity !== 'info').length);

function picked(id: string): void {
  if (machine.document!.sequence.sensors.some((s) => s.id === id)) {
    cues.sensorId = id;
    choose('sensors');
    return;
  }
  const list = LOOSE_LISTS.find((key) =>
    (machine.document!.loose[key] as readonly { id: string }[]).some((item) => item.id === id),
  );
  if (!list) return;
  loose.chosen = { list, id };
  choose('parts');
}
const variants = computed(() => machine.document!.variants);
</script>

<template>
  <div class="stage whole cue">
    <nav class="parts" aria-label="Parts of Cue">
      <button v-for="{ id, name } in PARTS" :key="id" type="button" :aria-pressed="part.id === id" @click="choose(id)">
        {{ name }}
      </button>
      <span class="state" role="status">
        <template v-if="results.progress !== null && results.stale">
          Running {{ progress }}
          <button type="button" class="plain link" @click="results.stop()">Stop</button>
        </template>
      </span>
    </nav>
    <component :is="part.is" class="part" />
    <aside>
      <section
        class="panel scene-panel"
        :class="{ stale: results.stale, two: cues.beside }"
        aria-label="The machine at the cursor"
      >
        <MachinePicture :drawing="loose.drawn !== null">
          <SceneView
            :machine="machine.document!"
            :run="results.run"
            :record="cues.record"
            :chosen="part.id === 'sensors' ? cues.sensorId : (loose.chosen?.id ?? null)"
            :label="cues.beside ? 'As it is' : ''"
            :drawn="part.id === 'parts' ? loose.drawn : null"
            @choose="picked"
            @drag="loose.drag"
            @corner="loose.addCorner"
            @drawn="loose.finishDrawing"
            @give-up="loose.giveUp"
          />
        </MachinePicture>
        <SceneView
          v-if="cues.beside"
          :machine="cues.beside.machine"
          :run="null"
          :record="cues.beside.record"
          :label="variants.find(({ id }) => id === cues.beside!.id)?.name ?? ''"
        />
        <select
          v-if="variants.length > 0"
          class="beside"
          :value="cues.beside?.id ?? ''"
          aria-label="Variant beside it"
          title="A variant side by side, at the same cursor"
          @change="cues.showBeside(($event.target as HTMLSelectElement).value || null)"
        >
          <option value="">alone</option>
          <option v-for="v in variants" :key="v.id" :value="v.id">beside: {{ v.name }}</option>
        </select>
      </section>
      <section class="panel side">
        <nav class="parts" aria-label="Beside">
          <button type="button" :aria-pressed="shownSide === 'cue'" :disabled="!cues.cue" @click="side = 'cue'">
            Cue
          </button>
          <button type="button" :aria-pressed="shownSide === 'chain'" @click="side = 'chain'">Cycle</button>
          <button type="button" :aria-pressed="shownSide === 'log'" @click="side = 'log'">Events</button>
          <button type="button" :aria-pressed="shownSide === 'findings'" @click="side = 'findings'">
            Findings <span v-if="worst > 0" class="count">{{ worst }}</span>
          </button>
        </nav>
        <div class="body">
          <CueFields v-if="shownSide === 'cue' && cues.cue" :key="cues.cue.id" :cue="cues.cue" />
          <EventLog v-else-if="shownSide === 'log'" />
          <FindingsList
            v-else-if="shownSide === 'findings'"
            :findings="cues.findings"
            :fine="
              results.stale
                ? 'What there is to be said comes with the run that is being computed.'
                : 'The sheet runs through without anything to be said.'
            "
          />
          <ChainPanel v-else-if="results.begun === null" />
          <p v-else class="soft">The times of the cycle come when all of it is computed.</p>
        </div>
      </section>
    </aside>
  </div>
</template>

<style scoped>
@import '@/style/parts.css';
.cue {
  display: grid;
  grid-template: auto minmax(0, 1fr) / minmax(0, 1fr) 430px;
  gap: 6px 10px;
  overflow: hidden;
}
.cue > nav {
  grid-column: 1 / -1;
}
.part {
  min-height: 0;
  min-width: 0;
}
aside {
  display: grid;
  grid-template-rows: minmax(0, 5fr) minmax(0, 6fr);
  gap: 8px;
  min-height: 0;
}
.scene-panel {
  padding: 0;
  position: relative;
  min-height: 0;
  overflow: hidden;
}
.scene-panel.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
}
.scene-panel.two > * + .scene {
  border-left: 1px solid var(--line);
}
.scene-panel.stale {
  opacity: 0.8;
}
.beside {
  position: absolute;
  right: 6px;
  top: 4px;
  font: 12px var(--narrow);
  color: var(--ink-soft);
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: var(--radius);
}
.side {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  gap: 4px;
  padding: 6px 10px 8px;
  min-height: 0;
}
.body {
  min-height: 0;
  overflow: auto;
}
.state {
  margin-left: auto;
  font-size: 12.5px;
  color: var(--attention-ink);
}
.link {
  color: var(--primary);
  text-decoration: underline;
}
.count {
  background: var(--attention-ink);
  color: var(--panel);
  border-radius: 8px;
  padding: 0 5px;
  font-size: 11px;
}
@media (min-width: 1700px) {
  .cue {
    grid-template-columns: minmax(0, 1fr) 760px;
  }
}
</style>
