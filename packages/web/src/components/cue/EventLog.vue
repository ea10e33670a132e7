<script setup lang="ts">
import { causeLine, explainEvent, formatNumber, type CycleEventKind } from '@yoke/core';
import { computed, ref } from 'vue';
import { useCues, useCursor, useMachine } from '@/stores';

/** What happened, and by what: each line leads the cursor there. */
const machine = useMachine();
const cues = useCues();
const cursor = useCursor();
const wanted = ref<'all' | 'moves' | 'sensors' | 'parts'>('moves');
const KINDS: Record<'moves' | 'sensors' | 'parts', readonly CycleEventKind[]> = {
  moves: ['acts', 'alarm', 'blocked', 'fight', 'taken-over', 'time-out', 'emergency', 'stop', 'monitor', 'cycle'],
  sensors: ['sensor', 'pulse'],
  parts: ['released', 'held-back', 'took', 'let-go', 'slips', 'lost', 'gone', 'left'],
};
const MOST = 400;
const lines = computed(() => {
  const record = cues.record;
  const document = machine.document;
  if (!record || !document) return [];
  const kinds = wanted.value === 'all' ? null : KINDS[wanted.value];
  const events = record.events.filter(({ kind }) => kinds === null || kinds.includes(kind));
  // Around the cursor, where there are many.
  const here = events.findIndex(({ time }) => time >= cursor.time);
  const from = Math.max(0, Math.min(events.length - MOST, (here < 0 ? events.length : here) - MOST / 2));
  return events.slice(from, from + MOST).map((event) => ({
    event,
    text: explainEvent(event, document),
    causes: event.kind === 'acts' ? causeLine(record.events, event.index, record.moves, document, 4) : [],
  }));
});
</script>

<template>
  <div class="log">
    <nav aria-label="Kinds of events">
      <button
        v-for="kind in ['moves', 'sensors', 'parts', 'all'] as const"
        :key="kind"
        type="button"
        :aria-pressed="wanted === kind"
        @click="wanted = kind"
      >
        {{ { moves: 'Cues', sensors: 'Sensors', parts: 'Parts', all: 'Everything' }[kind] }}
      </button>
    </nav>
    <ol aria-label="Event log">
      <li
        v-for="{ event, text, causes } in lines"
        :key="event.index"
        :class="{ past: event.time <= cursor.time, here: Math.abs(event.time - cursor.time) < 1e-6 }"
      >
        <button type="button" class="plain" @click="cursor.stopAt(event.time)">
          <span class="figures">{{ formatNumber(event.time, 5) }}</span>
          <span v-if="causes.length > 1" class="chain">
            <template v-for="(cause, i) in causes" :key="cause.event"
              ><i v-if="i > 0" aria-hidden="true"> → </i>{{ cause.text }}</template
            >
          </span>
          <span v-else>{{ text }}</span>
        </button>
      </li>
    </ol>
    <p v-if="lines.length === 0" class="soft">Nothing has happened yet: events stand here when the cycle has run.</p>
  </div>
</template>

<style scoped>
.log {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  height: 100%;
  min-height: 0;
}
nav {
  display: flex;
  gap: 4px;
  margin-bottom: 3px;
}
nav button {
  border: 1px solid var(--line);
  border-radius: 9px;
  background: none;
  color: var(--ink-soft);
  font: 12px var(--words);
  padding: 0 8px;
  cursor: pointer;
}
nav button[aria-pressed='true'] {
  background: var(--sunken);
  color: var(--ink);
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  overflow: auto;
  font: 13px/1.35 var(--narrow);
}
li button {
  display: grid;
  grid-template-columns: 58px 1fr;
  gap: 6px;
  text-align: left;
  width: 100%;
  padding: 1px 4px;
  color: var(--ink-soft);
}
li.past button {
  color: var(--ink);
}
li.here button {
  background: color-mix(in srgb, var(--attention) 14%, transparent);
}
li button:hover {
  background: var(--sunken);
}
li .figures {
  font-size: 11px;
  text-align: right;
}
i {
  color: var(--primary);
  font-style: normal;
}
</style>
