<script setup lang="ts">
import {
  conditionText,
  formatQuantity,
  insertAfter,
  letCuesLead,
  mirrorMoves,
  newCue,
  splitMove,
  stagger,
  type CueAction,
} from '@yoke/core';
import { CopyPlus, FlipHorizontal2, ListPlus, Scissors, Rows3 } from '@lucide/vue';
import { ElButton } from 'element-plus';
import { computed, ref } from 'vue';
import { actionWords } from '@/lib/cue-words';
import { useCues } from '@/stores/cues';
import { useCursor } from '@/stores/cursor';
import { useMachine } from '@/stores/machine';

/** The cue sheet: when → do, row by row. */
const machine = useMachine();
const cues = useCues();
const cursor = useCursor();
const message = ref('');
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

/** A new cue behind the chosen one, or at the end; for the axis that is chosen. */
function add(): void {
  const axis = machine.axis;
  const action: CueAction = axis
    ? {
        do: 'move',
        axis: axis.id,
        given: 'to',
        value: axis.kind === 'linear' ? 0.1 : Math.PI / 2,
        time: 0.5,
        law: { id: 'modifiedSine' },
        velocity: null,
        acceleration: null,
        jerk: null,
      }
    : { do: 'wait', time: 0.5 };
  const last = cues.chosen.at(-1) ?? cues.sequence?.cues.at(-1)?.id;
  let made = '';
  message.value =
    cues.editMachine('a new cue', (m) => {
      const led = axis ? letCuesLead(m, axis.id) : m;
      const cue = newCue(led.sequence, axis ? `${axis.name} moves` : 'Wait', action);
      made = cue.id;
      return {
        ...led,
        sequence: last ? insertAfter(led.sequence, last, cue) : { ...led.sequence, cues: [...led.sequence.cues, cue] },
      };
    }) ?? '';
  if (made) cues.chosen = [made];
}
/** A cue side by side with the chosen one. */
function addBeside(): void {
  const beside = cues.cue;
  if (!beside) return;
  let made = '';
  cues.edit('a cue beside', (s) => {
    const cue = newCue(s, `${beside.name} beside`, { do: 'wait', time: 0.5 }, beside.after);
    made = cue.id;
    s.cues.splice(s.cues.findIndex(({ id }) => id === beside.id) + 1, 0, { ...cue, join: beside.join });
    return s;
  });
  cues.chosen = [made];
}
const canSplit = computed(
  () => cues.chosen.length === 1 && cues.cue?.action.do === 'move' && cues.acted.has(cues.cue.id),
);
function split(): void {
  const cue = cues.cue!;
  const span = cues.acted.get(cue.id)!;
  if (cue.action.do !== 'move') return;
  const target = cue.action.given === 'to' ? cue.action.value : span.start + cue.action.value;
  const inside =
    cursor.time > span.from && cursor.time < span.to ? (cursor.time - span.from) / (span.to - span.from) : 0.5;
  message.value = cues.edit('a wait put into a move', (s) => splitMove(s, cue.id, span, target, inside, 0.2)) ?? '';
}
const canMirror = computed(() => cues.chosen.length > 0 && cues.chosen.every((id) => cues.acted.has(id)));
function mirror(): void {
  message.value = cues.edit('the way back by mirroring', (s) => mirrorMoves(s, cues.chosen, cues.acted)) ?? '';
}
function staggerChosen(): void {
  const inOrder = (cues.sequence?.cues ?? []).filter(({ id }) => cues.chosen.includes(id)).map(({ id }) => id);
  message.value = cues.edit('staggered cues', (s) => stagger(s, inOrder, 0.1)) ?? '';
}
function show(time: number): void {
  cursor.pause();
  cursor.moveTo(time);
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
    <header>
      <ElButton type="primary" @click="add"><ListPlus :size="15" /> Add a cue</ElButton>
      <ElButton :disabled="!cues.cue" title="Starts along with the chosen one" @click="addBeside"
        ><CopyPlus :size="15" /> Beside it</ElButton
      >
      <ElButton
        :disabled="!canSplit"
        title="Puts a wait into the chosen move, at the cursor or in its middle"
        @click="split"
        ><Scissors :size="15" /> Split</ElButton
      >
      <ElButton :disabled="!canMirror" title="Makes the way back of the chosen moves" @click="mirror"
        ><FlipHorizontal2 :size="15" /> Mirror</ElButton
      >
      <ElButton
        :disabled="cues.chosen.length < 2"
        title="Starts the chosen cues one after the other, 100 ms apart"
        @click="staggerChosen"
        ><Rows3 :size="15" /> Stagger</ElButton
      >
      <span v-if="cues.chosen.length > 1" class="soft">{{ cues.chosen.length }} chosen</span>
      <span v-else class="soft">Shift or Ctrl and click chooses several.</span>
    </header>
    <p v-if="message" class="bad" role="alert">{{ message }}</p>
    <div class="scroll">
      <table class="rows">
        <thead>
          <tr>
            <th>Cue</th>
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
                @click.stop="show(runs[0]!.time)"
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
  grid-template-rows: auto auto minmax(0, 1fr);
  padding: 8px 10px;
  min-height: 0;
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  font-size: 12.5px;
  margin-bottom: 4px;
}
header :deep(.el-button) {
  margin: 0;
  padding: 5px 9px;
}
header :deep(.el-button span) {
  display: inline-flex;
  gap: 5px;
  align-items: center;
}
.scroll {
  grid-row: 3;
  overflow: auto;
  min-height: 0;
}
thead th {
  position: sticky;
  top: 0;
  background: var(--panel);
  z-index: 1;
}
tbody tr {
  cursor: pointer;
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
