<script setup lang="ts">
import { fingerPieces, solidOf, spacePieces, type CycleRecord, type Machine, type Place3, type Pose } from '@yoke/core';
import { computed } from 'vue';
import type { Projection } from '@/lib/board-view';
import { loosePlaces, type LoosePlaces } from '@/lib/loose-places';
import { cornersOf, frameAt, litAt, partsAt, platformShift, shadow, shiftsOf, sightOf } from '@/lib/loose-scene';

/** Loose parts and what handles them, with the sensors that see them; lit where they are on at the time shown. */
const props = defineProps<{
  machine: Machine;
  poses: readonly Pose[];
  projection: Projection;
  time: number;
  record: CycleRecord | null;
  chosen?: string | null;
}>();
const emit = defineEmits<{ grab: [id: string, event: PointerEvent] }>();

const loose = computed(() => props.machine.loose);
const places = computed(() => loosePlaces(props.machine, props.poses));
type Stands = Parameters<LoosePlaces['spot']>[0];
const px = ([x, y]: readonly [number, number]): [number, number] => [props.projection.x(x), props.projection.y(y)];
/** A point of something as it is seen from the front, px. */
const seen = (thing: Stands, at: readonly [number, number], z = 0) => {
  const [x, y] = places.value.spot(thing, at, z);
  return px([x, y]);
};
const line = (points: readonly (readonly [number, number])[]) =>
  points.map((p, i) => `${i === 0 ? 'M' : 'L'}${p[0].toFixed(1)} ${p[1].toFixed(1)}`).join('');

const frame = computed(() => frameAt(props.record, props.time));
const outlines = computed(() =>
  Object.fromEntries(
    loose.value.kinds.map((kind) => {
      const { id, shape } = kind;
      if (shape.kind === 'circle') {
        const r = shape.radius;
        return [id, `M${-r} 0A${r} ${r} 0 1 0 ${r} 0A${r} ${r} 0 1 0 ${-r} 0ZM0 0H${r}`];
      }
      return [id, `M${cornersOf(kind).map(([x, y]) => `${x} ${y}`).join('L')}Z`]; // prettier-ignore
    }),
  ),
);
/** Pieces of each kind, where parts move in space. */
const solids = computed(
  () => new Map(loose.value.space ? loose.value.kinds.map((kind) => [kind.id, spacePieces(kind).map(solidOf)]) : []),
);
const shadowPath = (kind: string, place: Place3): string =>
  shadow(solids.value.get(kind) ?? [], place)
    .map((outline) => `M${outline.map(([x, y]) => `${x} ${y}`).join('L')}Z`)
    .join('');
const kindColour = (id: string) => `var(--axis-${loose.value.kinds.find((k) => k.id === id)?.colour ?? 0})`;
const parts = computed(() =>
  partsAt(props.record, frame.value).map(({ x, y, angle, place, ...part }) => ({
    ...part,
    outline: place ? shadowPath(part.kind, place) : outlines.value[part.kind],
    transform: `translate(${x} ${y}) rotate(${(angle * 180) / Math.PI})`,
  })),
);
/** Without a run the sources show what they will give. */
const waiting = computed(() =>
  loose.value.sources.map((source) => {
    const [x, y] = places.value.spot(source, source.at);
    const { qw, qx, qy, qz } = places.value.frame(source);
    // How the x of its frame is seen from the front.
    const turned = Math.atan2(2 * (qx * qy + qw * qz), 1 - 2 * (qy * qy + qz * qz));
    return {
      ...source,
      x: props.projection.x(x),
      y: props.projection.y(y),
      transform: `translate(${x} ${y}) rotate(${((turned + source.angle) * 180) / Math.PI})`,
    };
  }),
);
const shiftOf = (i: number) => platformShift(props.record, frame.value, i, shiftsOf(loose.value as Machine['loose']));
/** Way a belt has gone, for the marks that run along with it. */
const beltMarks = computed(() =>
  loose.value.belts.map((belt) => {
    const length = Math.hypot(belt.to[0] - belt.from[0], belt.to[1] - belt.from[1]);
    const pitch = Math.max(0.03, length / 40);
    const run = beltWay(belt.id);
    const offset = ((run % pitch) + pitch) % pitch;
    const at = (s: number): [number, number] => [
      belt.from[0] + ((belt.to[0] - belt.from[0]) * s) / length,
      belt.from[1] + ((belt.to[1] - belt.from[1]) * s) / length,
    ];
    const marks: [number, number][] = [];
    for (let s = offset; s < length; s += pitch) marks.push(seen(belt, at(s)));
    return { belt, a: seen(belt, belt.from), b: seen(belt, belt.to), marks };
  }),
);
function beltWay(id: string): number {
  const speeds = props.record?.belts.find(({ belt }) => belt === id);
  if (!speeds) return 0;
  let way = 0;
  for (let i = 0; i < speeds.times.length && speeds.times[i]! < props.time; i++) {
    const to = Math.min(props.time, speeds.times[i + 1] ?? props.time);
    const [v0, v1] = [speeds.speeds[i]!, speeds.speeds[i + 1] ?? speeds.speeds[i]!];
    const span = (speeds.times[i + 1] ?? to) - speeds.times[i]!;
    const share = span > 0 ? (to - speeds.times[i]!) / span : 1;
    way += ((v0 + v0 + (v1 - v0) * share) / 2) * (to - speeds.times[i]!);
  }
  return way;
}

