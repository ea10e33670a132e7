<script setup lang="ts">
import { formatNumber, type CueMove } from '@yoke/core';
import { useElementSize } from '@vueuse/core';
import { ElButton } from 'element-plus';
import { computed, ref, watch } from 'vue';
import { ChoiceField } from '@/components/fields';
import { useCueDrag } from '@/composables/useCueDrag';
import { GUTTER, ROW, useCueBox, useCueLanes } from '@/composables/useCueLanes';
import { useTimeView } from '@/composables/useTimeView';
import { axisColour } from '@/lib/axis-look';
import { niceTicks } from '@/lib/ticks';
import { useCues, useCursor, useMachine, useRun } from '@/stores';
import CueTools from './CueTools.vue';

/** The simulated moves over time, with signals between them and arrows from what started what. Moves can be dragged and stretched. */
const machine = useMachine();
const cues = useCues();
const cursor = useCursor();
const results = useRun();
const area = ref<HTMLElement>();
const { width } = useElementSize(area);

/** Stretch of the run that is shown: all of it, or one cycle. */
const shown = ref('all');
const windows = computed(() => {
  const record = cues.record;
  if (!record) return [];
  const cycles = record.cycles
    .slice(0, -1)
    .map((from, i) => ({ value: `c${i}`, label: `Cycle ${i + 1}`, from, to: record.cycles[i + 1]! }));
  return [{ value: 'all', label: 'The whole run', from: 0, to: record.duration }, ...cycles];
});
const wanted = computed(() => {
  const found = windows.value.find(({ value }) => value === shown.value) ?? windows.value[0];
  return found ?? { from: 0, to: machine.cycle };
});
const whole = computed(() => ({ from: 0, to: cues.record?.duration ?? machine.cycle }));
const { shown: span, zoomed, zoom, pan, fit } = useTimeView(wanted, whole);
watch(
  () => windows.value.length,
  (count, before) => {
    // A long run is first shown by its last cycle but one: there the moves can be seen.
    if ((before ?? 0) <= 1 && count > 3) setShown(windows.value[Math.min(2, count - 1)]!.value);
  },
  { immediate: true },
);
/** The cycle looked at is the one whose chain is told. */
function setShown(value: string): void {
  shown.value = value;
  cues.cycleShown = value === 'all' ? null : Number(value.slice(1));
}
const x = (time: number) =>
  GUTTER + ((time - span.value.from) / (span.value.to - span.value.from)) * (width.value - GUTTER - 12);
const secondsPerPixel = computed(() => (span.value.to - span.value.from) / Math.max(1, width.value - GUTTER - 12));
const ticks = computed(() => niceTicks(span.value.from, span.value.to, Math.max(4, width.value / 90)));

const { lanes, signals, arrows, height, isCritical } = useCueLanes(
  span,
  width,
  () => windows.value.length > 2 && shown.value === 'all',
);
const nameOf = (id: string) => cues.sequence?.cues.find((c) => c.id === id)?.name ?? id;

const { dragged, drag, nudge, neighbours, asked } = useCueDrag(secondsPerPixel);
const timeAt = (event: MouseEvent) =>
  span.value.from + (event.clientX - area.value!.getBoundingClientRect().left - GUTTER) * secondsPerPixel.value;
const middle = () => (span.value.from + span.value.to) / 2;
const { box, press } = useCueBox(lanes, x, (event) => cursor.stopAt(timeAt(event)));
function wheel(event: WheelEvent): void {
  // Without a key it scrolls up and down, as everywhere.
  if (!event.ctrlKey && !event.metaKey && !event.shiftKey) return;
  event.preventDefault();
  const by = event.deltaY || event.deltaX;
  if (event.shiftKey) pan(Math.sign(by) * 0.15);
  else zoom(timeAt(event), Math.exp(by * 0.0016));
}

/** By keys the choice goes along; a press tells by its keys what is chosen. */
function focused(event: FocusEvent, id: string): void {
  if ((event.target as Element).matches(':focus-visible') && !cues.chosen.includes(id)) cues.choose(id);
}
function keyed(event: KeyboardEvent, move: CueMove): void {
  if (event.key !== 'Enter' && event.key !== ' ') return nudge(event, move);
  event.preventDefault();
  cues.choose(move.cue, event.shiftKey || event.ctrlKey || event.metaKey);
}
</script>

