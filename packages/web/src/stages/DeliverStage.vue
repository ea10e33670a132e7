<script setup lang="ts">
import {
  counted,
  allChannels,
  allMechanismChannels,
  CHANNEL_IDS,
  channelsCsv,
  channelSpec,
  machineText,
  partsCsv,
  type ChannelId,
  type Run,
} from '@yoke/core';
import { ElButton, ElCheckbox } from 'element-plus';
import 'element-plus/theme-chalk/el-checkbox.css';
import { computed, ref } from 'vue';
import BrokenNote from '@/components/BrokenNote.vue';
import TrajectoryPanel from '@/components/deliver/TrajectoryPanel.vue';
import ShapesPanel from '@/components/deliver/ShapesPanel.vue';
import NoAxis from '@/components/NoAxis.vue';
import { axisColour } from '@/lib/axis-look';
import { download, fileName, MACHINE_ZIP } from '@/lib/files';
import { useGeometry, useMachine, useRun } from '@/stores';

const machine = useMachine();
const results = useRun();
const left = ref(new Set<string>());

const key = (axisId: string, channel: ChannelId) => `${axisId} ${channel}`;
const choices = computed(() =>
  results.run ? allChannels(results.run).filter(({ axisId, channel }) => !left.value.has(key(axisId, channel))) : [],
);
function toggle(axisId: string, channel: ChannelId, taken: boolean): void {
  const next = new Set(left.value);
  if (taken) next.delete(key(axisId, channel));
  else next.add(key(axisId, channel));
  left.value = next;
}
function toggleAxis(axisId: string, taken: boolean): void {
  for (const channel of CHANNEL_IDS) toggle(axisId, channel, taken);
}
const base = computed(() => fileName(machine.document?.name ?? ''));

const preview = computed(() => {
  if (!results.run || choices.value.length === 0) return '';
  const short = { ...results.run, times: results.run.times.slice(0, 4) };
  return channelsCsv(machine.document!, short, choices.value)
    .trim()
    .split('\n')
    .map((line) => (line.length > 150 ? `${line.slice(0, 149)}…` : line))
    .join('\n');
});
const broken = computed(() => results.beside.pending || (results.brokenFor() !== null && !results.insisted));
/** The machine's own run is what is taken away, whichever is shown. */
const ownRun = async () => (results.draw ? (await results.cycleOf(results.document!)).run : results.run!);
const saveChannels = (run: Run) =>
  download(`${base.value}-channels.csv`, channelsCsv(results.document!, run, choices.value), 'text/csv');
/** Every channel of the mechanism's run: too many to tick one by one. */
const mechanismIds = computed(() =>
  results.run && results.document ? allMechanismChannels(results.document, results.run) : [],
);
/** Loose parts of the run, whose ways can be taken away. */
const parts = computed(() => results.record?.fates.length ?? 0);
const isEmpty = computed(
  () => !machine.axis && parts.value === 0 && (machine.document?.mechanism.bodies.length ?? 0) === 0,
);
async function saveParts(): Promise<void> {
  const document = results.document!;
  const record = results.draw ? (await results.cycleOf(document)).record : results.record;
  download(`${base.value}-parts.csv`, partsCsv(record!, document), 'text/csv');
}
const saveMechanism = async () =>
  download(
    `${base.value}-mechanism.csv`,
    channelsCsv(results.document!, await ownRun(), [], mechanismIds.value),
    'text/csv',
  );
const saveDocument = () => download(`${base.value}.yoke.json`, machineText(machine.document!), 'application/json');
const geometry = useGeometry();
const hasFiles = computed(() => (machine.document?.mechanism.shapes?.files.length ?? 0) > 0);
const packing = ref(false);
const trouble = ref('');
async function saveWithShapes(): Promise<void> {
  packing.value = true;
  trouble.value = '';
  try {
    download(`${base.value}${MACHINE_ZIP}`, await geometry.packed(machine.document!), 'application/zip');
  } catch (error) {
    trouble.value = (error as Error).message;
  } finally {
    packing.value = false;
  }
}
</script>

