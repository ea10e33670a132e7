<script setup lang="ts">
import { AXIS_KINDS, formatNumber, formatQuantity, motionAt, valueAt } from '@yoke/core';
import { ChevronDown, ChevronUp, Pause, Play, StepBack, StepForward } from '@lucide/vue';
import { useElementSize, useWindowSize } from '@vueuse/core';
import { computed, ref } from 'vue';
import { useRoute } from 'vue-router';
import { dragPointer } from '@/composables/usePointerDrag';
import { axisColour } from '@/lib/axis-look';
import { niceTicks } from '@/lib/ticks';
import { PLAYBACK_SPEEDS, useCursor, useMachine, useMotions, usePreferences, useRun } from '@/stores';
import CycleLane from './CycleLane.vue';
import { IconButton } from '@/components/fields';

/** The ruler of every stage: the machine cycle with a lane for each axis, and the one cursor. */
const machine = useMachine();
const cursor = useCursor();
const motions = useMotions();
const preferences = usePreferences();
const route = useRoute();
const area = ref<HTMLElement>();
const ruler = ref<HTMLElement>();
const { width } = useElementSize(area);

const EDGE = 6;
/** Lanes are tall where they are worked in and there is room. */
const laneHeight = computed(() => {
  const count = machine.axes.length;
  if (route.name === 'move') return count === 1 ? 92 : count < 4 ? 66 : count < 6 ? 44 : 34;
  return count === 1 ? 62 : count < 6 ? 46 : 34;
});
const x = (time: number) => EDGE + (time / cursor.span) * (width.value - 2 * EDGE);
/** The last tick would run into the unit at the end of the ruler. */
const ticks = computed(() =>
  niceTicks(0, cursor.span, Math.max(4, width.value / 90)).filter((tick) => x(tick) < width.value - 34),
);
/** Where a turning master passes quarter turns, while it goes round once at constant speed. */
const angles = computed(() => {
  const master = machine.document?.master;
  return !results.record &&
    master?.kind === 'rotary' &&
    master.course.kind === 'cycle' &&
    master.start === 0 &&
    Math.abs(master.wrap - 2 * Math.PI) < 1e-9
    ? [90, 180, 270]
    : [];
});

const results = useRun();
const positionOf = (id: string) => {
  const found = results.record ? results.ofAxis(id) : null;
  return found && results.run
    ? valueAt(results.run.times, found.channels.position, cursor.time)
    : motionAt(motions.of(id).motion, cursor.time).position;
};
/** The Cue stage has a diagram of its own, with more in it. */
const stage = computed(() => String(route.name));
/** Where motions are not worked on it folds by itself rather than take more than a quarter of a small window. */
const { height: windowHeight } = useWindowSize();
const suits = computed(
  () =>
    ['build', 'size', 'deliver'].includes(stage.value) &&
    machine.axes.length > 4 &&
    machine.axes.length * laneHeight.value + 32 > windowHeight.value / 4 - 10 &&
    windowHeight.value < 900,
);
const isFolded = computed(() => preferences.diagramFolds[stage.value] ?? suits.value);
const folded = computed(() => isFolded.value || stage.value === 'cue');
function fold(): void {
  preferences.diagramFolds = { ...preferences.diagramFolds, [stage.value]: !isFolded.value };
}
const positions = computed(() =>
  machine.axes.map((axis) => formatQuantity(positionOf(axis.id), AXIS_KINDS[axis.kind].position, machine.units)),
);

function scrub(event: PointerEvent): void {
  cursor.pause();
  const element = ruler.value!;
  const follow = (moved: PointerEvent) => {
    const box = element.getBoundingClientRect();
    cursor.moveTo(((moved.clientX - box.left - EDGE) / (box.width - 2 * EDGE)) * cursor.span);
  };
  follow(event);
  dragPointer(event, element, { move: follow });
}
</script>