const lit = computed(() => litAt(props.record, props.time));
const eyes = computed(() =>
  props.machine.sequence.sensors.flatMap((sensor) => {
    const sight = sightOf(sensor);
    if (!sight) return [];
    const corners = sight.corners.map((p, i) => seen(sensor.sensing as Stands, p, sight.rises[i] ?? 0));
    const [x, y] = corners.reduce(
      ([sx, sy], [cx, cy]) => [sx + cx / corners.length, Math.min(sy, cy)] as [number, number],
      [0, Infinity] as [number, number],
    );
    return [
      {
        id: sensor.id,
        name: sensor.name,
        area: sight.area,
        d: `${line(corners)}${sight.area ? 'Z' : ''}`,
        x,
        y: y - 5,
        ends: corners,
      },
    ];
  }),
);
/** Fingers as they stand: each closed by as much as the record says. */
const fingers = computed(() => {
  const all = loose.value as Machine['loose'];
  return all.grippers
    .filter((gripper) => gripper.fingers)
    .flatMap((gripper, i) => {
      const from = all.platforms.length + 2 * i;
      const closed = [0, 1].map((k) => platformShift(props.record, frame.value, from + k, shiftsOf(all))[0]);
      const frameOf = places.value.frame(gripper);
      return shadow(fingerPieces(gripper, closed).map(solidOf), frameOf).map((outline, k) => ({
        id: `${gripper.id}.${k}`,
        gripper: gripper.id,
        d: `M${outline.map(([x, y]) => `${x} ${y}`).join('L')}Z`,
        transform: `translate(${frameOf.x} ${frameOf.y})`,
      }));
    });
});
const grips = computed(() =>
  loose.value.grippers
    .filter((g) => !g.fingers)
    .map((g) => ({ ...g, p: seen(g, g.at), r: g.reach * props.projection.scale })),
);
</script>

<template>
  <g class="loose">
    <g
      v-for="sink in loose.sinks"
      :key="sink.id"
      class="sink"
      :class="[sink.counts, { chosen: chosen === sink.id }]"
      @pointerdown="emit('grab', sink.id, $event)"
    >
      <rect
        :x="Math.min(seen(sink, sink.from)[0], seen(sink, sink.to)[0])"
        :y="Math.min(seen(sink, sink.from)[1], seen(sink, sink.to)[1])"
        :width="Math.abs(seen(sink, sink.to)[0] - seen(sink, sink.from)[0])"
        :height="Math.abs(seen(sink, sink.to)[1] - seen(sink, sink.from)[1])"
      />
      <text
        :x="Math.min(seen(sink, sink.from)[0], seen(sink, sink.to)[0]) + 4"
        :y="Math.max(seen(sink, sink.from)[1], seen(sink, sink.to)[1]) - 4"
        >{{ sink.name }}</text
      >
    </g>
    <g
      v-for="{ belt, a, b, marks } in beltMarks"
      :key="belt.id"
      class="belt"
      :class="{ chosen: chosen === belt.id }"
      @pointerdown="emit('grab', belt.id, $event)"
    >
      <line
        :x1="a[0]"
        :y1="a[1]"
        :x2="b[0]"
        :y2="b[1]"
        :style="{
          strokeWidth: `${Math.max(3, belt.thickness * projection.scale * 0.5)}px`,
          transform: `translateY(${Math.max(1.5, belt.thickness * projection.scale * 0.25)}px)`,
        }"
      />
      <circle
        v-for="(m, i) in marks"
        :key="i"
        :cx="m[0]"
        :cy="m[1] + Math.max(1.5, belt.thickness * projection.scale * 0.25)"
        r="1.4"
        class="mark"
      />
    </g>
    <path
      v-for="surface in loose.surfaces"
      :key="surface.id"
      class="surface"
      :class="{ chosen: chosen === surface.id }"
      :d="line(surface.line.map((p) => seen(surface, p)))"
      :style="{ strokeWidth: `${Math.max(2.5, surface.thickness * projection.scale)}px` }"
      @pointerdown="emit('grab', surface.id, $event)"
    />
    <g
      v-for="(platform, i) in loose.platforms"
      :key="platform.id"
      class="platform"
      :class="{ chosen: chosen === platform.id }"
      @pointerdown="emit('grab', platform.id, $event)"
    >
      <line
        :x1="seen(platform, platform.from)[0] + shiftOf(i)[0] * projection.scale"
        :y1="seen(platform, platform.from)[1] - shiftOf(i)[1] * projection.scale"
        :x2="seen(platform, platform.to)[0] + shiftOf(i)[0] * projection.scale"
        :y2="seen(platform, platform.to)[1] - shiftOf(i)[1] * projection.scale"
      />
      <path
        :d="`M${(seen(platform, platform.from)[0] + seen(platform, platform.to)[0]) / 2} ${(seen(platform, platform.from)[1] + seen(platform, platform.to)[1]) / 2 - shiftOf(i)[1] * projection.scale}l6 4l-12 5l12 5l-12 5l6 4`"
        class="spring"
      />
    </g>
    <g :transform="projection.transform">
      <template v-if="parts.length === 0">
        <path
          v-for="source in waiting"
          :key="source.id"
          class="part ghost"
          :d="outlines[source.kind]"
          :transform="source.transform"
          :style="{ '--tint': kindColour(source.kind) }"
        />
      </template>
      <path
        v-for="part in parts"
        :key="part.number"
        class="part"
        :d="part.outline"
        :transform="part.transform"
        :style="{ '--tint': kindColour(part.kind) }"
      />
    </g>
    <g
      v-for="source in waiting"
      :key="source.id"
      class="source"
      :class="{ chosen: chosen === source.id }"
      @pointerdown="emit('grab', source.id, $event)"
    >
      <path :d="`M${source.x - 5} ${source.y - 16}h10l-5 8z`" />
      <text :x="source.x" :y="source.y - 19">{{ source.name }}</text>
    </g>
    <g :transform="projection.transform">
      <path
        v-for="finger in fingers"
        :key="finger.id"
        class="finger"
        :class="{ chosen: chosen === finger.gripper }"
        :d="finger.d"
        :transform="finger.transform"
        @pointerdown="emit('grab', finger.gripper, $event)"
      />
    </g>
    <circle
      v-for="grip in grips"
      :key="grip.id"
      class="grip"
      :class="{ chosen: chosen === grip.id }"
      :cx="grip.p[0]"
      :cy="grip.p[1]"
      :r="Math.max(4, grip.r)"
      @pointerdown="emit('grab', grip.id, $event)"
    />
    <g
      v-for="eye in eyes"
      :key="eye.id"
      class="eye"
      :class="{ on: lit.has(eye.id), area: eye.area, chosen: chosen === eye.id }"
      @pointerdown="emit('grab', eye.id, $event)"
    >
      <path :d="eye.d" />
      <circle v-for="(end, i) in eye.ends" :key="i" :cx="end[0]" :cy="end[1]" r="2.6" />
      <text :x="eye.x" :y="eye.y">{{ eye.name }}</text>
    </g>
  </g>