<template>
  <NoAxis v-if="isEmpty" />
  <div v-else class="stage deliver">
    <section class="panel" aria-label="Channels">
      <h2>Channels for the spreadsheet</h2>
      <p class="soft">
        One row a sample, units in the header. Where a motion steps, its time stands twice: before and after.
      </p>
      <div v-if="machine.axes.length > 0" class="axes">
        <fieldset v-for="axis in machine.axes" :key="axis.id">
          <legend>
            <i :style="{ background: axisColour(axis) }" />{{ axis.name }}
            <button type="button" class="plain all" @click="toggleAxis(axis.id, true)">all</button>
            <button type="button" class="plain all" @click="toggleAxis(axis.id, false)">none</button>
          </legend>
          <ElCheckbox
            v-for="id in CHANNEL_IDS"
            :key="id"
            :model-value="!left.has(key(axis.id, id))"
            :label="channelSpec(id, axis.kind).label"
            size="small"
            @change="toggle(axis.id, id, Boolean($event))"
          />
        </fieldset>
      </div>
      <pre v-if="preview" class="figures" tabindex="0" aria-label="First rows of the CSV">{{ preview }}</pre>
      <BrokenNote what="delivered" />
      <ElButton
        v-if="machine.axes.length > 0"
        type="primary"
        :disabled="!results.run || choices.length === 0 || results.stale || broken"
        @click="ownRun().then(saveChannels)"
        >Save {{ results.run ? `${choices.length} ` : '' }}channels as CSV</ElButton
      >
      <ElButton v-if="mechanismIds.length > 0" :disabled="results.stale || broken" @click="saveMechanism"
        >Save all {{ counted(mechanismIds.length, 'channel') }} of
        {{ results.run?.mechanism ? 'the mechanism' : 'the sensors' }}</ElButton
      >
      <ElButton
        v-if="parts > 0"
        :disabled="results.stale || broken"
        title="Place and angle of each, frame by frame"
        @click="saveParts"
        >Save the ways of {{ parts === 1 ? 'the loose part' : `all ${parts} loose parts` }}</ElButton
      >
      <ElButton
        v-if="machine.axes.length > 0 && results.draw && results.run"
        :disabled="results.stale || broken"
        @click="saveChannels(results.run)"
        >Save the channels of the scattered run instead</ElButton
      >
      <span v-if="!results.run" class="soft hint">Computing …</span>
      <span v-else-if="machine.axes.length > 0 && choices.length === 0" class="soft hint"
        >Tick at least one channel.</span
      >
    </section>
    <div class="side">
      <TrajectoryPanel v-if="machine.axis" :key="machine.id ?? ''" />
      <ShapesPanel v-if="(machine.document?.mechanism.bodies.length ?? 0) > 0" />
      <section class="panel" aria-label="Document">
        <h2>The machine as a file</h2>
        <p class="soft">
          An open format (*.yoke.json, SI units, JSON Schema in docs/format). The start page imports it; the command
          line reads it: <code class="figures">npx yoke simulate {{ base }}.yoke.json</code>
        </p>
        <p v-if="hasFiles" class="soft">
          Whoever opens it elsewhere needs its shapes too: they come along in the other file (*.yoke.zip: the same
          document, and a GLB for each file that was imported).
        </p>
        <div class="buttons">
          <ElButton @click="saveDocument">Save {{ base }}.yoke.json</ElButton>
          <ElButton v-if="hasFiles" :disabled="packing" @click="saveWithShapes"
            >Save {{ base }}.yoke.zip, with its shapes</ElButton
          >
        </div>
        <p v-if="packing" class="soft" role="status">Shapes are fetched and packed …</p>
        <p v-if="trouble" class="bad" role="alert">{{ trouble }}</p>
      </section>
    </div>
  </div>
</template>

<style scoped>
.deliver {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 440px;
  gap: 10px;
  align-items: start;
}
.side {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 10px;
}
.axes {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
  gap: 8px;
  margin: 10px 0;
}
fieldset {
  border: 1px solid var(--line-soft);
  border-radius: var(--radius);
  padding: 4px 10px 8px;
  display: grid;
}
legend {
  font-weight: 500;
  padding: 0 4px;
}
legend i {
  display: inline-block;
  width: 9px;
  height: 9px;
  border-radius: 2px;
  margin-right: 6px;
}
.all {
  color: var(--primary);
  text-decoration: underline;
  font-size: 12px;
  margin-left: 8px;
}
pre {
  background: var(--sunken);
  border: 1px solid var(--line-soft);
  padding: 8px;
  overflow: auto;
  margin: 0 0 10px;
  font-size: 10.5px;
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 8px;
}
.buttons :deep(.el-button + .el-button) {
  margin-left: 0;
}
.hint {
  margin-left: 10px;
}
</style>
