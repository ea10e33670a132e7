<script setup lang="ts">
import { cueSchema, drawnFields, fieldsAt, removeCue, usersOf, type Cue } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import { ChoiceField, NameField, SchemaFields } from '@/components/fields';
import { useCues, useMachine } from '@/stores';
import ActionFields from './ActionFields.vue';
import ConditionField from './ConditionField.vue';

/** One cue in full: after what, when, how it waits, what it does, and what happens if it is late. */
const props = defineProps<{ cue: Cue }>();
const machine = useMachine();
const cues = useCues();
const others = computed(() => (cues.sequence?.cues ?? []).filter(({ id }) => id !== props.cue.id));
const set = (label: string, change: (cue: Cue) => void) => cues.editCue(props.cue.id, label, change);
const fields = computed(() => drawnFields(cueSchema, props.cue, machine.document!));
const some = (...places: string[]) => fieldsAt(fields.value, ...places);
const change = (make: (cue: Cue) => void, label: string) => set(label, make);

type TimeOutKind = 'none' | NonNullable<Cue['timeOut']>['then'];
function setTimeOut(then: TimeOutKind): void {
  set('time-out', (cue) => {
    const first = others.value[0]?.id ?? null;
    cue.timeOut =
      then === 'none'
        ? null
        : {
            of: cue.timeOut?.of ?? 'wait',
            time: cue.timeOut?.time ?? 2,
            then,
            cue: then === 'cue' ? (cue.timeOut?.cue ?? first) : null,
          };
  });
}
const users = computed(() => usersOf(cues.sequence!, props.cue.id));
function remove(): void {
  cues.edit('a cue less', (s) => removeCue(s, props.cue.id));
  cues.chosen = [];
}
const deleteProblem = computed(() => {
  const speaking = users.value.filter(
    (name) => !others.value.some((c) => c.name === name && c.after.includes(props.cue.id)),
  );
  return speaking.length > 0 ? `Conditions of ${speaking.join(', ')} speak of it.` : null;
});
</script>

<template>
  <div class="pairs">
    <NameField :value="cue.name" label="Cue" :commit="(name) => set('name of a cue', (c) => void (c.name = name))" />
    <SchemaFields :fields="some('on', 'after', 'join', 'choice')" :change />
    <ConditionField
      class="wide"
      :value="cue.when"
      label="When"
      :placeholder="cue.after.length > 0 ? 'at once' : 'at the start'"
      :commit="(v) => set('condition', (c) => void (c.when = v))"
    />
    <SchemaFields :fields="some('waits', 'delay', 'times', 'priority')" :change />
    <hr class="wide" />
    <ActionFields class="wide" :cue />
    <hr class="wide" />
    <ChoiceField
      :value="cue.timeOut?.then ?? 'none'"
      label="If it takes too long"
      :options="{
        none: 'it may wait',
        alarm: 'raise an alarm',
        stop: 'stop the cycle',
        emergency: 'emergency stop',
        cue: 'start another cue',
      }"
      @choose="setTimeOut"
    />
    <SchemaFields :fields="some('timeOut')" :change />
    <div class="wide actions">
      <ElButton :disabled="deleteProblem !== null" :title="deleteProblem ?? ''" @click="remove"
        >Delete the cue</ElButton
      >
      <span v-if="deleteProblem" class="soft">{{ deleteProblem }}</span>
    </div>
  </div>
</template>

<style scoped>
@import '@/style/pairs.css';
hr {
  border: 0;
  border-top: 1px solid var(--line-soft);
  width: 100%;
  margin: 2px 0;
}
.actions {
  display: flex;
  gap: 8px;
  align-items: center;
  font-size: 12.5px;
}
</style>
