<script setup lang="ts">
import { formatQuantity } from '@yoke/core';
import { computed } from 'vue';
import { niceStep, niceTicks } from '@/lib/ticks';
import ArrowMark from './ArrowMark.vue';
import type { SketchProps } from './sketch-props';

/** A carriage on its rail, sloped as it is, to scale. */
const props = defineProps<SketchProps>();

const CARRIAGE = 46;
const slope = computed(() => (props.axis.load.slope * 180) / Math.PI);
/** Turned round, the positive direction points down the slope. */
const sign = computed(() => (props.axis.reversed ? -1 : 1));
/** Room along the rail in px: the drawing area cut by a line of this slope. */
const room = computed(() => {
  const angle = props.axis.load.slope;
  const across = (props.width - 60) / Math.max(1e-6, Math.cos(angle));
  const up = (props.height - 76) / Math.max(1e-6, Math.sin(angle));
  return Math.max(60, Math.min(across, up) - CARRIAGE);
});
const pixels = computed(() => room.value / (props.range.high - props.range.low));
const middle = computed(() => (props.range.high + props.range.low) / 2);
const along = (position: number) => (position - middle.value) * pixels.value * sign.value;
const half = computed(() => room.value / 2 + CARRIAGE / 2);
const unit = computed(() => (props.units === 'inch' ? 0.0254 : 0.001));
const ticks = computed(() =>
  niceTicks(props.range.low / unit.value, props.range.high / unit.value, Math.max(2, room.value / 70)).map(
    (tick) => tick * unit.value,
  ),
);
const small = computed(() => niceTicks(props.range.low, props.range.high, Math.max(4, room.value / 14)));
const bar = computed(() => niceStep(40 / pixels.value / unit.value) * unit.value);
const travel = computed(() => props.axis.travel);
</script>

<template>
  <svg :width :height>
    <g :transform="`translate(${width / 2} ${height / 2 + 6}) rotate(${-slope})`">
      <rect class="rail" :x="-half - 8" y="0" :width="2 * half + 16" height="7" rx="1" />
      <line v-for="tick in small" :key="`s${tick}`" class="tick" :x1="along(tick)" :x2="along(tick)" y1="7" y2="11" />
      <g v-for="tick in ticks" :key="tick">
        <line class="tick" :x1="along(tick)" :x2="along(tick)" y1="7" y2="14" />
        <text
          class="number"
          :transform="`translate(${along(tick)} ${slope > 60 ? 32 : 25}) rotate(${slope > 60 ? 90 : 0})`"
        >
          {{ Number((tick / unit).toPrecision(6)) }}
        </text>
      </g>
      <template v-if="travel">
        <rect
          v-for="(end, i) in [travel.min, travel.max]"
          :key="i"
          class="stop"
          :x="along(end) + (i === 0 ? -1 : 1) * sign * (CARRIAGE / 2 + 4) - 4"
          y="-24"
          width="8"
          height="24"
        />
      </template>
      <path class="homemark" :d="`M${along(axis.home)} 8l-5 9h10z`" />
      <g :transform="`translate(${along(position)} 0)`">
        <rect class="carriage" :x="-CARRIAGE / 2" y="-30" :width="CARRIAGE" height="30" rx="3" :fill="colour" />
        <line class="mark" x1="0" x2="0" y1="-30" y2="0" />
        <g transform="translate(0 -42)">
          <ArrowMark :length="velocityShare * 70 * sign" :colour />
        </g>
        <g transform="translate(0 -15)">
          <ArrowMark :length="effortShare * 70 * sign" colour="var(--ink)" wide />
        </g>
      </g>
      <g v-if="height > 120 && slope < 45" :transform="`translate(${-half} -56)`">
        <g :transform="sign < 0 ? 'translate(56 0)' : ''"><ArrowMark :length="56 * sign" colour="var(--ink-soft)" /></g>
        <text class="word" x="62" y="4">+ direction</text>
      </g>
      <g v-else-if="slope >= 45" :transform="`translate(${-half} -80)`">
        <g :transform="sign < 0 ? 'translate(50 0)' : ''"><ArrowMark :length="50 * sign" colour="var(--ink-soft)" /></g>
        <text class="word" transform="translate(25 -8)" text-anchor="middle">+ direction</text>
      </g>
    </g>
    <g v-if="slope > 1" class="gravity" :transform="`translate(${width - 34} 18)`">
      <g transform="rotate(90)"><ArrowMark :length="30" colour="var(--ink-soft)" /></g>
      <text class="word" x="8" y="22">g</text>
    </g>
    <g :transform="`translate(14 ${height - 10})`">
      <path class="tick" :d="`M0 -4v4h${bar * pixels}v-4`" fill="none" />
      <text class="word" :x="bar * pixels + 6" y="2">{{ formatQuantity(bar, 'length', units) }}</text>
    </g>
    <text class="position" x="14" y="20">{{ label }}</text>
  </svg>
</template>

<style scoped>
@import '@/style/sketch.css';
.rail {
  fill: var(--sunken);
  stroke: var(--ink-soft);
}
.number {
  fill: var(--ink-soft);
  font: 11px var(--words);
  text-anchor: middle;
  dominant-baseline: middle;
}
.stop {
  fill: var(--ink-soft);
}
.carriage {
  fill-opacity: 0.85;
  stroke: var(--ink);
}
.mark {
  stroke: var(--panel);
  stroke-width: 1.5;
}
</style>