<template>
  <section class="diagram" aria-label="Cycle diagram">
    <div class="row top">
      <div class="gutter transport">
        <IconButton
          :icon="StepBack"
          :size="15"
          title="One sample back (,)"
          aria-label="One sample back"
          @click="cursor.step(-1)"
        />
        <button
          type="button"
          class="icon-button"
          :title="cursor.playing ? 'Pause (Space)' : 'Play (Space)'"
          :aria-label="cursor.playing ? 'Pause' : 'Play'"
          @click="cursor.toggle()"
        >
          <Pause v-if="cursor.playing" :size="16" /><Play v-else :size="16" />
        </button>
        <IconButton
          :icon="StepForward"
          :size="15"
          title="One sample forward (.)"
          aria-label="One sample forward"
          @click="cursor.step(1)"
        />
        <select
          v-model.number="cursor.speed"
          class="speed"
          aria-label="Playback speed"
          title="Speed of playback against real time"
        >
          <option v-for="speed in PLAYBACK_SPEEDS" :key="speed" :value="speed">{{ speed }} ×</option>
        </select>
      </div>
      <div ref="ruler" class="ruler" @pointerdown="scrub">
        <span v-for="tick in ticks" :key="tick" class="tick figures" :style="{ left: `${x(tick)}px` }">
          {{ formatNumber(tick) }}
        </span>
        <span class="unit">s</span>
        <span
          v-for="angle in angles"
          :key="angle"
          class="angle"
          :style="{ left: `${x((cursor.span * angle) / 360)}px` }"
          >{{ angle }}°</span
        >
      </div>
      <div class="fold">
        <button
          v-if="route.name !== 'cue'"
          type="button"
          class="icon-button"
          :title="isFolded ? 'Show the lanes' : 'Fold the lanes'"
          :aria-label="isFolded ? 'Show the lanes' : 'Fold the lanes'"
          :aria-expanded="!isFolded"
          @click="fold"
        >
          <ChevronDown v-if="isFolded" :size="16" /><ChevronUp v-else :size="16" />
        </button>
      </div>
    </div>
    <div class="lanes" :class="{ folded }">
      <div class="gutter">
        <template v-if="!folded">
          <button
            v-for="(axis, i) in machine.axes"
            :key="axis.id"
            type="button"
            class="plain lane-name"
            :class="{ selected: axis.id === machine.axis?.id }"
            :style="{ height: `${laneHeight}px` }"
            :aria-pressed="axis.id === machine.axis?.id"
            @click="machine.selectedAxisId = axis.id"
          >
            <span class="swatch" :style="{ background: axisColour(axis) }" />
            <span class="words"
              ><b>{{ axis.name }}</b
              ><span class="figures soft">{{ positions[i] }}</span></span
            >
          </button>
        </template>
      </div>
      <div ref="area" class="area">
        <template v-if="!folded && width > 0">
          <div
            v-for="axis in machine.axes"
            :key="axis.id"
            class="lane-box"
            :class="{ selected: axis.id === machine.axis?.id }"
            :style="{ height: `${laneHeight}px` }"
          >
            <i v-for="tick in ticks" :key="tick" class="grid" :style="{ left: `${x(tick)}px` }" />
            <CycleLane :axis :width :height="laneHeight" :selected="axis.id === machine.axis?.id" />
          </div>
          <p v-if="machine.axes.length === 0" class="soft none">No axis yet: its motion will stand here.</p>
        </template>
      </div>
    </div>
    <div v-if="isFolded && stage !== 'cue' && machine.axes.length > 1" class="strip" role="group" aria-label="Axes">
      <button
        v-for="axis in machine.axes"
        :key="axis.id"
        type="button"
        class="plain"
        :class="{ selected: axis.id === machine.axis?.id }"
        :aria-pressed="axis.id === machine.axis?.id"
        @click="machine.selectedAxisId = axis.id"
      >
        <i :style="{ background: axisColour(axis) }" />{{ axis.name }}
      </button>
    </div>
    <div v-if="width > 0" class="cursor" :style="{ left: `${132 + x(cursor.time)}px` }" aria-hidden="true">
      <span class="figures" :class="{ left: cursor.time > cursor.span * 0.9 }">
        {{ formatNumber(cursor.time, 4) }} s<template v-if="!results.record">
          · {{ formatNumber((360 * cursor.time) / cursor.span, 4) }}°</template
        >
      </span>
    </div>
  </section>
