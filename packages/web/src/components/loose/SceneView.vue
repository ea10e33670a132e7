<script setup lang="ts">
import { posesAt, type CycleRecord, type Machine, type Point2, type Run } from '@yoke/core';
import { useElementSize } from '@vueuse/core';
import { computed, ref } from 'vue';
import MechanismDrawing from '@/components/mechanism/MechanismDrawing.vue';
import { useMechanismColours } from '@/composables/useMechanismColours';
import { dragPointer } from '@/composables/usePointerDrag';
import { extent, project, viewOf } from '@/lib/board-view';
import { useCursor } from '@/stores';
import LooseDrawing from './LooseDrawing.vue';

/** The machine at the cursor: mechanism, loose parts and sensors. What handles parts can be dragged. */
const props = defineProps<{
  machine: Machine;
  run: Run | null;
  record: CycleRecord | null;
  chosen?: string | null;
  label?: string;
}>();
const emit = defineEmits<{ choose: [id: string]; drag: [id: string, dx: number, dy: number, key: string] }>();
const cursor = useCursor();
const box = ref<HTMLElement>();
const { width, height } = useElementSize(box);

const poses = computed(() => {
  const found = props.run ? posesAt(props.run, cursor.time) : [];
  return found.length > 0 ? found : props.machine.mechanism.bodies.map(({ pose }) => pose);
});
const colours = useMechanismColours(
  () => props.machine,
  () => 'axis',
  () => new Set<string>(),
);
/** Everything that ever stands in the picture, so that it stays still while it plays. */
const bounds = computed(() => {
  const { loose, sequence, mechanism } = props.machine;
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
    : [poses.value];
  const all = some.map((p) => extent(mechanism, p, points)).filter((b) => b !== null);
  if (all.length === 0) return null;
  return {
    low: [Math.min(...all.map((b) => b.low[0])), Math.min(...all.map((b) => b.low[1]))] as const,
    high: [Math.max(...all.map((b) => b.high[0])), Math.max(...all.map((b) => b.high[1]))] as const,
  };
});
const view = computed(() => {
  const box = bounds.value;
  const fitted = viewOf(box, width.value, height.value);
  if (box)
    fitted.scale = Math.max(
      1,
      Math.min(
        (width.value - 36) / Math.max(0.02, box.high[0] - box.low[0]),
        (height.value - 76) / Math.max(0.02, box.high[1] - box.low[1]),
      ),
    );
  return { ...fitted, scale: fitted.scale * zoom.value, x: fitted.x + shift.value.x, y: fitted.y + shift.value.y };
});
const zoom = ref(1);
const shift = ref({ x: 0, y: 0 });
const projection = computed(() => project(view.value, width.value, height.value));

function wheel(event: WheelEvent): void {
  const area = box.value!.getBoundingClientRect();
  const [px, py] = [event.clientX - area.left, event.clientY - area.top];
  const before = projection.value.world(px, py);
  zoom.value = Math.max(0.3, Math.min(20, zoom.value * Math.exp(-event.deltaY * 0.0015)));
  const after = projection.value.world(px, py);
  shift.value = { x: shift.value.x + before[0] - after[0], y: shift.value.y + before[1] - after[1] };
}

/** Drags what was grabbed, or the view where nothing was. */
let turn = 0;
function follow(event: PointerEvent, moved: (dx: number, dy: number) => void): void {
  const element = box.value!;
  let last = [event.clientX, event.clientY];
  const move = (e: PointerEvent) => {
    moved((e.clientX - last[0]!) / projection.value.scale, -(e.clientY - last[1]!) / projection.value.scale);
    last = [e.clientX, e.clientY];
  };
  dragPointer(event, element, { move });
}
function grab(id: string, event: PointerEvent): void {
  event.stopPropagation();
  emit('choose', id);
  const key = `drag ${id} ${++turn}`;
  follow(event, (dx, dy) => emit('drag', id, dx, dy, key));
}
function pan(event: PointerEvent): void {
  follow(event, (dx, dy) => (shift.value = { x: shift.value.x - dx, y: shift.value.y - dy }));
}
function fit(): void {
  zoom.value = 1;
  shift.value = { x: 0, y: 0 };
}
</script>

<template>
  <div
    ref="box"
    class="scene"
    role="img"
    :aria-label="label || `${machine.name} with its parts and sensors`"
    @wheel.prevent="wheel"
    @pointerdown="pan"
    @dblclick="fit"
  >
    <svg v-if="width > 0" :width :height>
      <MechanismDrawing :mechanism="machine.mechanism" :poses :projection :colours />
      <LooseDrawing :machine :poses :projection :time="cursor.time" :record :chosen="chosen ?? null" @grab="grab" />
    </svg>
    <p v-if="label" class="label">{{ label }}</p>
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
.label {
  position: absolute;
  left: 8px;
  top: 4px;
  font: 600 12.5px var(--narrow);
}
</style>
