<script setup lang="ts">
import { formatQuantity, type WatchedClearance } from '@yoke/core';
import { computed } from 'vue';
import { useCursor, useMachine } from '@/stores';

/** How far what is watched is apart over the run, and where it is nearest. */
const props = defineProps<{ found: WatchedClearance }>();
defineEmits<{ look: [time: number] }>();
const machine = useMachine();
const cursor = useCursor();
const [WIDTH, HEIGHT, ROOM] = [400, 54, 5];

const drawn = computed(() => {
  const { times, distance, watch } = props.found;
  const high = Math.max(...distance, watch.least) || 1;
  const end = times.at(-1) || 1;
  const y = (value: number) => HEIGHT - ROOM - (value / high) * (HEIGHT - 2 * ROOM);
  const d = times.map((time, i) => `${i === 0 ? 'M' : 'L'}${((time / end) * WIDTH).toFixed(1)} ${y(distance[i]!).toFixed(1)}`).join(''); // prettier-ignore
  return { d, high, zero: y(0), least: y(watch.least), end, now: (cursor.time / end) * WIDTH };
});
const words = computed(() => {
  const { nearest } = props.found;
  const time = nearest.meetsFrom ?? nearest.least.time;
  const at = `at ${formatQuantity(time, 'time', machine.units)}`;
  return {
    time,
    text: nearest.meetsFrom === null ? `least ${formatQuantity(nearest.least.distance, 'length', machine.units, 4)} ${at}` : `collide ${at}`, // prettier-ignore
    bad: nearest.meetsFrom !== null || nearest.least.distance < props.found.watch.least,
  };
});
</script>

<template>
  <div class="curve">
    <svg
      :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
      preserveAspectRatio="none"
      role="img"
      :aria-label="`${found.watch.name} over the run: from 0 to ${formatQuantity(drawn.high, 'length', machine.units, 3)}`"
    >
      <line class="zero" x1="0" :x2="WIDTH" :y1="drawn.zero" :y2="drawn.zero" />
      <line v-if="found.watch.least > 0" class="wanted" x1="0" :x2="WIDTH" :y1="drawn.least" :y2="drawn.least" />
      <path :d="drawn.d" />
      <line class="now" :x1="drawn.now" :x2="drawn.now" y1="0" :y2="HEIGHT" />
    </svg>
    <p>
      <span class="soft">0 to {{ formatQuantity(drawn.high, 'length', machine.units, 3) }}</span>
      <button type="button" class="plain link" :class="{ bad: words.bad }" @click="$emit('look', words.time)">
        {{ words.text }}
      </button>
    </p>
  </div>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  height: 54px;
  background: var(--sunken);
}
path {
  fill: none;
  stroke: var(--primary);
  stroke-width: 1.5;
  vector-effect: non-scaling-stroke;
}
line {
  vector-effect: non-scaling-stroke;
}
.zero {
  stroke: var(--ink-soft);
}
.wanted {
  stroke: var(--bad);
  stroke-dasharray: 4 3;
}
.now {
  stroke: var(--attention);
}
p {
  display: flex;
  justify-content: space-between;
  margin: 2px 0 0;
  font-size: 12.5px;
}
.link {
  color: var(--primary);
  text-decoration: underline;
}
</style>
