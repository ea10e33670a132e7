<script setup lang="ts">
import { causeArrows, formatNumber, type CueMove, type Spot } from '@yoke/core';
import { useElementSize } from '@vueuse/core';
import { ElButton } from 'element-plus';
import { computed, ref, watch } from 'vue';
import { ChoiceField } from '@/components/fields';
import { useCueDrag } from '@/composables/useCueDrag';
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
const ROW = 44;
const SIGNAL = 20;
const GUTTER = 118;

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
const span = computed(() => {
  const found = windows.value.find(({ value }) => value === shown.value) ?? windows.value[0];
  return found ?? { from: 0, to: machine.cycle };
});
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

const axes = computed(() => machine.axes.filter(({ id }) => cues.record?.moves.some(({ axis }) => axis === id)));
const lanes = computed(() =>
  axes.value.map((axis, row) => {
    const run = results.run;
    const own = results.ofAxis(axis.id);
    const top = row * ROW;
    let d = '';
    if (run && own) {
      const { position } = own.channels;
      let low = Infinity;
      let high = -Infinity;
      for (const p of position) {
        if (p < low) low = p;
        if (p > high) high = p;
      }
      const scale = high > low ? (ROW - 20) / (high - low) : 0;
      let last = -9;
      for (let k = 0; k < run.times.length; k++) {
        const time = run.times[k]!;
        if (time < span.value.from - 0.05 || time > span.value.to + 0.05) continue;
        const px = x(time);
        if (px - last < 0.7) continue;
        last = px;
        d += `${d ? 'L' : 'M'}${px.toFixed(1)} ${(top + ROW - 8 - (position[k]! - low) * scale).toFixed(1)}`;
      }
    }
    const moves = (cues.record?.moves ?? []).filter(
      (m) => m.axis === axis.id && m.to >= span.value.from && m.from <= span.value.to,
    );
    return { axis, top, d, moves };
  }),
);
const signals = computed(() => {
  const top = axes.value.length * ROW + 6;
  return (cues.record?.signals ?? []).map((signal, i) => {
    const sensor = cues.sequence?.sensors.find(({ id }) => id === signal.sensor);
    const y = top + i * SIGNAL;
    let on = signal.first;
    let d = `M${x(span.value.from).toFixed(1)} ${y + (on ? 4 : 15)}`;
    signal.times.slice(1).forEach((time) => {
      if (time > span.value.to) return;
      if (time >= span.value.from) d += `H${x(time).toFixed(1)}V${y + (on ? 15 : 4)}`;
      on = !on;
      if (time < span.value.from) d = `M${x(span.value.from).toFixed(1)} ${y + (on ? 4 : 15)}`;
    });
    d += `H${x(span.value.to).toFixed(1)}`;
    return { id: signal.sensor, name: sensor?.name ?? '', y, d };
  });
});
const height = computed(() => axes.value.length * ROW + (cues.record?.signals.length ?? 0) * SIGNAL + 16);

/** Place of an event in the drawing; null where what it is on is not drawn. */
function placeOf({ time, on }: Spot): { x: number; y: number } | null {
  const signal = 'sensor' in on ? signals.value.find(({ id }) => id === on.sensor) : undefined;
  const lane = 'axis' in on ? lanes.value.find(({ axis }) => axis.id === on.axis) : undefined;
  if (signal) return { x: x(time), y: signal.y + 9 };
  return lane ? { x: x(time), y: lane.top + ROW - 5 } : null;
}
/** From what decided to what it started: for chosen cues, or along the chain where none is chosen. */
const arrows = computed(() => {
  const record = cues.record;
  if (!record || results.stale) return [];
  const criticalOnly = windows.value.length > 2 && shown.value === 'all';
  return causeArrows(record, span.value, { chosen: cues.chosen, chain: cues.chain, criticalOnly }).flatMap((arrow) => {
    const [origin, target] = [placeOf(arrow.from), placeOf(arrow.to)];
    if (!target || !origin || (Math.abs(origin.x - target.x) < 1 && Math.abs(origin.y - target.y) < 1)) return [];
    const bend = Math.max(8, Math.min(40, Math.abs(target.x - origin.x) / 2));
    return [
      {
        key: `${arrow.cause} ${arrow.acts}`,
        chain: arrow.critical,
        d: `M${origin.x} ${origin.y}C${origin.x + bend} ${origin.y} ${target.x - bend} ${target.y} ${target.x} ${target.y}`,
      },
    ];
  });
});
const critical = computed(
  () =>
    new Set(
      (cues.chain?.links ?? [])
        .filter(({ what }) => what === 'action')
        .map(({ subject, end }) => `${subject} ${end.toFixed(6)}`),
    ),
);
const isCritical = (move: CueMove) => critical.value.has(`${move.cue} ${move.to.toFixed(6)}`);
const nameOf = (id: string) => cues.sequence?.cues.find((c) => c.id === id)?.name ?? id;

const { dragged, drag, nudge } = useCueDrag(secondsPerPixel);
function scrub(event: PointerEvent): void {
  const box = area.value!.getBoundingClientRect();
  cursor.stopAt(span.value.from + (event.clientX - box.left - GUTTER) * secondsPerPixel.value);
}
</script>

<template>
  <section class="panel diagram" aria-label="Cues over time">
    <CueTools />
    <header>
      <ChoiceField bare :value="shown" label="Stretch shown" :options="windows" @choose="setShown" />
      <span v-if="dragged" class="drag">{{ nameOf(dragged.cue) }} {{ dragged.text }}</span>
      <span v-else class="soft"
        >Drag a move to shift it, its end to stretch it. Arrow keys shift, Alt with them stretches.</span
      >
      <ElButton v-if="cues.chosen.length > 0" size="small" @click="cues.chosen = []">Choose none</ElButton>
      <span class="key"><i class="critical" /> holds the cycle time</span>
    </header>
    <div ref="area" class="area" :class="{ stale: results.stale }">
      <svg v-if="width > 0 && cues.record" :width :height="Math.max(height + 18, 60)" @pointerdown="scrub">
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
            @keydown="nudge($event, move)"
            @focus="cues.choose(move.cue)"
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
.diagram {
  display: grid;
  grid-template-rows: auto auto minmax(0, 1fr);
  padding: 8px 10px;
  min-height: 0;
}
header {
  display: flex;
  gap: 10px;
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
