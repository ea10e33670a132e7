<script setup lang="ts">
import { computed } from 'vue';
import type { SketchProps } from './sketch-props';

/** A turning table seen along its pivot; positive turns counter-clockwise unless turned round. */
const props = defineProps<SketchProps>();

const radius = computed(() => Math.max(30, Math.min(props.width, props.height) / 2 - 34));
const sign = computed(() => (props.axis.reversed ? -1 : 1));
const DEGREE = Math.PI / 180;
const ticks = Array.from({ length: 36 }, (_, i) => i * 10);
const onCircle = (angle: number, r: number) => ({ x: r * Math.cos(angle), y: -r * Math.sin(angle) });
const turned = computed(() => ((-props.position * sign.value) / DEGREE) % 360);

/** An arc with a head, of signed share of a third of a turn, from the upper side. */
function arc(share: number, r: number): { line: string; head: string; turn: number } | null {
  const angle = share * sign.value * 110 * DEGREE;
  if (Math.abs(angle) < 0.05) return null;
  const from = onCircle(Math.PI / 2, r);
  const to = onCircle(Math.PI / 2 + angle, r);
  const sweep = angle > 0 ? 0 : 1;
  return {
    line: `M${from.x} ${from.y}A${r} ${r} 0 0 ${sweep} ${to.x} ${to.y}`,
    head: `translate(${to.x} ${to.y})`,
    turn: -(90 + angle / DEGREE) + (angle > 0 ? -90 : 90),
  };
}
const velocityArc = computed(() => arc(props.velocityShare, radius.value + 9));
const effortArc = computed(() => arc(props.effortShare, radius.value * 0.6));
const directionArc = computed(() => arc(0.32, radius.value + 20)!);
const imbalance = computed(() =>
  props.axis.load.imbalance > 0 ? onCircle(props.axis.load.imbalanceAngle * sign.value, radius.value * 0.72) : null,
);
</script>

<template>
  <svg :width :height>
    <g :transform="`translate(${width / 2} ${height / 2 + 6})`">
      <circle class="plate" :r="radius" />
      <line
        v-for="tick in ticks"
        :key="tick"
        class="tick"
        :x1="onCircle(tick * DEGREE, radius).x"
        :y1="onCircle(tick * DEGREE, radius).y"
        :x2="onCircle(tick * DEGREE, radius + (tick % 90 === 0 ? 7 : 4)).x"
        :y2="onCircle(tick * DEGREE, radius + (tick % 90 === 0 ? 7 : 4)).y"
      />
      <g :transform="`rotate(${turned})`">
        <circle :r="radius * 0.94" :fill="colour" fill-opacity="0.16" :stroke="colour" stroke-width="2" />
        <line
          :x1="radius * 0.2"
          y1="0"
          :x2="radius * 0.94"
          y2="0"
          :stroke="colour"
          stroke-width="4"
          stroke-linecap="round"
        />
        <circle
          v-for="n in 5"
          :key="n"
          :cx="onCircle(n * 60 * DEGREE, radius * 0.78).x"
          :cy="onCircle(n * 60 * DEGREE, radius * 0.78).y"
          r="4"
          fill="none"
          :stroke="colour"
        />
        <circle v-if="imbalance" :cx="imbalance.x" :cy="imbalance.y" r="8" :fill="colour" />
      </g>
      <circle r="5" class="pivot" />
      <path class="homemark" :transform="`rotate(${(-axis.home * sign) / DEGREE})`" :d="`M${radius + 3} 0l9 -5v10z`" />
      <template v-if="velocityArc">
        <path :d="velocityArc.line" fill="none" :stroke="colour" stroke-width="2" />
        <path :transform="`${velocityArc.head} rotate(${velocityArc.turn})`" d="M6 0l-9 -5v10z" :fill="colour" />
      </template>
      <template v-if="effortArc">
        <path :d="effortArc.line" fill="none" stroke="var(--ink)" stroke-width="4" />
        <path :transform="`${effortArc.head} rotate(${effortArc.turn})`" d="M7 0l-9 -6v12z" fill="var(--ink)" />
      </template>
      <path :d="directionArc.line" fill="none" stroke="var(--ink-soft)" stroke-width="1.5" />
      <path :transform="`${directionArc.head} rotate(${directionArc.turn})`" d="M6 0l-8 -4v8z" fill="var(--ink-soft)" />
      <text class="word" :x="sign > 0 ? 6 : -6" :y="-radius - 17" :text-anchor="sign > 0 ? 'start' : 'end'">
        + direction
      </text>
    </g>
    <text class="position" x="14" y="20">{{ label }}</text>
  </svg>
</template>

<style scoped>
@import '@/style/sketch.css';
.plate {
  fill: var(--sunken);
  stroke: var(--ink-soft);
}
.pivot {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 1.5;
}
</style>
