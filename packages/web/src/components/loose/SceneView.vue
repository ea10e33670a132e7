<script setup lang="ts">
import { posesAt, type CycleRecord, type Machine, type Point2, type Run } from '@yoke/core';
import { useEventListener } from '@vueuse/core';
import { computed, ref } from 'vue';
import BehindDrawing from '@/components/mechanism/BehindDrawing.vue';
import GapDrawing from '@/components/mechanism/GapDrawing.vue';
import MechanismDrawing from '@/components/mechanism/MechanismDrawing.vue';
import { useMechanismColours } from '@/composables/useMechanismColours';
import { useMachineView } from '@/composables/useMachineView';
import { useTooClose } from '@/composables/useTooClose';
import { extent, intoWorld } from '@/lib/board-view';
import { fromFront } from '@/lib/plane-slice';
import { niceStep, snapTo } from '@/lib/ticks';
import { useCursor } from '@/stores';
import LooseDrawing from './LooseDrawing.vue';

/** The machine at the cursor: mechanism, loose parts and sensors. What handles parts can be dragged. */
const props = defineProps<{
  machine: Machine;
  run: Run | null;
  record: CycleRecord | null;
  chosen?: string | null;
  label?: string;
  /** Corners of a line that is being drawn here; null while none is. */
  drawn?: readonly (readonly [number, number])[] | null;
}>();
const emit = defineEmits<{
  choose: [id: string];
  drag: [id: string, by: [number, number], grid: number, key: string, corner?: number];
  corner: [at: [number, number]];
  drawn: [];
  giveUp: [];
}>();
const cursor = useCursor();
const box = ref<HTMLElement>();
const everyPose = computed(() => {
  const found = props.run ? posesAt(props.run, cursor.time) : [];
  return found.length > 0 ? found : props.machine.mechanism.bodies.map(({ pose }) => pose);
});
/** Seen from the front: what is drawn there, and the rest behind it. */
const front = computed(() => fromFront(props.machine.mechanism));
const poses = computed(() => front.value.pick(everyPose.value));
const others = computed(() => front.value.beside(everyPose.value));
const colours = useMechanismColours(
  () => props.machine,
  () => 'axis',
  () => new Set<string>(),
);
/** Everything that ever stands in the picture, so that it stays still while it plays. */
const bounds = computed(() => {
  const { loose, sequence } = props.machine;
  const points: Point2[] = [
    ...loose.sources.map(({ at }): Point2 => at),
    ...loose.surfaces.filter(({ body }) => body === 'ground').flatMap(({ line }) => line),
    ...loose.belts.flatMap(({ from, to }): Point2[] => [from, to]),
    ...loose.platforms.flatMap(({ from, to }): Point2[] => [from, to]),
    ...loose.sinks.filter(({ counts }) => counts === 'done').flatMap(({ from, to }): Point2[] => [from, to]),
    ...sequence.sensors.flatMap(({ sensing }): Point2[] =>
      'from' in sensing && sensing.body === 'ground' ? [sensing.from, sensing.to] : [],
    ),
  ];
  const reached = Math.max(1, props.run?.mechanism?.reached ?? 1);
  const some = props.run?.mechanism
    ? Array.from({ length: 16 }, (_, i) =>
        posesAt(props.run!, props.run!.times[Math.floor(((reached - 1) * i) / 15)] ?? 0),
      )
    : [everyPose.value];
  const { mechanism, pick, beside } = front.value;
  const all = some
    .map((p) => extent(mechanism, pick(p), [...points, ...beside(p).flatMap((other) => other.points)]))
    .filter((b) => b !== null);
  if (all.length === 0) return null;
  return {
    low: [Math.min(...all.map((b) => b.low[0])), Math.min(...all.map((b) => b.low[1]))] as const,
    high: [Math.max(...all.map((b) => b.high[0])), Math.max(...all.map((b) => b.high[1]))] as const,
  };
});
const { width, height, projection, wheel, pan, fit, follow } = useMachineView(box, () => bounds.value);
const { close, words: tooClose } = useTooClose(
  () => props.machine,
  () => props.record,
);

