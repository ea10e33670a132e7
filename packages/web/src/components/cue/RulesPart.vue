<script setup lang="ts">
import { freeId, formatQuantity, type Interlock, type Monitor } from '@yoke/core';
import { Plus, Trash2 } from '@lucide/vue';
import { computed, ref } from 'vue';
import ChoiceField from '@/components/ChoiceField.vue';
import IconButton from '@/components/IconButton.vue';
import ManyField from '@/components/ManyField.vue';
import NameField from '@/components/NameField.vue';
import QuantityField from '@/components/QuantityField.vue';
import ToggleField from '@/components/ToggleField.vue';
import { useCues } from '@/stores/cues';
import { useCursor } from '@/stores/cursor';
import { useMachine } from '@/stores/machine';
import ConditionField from './ConditionField.vue';

/** What holds for the whole sheet: the cycle, the controller, the emergency stop, interlocks and monitors. */
const machine = useMachine();
const cues = useCues();
const cursor = useCursor();
const message = ref('');
const sequence = computed(() => cues.sequence!);
const list = (items: readonly { id: string; name: string }[]) =>
  items.map(({ id, name }) => ({ value: id, label: name }));
const bodies = computed(() => [
  { value: 'ground', label: 'Ground (chutes, ramps, stops)' },
  ...list(machine.document!.mechanism.bodies),
]);
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
function show(time: number): void {
  cursor.pause();
  cursor.moveTo(time);
}
</script>

<template>
  <section class="panel rules" aria-label="Rules">
    <p v-if="message" class="bad" role="alert">{{ message }}</p>
    <h3>The cycle</h3>
    <div class="grid">
      <ChoiceField
        :value="sequence.cycle.starts ?? ''"
        label="Begins with the cue"
        :options="[{ value: '', label: 'the first that runs' }, ...list(sequence.cues)]"
        @choose="cues.edit('what begins a cycle', (s) => ((s.cycle.starts = $event === '' ? null : $event), s))"
      />
      <QuantityField
        :value="sequence.cycle.cycles"
        kind="number"
        label="Ends after cycles"
        optional
        placeholder="at a stop"
        :commit="
          (v) =>
            v === null || v >= 1
              ? cues.edit('cycles', (s) => ((s.cycle.cycles = v === null ? null : Math.round(v)), s))
              : 'At least 1.'
        "
      />
      <QuantityField
        :value="sequence.cycle.most"
        kind="time"
        label="Longest run"
        :commit="(v) => positive(v, (t) => cues.edit('longest run', (s) => ((s.cycle.most = t), s)))"
      />
      <QuantityField
        :value="sequence.seed"
        kind="number"
        label="Seed of scatter"
        :min="0"
        :commit="(v) => cues.edit('seed', (s) => ((s.seed = Math.round(v!)), s))"
      />
      <QuantityField
        :value="machine.document!.loose.step"
        kind="time"
        label="Step of contacts"
        :commit="(v) => positive(v, (t) => machine.edit('step of contacts', (m) => void (m.loose.step = t)))"
      />
    </div>
    <h3>The controller</h3>
    <div class="grid">
      <QuantityField
        :value="sequence.controller.scan"
        kind="time"
        label="Scan"
        optional
        placeholder="reacts at once"
        :commit="
          (v) =>
            v === null || v > 0 ? cues.edit('scan', (s) => ((s.controller.scan = v), s)) : 'Must be greater than zero.'
        "
      />
      <QuantityField
        :value="sequence.controller.inputDelay"
        kind="time"
        label="Input delay"
        :min="0"
        :commit="(v) => cues.edit('input delay', (s) => ((s.controller.inputDelay = v!), s))"
      />
      <QuantityField
        :value="sequence.controller.outputDelay"
        kind="time"
        label="Output delay"
        :min="0"
        :commit="(v) => cues.edit('output delay', (s) => ((s.controller.outputDelay = v!), s))"
      />
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
      <QuantityField
        :value="sequence.emergency.ramp"
        kind="time"
        label="Everything rests in"
        :commit="(v) => positive(v, (t) => cues.edit('emergency ramp', (s) => ((s.emergency.ramp = t), s)))"
      />
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
      <ManyField
        class="two"
        :value="lock.forbids"
        label="Forbids"
        :options="sequence.cues"
        @choose="
          message =
            ($event.length > 0
              ? setLock(lock.id, (l) => void (l.forbids = $event))
              : 'An interlock forbids at least one cue.') ?? ''
        "
      />
      <ConditionField
        class="two"
        :value="lock.during"
        label="While"
        :commit="(v) => (v ? setLock(lock.id, (l) => void (l.during = v)) : 'Write while what it forbids them.')"
      />
      <NameField
        class="two"
        :value="lock.reason"
        label="Reason shown"
        :most="200"
        :commit="(reason) => setLock(lock.id, (l) => void (l.reason = reason))"
      />
      <IconButton
        :icon="Trash2"
        :size="14"
        :aria-label="`Delete ${lock.name}`"
        title="Delete"
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
      <ChoiceField
        :value="monitor.a"
        label="Between"
        :options="bodies"
        @choose="message = setMonitor(monitor.id, (m) => void (m.a = $event)) ?? ''"
      />
      <ChoiceField
        :value="monitor.b"
        label="and"
        :options="bodies"
        @choose="message = setMonitor(monitor.id, (m) => void (m.b = $event)) ?? ''"
      />
      <ChoiceField
        :value="monitor.shapes"
        label="Shapes"
        :options="[
          { value: 'coarse', label: 'hulls (coarse)' },
          { value: 'exact', label: 'as drawn (exact)' },
        ]"
        @choose="setMonitor(monitor.id, (m) => void (m.shapes = $event))"
      />
      <QuantityField
        :value="monitor.least"
        kind="length"
        label="At least (0: no touch)"
        :min="0"
        :commit="(v) => setMonitor(monitor.id, (m) => void (m.least = v!))"
      />
      <ToggleField
        :value="monitor.stop"
        label="Stops the run"
        @change="setMonitor(monitor.id, (m) => void (m.stop = $event))"
      />
      <IconButton
        :icon="Trash2"
        :size="14"
        :aria-label="`Delete ${monitor.name}`"
        title="Delete"
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
        <button type="button" class="plain link" @click="show(curves[monitor.id]!.curve.least.time)">
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
