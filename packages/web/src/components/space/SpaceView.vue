<script setup lang="ts">
import { sameSolid, UNASSIGNED, type CycleRecord, type Machine, type Pose, type Run, type SolidRef } from '@yoke/core';
import type { Mesh } from '@yoke/core/solid';
import { useElementSize, useEventListener, useMutationObserver } from '@vueuse/core';
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, toRef, watch } from 'vue';
import { useLooseInSpace } from '@/composables/useLooseInSpace';
import type { Gap } from '@/composables/useGap';
import { useSpaceHand } from '@/composables/useSpaceHand';
import { useSpaceOverlay } from '@/composables/useSpaceOverlay';
import { resolvedColour } from '@/lib/axis-look';
import KindsShown from './KindsShown.vue';
import { SpaceScene, type Hit, type SceneColours } from '@/lib/space/scene';
import { KINDS, type Kind, type Showing } from '@/lib/space/showing';
import { EYES, type Eye } from '@/lib/space/views';
import { useGeometry } from '@/stores/geometry';
import { useSeeing } from '@/stores/seeing';

/** The machine in depth: turned, moved and zoomed by hand; what is pressed is chosen. */
const props = defineProps<{
  machine: Machine;
  poses: readonly Pose[];
  /** CSS colours by body and joint. */
  colours: Readonly<Record<string, string>>;
  run: Run | null;
  /** What loose parts did in it. */
  record?: CycleRecord | null;
  time: number;
  selection: readonly string[];
  /** Whether a press takes hold of a body instead of turning the view. */
  hand?: boolean;
  /** Poses that are shown faintly beside the one of now. */
  ghosts?: readonly (readonly Pose[])[];
  /** Whether positive directions of axes are drawn. */
  directions?: boolean;
  /** Ways that are drawn beside those of traced points, m. */
  ways?: readonly (readonly [number, number, number][])[];
  /** Solids that are chosen, where these are worked on one by one and not their bodies. */
  solids?: readonly SolidRef[] | undefined;
  /** Triangles of a solid that are lit up. */
  face?: { solid: SolidRef; triangles: readonly number[] } | null;
  /** The nearest places of two bodies, joined by a line. */
  gap?: Gap | null;
  /** A see-through surface laid over the machine. */
  veil?: Mesh | null;
  /** Whether dragging draws a rectangle instead of turning the view. */
  band?: boolean;
}>();
const emit = defineEmits<{
  /** Something was pressed, or nothing; with where the press met it. */
  select: [id: string | null, more: boolean, hit: Hit | null];
  /** A body is pulled: from where it was taken hold of to a place, with the directions of the picture. */
  pull: [hit: Hit, to: [number, number, number], axes: [[number, number, number], [number, number, number]]];
  letGo: [];
  /** Solids within a rectangle that was drawn. */
  banded: [solids: SolidRef[], more: boolean];
  plane: [id: string];
  /** There is no WebGL: the flat view serves. */
  missing: [];
}>();

const seeing = useSeeing();
const box = ref<HTMLElement>();
const canvas = ref<HTMLCanvasElement>();
const geometry = useGeometry();
/** The true shapes, as far as they are loaded. */
const drawn = computed(() => geometry.all.map((own) => ({ ...own, loaded: geometry.loadedOf(own.solid) })));
const { width, height } = useElementSize(box);
const scene = shallowRef<SpaceScene | null>(null);
const parallel = ref(false);
/** Where the length of the gap is written, px. */
const gapAt = ref<[number, number] | null>(null);
function drawnOnce(): void {
  const own = scene.value!;
  sheets.value = own.sheetCorners();
  const { gap } = props;
  gapAt.value = gap ? own.eye.onCanvas(gap.from.map((part, k) => (part + gap.to[k]!) / 2) as [number, number, number]) : null; // prettier-ignore
}
const sheets = ref<{ plane: string; at: [number, number] }[]>([]);

const sceneColours = (): SceneColours => {
  const plain = (colour: string) => resolvedColour(/^var\((--[\w-]+)\)$/.exec(colour)?.[1] ?? '--ink-soft');
  return {
    paper: resolvedColour('--panel'),
    ink: resolvedColour('--ink'),
    soft: resolvedColour('--ink-soft'),
    attention: resolvedColour('--attention'),
    primary: resolvedColour('--primary'),
    things: Object.fromEntries(Object.entries(props.colours).map(([id, colour]) => [id, plain(colour)])),
  };
};
/** The size of what is drawn, m. */
const size = computed(() => {
  const all = props.machine.mechanism.bodies.flatMap(({ pose, points }) =>
    points.map(({ at }) => Math.hypot(pose.x + at[0], pose.y + at[1])),
  );
  return Math.max(0.1, ...all);
});
const {
  traces: traced,
  arrows,
  ghosts: along,
  scales,
} = useSpaceOverlay(toRef(props, 'machine'), toRef(props, 'run'), toRef(props, 'poses'), toRef(props, 'time'), size);
const loose = useLooseInSpace(
  toRef(props, 'machine'),
  computed(() => props.record ?? null),
  toRef(props, 'poses'),
  toRef(props, 'time'),
);
const ghosts = computed(() => [...along.value, ...(props.ghosts ?? [])]);
/** Axes whose positive directions are drawn. */
const driven = () =>
  props.machine.axes.map(({ joint, reversed, colour }) => ({
    joint,
    reversed,
    colour: resolvedColour(`--axis-${colour}`),
  }));