/** Round figures that can be told apart in the picture, m. */
const grid = () => niceStep(2 / projection.value.scale);
/** Drags what was grabbed, or one corner of it. */
let turn = 0;
function grab(id: string, event: PointerEvent, corner?: number): void {
  if (props.drawn) return;
  event.stopPropagation();
  emit('choose', id);
  const key = `drag ${id} ${++turn}`;
  const by: [number, number] = [0, 0];
  follow(event, (dx, dy) => {
    by[0] += dx;
    by[1] += dy;
    emit('drag', id, [...by], grid(), key, corner);
  });
}
/** Corners of the chosen chute, on the hand. */
const corners = computed(() => {
  const surface = props.machine.loose.surfaces.find(({ id }) => id === props.chosen);
  if (!surface) return [];
  const at = props.machine.mechanism.bodies.findIndex(({ id }) => id === surface.body);
  const pose = everyPose.value[at] ?? { x: 0, y: 0, angle: 0 };
  return surface.line.map((corner, i) => {
    const [x, y] = intoWorld(pose, corner);
    return { id: surface.id, i, x: projection.value.x(x), y: projection.value.y(y) };
  });
});
const line = computed(() =>
  (props.drawn ?? []).map(([x, y]) => `${projection.value.x(x)},${projection.value.y(y)}`).join(' '),
);
const pointer = ref<[number, number] | null>(null);
function placeOf(event: PointerEvent): [number, number] {
  const area = box.value!.getBoundingClientRect();
  const [x, y] = projection.value.world(event.clientX - area.left, event.clientY - area.top);
  return [snapTo(x, [], 0, grid()), snapTo(y, [], 0, grid())];
}
function press(event: PointerEvent): void {
  if (!props.drawn) return pan(event);
  if (event.button === 0) emit('corner', placeOf(event));
}
function doubled(): void {
  if (props.drawn) emit('drawn');
  else fit();
}
function keyed(event: KeyboardEvent): void {
  if (!props.drawn || (event.key !== 'Enter' && event.key !== 'Escape')) return;
  event.preventDefault();
  if (event.key === 'Enter') emit('drawn');
  else emit('giveUp');
}
useEventListener(window, 'keydown', keyed);
</script>

<template>
  <div
    ref="box"
    class="scene"
    role="img"
    :aria-label="label || `${machine.name} with its parts and sensors`"
    @wheel.prevent="wheel"
    @pointerdown="press"
    @pointermove="pointer = drawn ? placeOf($event) : null"
    @dblclick="doubled"
  >
    <svg v-if="width > 0" :width :height>
      <BehindDrawing :others :projection :colours :close />
      <MechanismDrawing :mechanism="front.mechanism" :poses :projection :colours :close />
      <LooseDrawing
        :machine
        :poses="everyPose"
        :projection
        :time="cursor.time"
        :record
        :chosen="chosen ?? null"
        @grab="grab"
      />
      <GapDrawing :run :projection />
      <circle
        v-for="corner in corners"
        :key="corner.i"
        class="corner"
        :cx="corner.x"
        :cy="corner.y"
        r="5"
        @pointerdown="grab(corner.id, $event, corner.i)"
      />
      <template v-if="drawn">
        <polyline class="drawing" :points="line" />
        <line
          v-if="pointer && drawn.length > 0"
          class="drawing next"
          :x1="projection.x(drawn.at(-1)![0])"
          :y1="projection.y(drawn.at(-1)![1])"
          :x2="projection.x(pointer[0])"
          :y2="projection.y(pointer[1])"
        />
      </template>
    </svg>
    <p v-if="drawn" class="label hint" role="status">
      Click the corners of the chute, in the order in which parts slide; Enter or a double click ends it, Escape gives
      it up.
    </p>
    <p v-if="label" class="label">{{ label }}</p>
    <p v-if="tooClose" class="too-close" role="status">{{ tooClose }}</p>
  </div>
</template>

<style scoped>
.scene {
  position: relative;
  height: 100%;
  min-height: 0;
  overflow: hidden;
  touch-action: none;
  cursor: move;
}
svg {
  display: block;
}
.scene :deep(.rail),
.scene :deep(.stand),
.scene :deep(.hatch) {
  opacity: 0.35;
}
.corner {
  fill: var(--panel);
  stroke: var(--attention);
  stroke-width: 2;
  cursor: grab;
}
.drawing {
  fill: none;
  stroke: var(--attention);
  stroke-width: 2.5;
}
.next {
  stroke-dasharray: 5 4;
}
.hint {
  right: 8px;
  font-weight: 400;
  background: var(--panel);
}
.label {
  position: absolute;
  left: 8px;
  top: 4px;
  font: 600 12.5px var(--narrow);
}
</style>
