<script setup lang="ts">
import {
  cueNameFor,
  insertAfter,
  letCuesLead,
  mirrorMoves,
  newCue,
  splitMove,
  stagger,
  type CueAction,
} from '@yoke/core';
import { CopyPlus, FlipHorizontal2, ListPlus, Rows3, Scissors } from '@lucide/vue';
import { ElButton } from 'element-plus';
import { computed, ref } from 'vue';
import { useUntilChanged } from '@/composables/useUntilChanged';
import { useCues, useCursor, useMachine } from '@/stores';

/** What can be done with the chosen cues, in the sheet and over time alike. */
const machine = useMachine();
const cues = useCues();
const cursor = useCursor();
const message = ref('');
/** What there is to say of what was done. */
const said = useUntilChanged('');

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
  const led = axis && axis.motion.source.kind !== 'cues';
  message.value =
    cues.editMachine('a new cue', (m) => {
      const next = axis ? letCuesLead(m, axis.id) : m;
      const cue = newCue(next.sequence, cueNameFor(action, m), action);
      made = cue.id;
      return {
        ...next,
        sequence: last
          ? insertAfter(next.sequence, last, cue)
          : { ...next.sequence, cues: [...next.sequence.cues, cue] },
      };
    }) ?? '';
  said.value =
    led && message.value === ''
      ? `${axis.name} is led by cues from now on. The motion it had is put aside, as “${machine.axis!.alternatives.at(-1)?.name ?? ''}” in Move.`
      : '';
  if (made) cues.open(made);
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
  cues.open(made);
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
</script>

<template>
  <div>
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
    <p v-if="said" class="soft said" role="status">{{ said }}</p>
  </div>
</template>

<style scoped>
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
.said {
  margin: 2px 0 4px;
}
</style>