<template>
  <section class="panel diagram" aria-label="Cues over time">
    <CueTools />
    <header>
      <ChoiceField bare :value="shown" label="Stretch shown" :options="windows" @choose="setShown" />
      <ChoiceField
        bare
        :value="neighbours"
        label="When a move is stretched"
        :options="{ move: 'What follows moves', stay: 'What follows stays' }"
        @choose="neighbours = $event"
      />
      <span class="zoom" role="group" aria-label="Stretch of time">
        <button type="button" title="Earlier (Shift and wheel)" aria-label="Earlier" @click="pan(-0.5)">‹</button>
        <button type="button" title="Less (Ctrl and wheel)" aria-label="Zoom out" @click="zoom(middle(), 1.6)">
          −
        </button>
        <button type="button" title="Closer (Ctrl and wheel)" aria-label="Zoom in" @click="zoom(middle(), 1 / 1.6)">
          +
        </button>
        <button type="button" title="Later (Shift and wheel)" aria-label="Later" @click="pan(0.5)">›</button>
        <button v-if="zoomed" type="button" @click="fit">All of it</button>
      </span>
      <ElButton v-if="cues.chosen.length > 0" size="small" @click="cues.chosen = []">Choose none</ElButton>
      <span class="key"><i class="critical" /> holds the cycle time</span>
      <span v-if="dragged" class="drag hint">{{ nameOf(dragged.cue) }} {{ dragged.text }}</span>
      <span v-else class="soft hint"
        >Drag a move to shift it, its end to stretch it, the ground to choose several; arrows shift, with Alt they
        stretch.</span
      >
    </header>
    <p v-if="asked" class="ask" role="alertdialog" aria-label="Before it">
      {{ asked.text }}
      <ElButton v-if="asked.yes" size="small" type="primary" @click="asked.yes">Start along with it</ElButton>
      <ElButton size="small" @click="asked = null">{{ asked.yes ? 'Leave it' : 'Close' }}</ElButton>
    </p>
    <div ref="area" class="area" :class="{ stale: results.stale }">
      <svg
        v-if="width > 0 && cues.record"
        :width
        :height="Math.max(height + 18, 60)"
        @pointerdown="press"
        @wheel="wheel"
      >
        <g class="ticks">
          <template v-for="tick in ticks" :key="tick">
            <line :x1="x(tick)" :x2="x(tick)" y1="0" :y2="height" />
            <text :x="x(tick) + 3" :y="height + 12">{{ formatNumber(tick) }} s</text>
          </template>
        </g>
        <g v-for="{ axis, top, d, moves } in lanes" :key="axis.id">
          <line class="base" :x1="0" :x2="width" :y1="top + ROW" :y2="top + ROW" />
          <text class="name" x="6" :y="top + 18">{{ axis.name }}</text>
          <path class="line" clip-path="url(#cue-clip)" :d :style="{ stroke: axisColour(axis) }" />
          <g
            v-for="move in moves"
            :key="`${move.cue}${move.from}`"
            class="move"
            clip-path="url(#cue-clip)"
            :class="{ chosen: cues.chosen.includes(move.cue), critical: isCritical(move) }"
            tabindex="0"
            role="button"
            :aria-label="`${nameOf(move.cue)}, ${formatNumber(move.from, 4)} to ${formatNumber(move.to, 4)} s`"
            @keydown="keyed($event, move)"
            @focus="focused($event, move.cue)"
          >
            <title>{{ nameOf(move.cue) }}: {{ formatNumber(move.from, 5) }} to {{ formatNumber(move.to, 5) }} s</title>
            <rect
              :x="x(move.from)"
              :y="top + 3"
              :width="Math.max(2, x(move.to) - x(move.from))"
              :height="ROW - 6"
              @pointerdown="drag($event, move, false)"
            />
            <rect
              class="end"
              :x="x(move.to) - 4"
              :y="top + 3"
              width="7"
              :height="ROW - 6"
              @pointerdown="drag($event, move, true)"
            />
            <text v-if="x(move.to) - x(move.from) > 46" :x="x(move.from) + 4" :y="top + 14" :textLength="undefined">
              {{ nameOf(move.cue).slice(0, Math.floor((x(move.to) - x(move.from)) / 5.6)) }}
            </text>
          </g>
        </g>
        <g v-for="signal in signals" :key="signal.id" class="signal" :class="{ chosen: cues.sensorId === signal.id }">
          <text class="name" x="6" :y="signal.y + 14">{{ signal.name.slice(0, 19) }}</text>
          <path :d="signal.d" />
        </g>
        <path
          v-for="arrow in arrows"
          :key="arrow.key"
          class="arrow"
          :class="{ chain: arrow.chain }"
          :d="arrow.d"
          marker-end="url(#cue-tip)"
        />
        <line
          v-if="cursor.time >= span.from && cursor.time <= span.to"
          class="cursor"
          :x1="x(cursor.time)"
          :x2="x(cursor.time)"
          y1="0"
          :y2="height"
        />
        <rect v-if="box" class="box" v-bind="box" />
        <defs>
          <clipPath id="cue-clip">
            <rect :x="GUTTER" y="0" :width="Math.max(0, width - GUTTER)" :height />
          </clipPath>
          <marker id="cue-tip" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="6" markerHeight="6" orient="auto">
            <path d="M0 0L8 4L0 8Z" class="tip" />
          </marker>
        </defs>
      </svg>
      <p v-else class="soft">The moves of the cues stand here when the cycle has run.</p>
    </div>
  </section>
