<script setup lang="ts">
import type { Mechanism, Pose } from '@yoke/core';
import { computed } from 'vue';
import { useMechanismMarks } from '@/composables/useMechanismMarks';
import { useStopMarks } from '@/composables/useStopMarks';
import { bodyOutline, zigzag, type Projection } from '@/lib/board-view';

/** A mechanism drawn to scale: bodies, joints, paths, springs and loads. Everything can be chosen by its identifier. */
const props = defineProps<{
  mechanism: Mechanism;
  poses: readonly Pose[];
  projection: Projection;
  colours: Readonly<Record<string, string>>;
  selection?: readonly string[];
  /** Joints whose contact is lost at this pose. */
  lifted?: readonly string[];
  /** Bodies that are nearer to each other than they may be. */
  close?: readonly string[];
  /** Draws bodies only, faintly. */
  faint?: boolean;
}>();

const outlines = computed(() => props.mechanism.bodies.map(bodyOutline));
const transformOf = (i: number) => {
  const pose = props.poses[i];
  return pose ? `translate(${pose.x} ${pose.y}) rotate(${(pose.angle * 180) / Math.PI})` : '';
};
const chosen = (id: string) => props.selection?.includes(id) ?? false;
const colour = (id: string) => props.colours[id] ?? 'var(--ink-soft)';

const { pathLines, marks, slots, faces, links, loads, couplingLines } = useMechanismMarks(props);
const stops = useStopMarks(props);
</script>

<template>
  <g class="mechanism" :class="{ faint }">
    <g :transform="projection.transform">
      <path
        v-for="(body, i) in mechanism.bodies"
        :key="body.id"
        class="body"
        :class="{ chosen: chosen(body.id), close: close?.includes(body.id) }"
        :d="outlines[i]"
        :transform="transformOf(i)"
        :style="{ '--tint': colour(body.id) }"
        fill-rule="evenodd"
        :data-id="body.id"
        :data-body="body.id"
      />
    </g>
    <g v-if="!faint" :transform="projection.transform">
      <path v-for="slot in slots" :key="slot.id" class="wheel-slot" :d="slot.d" :transform="transformOf(slot.body)" />
    </g>
    <template v-if="!faint">
      <template v-for="slot in slots" :key="slot.id">
        <circle v-if="slot.pin" class="driving" :cx="slot.pin[0]" :cy="slot.pin[1]" r="5" />
      </template>
      <line
        v-for="face in faces"
        :key="face.id"
        class="face"
        x1="-34"
        x2="34"
        :transform="`translate(${face.p[0]} ${face.p[1]}) rotate(${face.angle})`"
      />
      <path
        v-for="(path, i) in mechanism.paths"
        :key="path.id"
        class="path"
        :class="{ chosen: chosen(path.id) }"
        :d="pathLines[i]"
        :data-id="path.id"
      />
      <line
        v-for="{ coupling, a, b } in couplingLines"
        :key="coupling.id"
        class="coupling"
        :class="{ chosen: chosen(coupling.id) }"
        :x1="a.x"
        :y1="a.y"
        :x2="b.x"
        :y2="b.y"
        :data-id="coupling.id"
      />
      <g
        v-for="{ element, a, b } in links"
        :key="element.id"
        class="link"
        :class="{ chosen: chosen(element.id), off: !element.on }"
        :data-id="element.id"
      >
        <path v-if="element.kind === 'spring'" :d="zigzag(a, b)" :data-id="element.id" />
        <g v-else :data-id="element.id">
          <line :x1="a[0]" :y1="a[1]" :x2="b[0]" :y2="b[1]" :data-id="element.id" />
          <rect
            :x="(a[0] + b[0]) / 2 - 9"
            :y="(a[1] + b[1]) / 2 - 5"
            width="18"
            height="10"
            :transform="`rotate(${(Math.atan2(b[1] - a[1], b[0] - a[0]) * 180) / Math.PI} ${(a[0] + b[0]) / 2} ${(a[1] + b[1]) / 2})`"
            :data-id="element.id"
          />
        </g>
      </g>
      <g
        v-for="mark in marks"
        :key="mark.joint.id"
        class="joint"
        :class="{ chosen: chosen(mark.joint.id), lifted: lifted?.includes(mark.joint.id) }"
        :style="{ '--tint': colour(mark.joint.id) }"
        :data-id="mark.joint.id"
        :transform="`translate(${mark.x} ${mark.y})`"
      >
        <g v-if="mark.end" :data-id="mark.joint.id">
          <line class="barrel" x1="0" y1="0" :x2="mark.end[0] - mark.x" :y2="mark.end[1] - mark.y" />
          <line
            class="tube"
            :x1="mark.end[0] - mark.x"
            :y1="mark.end[1] - mark.y"
            :x2="(mark.end[0] - mark.x) * 0.45"
            :y2="(mark.end[1] - mark.y) * 0.45"
            :data-id="mark.joint.id"
          />
        </g>
        <g v-if="mark.rail !== null" :transform="`rotate(${mark.rail})`">
          <path class="rail" d="M-34 -7H34M-34 7H34" :data-id="mark.joint.id" />
        </g>
        <g v-if="mark.grounded && mark.joint.kind !== 'guide' && mark.joint.kind !== 'cylinder'">
          <path class="stand" d="M-9 11L0 0L9 11Z" />
          <path class="hatch" d="M-12 11H12M-9 16l4 -5M-3 16l4 -5M3 16l4 -5" />
        </g>
        <circle v-if="mark.roller > 0" class="roller" :r="mark.roller" :data-id="mark.joint.id" />
        <rect
          v-if="mark.joint.kind === 'weld'"
          class="pin"
          x="-4.5"
          y="-4.5"
          width="9"
          height="9"
          :data-id="mark.joint.id"
        />
        <rect
          v-else-if="mark.joint.kind === 'slide'"
          class="pin"
          x="-8"
          y="-5"
          width="16"
          height="10"
          rx="1.5"
          :transform="`rotate(${mark.rail})`"
          :data-id="mark.joint.id"
        />
        <path v-else-if="mark.joint.kind === 'guide'" class="pin" d="M0 -6L6 0L0 6L-6 0Z" :data-id="mark.joint.id" />
        <circle v-else class="pin" r="4.6" :data-id="mark.joint.id" />
      </g>
      <g
        v-for="{ element, ends, way } in stops"
        :key="element.id"
        class="stop"
        :class="{ chosen: chosen(element.id), off: !element.on }"
        :data-id="element.id"
      >
        <title>{{ element.name }}</title>
        <path v-if="way" class="way" :d="way" :data-id="element.id" />
        <path
          v-for="(end, i) in ends"
          :key="i"
          d="M0 -11V11M0 -8l6 -4M0 -1l6 -4M0 6l6 -4"
          :transform="`translate(${end.x} ${end.y}) rotate(${end.angle})`"
          :data-id="element.id"
        />
      </g>
      <g
        v-for="{ element, p, angle } in loads"
        :key="element.id"
        class="load"
        :class="{ chosen: chosen(element.id), off: !element.on }"
        :transform="`translate(${p[0]} ${p[1]})${angle === null ? '' : ` rotate(${angle})`}`"
      >
        <path v-if="angle !== null" d="M-46 0H-8M-8 0l-8 -4M-8 0l-8 4" :data-id="element.id" />
        <path v-else d="M16 8A18 18 0 1 1 16 -8M16 -8l-8 -1M16 -8l1 -8" :data-id="element.id" />
      </g>
    </template>
  </g>
