<script setup lang="ts">
import { actionWords, conditionText, formatQuantity } from '@yoke/core';
import { computed } from 'vue';

import { useCues, useCursor, useMachine } from '@/stores';
import CueTools from './CueTools.vue';

/** The cue sheet: when → do, row by row. */
const machine = useMachine();
const cues = useCues();
const cursor = useCursor();
const rows = computed(() => {
  const document = machine.document!;
  const { sequence, units } = document;
  const nameOf = (id: string) => sequence.cues.find((c) => c.id === id)?.name ?? '…';
  return sequence.cues.map((cue) => ({
    cue,
    after: cue.after.length === 0 ? '' : cue.after.map(nameOf).join(cue.join === 'all' ? ' + ' : ' or '),
    when: conditionText(cue.when, document),
    delay: cue.delay > 0 ? formatQuantity(cue.delay, 'time', units) : '',
    does: actionWords(cue.action, document),
    runs: cues.record?.events.filter(({ kind, subject }) => kind === 'cue' && subject === cue.id) ?? [],
    now: isNow(cue.id),
  }));
});
function isNow(id: string): boolean {
  let on = false;
  for (const { kind, subject, time } of cues.record?.events ?? []) {
    if (time > cursor.time + 1e-9) break;
    if (subject === id && kind === 'cue') on = true;
    if (subject === id && kind === 'ended') on = false;
  }
  return on;
}

function move(id: string, by: number): void {
  cues.edit('order of cues', (s) => {
    const i = s.cues.findIndex((c) => c.id === id);
    const j = Math.max(0, Math.min(s.cues.length - 1, i + by));
    const [cue] = s.cues.splice(i, 1);
    s.cues.splice(j, 0, cue!);
    return s;
  });
}
</script>

<template>
  <section class="panel sheet" aria-label="Cue sheet">
    <CueTools />
    <div class="under-head">
      <table class="rows">
        <thead>
          <tr>
            <th data-word="Cue">Cue</th>
            <th>After</th>
            <th>When</th>
            <th class="number">Delay</th>
            <th>Do</th>
            <th class="number" title="How often it started in the last run">Ran</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="{ cue, after, when, delay, does, runs, now } in rows"
            :key="cue.id"
            :class="{ chosen: cues.chosen.includes(cue.id), off: !cue.on, now }"
            :aria-selected="cues.chosen.includes(cue.id)"
            @click="cues.choose(cue.id, $event.shiftKey || $event.ctrlKey || $event.metaKey)"
          >
            <td>
              <button
                type="button"
                class="plain name"
                @keydown.alt.up.prevent="move(cue.id, -1)"
                @keydown.alt.down.prevent="move(cue.id, 1)"
              >
                {{ cue.name }}
              </button>
            </td>
            <td class="soft">
              {{ after
              }}<span v-if="cue.choice" class="tag" title="Alternative: one of those with the same word runs">{{
                cue.choice
              }}</span>
            </td>
            <td>{{ when }}</td>
            <td class="number">{{ delay }}</td>
            <td>
              {{ does
              }}<span v-if="cue.timeOut" class="tag" title="Has a time-out"
                >≤ {{ formatQuantity(cue.timeOut.time, 'time', machine.units) }}</span
              >
            </td>
            <td class="number">
              <button
                v-if="runs.length > 0"
                type="button"
                class="plain link"
                :title="`First at ${formatQuantity(runs[0]!.time, 'time', machine.units)}`"
                @click.stop="cursor.stopAt(runs[0]!.time)"
              >
                {{ runs.length }}×
              </button>
              <span v-else class="soft">–</span>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="rows.length === 0" class="soft empty">
        No cue yet. A cue says <b>when → do</b>: add one for the chosen axis, then let others come after it. The
        seedling transplanter among the demos shows a whole sheet.
      </p>
    </div>
  </section>
</template>

<style scoped>
.sheet {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  padding: 8px 10px;
  min-height: 0;
}
tr.chosen td {
  background: var(--sunken);
}
tr.now td:first-child {
  box-shadow: inset 3px 0 var(--attention);
}
tr.off td {
  opacity: 0.5;
}
.name {
  font-weight: 500;
  text-align: left;
}
.tag {
  margin-left: 5px;
  padding: 0 5px;
  border: 1px solid var(--line);
  border-radius: 3px;
  font-size: 11.5px;
  color: var(--ink-soft);
  white-space: nowrap;
}
.link {
  color: var(--primary);
  text-decoration: underline;
}
.empty {
  padding: 18px;
  max-width: 520px;
}
td {
  font-size: 13.5px;
}
</style>
