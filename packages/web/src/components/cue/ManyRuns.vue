<script setup lang="ts">
import { counted, formatNumber, formatQuantity, histogram, worstOf, type StudyRun } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import { QuantityField, ToggleField } from '@/components/fields';
import { useMachine, useRun, useStudy } from '@/stores';

/** Many runs with scattered arrivals, sensors and friction, on the server's threads: how the results spread. */
const machine = useMachine();
const results = useRun();
const store = useStudy();
const study = computed(() => store.study);
type Wishes = typeof store.wishes;
const wish = <K extends keyof Wishes>(key: K, value: Wishes[K]): null => {
  store.wishes = { ...store.wishes, [key]: value };
  return null;
};

interface Spread {
  name: string;
  unit: string;
  values: number[];
  runs: StudyRun[];
}
const spreads = computed<Spread[]>(() => {
  const done = study.value?.runs ?? [];
  if (done.length === 0) return [];
  const of = (name: string, unit: string, pick: (run: StudyRun) => number | null): Spread => {
    const some = done.filter((run) => pick(run) !== null);
    return { name, unit, values: some.map((run) => pick(run)!), runs: some };
  };
  const axes = [...new Set(done.flatMap(({ peaks }) => peaks.map(({ axis }) => axis)))];
  return [
    of('Mean cycle time', 's', ({ cycleTime }) => cycleTime),
    of('Longest cycle', 's', ({ longestCycle }) => longestCycle),
    of('Length of the run', 's', ({ duration }) => duration),
    of('Missed parts', '', ({ missed }) => missed),
    ...axes.map((axis) =>
      of(
        `Peak torque of ${machine.axes.find(({ id }) => id === axis)?.name ?? axis}`,
        'N·m',
        ({ peaks }) => peaks.find((p) => p.axis === axis)?.torque ?? null,
      ),
    ),
  ].filter(({ values }) => values.length > 0);
});
const bars = (values: number[]) => {
  const h = histogram(values);
  const most = Math.max(1, ...h.counts);
  return h.counts.map((count, i) => ({
    x: (300 * i) / h.counts.length,
    width: 300 / h.counts.length - 1,
    height: (46 * count) / most,
    count,
    from: h.from + i * h.width,
    to: h.from + (i + 1) * h.width,
  }));
};
const mean = (values: number[]) => values.reduce((sum, v) => sum + v, 0) / values.length;
const quantile = (values: number[], share: number) =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(share * values.length))]!;
const worst = computed(() => worstOf(study.value?.runs ?? []));
const failed = computed(
  () => (study.value?.runs ?? []).filter(({ end }) => !['stop', 'cycles', 'idle', 'timed'].includes(end)).length,
);
function open(run: StudyRun): void {
  results.runDraw({ seed: run.seed, friction: run.friction, sensorDelay: run.sensorDelay });
}
const slowest = (spread: Spread) => spread.runs[spread.values.indexOf(Math.max(...spread.values))]!;
</script>

