<script setup lang="ts">
import { ConditionError, conditionText, parseCondition, SAYINGS, type Condition } from '@yoke/core';
import { computed, ref, useId, watch } from 'vue';
import { useMachine } from '@/stores';

/** A condition typed in words; what cannot be read stays, with the place and the reason below. */
const props = defineProps<{
  value: Condition | null;
  label: string;
  bare?: boolean;
  placeholder?: string;
  commit: (value: Condition | null) => string | null;
}>();
const machine = useMachine();
const id = useId();
const input = ref<HTMLInputElement>();
const shown = computed(() => (machine.document ? conditionText(props.value, machine.document) : ''));
const text = ref('');
const error = ref<{ message: string; wrong: string } | null>(null);
watch(
  shown,
  (value) => {
    text.value = value;
    error.value = null;
  },
  { immediate: true },
);

function take(): void {
  if (!machine.document || text.value === shown.value) return;
  try {
    const message = props.commit(parseCondition(text.value, machine.document));
    error.value = message === null ? null : { message, wrong: '' };
    if (message === null) text.value = shown.value;
  } catch (problem) {
    if (!(problem instanceof ConditionError)) throw problem;
    error.value = { message: problem.message, wrong: text.value.slice(problem.from, problem.to) };
  }
}

/** Terms that could be put in: everything with a name, with what can be said of it. */
const groups = computed(() => {
  const document = machine.document;
  if (!document) return [];
  const { sensors, cues, flags } = document.sequence;
  return [
    { label: 'Sensors', items: sensors.flatMap(({ name }) => SAYINGS.sensor.map((say) => `${name} ${say}`)) },
    { label: 'Flags', items: flags.flatMap(({ name }) => SAYINGS.flag.map((say) => `${name} ${say}`)) },
    { label: 'Cues', items: cues.flatMap(({ name }) => SAYINGS.cue.map((say) => `${name} ${say}`)) },
    { label: 'Axes', items: document.axes.flatMap(({ name }) => SAYINGS.axis.map((say) => `${name} ${say}`)) },
    {
      label: 'Grippers',
      items: document.loose.grippers.flatMap(({ name }) => SAYINGS.gripper.map((say) => `${name} ${say}`)),
    },
    { label: 'Time', items: ['time 1 s'] },
  ].filter(({ items }) => items.length > 0);
});
function insert(event: Event): void {
  const select = event.target as HTMLSelectElement;
  const term = select.value;
  select.value = '';
  text.value = text.value.trim() === '' ? term : `${text.value.trim()} and ${term}`;
  take();
  input.value?.focus();
}
</script>

<template>
  <div class="condition">
    <label :for="id" class="field-label" :class="{ 'visually-hidden': bare }">{{ label }}</label>
    <div class="line" :class="{ wrong: error }">
      <input
        :id
        ref="input"
        v-model="text"
        type="text"
        spellcheck="false"
        autocomplete="off"
        :placeholder="placeholder ?? ''"
        :aria-invalid="error !== null"
        @change="take"
        @keydown.enter="take"
        @keydown.esc="((text = shown), (error = null))"
      />
      <select :aria-label="`Put a term into: ${label}`" title="Put a term in" @change="insert">
        <option value="" selected>+</option>
        <optgroup v-for="group in groups" :key="group.label" :label="group.label">
          <option v-for="item in group.items" :key="item" :value="item">{{ item }}</option>
        </optgroup>
      </select>
    </div>
    <p v-if="error" class="bad" role="alert">
      <mark v-if="error.wrong">{{ error.wrong }}</mark> {{ error.message }}
    </p>
  </div>
</template>

<style scoped>
.line {
  display: flex;
  border: 1px solid var(--line);
  border-radius: var(--radius);
  background: var(--panel);
}
.line.wrong {
  border-color: var(--bad);
}
.line:focus-within {
  outline: 2px solid var(--attention);
  outline-offset: 1px;
}
input {
  flex: 1;
  min-width: 0;
  border: 0;
  background: none;
  color: var(--ink);
  font: 13px var(--narrow);
  padding: 4px 8px;
  outline: none;
}
select {
  width: 30px;
  border: 0;
  border-left: 1px solid var(--line-soft);
  background: var(--panel);
  color: var(--ink-soft);
  font: 13px var(--words);
}
.bad {
  font-size: 12.5px;
}
mark {
  background: var(--bad-soft);
  color: var(--bad);
}
</style>
