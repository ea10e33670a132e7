<script setup lang="ts">
import {
  AXIS_KINDS,
  formatQuantity,
  motionAt,
  planDuration,
  planKnees,
  sampleMotion,
  valueAt,
  type Axis,
} from '@yoke/core';
import { computed, ref } from 'vue';
import { useKneeDrag, type LaneScale } from '@/composables/useKneeDrag';
import { dragPointer } from '@/composables/usePointerDrag';
import { axisColour, axisDash } from '@/lib/axis-look';
import { useCursor, useMachine, useMotions, useRun } from '@/stores';

/** One lane of the cycle diagram: the displacement line of an axis with its knees. */
const props = defineProps<{ axis: Axis; width: number; height: number; selected: boolean }>();
const machine = useMachine();
const cursor = useCursor();
const results = useRun();
const motions = useMotions();
const { dragged, start, key, secondsPer } = useKneeDrag();
const svg = ref<SVGSVGElement>();

const PAD = 9;
const EDGE = 6;
const kinds = computed(() => AXIS_KINDS[props.axis.kind]);
/** Only a plan in position has knees to be dragged; other motions are drawn as they are. */
const planned = computed(() => {
  const { source, level, over, engage } = props.axis.motion;
  const { course, start: begin } = machine.document!.master;
  const even = course.kind === 'cycle' && begin === 0 && engage === null;
  return !found.value && source.kind === 'plan' && level === 'position' && (over === 'time' || even);
});
const knees = computed(() => {
  if (!planned.value) return [];
  const stretch = secondsPer(props.axis);
  return planKnees(props.axis.plan).map(({ time, position }) => ({ time: time * stretch, position }));
});
const motion = computed(() => motions.of(props.axis.id).motion);
/** Positions as they were found by simulating the cues; null where the motion is known without. */
const found = computed(() => {
  const own = results.record ? results.ofAxis(props.axis.id) : null;
  return own && results.run ? { times: results.run.times, positions: own.channels.position } : null;
});
const probes = computed(() => Array.from({ length: 101 }, (_, i) => (cursor.span * i) / 100));
/** The range is held while dragging, so that the line does not slide away under the pointer. */
const held = ref<{ low: number; high: number } | null>(null);
const range = computed(() => {
  if (held.value) return held.value;
  const times = Float64Array.from(motion.value.edges.concat(probes.value).sort((a, b) => a - b));
  const positions = found.value
    ? Array.from(found.value.positions)
    : Array.from(sampleMotion(motion.value, times).position);
  // A plan is drawn from knee to knee, those beyond the cycle included.
  const places = positions.concat(knees.value.map(({ position }) => position)).filter(Number.isFinite);
  const low = places.reduce((least, place) => Math.min(least, place), Infinity);
  const high = places.reduce((most, place) => Math.max(most, place), -Infinity);
  const spare = high - low || (props.axis.kind === 'linear' ? 0.1 : 1);
  return high > low ? { low, high } : { low: low - spare / 2, high: high + spare / 2 };
});

const scale = computed<LaneScale>(() => {
  const pixelsPerSecond = (props.width - 2 * EDGE) / cursor.span;
  const { low, high } = range.value;
  const pixelsPerPosition = (props.height - 2 * PAD) / (high - low);
  const bottom = props.height - PAD;
  return {
    x: (time) => EDGE + time * pixelsPerSecond,
    y: (position) => bottom - (position - low) * pixelsPerPosition,
    time: (x) => (x - EDGE) / pixelsPerSecond,
    position: (y) => low + (bottom - y) / pixelsPerPosition,
    pixelsPerPosition,
    pixelsPerSecond,
  };
});

const line = computed(() => {
  if (found.value) return foundLine(found.value);
  const count = Math.max(2, Math.round(props.width / 2));
  const even = Array.from({ length: count + 1 }, (_, k) => (cursor.span * k) / count);
  const times = Float64Array.from([...new Set([...even, ...motion.value.edges])].sort((a, b) => a - b));
  const { position } = sampleMotion(motion.value, times);
  const { x, y } = scale.value;
  return Array.from(
    times,
    (time, k) => `${k === 0 ? 'M' : 'L'}${x(time).toFixed(1)} ${y(position[k]!).toFixed(1)}`,
  ).join('');
});

/** A line through all samples, as few of them as the pixels need. */
function foundLine({ times, positions }: { times: Float64Array; positions: Float64Array }): string {
  const { x, y } = scale.value;
  let d = '';
  let [lastX, lastY] = [-9, -9];
  for (let k = 0; k < times.length; k++) {
    const [px, py] = [x(times[k]!), y(positions[k]!)];
    if (k > 0 && k < times.length - 1 && Math.abs(px - lastX) < 0.6 && Math.abs(py - lastY) < 0.6) continue;
    d += `${d ? 'L' : 'M'}${px.toFixed(1)} ${py.toFixed(1)}`;
    [lastX, lastY] = [px, py];
  }
  return d;
}

