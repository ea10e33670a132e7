<script setup lang="ts">
import { formatQuantity, framePoses, posesAt, type Pose } from '@yoke/core';
import { useElementBounding, useEventListener } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import LooseDrawing from '@/components/loose/LooseDrawing.vue';
import BehindDrawing from '@/components/mechanism/BehindDrawing.vue';
import MechanismDrawing from '@/components/mechanism/MechanismDrawing.vue';
import { useBoardTools } from '@/composables/useBoardTools';
import { useMechanismColours } from '@/composables/useMechanismColours';
import { PATH_HINT, TOOL_HINTS } from '@/lib/board-tools';
import { extent, project, viewOf } from '@/lib/board-view';
import { beside } from '@/lib/plane-slice';
import { niceStep } from '@/lib/ticks';
import { useBoard, useCursor, useMachine, useRun } from '@/stores';
import BoardMarks from './BoardMarks.vue';
import HeldNote from './HeldNote.vue';
import PathHandles from './PathHandles.vue';

/** The drawing board itself: grid, mechanism, what is being drawn, pan and zoom. */
const board = useBoard();
const machine = useMachine();
const cursor = useCursor();
const results = useRun();
const box = ref<HTMLElement>();
const svg = ref<SVGSVGElement>();
const { left, top, width, height } = useElementBounding(box);

const view = computed(
  () =>
    board.view ??
    viewOf(board.slice ? extent(board.slice.mechanism, board.slicePoses) : null, width.value, height.value),
);
const projection = computed(() => project(view.value, width.value, height.value));
const tools = useBoardTools(projection);
const { clicked, band, readout, measured, paths } = tools;

// The view is kept while something is drawn, so that the drawing does not slide away under the pointer.
/** All that shall be seen of the plane: what is drawn in it, and the rest of the machine behind. */
const whole = () =>
  board.mechanism && board.slice
    ? extent(board.slice.mechanism, board.slicePoses, [
        ...beside(board.mechanism, board.poses, board.plane).flatMap(({ points }) => points),
        ...roomToDraw(),
      ])
    : null;
/** In a plane in which nothing is drawn yet: room about its origin for what is as large as the rest of the machine. */
function roomToDraw(): [number, number][] {
  const m = board.mechanism;
  if (!m || board.slice!.bodies.length > 0 || m.planes.length < 2) return [];
  const reach = Math.max(0.1, ...m.bodies.flatMap(({ points }) => points.map(({ at }) => Math.hypot(...at))));
  return [
    [-reach, -reach],
    [reach, reach],
  ];
}
watch([width, height, () => board.mechanism?.bodies.length, () => board.plane], ([w, h]) => {
  if (!board.view && Number(w) > 0 && Number(h) > 0 && board.slice) board.view = viewOf(whole(), Number(w), Number(h));
});
// What is seen stays where it is on the screen when the board gets larger or smaller, as by all that a first axis adds.
watch([left, top, width, height], ([x, y, w, h], [oldX, oldY, oldW, oldH]) => {
  if (!board.view || !(oldW > 0) || !(oldH > 0) || !(w > 0) || !(h > 0)) return;
  const { scale } = board.view;
  const across = x + w / 2 - (oldX + oldW / 2);
  const down = y + h / 2 - (oldY + oldH / 2);
  board.view = { scale, x: board.view.x + across / scale, y: board.view.y - down / scale };
});
watch(
  () => projection.value.scale,
  (scale) => (board.grid = niceStep(9 / scale)),
  { immediate: true },
);

const gridLines = computed(() => {
  const step = board.grid * 5;
  const { world } = projection.value;
  const [left, top] = world(0, 0);
  const [right, bottom] = world(width.value, height.value);
  const lines: { d: string; main: boolean }[] = [];
  if (!(width.value > 0) || (right - left) / step > 400) return lines;
  for (let x = Math.ceil(left / step); x <= right / step; x++)
    lines.push({ d: `M${projection.value.x(x * step)} 0V${height.value}`, main: x === 0 });
  for (let y = Math.ceil(bottom / step); y <= top / step; y++)
    lines.push({ d: `M0 ${projection.value.y(y * step)}H${width.value}`, main: y === 0 });
  return lines;
});

/** A round length that is about as long as a thumb is wide. */
const scaleBar = computed(() => {
  const length = niceStep(70 / projection.value.scale);
  return { text: formatQuantity(length, 'length', machine.units, 4), width: length * projection.value.scale };
});

