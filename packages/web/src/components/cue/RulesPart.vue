<script setup lang="ts">
import { drawnFields, fieldsAt, freeId, sequenceSchema, type Interlock, type Sequence } from '@yoke/core';
import { Plus } from '@lucide/vue';
import { computed, ref } from 'vue';
import { IconButton, QuantityField, SchemaFields } from '@/components/fields';
import { useCues, useMachine } from '@/stores';
import ClearanceCurve from './ClearanceCurve.vue';
import ConditionField from './ConditionField.vue';
import RuleItem from './RuleItem.vue';

/** What holds for the whole sheet: the cycle, the controller, the emergency stop, interlocks and monitors. */
const machine = useMachine();
const cues = useCues();
const message = ref('');
const sequence = computed(() => cues.sequence!);
const all = computed(() => drawnFields(sequenceSchema, sequence.value, machine.document!));
const fields = (...places: string[]) => fieldsAt(all.value, ...places);
const change = (make: (sequence: Sequence) => void, label: string) => cues.edit(label, (s) => (make(s), s));
const positive = (value: number | null, change: (value: number) => string | null) =>
  value! > 0 ? change(value!) : 'Must be greater than zero.';
const setLock = (id: string, change: (lock: Interlock) => void) =>
  cues.edit('interlock', (s) => (change(s.interlocks.find((l) => l.id === id)!), s));

function addLock(): void {
  const first = sequence.value.cues[0];
  if (!first) {
    message.value = 'An interlock forbids cues: add one first.';
    return;
  }
  message.value = cues.edit('a new interlock', (s) => ({ ...s, interlocks: [...s.interlocks, { id: freeId('l', s.interlocks.map((l) => l.id)), name: freeId('Interlock ', s.interlocks.map((l) => l.name)), forbids: [first.id], during: { op: 'time', at: 1e4 }, reason: 'Say here why it may not start.' }] })) ?? ''; // prettier-ignore
}
function addMonitor(): void {
  const [a, b] = machine.document!.mechanism.bodies;
  if (!a) {
    message.value = 'A monitor watches bodies: draw them in Build first.';
    return;
  }
  message.value = cues.edit('a new monitor', (s) => ({ ...s, monitors: [...s.monitors, { id: freeId('w', s.monitors.map((m) => m.id)), name: freeId('Clearance ', s.monitors.map((m) => m.name)), a: a.id, b: b?.id ?? 'ground', shapes: 'exact', least: 0.005, stop: false }] })) ?? ''; // prettier-ignore
}
function addSpacing(): void {
  const [a, b] = machine.axes.filter(({ kind }) => kind === 'linear');
  if (!a || !b) {
    message.value = 'Two linear axes are needed that run on one line: add them in Build.';
    return;
  }
  message.value = cues.edit('a new spacing', (s) => {
    const all = s.spacings ?? [];
    const made = { id: freeId('d', all.map((own) => own.id)), name: freeId('Spacing ', all.map((own) => own.name)), a: a.id, b: b.id, apart: 0.2, least: 0.01, stop: false }; // prettier-ignore
    return { ...s, spacings: [...all, made] };
  }) ?? ''; // prettier-ignore
}
</script>

<template>
  <section class="panel rules" aria-label="Rules">
    <p v-if="message" class="bad" role="alert">{{ message }}</p>
    <h3>The cycle</h3>
    <div class="grid">
      <SchemaFields :fields="fields('cycle', 'seed')" :change />
      <QuantityField
        :value="machine.document!.loose.step"
        kind="time"
        label="Step of contacts"
        :commit="(v) => positive(v, (t) => machine.edit('step of contacts', (m) => void (m.loose.step = t)))"
      />
    </div>
    <h3>The controller</h3>
    <div class="grid">
      <SchemaFields :fields="fields('controller')" :change />
    </div>
    <h3>Emergency stop</h3>
    <div class="grid">
      <ConditionField
        class="two"
        :value="sequence.emergency.when"
        label="When"
        placeholder="never"
        :commit="(v) => cues.edit('emergency stop', (s) => ((s.emergency.when = v), s))"
      />
      <SchemaFields :fields="fields('emergency')" :change />
    </div>
    <h3>
      <span data-word="Interlock">Interlocks</span>
      <IconButton :icon="Plus" :size="14" aria-label="Add an interlock" title="Add an interlock" @click="addLock" />
    </h3>
    <RuleItem v-for="lock in sequence.interlocks" :key="lock.id" list="interlocks" :rule="lock">
      <ConditionField
        class="two"
        :value="lock.during"
        label="While"
        :commit="(v) => (v ? setLock(lock.id, (l) => void (l.during = v)) : 'Write while what it forbids them.')"
      />
    </RuleItem>
    <h3>
      Clearances and interference
      <IconButton :icon="Plus" :size="14" aria-label="Add a monitor" title="Add a monitor" @click="addMonitor" />
    </h3>
    <RuleItem v-for="monitor in sequence.monitors" :key="monitor.id" list="monitors" :rule="monitor">
      <template #below><ClearanceCurve :monitor /></template>
    </RuleItem>
    <h3>
      Axes on one line
      <IconButton
        :icon="Plus"
        :size="14"
        aria-label="Add a spacing of two axes"
        title="Add a spacing of two axes"
        @click="addSpacing"
      />
    </h3>
    <RuleItem v-for="spacing in sequence.spacings ?? []" :key="spacing.id" list="spacings" :rule="spacing">
      <template #below><ClearanceCurve :monitor="spacing" /></template>
    </RuleItem>
  </section>
</template>

<style scoped>
.rules {
  overflow: auto;
  min-height: 0;
  padding: 8px 12px;
}
h3 {
  display: flex;
  align-items: center;
  gap: 4px;
  margin: 12px 0 4px;
}
h3:first-of-type {
  margin-top: 0;
}
.grid {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 7px 8px;
  align-items: start;
}
.two {
  grid-column: span 2;
}
</style>