const traces = computed(() => [...traced.value, ...(props.ways ?? []), ...(props.gap ? [[props.gap.from, props.gap.to]] : [])]); // prettier-ignore

const showing = (id: string): Showing => {
  // Of what nobody said anything yet is worked on where solids are, and but seen elsewhere.
  if (id === UNASSIGNED && !props.solids) return 'faint';
  const plane = props.machine.mechanism.bodies.find((body) => body.id === id)?.plane ?? '';
  return seeing.faded[id] ?? seeing.faded[plane] ?? 'whole';
};
function redraw(): void {
  const own = scene.value;
  if (!own) return;
  own.show(props.machine.mechanism, sceneColours(), props.directions ? driven() : [], drawn.value);
  own.stand(props.poses);
  own.lay({ traces: traces.value, arrows: arrows.value });
  own.strew(loose.value);
  own.haunt(ghosts.value);
  own.veil(props.veil ?? null);
  light();
}
/** Kinds of things that there are in this picture. */
const kinds = computed(() => {
  const none: Partial<Record<Kind, boolean>> = {
    planes: props.machine.mechanism.planes.length < 2,
    directions: !props.directions,
    loose: loose.value.parts.length + loose.value.lines.length + loose.value.solids.length === 0,
  };
  return (Object.keys(KINDS) as Kind[]).filter((kind) => !none[kind]);
});
function light(): void {
  const { solids, face } = props;
  const chosen = solids && ((ref: SolidRef) => solids.some((own) => sameSolid(own, ref)));
  scene.value?.mark(props.selection, showing, seeing.kinds, chosen);
  scene.value?.solids.light(face?.solid ?? null, face?.triangles ?? null);
}

onMounted(() => {
  try {
    scene.value = new SpaceScene(canvas.value!, sceneColours(), drawnOnce);
  } catch {
    emit('missing');
    return;
  }
  scene.value.resize(width.value, height.value);
  redraw();
  scene.value.eye.look('depth', { smoothly: false });
});
onBeforeUnmount(() => scene.value?.dispose());
watch([width, height], ([w, h]) => {
  const first = scene.value?.frames === 0;
  scene.value?.resize(w, h);
  if (first) scene.value?.eye.look('depth', { smoothly: false });
});
watch([() => props.machine.mechanism, () => props.machine.axes, () => props.colours], redraw);
watch(() => props.poses, (poses) => scene.value?.stand(poses)); // prettier-ignore
watch(ghosts, (poses) => scene.value?.haunt(poses));
watch(loose, (things) => scene.value?.strew(things));
watch(() => props.veil, (mesh) => scene.value?.veil(mesh ?? null)); // prettier-ignore
watch([traces, arrows], () => scene.value?.lay({ traces: traces.value, arrows: arrows.value }));
watch([() => props.selection, () => props.solids, () => props.face, () => seeing.faded, () => seeing.kinds], light);
/** Whether the engineer has chosen from where to look: then nothing that comes in changes that. */
let turned = false;
// Geometry that has come is drawn, and looked at where it is the first there is; what is edited is drawn anew anyway.
watch(
  () => drawn.value.map(({ loaded }) => loaded),
  (now, before) => {
    if (now.length === before.length && now.every((own, i) => own === before[i])) return;
    redraw();
    if (!now.some(Boolean) || before.some(Boolean)) return;
    if (turned) scene.value?.eye.fit(false);
    else scene.value?.eye.look('depth', { smoothly: false });
  },
);
// The dark theme has other colours.
useMutationObserver(document.documentElement, redraw, { attributeFilter: ['class', 'data-theme'] });

function twice(event: MouseEvent): void {
  const hit = scene.value?.hit(...spot(event));
  const plane = hit && props.machine.mechanism.bodies.find(({ id }) => id === hit.body)?.plane;
  if (plane) emit('plane', plane);
  else scene.value?.eye.fit();
}
function setParallel(on: boolean): void {
  parallel.value = on;
  scene.value?.eye.setParallel(on);
}
function lookFrom(eye: Eye, across: boolean): void {
  turned = true;
  scene.value?.eye.look(eye, { across });
}
const { hovered, rectangle, spot, down, move, up } = useSpaceHand(canvas, scene, props, emit);
function press(event: PointerEvent): void {
  turned = true;
  down(event);
}
useEventListener(window, 'keydown', (event) => {
  const target = event.target as HTMLElement;
  if (event.ctrlKey || event.metaKey || event.altKey || target.closest('input, textarea, select, [role="combobox"]'))
    return;
  const key = event.key.toUpperCase();
  const eye = (Object.keys(EYES) as Eye[]).find((own) => EYES[own].key === key);
  if (eye) lookFrom(eye, event.shiftKey);
  else if (key === 'A') scene.value?.eye.fit();
  else if (key === 'O') setParallel(!parallel.value);
});
const words = computed(
  () =>
    `${props.machine.name} in depth: ${props.machine.mechanism.bodies.length} bodies in ${props.machine.mechanism.planes.length} planes. All of it stands in the list beside.`,
);
</script>