const freeBodies = computed(() => new Set(board.mobility?.modes.flatMap(({ bodies }) => bodies)));
const colours = useMechanismColours(
  () => machine.document,
  () => board.colouring,
  () => freeBodies.value,
);

/** Poses of the ghost: the start pose, moved a little along one freedom, to and fro. */
const ghosts = computed(() => {
  const { mobility, model, ghost } = board;
  if (ghost === null || !mobility || !model) return [];
  const mode = mobility.modes[ghost];
  if (!mode) return [];
  const q = board.shownState()!;
  const most = Math.max(...mode.motion.map((value, j) => Math.abs(value) / model.units[j]!), 1e-9);
  return [-0.16, 0.16].map((share) =>
    framePoses(
      model.bodies,
      q.map((value, j) => value + ((mode.motion[j] ?? 0) * share) / most),
    ),
  );
});

/** Where the mechanism is at the cursor, laid faintly over the start pose. */
const atCursor = computed(() =>
  results.run?.mechanism && results.document && !results.stale && cursor.time > 0 && !board.hand
    ? posesAt(results.run, cursor.time)
    : null,
);

const inSlice = (poses: readonly Pose[]) => board.slice!.bodies.map((i) => poses[i]!);
/** The rest of the machine as it looks in this plane. */
const others = computed(() => (board.mechanism ? beside(board.mechanism, board.poses, board.plane) : []));

const preview = computed(() => {
  const from = tools.start.value?.at;
  const to = tools.here.value?.at;
  const { x, y } = projection.value;
  if (from && to) {
    if (board.tool === 'disc') {
      const r = Math.hypot(to[0] - from[0], to[1] - from[1]) * projection.value.scale;
      return `M${x(from[0]) - r} ${y(from[1])}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0`;
    }
    return `M${x(from[0])} ${y(from[1])}L${x(to[0])} ${y(to[1])}`;
  }
  const points = [...clicked.value, ...(to && clicked.value.length > 0 && board.tool !== 'measure' ? [to] : [])];
  return points.map((p, i) => `${i === 0 ? 'M' : 'L'}${x(p[0])} ${y(p[1])}`).join('');
});

function wheel(event: WheelEvent): void {
  event.preventDefault();
  const frame = svg.value!.getBoundingClientRect();
  const [px, py] = [event.clientX - frame.left, event.clientY - frame.top];
  const [wx, wy] = projection.value.world(px, py);
  const scale = Math.max(5, Math.min(2e5, view.value.scale * Math.exp(-event.deltaY * 0.0012)));
  board.view = { scale, x: wx - (px - width.value / 2) / scale, y: wy + (py - height.value / 2) / scale };
}

let panning: { x: number; y: number } | null = null;
function down(event: PointerEvent): void {
  // From the first grip on the view stays, whatever is drawn.
  board.view ??= view.value;
  if (event.button === 1 || event.button === 2 || (event.button === 0 && event.ctrlKey)) {
    panning = { x: event.clientX, y: event.clientY };
    svg.value!.setPointerCapture(event.pointerId);
    return;
  }
  tools.down(event, svg.value!);
}
function move(event: PointerEvent): void {
  if (!panning) return tools.move(event, svg.value!);
  const { scale, x, y } = view.value;
  board.view = { scale, x: x - (event.clientX - panning.x) / scale, y: y + (event.clientY - panning.y) / scale };
  panning = { x: event.clientX, y: event.clientY };
}
function up(event: PointerEvent): void {
  if (panning) panning = null;
  else tools.up(event, svg.value!);
}
function cancel(): void {
  panning = null;
  tools.letGo();
}
const fit = () => (board.view = board.mechanism ? viewOf(whole(), width.value, height.value) : null);

useEventListener(window, 'keydown', (event) => {
  if ((event.target as HTMLElement).closest('input, textarea, [role="combobox"]')) return;
  if (event.key === 'Escape') tools.cancel();
  else if (event.key === 'Enter' && clicked.value.length > 0) tools.finishCorners(false);
  else if (event.key === 'Delete' || event.key === 'Backspace') {
    if (!paths.remove()) board.remove();
  }
});

defineExpose({ fit });
</script>