</template>

<style scoped>
@import '@/style/zoom.css';
.diagram {
  display: grid;
  grid-template-rows: auto auto auto minmax(0, 1fr);
  padding: 8px 10px;
  min-height: 0;
}
.area {
  grid-row: 4;
}
.ask {
  display: flex;
  gap: 8px;
  align-items: center;
  margin: 0 0 6px;
  padding: 4px 10px;
  border-radius: var(--radius);
  background: var(--attention-soft);
  color: var(--attention-ink);
}
.box {
  fill: var(--primary-soft);
  fill-opacity: 0.4;
  stroke: var(--primary);
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: center;
  font-size: 12.5px;
  margin-bottom: 6px;
}
header :deep(.el-select) {
  width: 150px;
}
.key {
  margin-left: auto;
  white-space: nowrap;
}
.key i {
  display: inline-block;
  width: 16px;
  height: 10px;
  border: 2px solid var(--attention);
  border-radius: 2px;
  vertical-align: -1px;
}
.hint {
  flex-basis: 100%;
  margin-top: -4px;
}
.drag {
  color: var(--attention-ink);
  font-weight: 600;
}
.area {
  overflow: hidden auto;
  min-height: 0;
}
.area.stale {
  opacity: 0.7;
}
svg {
  display: block;
  touch-action: none;
}
.ticks line,
.base {
  stroke: var(--line-soft);
}
text {
  font: 11.5px var(--narrow);
  fill: var(--ink);
  pointer-events: none;
}
.ticks text {
  fill: var(--ink-soft);
  font: 11.5px var(--words);
}
.name {
  font: 500 13px var(--narrow);
}
.line {
  fill: none;
  stroke-width: 1.8px;
  pointer-events: none;
}
.move rect {
  fill: color-mix(in srgb, var(--ink) 7%, transparent);
  stroke: color-mix(in srgb, var(--ink) 28%, transparent);
  rx: 2px;
  cursor: grab;
}
.move rect.end {
  fill: transparent;
  stroke: none;
  cursor: ew-resize;
}
.move.critical rect:first-of-type {
  stroke: var(--attention);
  stroke-width: 2px;
}
.move.chosen rect:first-of-type {
  fill: color-mix(in srgb, var(--primary) 18%, transparent);
  stroke: var(--primary);
  stroke-width: 2px;
}
.signal path {
  fill: none;
  stroke: var(--ink-soft);
  stroke-width: 1.4px;
}
.signal.chosen path {
  stroke: var(--attention);
  stroke-width: 2px;
}
.signal .name {
  font-size: 12px;
  fill: var(--ink-soft);
}
.arrow {
  fill: none;
  stroke: var(--primary);
  stroke-width: 1.1px;
  pointer-events: none;
}
.arrow.chain {
  stroke: var(--attention);
  stroke-width: 1.6px;
}
.tip {
  fill: var(--primary);
}
.cursor {
  stroke: var(--attention);
  stroke-width: 1.6px;
  pointer-events: none;
}
</style>
