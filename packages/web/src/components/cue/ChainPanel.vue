<script setup lang="ts">
import { explainEnd, explainLink, explainWaitingCues, formatQuantity } from '@yoke/core';
import { computed } from 'vue';
import { axisColour } from '@/lib/axis-look';
import { useCues, useCursor, useMachine } from '@/stores';

/** Cycle time, rate, waiting and overlap of each axis, and the chain that holds the cycle time. */
const machine = useMachine();
const cues = useCues();
const cursor = useCursor();
const q = (value: number) => formatQuantity(value, 'time', machine.units);
const mean = computed(() =>
  cues.cycleTimes.length > 0 ? cues.cycleTimes.reduce((sum, t) => sum + t, 0) / cues.cycleTimes.length : null,
);
const links = computed(() =>
  (cues.chain?.links ?? []).map((link) => ({
    link,
    text: explainLink(link, cues.record!.events, machine.document!),
    length: link.end - link.start,
  })),
);
const total = computed(() => (cues.chain ? cues.chain.end - cues.chain.start : 1));
const waiting = computed(() =>
  cues.record?.waiting ? explainWaitingCues(cues.record.waiting, machine.document!) : [],
);
/** Parts that were released, and what became of them. */
const parts = computed(() => {
  const fates = cues.record?.fates ?? [];
  const missing = new Set(
    (machine.document?.loose.sinks ?? []).filter(({ counts }) => counts === 'missed').map(({ id }) => id),
  );
  const gone = fates.filter(({ gone: at }) => at !== null);
  return {
    all: fates.length,
    done: gone.filter(({ sink }) => sink !== null && !missing.has(sink)).length,
    missed: gone.filter(({ sink }) => sink === null || missing.has(sink)).length,
  };
});
/** Cycles of the run, the last one too where it was over with its last cue. */
const cycles = computed(() => Math.max(0, (cues.record?.cycles.length ?? 0) - 1));
const nameOf = (id: string) => cues.sequence?.cues.find((c) => c.id === id)?.name ?? id;
function show(time: number, subject: string): void {
  cursor.stopAt(time);
  if (cues.sequence?.cues.some(({ id }) => id === subject)) cues.chosen = [subject];
}
</script>

<template>
  <div v-if="cues.record" class="chain">
    <dl class="facts">
      <div>
        <dt>Run</dt>
        <dd>{{ q(cues.record.duration) }}</dd>
      </div>
      <div v-if="cycles > 0">
        <dt>Cycles</dt>
        <dd>{{ cycles }}</dd>
      </div>
      <div v-if="mean !== null">
        <dt>Mean cycle</dt>
        <dd>{{ q(mean) }}</dd>
      </div>
      <div v-if="mean !== null">
        <dt>Rate</dt>
        <dd>{{ formatQuantity(60 / mean, 'number', machine.units, 4) }} /min</dd>
      </div>
      <div v-if="cues.cycleTimes.length > 1">
        <dt>Longest</dt>
        <dd>{{ q(Math.max(...cues.cycleTimes)) }}</dd>
      </div>
      <template v-if="parts.all > 0">
        <div>
          <dt>Parts</dt>
          <dd>{{ parts.all }}</dd>
        </div>
        <div v-if="parts.done > 0">
          <dt>Done</dt>
          <dd>{{ parts.done }}</dd>
        </div>
        <div v-if="parts.missed > 0">
          <dt>Missed</dt>
          <dd>{{ parts.missed }}</dd>
        </div>
      </template>
    </dl>
    <p class="soft">{{ explainEnd(cues.record.end, machine.document!) }}</p>
    <template v-if="waiting.length > 0 && (cues.record.end === 'waiting' || cues.record.end === 'longest')">
      <h3>What is waited for</h3>
      <ul class="waiting">
        <li v-for="entry in waiting" :key="entry.cue">
          <button type="button" class="plain link" @click="cues.chosen = [entry.cue]">{{ nameOf(entry.cue) }}</button>:
          {{ entry.text }}.
        </li>
      </ul>
    </template>
    <template v-if="links.length > 0">
      <h3>
        The <span data-word="Chain">chain</span> that holds
        <select
          v-if="cycles > 1"
          :value="cues.cycleShown ?? cycles - 1"
          aria-label="Cycle looked at"
          @change="cues.cycleShown = Number(($event.target as HTMLSelectElement).value)"
        >
          <option v-for="n in cycles" :key="n" :value="n - 1">
            cycle {{ n }}{{ n === cycles && cues.record.lastByRow ? ', to its last cue' : '' }}
          </option>
        </select>
        <template v-else>the cycle</template>, {{ q(total) }}
      </h3>
      <table class="rows" aria-label="Critical chain">
        <thead>
          <tr>
            <th>Link</th>
            <th class="number">Takes</th>
            <th
              class="number"
              title="By how much the cycle could be shorter at most if this link took no time; then another chain decides"
            >
              Could give
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="{ link, text, length } in links" :key="link.to">
            <td>
              <button type="button" class="plain" @click="show(link.start, link.subject)">{{ text }}</button>
              <span class="bar" :style="{ width: `${(100 * length) / total}%` }" :class="link.what" />
            </td>
            <td class="number">{{ q(length) }}</td>
            <td class="number">{{ q(link.gain) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
    <template v-if="cues.times.length > 0">
      <h3>Axes in that cycle</h3>
      <table class="rows">
        <thead>
          <tr>
            <th>Axis</th>
            <th class="number">Moves</th>
            <th class="number">Waits</th>
            <th class="number">Overlaps</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="time in cues.times" :key="time.axis">
            <td>
              <span
                class="swatch"
                :style="{ background: axisColour(machine.axes.find(({ id }) => id === time.axis) ?? { colour: 0 }) }"
              />{{ machine.axes.find(({ id }) => id === time.axis)?.name }}
            </td>
            <td class="number">{{ q(time.moving) }}</td>
            <td class="number">{{ q(time.waiting) }}</td>
            <td class="number">{{ q(time.overlapping) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </div>
  <p v-else class="soft">The cycle time and the chain that holds it stand here when the cycle has run.</p>
</template>

<style scoped>
.chain {
  overflow: auto;
  height: 100%;
}
.facts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin: 0 0 4px;
}
.facts dt {
  font: 12px var(--narrow);
  color: var(--ink-soft);
}
.facts dd {
  margin: 0;
  font: 14px var(--words);
}
h3 {
  margin: 9px 0 3px;
}
h3 select {
  font: inherit;
  color: inherit;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: var(--radius);
}
.waiting {
  margin: 0;
  padding-left: 16px;
  font-size: 13px;
}
.link {
  color: var(--primary);
  text-decoration: underline;
}
.bar {
  display: block;
  height: 3px;
  min-width: 1px;
  background: var(--primary);
  border-radius: 2px;
}
.bar.part,
.bar.sensor,
.bar.wait {
  background: var(--ink-soft);
}
.bar.delay {
  background: var(--attention);
}
.swatch {
  display: inline-block;
  width: 8px;
  height: 8px;
  border-radius: 2px;
  margin-right: 6px;
}
td button {
  text-align: left;
}
</style>
