<script setup lang="ts">
import {
  drawnFields,
  fieldsAt,
  formatQuantity,
  freeId,
  interlockSchema,
  monitorSchema,
  sequenceSchema,
  type Interlock,
  type Monitor,
  type Sequence,
} from '@yoke/core';
import { Plus } from '@lucide/vue';
import { computed, ref } from 'vue';
import { DeleteButton, IconButton, NameField, QuantityField, SchemaFields } from '@/components/fields';
import { useCues, useCursor, useMachine } from '@/stores';
import ConditionField from './ConditionField.vue';

/** What holds for the whole sheet: the cycle, the controller, the emergency stop, interlocks and monitors. */
const machine = useMachine();
const cues = useCues();
const cursor = useCursor();
const message = ref('');
const sequence = computed(() => cues.sequence!);
const all = computed(() => drawnFields(sequenceSchema, sequence.value, machine.document!));
const fields = (...places: string[]) => fieldsAt(all.value, ...places);
const change = (make: (sequence: Sequence) => void, label: string) => cues.edit(label, (s) => (make(s), s));
const positive = (value: number | null, change: (value: number) => string | null) =>
  value! > 0 ? change(value!) : 'Must be greater than zero.';
const setLock = (id: string, change: (lock: Interlock) => void) =>
  cues.edit('interlock', (s) => (change(s.interlocks.find((l) => l.id === id)!), s));
const setMonitor = (id: string, change: (monitor: Monitor) => void) =>
  cues.edit('monitor', (s) => (change(s.monitors.find((m) => m.id === id)!), s));

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
const curves = computed(() =>
  Object.fromEntries(
    (cues.record?.clearances ?? []).map((curve) => {
      const { times, clearance, least } = curve;
      const high = clearance.reduce((most, v) => Math.max(most, v), 0) || 1;
      const low = Math.min(0, least.clearance);
      const end = times.at(-1) ?? 1;
      const step = Math.max(1, Math.floor(times.length / 300));
      let d = '';
      for (let i = 0; i < times.length; i += step)
        d += `${d ? 'L' : 'M'}${((times[i]! / end) * 300).toFixed(1)} ${(38 - ((clearance[i]! - low) / (high - low)) * 34).toFixed(1)}`;
      return [
        curve.monitor,
        { d, curve, zero: 38 - ((0 - low) / (high - low)) * 34, cursor: (cursor.time / end) * 300 },
      ];
    }),
  ),
);
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
      Interlocks
      <IconButton :icon="Plus" :size="14" aria-label="Add an interlock" title="Add an interlock" @click="addLock" />
    </h3>
    <div v-for="lock in sequence.interlocks" :key="lock.id" class="item">
      <NameField
        :value="lock.name"
        label="Interlock"
        :commit="(name) => setLock(lock.id, (l) => void (l.name = name))"
      />
      <ConditionField
        class="two"
        :value="lock.during"
        label="While"
        :commit="(v) => (v ? setLock(lock.id, (l) => void (l.during = v)) : 'Write while what it forbids them.')"
      />
      <SchemaFields
        :fields="drawnFields(interlockSchema, lock, machine.document!)"
        :change="(change: (lock: Interlock) => void) => setLock(lock.id, change)"
      />
      <DeleteButton
        :label="`Delete ${lock.name}`"
        @click="
          cues.edit('an interlock less', (s) => ({ ...s, interlocks: s.interlocks.filter((l) => l.id !== lock.id) }))
        "
      />
    </div>
    <h3>
      Clearances and interference
      <IconButton :icon="Plus" :size="14" aria-label="Add a monitor" title="Add a monitor" @click="addMonitor" />
    </h3>
    <div v-for="monitor in sequence.monitors" :key="monitor.id" class="item">
      <NameField
        :value="monitor.name"
        label="Monitor"
        :commit="(name) => setMonitor(monitor.id, (m) => void (m.name = name))"
      />
      <SchemaFields
        :fields="drawnFields(monitorSchema, monitor, machine.document!)"
        :change="(change: (monitor: Monitor) => void) => setMonitor(monitor.id, change)"
      />
      <DeleteButton
        :label="`Delete ${monitor.name}`"
        @click="cues.edit('a monitor less', (s) => ({ ...s, monitors: s.monitors.filter((m) => m.id !== monitor.id) }))"
      />
      <div v-if="curves[monitor.id]" class="curve">
        <svg
          viewBox="0 0 300 42"
          preserveAspectRatio="none"
          width="300"
          height="42"
          role="img"
          :aria-label="`Clearance over the run: ${monitor.name}`"
        >
          <line class="zero" x1="0" x2="300" :y1="curves[monitor.id]!.zero" :y2="curves[monitor.id]!.zero" />
          <path :d="curves[monitor.id]!.d" />
          <line class="now" :x1="curves[monitor.id]!.cursor" :x2="curves[monitor.id]!.cursor" y1="0" y2="42" />
        </svg>
        <button type="button" class="plain link" @click="cursor.stopAt(curves[monitor.id]!.curve.least.time)">
          least {{ formatQuantity(curves[monitor.id]!.curve.least.clearance, 'length', machine.units, 4) }} at
          {{ formatQuantity(curves[monitor.id]!.curve.least.time, 'time', machine.units) }}
        </button>
      </div>
    </div>
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
.grid,
.item {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 7px 8px;
  align-items: start;
}
.item {
  border: 1px solid var(--line-soft);
  border-radius: var(--radius);
  padding: 7px 9px;
  margin-bottom: 6px;
}
.item > .icon-button {
  justify-self: end;
  align-self: end;
}
.two {
  grid-column: span 2;
}
.curve {
  grid-column: 1 / -1;
  display: flex;
  gap: 10px;
  align-items: center;
}
.curve path {
  fill: none;
  stroke: var(--primary);
  stroke-width: 1.4;
}
.zero {
  stroke: var(--bad);
  stroke-dasharray: 3 3;
}
.now {
  stroke: var(--attention);
}
.link {
  color: var(--primary);
  text-decoration: underline;
}
</style>
