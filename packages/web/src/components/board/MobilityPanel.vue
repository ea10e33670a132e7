<script setup lang="ts">
import { explainMechanismFinding, nameIn } from '@yoke/core';
import { computed } from 'vue';
import FindingsList from '@/components/FindingsList.vue';
import { useBoard, useMachine, useRun } from '@/stores';

/** What is free, what is driven, what is said twice, and what is missing first. */
const board = useBoard();
const machine = useMachine();
const results = useRun();

const mobility = computed(() => board.mobility);
/** Why the count and the true number of freedoms differ, in a word. */
const apart = computed(() => {
  const found = mobility.value;
  if (!found || found.count === found.free) return null;
  const more = found.free - found.count;
  return `The count takes every tie as if it held by itself. Here ${more === 1 ? 'one tie says' : `${more} ties say`} what others say already at these dimensions, so there ${more === 1 ? 'is one more freedom' : `are ${more} more freedoms`} than counted.`;
});
const findings = computed(() => {
  const own = board.prepared?.findings ?? [];
  // What only the run finds out follows what the drawing says already.
  const known = new Set(own.map((f) => JSON.stringify(f)));
  const late = results.stale
    ? []
    : (results.run?.mechanism?.findings ?? []).filter((f) => !known.has(JSON.stringify(f)));
  return [...own, ...late].map((finding) => ({
    severity: finding.severity,
    text: explainMechanismFinding(finding, machine.document!),
    time: 'time' in finding ? finding.time : undefined,
  }));
});
const modes = computed(() =>
  (mobility.value?.modes ?? []).map(({ bodies }, i) => ({
    index: i,
    text: bodies
      .slice(0, 3)
      .map((id) => nameIn(machine.document!, id))
      .join(', '),
  })),
);
</script>

<template>
  <section v-if="mobility" aria-label="Mobility">
    <dl class="facts">
      <dt title="3 for every moving body, less the equations of joints and couplings (Grübler–Kutzbach)">Count</dt>
      <dd>{{ mobility.count }}</dd>
      <dt title="From the rank of the equations at this pose">Freedoms</dt>
      <dd>{{ mobility.free }}</dd>
      <dt>Drives</dt>
      <dd>{{ mobility.drives }}</dd>
      <dt>Left free</dt>
      <dd>{{ mobility.remaining }}</dd>
    </dl>
    <p v-if="apart" class="why">{{ apart }}</p>
    <p v-for="mode in modes" :key="mode.index" class="mode">
      <button
        type="button"
        :aria-pressed="board.ghost === mode.index"
        @click="board.ghost = board.ghost === mode.index ? null : mode.index"
      >
        {{ board.ghost === mode.index ? 'Hide' : 'Show' }} how {{ mode.text }} can move
      </button>
    </p>
    <FindingsList :findings fine="It assembles, and every freedom is driven." />
  </section>
</template>

<style scoped>
.facts {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  grid-auto-flow: column;
  grid-template-rows: auto auto;
  margin: 0 0 8px;
  text-align: center;
}
dt {
  font: 12px var(--narrow);
  color: var(--ink-soft);
}
dd {
  margin: 0;
  font: 17px var(--words);
}
.why {
  font-size: 12.5px;
  color: var(--ink-soft);
  margin: 0 0 6px;
}
.mode {
  margin-bottom: 6px;
}
.mode button {
  border: 1px solid var(--line);
  border-radius: var(--radius);
  background: var(--panel);
  color: var(--primary);
  font: 12.5px var(--words);
  cursor: pointer;
  text-align: left;
}
</style>