<template>
  <section class="panel many" aria-label="Many runs">
    <div class="wishes">
      <QuantityField
        :value="store.wishes.runs"
        kind="number"
        label="Runs"
        :min="1"
        :max="2000"
        :commit="(v) => wish('runs', Math.round(v!))"
      />
      <QuantityField
        :value="store.wishes.seed"
        kind="number"
        label="Seed"
        :min="0"
        :commit="(v) => wish('seed', Math.round(v!))"
      />
      <QuantityField
        :value="store.wishes.sensorDelay"
        kind="time"
        label="Sensors late by up to"
        :min="0"
        :max="10"
        :commit="(v) => wish('sensorDelay', v!)"
      />
      <QuantityField
        :value="store.wishes.friction"
        kind="ratio"
        label="Friction differs by up to"
        :min="0"
        :max="0.9"
        :commit="(v) => wish('friction', v!)"
      />
      <ToggleField :value="store.wishes.torques" label="Torques too (slower)" @change="wish('torques', $event)" />
    </div>
    <p class="soft">
      Arrivals scatter as their sources say. Everything is drawn from the seed: the same seed gives the same runs.
    </p>
    <div class="go">
      <ElButton v-if="study?.state !== 'running'" type="primary" @click="store.begin"
        >Run {{ store.wishes.runs }} times</ElButton
      >
      <template v-else>
        <progress :value="study.done" :max="study.total" aria-label="Runs done" />
        <span class="figures">{{ study.done }} of {{ study.total }}</span>
        <ElButton @click="store.cancel">Cancel</ElButton>
      </template>
      <span v-if="study && study.state === 'cancelled'" class="soft"
        >Cancelled after {{ counted(study.done, 'run') }}.</span
      >
      <span v-if="store.message" class="bad" role="alert">{{ store.message }}</span>
    </div>
    <template v-if="study && study.runs.length > 0">
      <p v-if="store.overtaken" class="bad" role="status">
        These runs are of the machine as it was before its last changes: run it again to see what they do.
      </p>
      <p v-if="failed > 0" class="bad">
        {{ failed }} of {{ counted(study.runs.length, 'run') }} did not come to their end.
      </p>
      <div class="spreads">
        <figure v-for="spread in spreads" :key="spread.name">
          <figcaption>
            <b>{{ spread.name }}:</b>&nbsp;
            <span class="figures">{{ formatNumber(mean(spread.values), 4) }} {{ spread.unit }}</span>
            <span class="soft"
              >mean, 95 % below {{ formatNumber(quantile(spread.values, 0.95), 4) }} {{ spread.unit }}</span
            >
          </figcaption>
          <svg width="300" height="64" viewBox="0 0 300 64" role="img" :aria-label="`Distribution of ${spread.name}`">
            <rect
              v-for="(bar, i) in bars(spread.values)"
              :key="i"
              :x="bar.x"
              :y="48 - bar.height"
              :width="bar.width"
              :height="bar.height"
            >
              <title>
                {{ counted(bar.count, 'run') }}, {{ formatNumber(bar.from, 4) }} to {{ formatNumber(bar.to, 4) }}
                {{ spread.unit }}
              </title>
            </rect>
            <line x1="0" x2="300" y1="48.5" y2="48.5" />
            <text x="0" y="60">{{ formatNumber(Math.min(...spread.values), 4) }}</text>
            <text x="300" y="60" text-anchor="end">
              {{ formatNumber(Math.max(...spread.values), 4) }} {{ spread.unit }}
            </text>
          </svg>
          <button type="button" class="plain link" :disabled="store.overtaken" @click="open(slowest(spread))">
            Open the largest
          </button>
        </figure>
      </div>
      <p v-if="worst">
        <ElButton type="primary" :disabled="store.overtaken" @click="open(worst)">Open the worst case</ElButton>
        run {{ worst.number + 1 }}: {{ worst.missed }} missed, longest cycle
        {{ worst.longestCycle === null ? '–' : formatQuantity(worst.longestCycle, 'time', machine.units) }}
        <span v-if="results.draw?.seed === worst.seed" class="soft">– shown now</span>
      </p>
    </template>
  </section>
</template>

<style scoped>
.many {
  overflow: auto;
  padding: 10px 12px;
  min-height: 0;
}
.wishes {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(135px, 1fr));
  gap: 8px;
  align-items: start;
}
.go {
  display: flex;
  gap: 10px;
  align-items: center;
  margin: 8px 0;
}
progress {
  width: 220px;
  accent-color: var(--primary);
}
.spreads {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(310px, 1fr));
  gap: 12px;
}
figure {
  margin: 0;
}
figure > .link {
  display: block;
}
figcaption .figures {
  margin-right: 6px;
}
figcaption {
  font: 13px var(--narrow);
}
rect {
  fill: var(--primary);
}
svg line {
  stroke: var(--line);
}
svg text {
  font: 11.5px var(--words);
  fill: var(--ink-soft);
}
.link {
  color: var(--primary);
  text-decoration: underline;
  font-size: 12.5px;
}
</style>