</template>

<style scoped>
.sink rect {
  fill: color-mix(in srgb, var(--good) 9%, transparent);
  stroke: var(--good);
  stroke-dasharray: 5 3;
}
.sink.missed rect {
  fill: color-mix(in srgb, var(--bad) 7%, transparent);
  stroke: var(--bad);
}
text {
  font: 11px var(--narrow);
  fill: var(--ink-soft);
  paint-order: stroke;
  stroke: var(--panel);
  stroke-width: 3px;
}
.source text,
.eye text {
  text-anchor: middle;
}
.belt line {
  stroke: color-mix(in srgb, var(--ink) 60%, var(--panel));
  stroke-linecap: round;
}
.belt .mark {
  fill: var(--panel);
}
.surface,
.platform line {
  fill: none;
  stroke: color-mix(in srgb, var(--ink) 45%, var(--panel));
  stroke-linejoin: round;
}
.platform line {
  stroke-width: 5px;
}
.spring {
  fill: none;
  stroke: var(--ink-soft);
  stroke-width: 1.5px;
}
.part {
  fill: color-mix(in srgb, var(--tint) 34%, var(--panel));
  stroke: var(--tint);
  stroke-width: 1.2px;
  vector-effect: non-scaling-stroke;
  stroke-linejoin: round;
}
.part.ghost {
  fill-opacity: 0.35;
  stroke-dasharray: 3 2;
}
.source path {
  fill: var(--ink-soft);
}
.finger {
  fill: color-mix(in srgb, var(--primary) 30%, var(--panel));
  stroke: var(--primary);
  stroke-width: 1.2px;
  vector-effect: non-scaling-stroke;
}
.grip {
  fill: none;
  stroke: var(--primary);
  stroke-width: 1.4px;
  stroke-dasharray: 3 2;
}
.eye path {
  fill: none;
  stroke: var(--ink-soft);
  stroke-width: 1.6px;
  stroke-dasharray: 4 3;
}
.eye circle {
  fill: var(--panel);
  stroke: var(--ink-soft);
  stroke-width: 1.4px;
}
.eye.area path {
  fill: color-mix(in srgb, var(--ink) 5%, transparent);
}
.eye.on path {
  stroke: var(--attention);
  stroke-width: 2.4px;
  stroke-dasharray: none;
}
.eye.on circle {
  fill: var(--attention);
  stroke: var(--attention);
}
.eye.on text {
  fill: var(--attention-ink);
  font-weight: 600;
}
.chosen :is(path, line, rect),
path.chosen,
circle.chosen {
  stroke: var(--attention);
}
.loose > g,
.loose > path {
  cursor: grab;
}
</style>
