<script setup lang="ts">
import { removeCue, usersOf, type Cue } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import ChoiceField from '@/components/ChoiceField.vue';
import ManyField from '@/components/ManyField.vue';
import NameField from '@/components/NameField.vue';
import QuantityField from '@/components/QuantityField.vue';
import ToggleField from '@/components/ToggleField.vue';
import { useCues } from '@/stores/cues';
import ActionFields from './ActionFields.vue';
import ConditionField from './ConditionField.vue';

/** One cue in full: after what, when, how it waits, what it does, and what happens if it is late. */
const props = defineProps<{ cue: Cue }>();
const cues = useCues();
const others = computed(() => (cues.sequence?.cues ?? []).filter(({ id }) => id !== props.cue.id));
const set = (label: string, change: (cue: Cue) => void) => cues.editCue(props.cue.id, label, change);
const whole = (value: number | null) =>
  value === null || (Number.isInteger(value) && value > 0) ? null : 'A whole number of 1 or more is needed.';

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
  <div class="cue-fields">
    <NameField :value="cue.name" label="Cue" :commit="(name) => set('name of a cue', (c) => void (c.name = name))" />
    <ToggleField :value="cue.on" label="On" @change="set('cue on or off', (c) => void (c.on = $event))" />
    <ManyField
      class="wide"
      :value="cue.after"
      label="After"
      :options="others"
      none="nothing: it starts the row"
      @choose="set('what a cue comes after', (c) => void (c.after = $event))"
    />
    <template v-if="cue.after.length > 0">
      <ChoiceField
        v-if="cue.after.length > 1"
        :value="cue.join"
        label="Joins"
        :options="[
          { value: 'all', label: 'all of them' },
          { value: 'any', label: 'any of them' },
        ]"
        @choose="set('join', (c) => void (c.join = $event))"
      />
      <NameField
        :value="cue.choice ?? ''"
        label="Alternative of"
        placeholder="none"
        :most="40"
        :commit="(v) => set('alternatives', (c) => void (c.choice = v === '' ? null : v))"
      />
    </template>
    <ConditionField
      class="wide"
      :value="cue.when"
      label="When"
      :placeholder="cue.after.length > 0 ? 'at once' : 'at the start'"
      :commit="(v) => set('condition', (c) => void (c.when = v))"
    />
    <QuantityField
      :value="cue.delay"
      kind="time"
      label="Delay"
      :min="0"
      :commit="(v) => set('delay', (c) => void (c.delay = v!))"
    />
    <QuantityField
      :value="cue.times"
      kind="number"
      label="Times at most"
      optional
      placeholder="no end"
      :commit="(v) => whole(v) ?? set('times', (c) => void (c.times = v))"
    />
    <QuantityField
      :value="cue.priority"
      kind="number"
      label="Priority"
      :min="-99"
      :max="99"
      :commit="(v) => set('priority', (c) => void (c.priority = Math.round(v!)))"
    />
    <hr class="wide" />
    <ActionFields class="wide" :cue="cue" />
    <hr class="wide" />
    <ChoiceField
      :value="cue.timeOut?.then ?? 'none'"
      label="If it takes too long"
      :options="[
        { value: 'none', label: 'it may wait' },
        { value: 'alarm', label: 'raise an alarm' },
        { value: 'stop', label: 'stop the cycle' },
        { value: 'emergency', label: 'emergency stop' },
        { value: 'cue', label: 'start another cue' },
      ]"
      @choose="setTimeOut"
    />
    <template v-if="cue.timeOut">
      <QuantityField
        :value="cue.timeOut.time"
        kind="time"
        label="Longer than"
        :commit="(v) => (v! > 0 ? set('time-out', (c) => void (c.timeOut!.time = v!)) : 'Must be greater than zero.')"
      />
      <ChoiceField
        :value="cue.timeOut.of"
        label="Counted for"
        :options="[
          { value: 'wait', label: 'its waiting' },
          { value: 'action', label: 'its action' },
        ]"
        @choose="set('time-out', (c) => void (c.timeOut!.of = $event))"
      />
      <ChoiceField
        v-if="cue.timeOut.then === 'cue'"
        :value="cue.timeOut.cue ?? ''"
        label="Cue"
        :options="others.map(({ id, name }) => ({ value: id, label: name }))"
        @choose="set('time-out', (c) => void (c.timeOut!.cue = $event))"
      />
    </template>
    <div class="wide actions">
      <ElButton :disabled="deleteProblem !== null" :title="deleteProblem ?? ''" @click="remove"
        >Delete the cue</ElButton
      >
      <span v-if="deleteProblem" class="soft">{{ deleteProblem }}</span>
    </div>
  </div>
</template>

<style scoped>
.cue-fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 7px 8px;
  align-items: start;
}
.wide {
  grid-column: 1 / -1;
}
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