</template>

<style scoped>
.body {
  fill: color-mix(in srgb, var(--tint) 20%, var(--panel));
  fill-opacity: 0.86;
  stroke: var(--tint);
  stroke-width: 1.4;
  vector-effect: non-scaling-stroke;
}
.body.chosen {
  stroke-width: 3;
  fill: color-mix(in srgb, var(--tint) 34%, var(--panel));
}
.body.close {
  stroke: var(--bad);
  stroke-width: 3;
}
.faint .body {
  fill-opacity: 0.12;
  stroke-opacity: 0.35;
}
.path {
  fill: none;
  stroke: var(--ink-soft);
  stroke-width: 1.6;
  stroke-dasharray: 8 4;
}
.wheel-slot {
  stroke: var(--ink-soft);
  stroke-width: 7;
  stroke-linecap: round;
  stroke-opacity: 0.35;
  vector-effect: non-scaling-stroke;
}
.driving {
  fill: var(--ink);
}
.face {
  stroke: var(--ink);
  stroke-width: 3;
}
.coupling {
  stroke: var(--ink-soft);
  stroke-width: 1.4;
  stroke-dasharray: 2 4;
}
.link {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.6;
}
.link rect {
  fill: var(--panel);
}
.off {
  opacity: 0.35;
}
.pin {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 1.8;
}
.roller {
  fill: color-mix(in srgb, var(--ink) 8%, transparent);
  stroke: var(--ink);
  stroke-width: 1.3;
}
.rail {
  stroke: var(--ink-soft);
  stroke-width: 1.3;
  fill: none;
}
.stand {
  fill: var(--panel);
  stroke: var(--ink-soft);
  stroke-width: 1.3;
}
.hatch {
  stroke: var(--ink-soft);
  stroke-width: 1.2;
  fill: none;
}
.barrel {
  stroke: var(--ink);
  stroke-width: 4;
}
.tube {
  stroke: var(--ink-soft);
  stroke-width: 11;
}
.load path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2.4;
}
.stop {
  fill: none;
  stroke: var(--ink-soft);
  stroke-width: 2;
}
.stop .way {
  stroke-width: 1;
  stroke-dasharray: 2 3;
}
.chosen .pin,
.stop.chosen,
.path.chosen,
.coupling.chosen,
.link.chosen,
.load.chosen path {
  stroke: var(--attention);
  stroke-width: 3;
}
.lifted .pin,
.lifted .roller {
  stroke: var(--bad);
  stroke-width: 3;
}
</style>