const here = computed(() =>
  found.value
    ? valueAt(found.value.times, found.value.positions, cursor.time)
    : motionAt(motion.value, cursor.time).position,
);
const faults = computed(() =>
  (results.ofAxis(props.axis.id)?.findings ?? []).filter(
    (finding): finding is Extract<typeof finding, { time: number }> =>
      finding.severity === 'error' && 'time' in finding,
  ),
);
const beyond = computed(
  () => planned.value && planDuration(props.axis.plan) * secondsPer(props.axis) > machine.cycle * (1 + 1e-9),
);

function locate(event: PointerEvent): { x: number; y: number } {
  const box = svg.value!.getBoundingClientRect();
  return { x: event.clientX - box.left, y: event.clientY - box.top };
}

function startDrag(event: PointerEvent, knee: number): void {
  machine.selectedAxisId = props.axis.id;
  held.value = range.value;
  start(event, props.axis, knee, scale.value, locate, () => (held.value = null));
}

function scrub(event: PointerEvent): void {
  machine.selectedAxisId = props.axis.id;
  cursor.pause();
  const follow = (moved: PointerEvent) => cursor.moveTo(scale.value.time(locate(moved).x));
  follow(event);
  dragPointer(event, svg.value!, { move: follow });
}

const kneeText = (time: number, position: number) =>
  `${formatQuantity(time, 'time', machine.units)}, ${formatQuantity(position, kinds.value.position, machine.units)}`;
</script>

<template>
  <svg ref="svg" class="lane" :width :height @pointerdown.self="scrub">
    <line
      v-if="axis.home >= range.low && axis.home <= range.high"
      class="home"
      x1="0"
      :x2="width"
      :y1="scale.y(axis.home)"
      :y2="scale.y(axis.home)"
    />
    <line
      v-for="(fault, i) in faults"
      :key="i"
      class="fault"
      :x1="scale.x(fault.time)"
      :x2="scale.x(fault.time)"
      y1="0"
      :y2="height"
    />
    <path :d="line" class="line" :stroke="axisColour(axis)" :stroke-dasharray="axisDash(axis)" />
    <circle class="here" :cx="scale.x(cursor.time)" :cy="scale.y(here)" r="3.5" />
    <g v-if="selected">
      <template v-for="(knee, i) in knees" :key="i">
        <rect
          v-if="knee.time <= cursor.span * 1.000001"
          class="knee"
          :x="scale.x(knee.time) - 4.5"
          :y="scale.y(knee.position) - 4.5"
          width="9"
          height="9"
          rx="2"
          :stroke="axisColour(axis)"
          tabindex="0"
          role="slider"
          :aria-label="`Knee ${i} of ${axis.name}`"
          :aria-valuetext="kneeText(knee.time, knee.position)"
          aria-valuenow="0"
          @pointerdown.stop="startDrag($event, i)"
          @keydown="key($event, axis, i, scale)"
        >
          <title>{{ kneeText(knee.time, knee.position) }} – drag, or arrow keys; Alt: no snapping</title>
        </rect>
      </template>
    </g>
    <text v-if="beyond" class="beyond" :x="width - 6" y="12">plan goes on beyond the cycle ▸</text>
    <g
      v-if="dragged"
      class="tip"
      :transform="`translate(${Math.min(width - 150, scale.x(dragged.time) + 10)} ${height / 2 - 10})`"
    >
      <rect width="146" height="20" rx="3" />
      <text x="73" y="14">{{ kneeText(dragged.time, dragged.position) }}</text>
    </g>
  </svg>
</template>

<style scoped>
.lane {
  display: block;
  cursor: text;
  touch-action: none;
}
.line {
  fill: none;
  stroke-width: 1.8;
  pointer-events: none;
}
.home {
  stroke: var(--line);
  stroke-dasharray: 1 3;
  pointer-events: none;
}
.fault {
  stroke: var(--bad);
  stroke-width: 1.5;
  stroke-dasharray: 3 2;
  pointer-events: none;
}
.knee {
  fill: var(--panel);
  stroke-width: 1.6;
  cursor: move;
}
.knee:hover,
.knee:focus {
  fill: var(--attention-soft);
}
.here {
  fill: var(--attention);
  pointer-events: none;
}
.beyond {
  fill: var(--bad);
  font: 12px var(--narrow);
  text-anchor: end;
}
.tip {
  pointer-events: none;
}
.tip rect {
  fill: var(--ink);
}
.tip text {
  fill: var(--paper);
  font: 12px var(--words);
  text-anchor: middle;
}
</style>