<template>
  <div ref="box" class="board">
    <svg
      ref="svg"
      :width
      :height
      role="application"
      aria-label="Drawing board"
      @pointerdown="down"
      @pointermove="move"
      @pointerup="up"
      @pointercancel="cancel"
      @wheel="wheel"
      @contextmenu.prevent
      @dblclick="tools.twice($event, svg!)"
    >
      <path v-for="(line, i) in gridLines" :key="i" class="grid" :class="{ main: line.main }" :d="line.d" />
      <template v-if="board.mechanism && board.slice && width > 0">
        <BehindDrawing :others :projection :colours />
        <MechanismDrawing
          v-for="(poses, i) in ghosts"
          :key="`ghost${i}`"
          faint
          :mechanism="board.slice.mechanism"
          :poses="inSlice(poses)"
          :projection
          :colours
        />
        <MechanismDrawing
          v-if="atCursor && atCursor.length === board.mechanism.bodies.length"
          faint
          :mechanism="board.slice.mechanism"
          :poses="inSlice(atCursor)"
          :projection
          :colours
        />
        <MechanismDrawing
          :mechanism="board.slice.mechanism"
          :poses="board.slicePoses"
          :projection
          :colours
          :selection="board.selection"
        />
        <BoardMarks :projection :centres="tools.centres.value" />
        <g v-if="board.plane === board.mechanism.planes[0]!.id" class="handling">
          <LooseDrawing :machine="machine.document!" :poses="board.poses" :projection :time="0" :record="null" />
        </g>
        <circle
          v-for="{ place, at } in tools.points.value"
          :key="`${place.body}.${place.point}`"
          class="point"
          :class="{
            snapped: tools.here.value?.place?.body === place.body && tools.here.value.place.point === place.point,
          }"
          :cx="projection.x(at[0])"
          :cy="projection.y(at[1])"
          r="2.6"
        />
      </template>
      <PathHandles :paths :projection />
      <path v-if="preview" class="preview" :d="preview" />
      <circle
        v-for="(p, i) in clicked"
        :key="i"
        class="corner"
        :cx="projection.x(p[0])"
        :cy="projection.y(p[1])"
        r="3.5"
      />
      <rect
        v-if="band"
        class="band"
        :x="Math.min(projection.x(band.from[0]), projection.x(band.to[0]))"
        :y="Math.min(projection.y(band.from[1]), projection.y(band.to[1]))"
        :width="Math.abs(projection.x(band.to[0]) - projection.x(band.from[0]))"
        :height="Math.abs(projection.y(band.to[1]) - projection.y(band.from[1]))"
      />
    </svg>
    <p class="scale" :style="{ width: `${scaleBar.width}px` }" title="So long is this on the board">
      {{ scaleBar.text }}
    </p>
    <p class="hint">
      {{ board.picking?.asks ?? (board.message || (paths.path.value ? PATH_HINT : TOOL_HINTS[board.tool])) }}
    </p>
    <p class="readout figures">{{ measured ?? readout }}</p>
    <HeldNote />
  </div>
</template>

<style scoped>
/* What handles loose parts is worked on in Cue. */
.handling {
  opacity: 0.6;
  pointer-events: none;
}
.board {
  position: relative;
  min-height: 0;
  height: 100%;
  overflow: hidden;
  background: var(--panel);
}
svg {
  display: block;
  touch-action: none;
  cursor: crosshair;
}
.grid {
  stroke: var(--line-soft);
  stroke-width: 1;
}
.grid.main {
  stroke: var(--line);
}
.point {
  fill: var(--ink);
  pointer-events: none;
}
.point.snapped {
  r: 7px;
  fill: none;
  stroke: var(--attention);
  stroke-width: 2;
}
.preview {
  fill: none;
  stroke: var(--attention);
  stroke-width: 2;
  stroke-dasharray: 6 3;
  pointer-events: none;
}
.corner {
  fill: var(--attention);
  pointer-events: none;
}
.band {
  fill: var(--primary-soft);
  fill-opacity: 0.4;
  stroke: var(--primary);
}
.hint,
.readout {
  background: color-mix(in srgb, var(--panel) 80%, transparent);
  border-radius: var(--radius);
}
.scale {
  position: absolute;
  right: 12px;
  bottom: 8px;
  margin: 0;
  border: solid var(--ink-soft);
  border-width: 0 1px 2px;
  font: 12px/1.2 var(--narrow);
  color: var(--ink-soft);
  text-align: center;
  white-space: nowrap;
}
.hint {
  position: absolute;
  left: 10px;
  max-width: calc(100% - 20px);
  bottom: 26px;
  font-size: 12.5px;
  color: var(--ink-soft);
  pointer-events: none;
}
.readout {
  position: absolute;
  left: 10px;
  bottom: 6px;
  pointer-events: none;
  white-space: pre;
}
</style>