<template>
  <div ref="box" class="space">
    <canvas
      ref="canvas"
      role="img"
      :aria-label="words"
      :class="{ hand }"
      @pointerdown="press"
      @pointermove="move"
      @pointerup="up"
      @pointerleave="hovered = null"
      @dblclick="twice"
      @contextmenu.prevent
    />
    <span
      v-for="{ plane, at } in sheets"
      :key="plane"
      class="sheet"
      :class="{ faded: seeing.faded[plane] }"
      :style="{ transform: `translate(${at[0]}px, ${at[1]}px)` }"
      >{{ machine.mechanism.planes.find(({ id }) => id === plane)?.name }}</span
    >
    <span v-if="hovered" class="name" :style="{ transform: `translate(${hovered.x + 12}px, ${hovered.y - 10}px)` }">
      {{ hovered.name }}
    </span>
    <span v-if="gap && gapAt" class="gap" :style="{ transform: `translate(${gapAt[0] + 8}px, ${gapAt[1] - 9}px)` }">
      {{ gap.text }}
    </span>
    <span
      v-if="rectangle"
      class="band"
      :style="{
        left: `${Math.min(rectangle.from[0], rectangle.to[0])}px`,
        top: `${Math.min(rectangle.from[1], rectangle.to[1])}px`,
        width: `${Math.abs(rectangle.to[0] - rectangle.from[0])}px`,
        height: `${Math.abs(rectangle.to[1] - rectangle.from[1])}px`,
      }"
    />
    <div v-if="scales.length > 0" class="scales">
      <p v-for="{ text, colour } in scales" :key="text">
        <span class="longest" :style="{ background: `var(${colour})` }" /> longest {{ text }}
      </p>
    </div>
    <div class="eyes" role="group" aria-label="Seen from">
      <button
        v-for="(eye, key) in EYES"
        :key="key"
        type="button"
        :title="`Seen from there (${eye.key}); with Shift from the side across`"
        @click="lookFrom(key, $event.shiftKey)"
      >
        {{ eye.label }}
      </button>
      <button type="button" title="All of it (A)" @click="scene?.eye.fit()">Fit</button>
      <button
        type="button"
        :aria-pressed="parallel"
        title="Distances make nothing smaller (O)"
        @click="setParallel(!parallel)"
      >
        Parallel
      </button>
      <KindsShown :kinds />
    </div>
  </div>
</template>

<style scoped>
.space {
  position: relative;
  height: 100%;
  min-height: 0;
  overflow: hidden;
  background: var(--panel);
}
canvas {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  display: block;
  touch-action: none;
  cursor: grab;
}
canvas.hand {
  cursor: pointer;
}
.sheet,
.name {
  position: absolute;
  left: 0;
  top: 0;
  pointer-events: none;
  font: 12px/1.3 var(--narrow);
  white-space: nowrap;
}
.sheet {
  color: var(--primary);
}
.sheet.faded {
  opacity: 0.4;
}
.name {
  padding: 1px 6px;
  border-radius: var(--radius);
  background: var(--ink);
  color: var(--panel);
}
.gap {
  position: absolute;
  left: 0;
  top: 0;
  padding: 1px 6px;
  border: 1px solid var(--attention);
  border-radius: var(--radius);
  background: var(--panel);
  font: 12.5px/1.3 var(--narrow);
  white-space: nowrap;
  pointer-events: none;
}
.band {
  position: absolute;
  pointer-events: none;
  border: 1px solid var(--primary);
  background: color-mix(in srgb, var(--primary-soft) 40%, transparent);
}
.scales {
  position: absolute;
  right: 8px;
  top: 6px;
  padding: 1px 4px;
  background: color-mix(in srgb, var(--panel) 80%, transparent);
  font: 12px var(--narrow);
  color: var(--ink-soft);
  pointer-events: none;
}
.scales p {
  margin: 0;
}
.longest {
  display: inline-block;
  width: 22px;
  height: 3px;
  margin-right: 4px;
  vertical-align: middle;
}
.eyes {
  position: absolute;
  left: 8px;
  bottom: 6px;
  display: flex;
  gap: 2px;
}
.eyes :deep(button) {
  border: 1px solid var(--line);
  background: color-mix(in srgb, var(--panel) 88%, transparent);
  color: var(--ink);
  font: 12.5px/20px var(--narrow);
  padding: 0 7px;
  border-radius: var(--radius);
  cursor: pointer;
}
.eyes :deep(button:hover),
.eyes :deep(button[aria-pressed='true']) {
  border-color: var(--primary);
}
</style>
