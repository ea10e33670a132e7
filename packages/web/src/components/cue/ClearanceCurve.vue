<script setup lang="ts">
import { formatQuantity } from '@yoke/core';
import { computed } from 'vue';
import { useCues, useCursor, useMachine } from '@/stores';

/** How far what a monitor watches was apart over the last run, and where it was nearest. */
const props = defineProps<{ monitor: { id: string; name: string } }>();
const machine = useMachine();
const cues = useCues();
const cursor = useCursor();
const [WIDTH, FOOT, HEIGHT] = [300, 38, 34];

const found = computed(() => {
  const curve = cues.record?.clearances.find(({ monitor }) => monitor === props.monitor.id);
  if (!curve || curve.times.length === 0) return null;
  const { times, clearance, least } = curve;
  const high = clearance.reduce((most, v) => Math.max(most, v), 0) || 1;
  const low = Math.min(0, least.clearance);
  const end = times.at(-1) ?? 1;
  const y = (value: number) => FOOT - ((value - low) / (high - low)) * HEIGHT;
  const step = Math.max(1, Math.floor(times.length / WIDTH));
  let d = '';
  for (let i = 0; i < times.length; i += step)
    d += `${d ? 'L' : 'M'}${((times[i]! / end) * WIDTH).toFixed(1)} ${y(clearance[i]!).toFixed(1)}`;
  return { d, least, zero: y(0), cursor: (cursor.time / end) * WIDTH };
});
</script>

<template>
  <div v-if="found" class="curve">
    <svg
      viewBox="0 0 300 42"
      preserveAspectRatio="none"
      width="300"
      height="42"
      role="img"
      :aria-label="`Clearance over the run: ${monitor.name}`"
    >
      <line class="zero" x1="0" x2="300" :y1="found.zero" :y2="found.zero" />
      <path :d="found.d" />
      <line class="now" :x1="found.cursor" :x2="found.cursor" y1="0" y2="42" />
    </svg>
    <button type="button" class="plain link" @click="cursor.stopAt(found.least.time)">
      least {{ formatQuantity(found.least.clearance, 'length', machine.units, 4) }} at
      {{ formatQuantity(found.least.time, 'time', machine.units) }}
    </button>
  </div>
</template>

<style scoped>
.curve {
  grid-column: 1 / -1;
  display: flex;
  gap: 10px;
  align-items: center;
}
.curve path {
  fill: none;
  stroke: var(--primary);
  stroke-width: 1.4;
}
.zero {
  stroke: var(--bad);
  stroke-dasharray: 3 3;
}
.now {
  stroke: var(--attention);
}
.link {
  color: var(--primary);
  text-decoration: underline;
}
</style>