</template>

<style scoped>
.diagram {
  position: relative;
  background: var(--panel);
  border-bottom: 1px solid var(--line);
  box-shadow: var(--shadow);
  z-index: 2;
}
.row.top,
.lanes {
  display: grid;
  grid-template-columns: 132px 1fr 36px;
}
.lanes {
  max-height: min(280px, 30vh);
  overflow: hidden auto;
  scrollbar-gutter: auto;
}
.lanes.folded {
  height: 0;
}
.strip {
  display: flex;
  gap: 2px 14px;
  padding: 2px 10px;
  overflow: auto hidden;
  white-space: nowrap;
}
.strip button {
  font: 500 13px/20px var(--narrow);
  padding: 0 4px;
  border-bottom: 2px solid transparent;
}
.strip button.selected {
  border-color: var(--primary);
}
.strip i {
  display: inline-block;
  width: 9px;
  height: 9px;
  border-radius: 2px;
  margin-right: 5px;
}
.top {
  height: 32px;
  border-bottom: 1px solid var(--line-soft);
}
.transport {
  display: flex;
  align-items: center;
  padding-left: 4px;
}
.transport .icon-button {
  width: 25px;
}
.speed {
  border: 0;
  background: none;
  color: var(--ink-soft);
  font: 12.5px var(--narrow);
  width: 52px;
}
.speed option {
  background: var(--panel);
  color: var(--ink);
}
.fold {
  display: flex;
  align-items: center;
  justify-content: center;
}
.ruler {
  position: relative;
  cursor: ew-resize;
  touch-action: none;
  overflow: hidden;
}
.tick {
  position: absolute;
  top: 0;
  height: 100%;
  border-left: 1px solid var(--line);
  padding-left: 3px;
  font-size: 10.5px;
  line-height: 15px;
  color: var(--ink-soft);
}
.unit {
  position: absolute;
  right: 8px;
  top: 1px;
  font: 11px var(--narrow);
  color: var(--ink-soft);
}
.angle {
  position: absolute;
  bottom: 0;
  border-left: 1px solid var(--primary);
  padding-left: 3px;
  font: 11px/13px var(--narrow);
  color: var(--primary);
}
.lane-name {
  display: flex;
  width: 100%;
  align-items: center;
  gap: 8px;
  text-align: left;
  padding: 0 6px 0 0;
  border-bottom: 1px solid var(--line-soft) !important;
}
.lane-name.selected {
  background: var(--sunken);
}
.swatch {
  width: 4px;
  align-self: stretch;
  margin: 4px 0;
  border-radius: 0 2px 2px 0;
}
.words {
  min-width: 0;
}
.words b {
  display: block;
  font: 500 14px/1.2 var(--narrow);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.words .figures {
  font-size: 11px;
}
.area {
  position: relative;
  border-left: 1px solid var(--line);
  min-width: 0;
}
.ruler {
  border-left: 1px solid var(--line);
}
.lane-box {
  position: relative;
  border-bottom: 1px solid var(--line-soft);
}
.lane-box.selected {
  background: color-mix(in srgb, var(--sunken) 45%, transparent);
}
.lane-box svg {
  position: relative;
}
.grid {
  position: absolute;
  top: 0;
  bottom: 0;
  border-left: 1px solid var(--line-soft);
}
.none {
  padding: 14px;
}
.cursor {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 2px;
  margin-left: -1px;
  background: var(--attention);
  pointer-events: none;
}
.cursor span {
  position: absolute;
  top: 15px;
  left: 0;
  background: var(--attention-ink);
  color: var(--panel);
  font-size: 10.5px;
  line-height: 15px;
  padding: 0 5px;
  border-radius: 0 3px 3px 0;
  white-space: nowrap;
}
.cursor span.left {
  left: auto;
  right: 0;
  border-radius: 3px 0 0 3px;
}
</style>
