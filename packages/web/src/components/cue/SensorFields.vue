<script setup lang="ts">
import { AXIS_KINDS, type Sensing, type Sensor, type SensorKind } from '@yoke/core';
import { computed } from 'vue';
import ChoiceField from '@/components/ChoiceField.vue';
import ManyField from '@/components/ManyField.vue';
import NameField from '@/components/NameField.vue';
import QuantityField from '@/components/QuantityField.vue';
import ToggleField from '@/components/ToggleField.vue';
import { put, type KeyOf, type ValueOf } from '@/lib/put';
import { useCues } from '@/stores/cues';
import { useMachine } from '@/stores/machine';

/** What a sensor senses, and what becomes of its signal. */
const props = defineProps<{ sensor: Sensor }>();
const machine = useMachine();
const cues = useCues();
const sensing = computed(() => props.sensor.sensing);
const bodies = computed(() => [
  { value: 'ground', label: 'Ground' },
  ...machine.document!.mechanism.bodies.map(({ id, name }) => ({ value: id, label: name })),
]);
const list = (items: readonly { id: string; name: string }[]) =>
  items.map(({ id, name }) => ({ value: id, label: name }));
const axis = computed(() =>
  'axis' in sensing.value ? machine.axes.find(({ id }) => id === (sensing.value as { axis: string }).axis) : undefined,
);
const kinds = computed(() => AXIS_KINDS[axis.value?.kind ?? 'linear']);
const set = (change: (sensor: Sensor) => void) =>
  cues.edit('a sensor', (s) => {
    const found = s.sensors.find(({ id }) => id === props.sensor.id);
    if (found) change(found);
    return s;
  });
const putField = <K extends KeyOf<Sensing>>(key: K, value: ValueOf<Sensing, K> | null) =>
  set((s) => put(s.sensing, key, value));
const place = (key: 'from' | 'to', i: 0 | 1) => (value: number | null) =>
  set((s) => void ('from' in s.sensing && (s.sensing[key][i] = value!)));
const hysteresisKind = computed(() => {
  const { value } = sensing;
  if (value.kind === 'position') return value.quantity === 'position' ? kinds.value.position : kinds.value.velocity;
  if (value.kind === 'force') return kinds.value.effort;
  return 'length' as const;
});
const presses = computed(() =>
  sensing.value.kind === 'button' ? sensing.value.presses.map(({ at, hold }) => `${at} for ${hold}`).join(', ') : '',
);
function setPresses(text: string): string | null {
  if (text === '') return putField('presses', []);
  const list = text.split(',').map((part) => /^([\d.]+)\s*(?:s\s*)?(?:for\s*([\d.]+)\s*s?)?$/.exec(part.trim()));
  if (list.some((match) => match === null)) return 'Write times in seconds, as “0.5 for 0.2, 3 for 0.2”.';
  return putField(
    'presses',
    list.map((match) => ({ at: Number(match![1]), hold: Number(match![2] ?? 0.2) })),
  );
}
const countOf = computed(() => (sensing.value.kind === 'count' ? sensing.value.of : null));
const counted = computed(() =>
  countOf.value
    ? countOf.value.what === 'sensor'
      ? countOf.value.sensor
      : countOf.value.what === 'cue'
        ? countOf.value.cue
        : countOf.value.sink
    : '',
);
const countable = computed(() => {
  const { sequence, loose } = machine.document!;
  return [
    ...sequence.cues.map(({ id, name }) => ({ value: `cue ${id}`, label: `ends of ${name}` })),
    ...sequence.sensors
      .filter(({ id }) => id !== props.sensor.id)
      .map(({ id, name }) => ({ value: `sensor ${id}`, label: `${name} comes on` })),
    ...loose.sinks.map(({ id, name }) => ({ value: `sink ${id}`, label: `parts in ${name}` })),
  ];
});
function setCounted(choice: string): void {
  const [what, id = ''] = choice.split(' ');
  if (what === 'cue') putField('of', { what, cue: id });
  else if (what === 'sensor') putField('of', { what, sensor: id });
  else putField('of', { what: 'sink', sink: id });
}
const seesParts = (kind: SensorKind) => kind === 'beam' || kind === 'area' || kind === 'proximity';
</script>

<template>
  <div class="sensor-fields">
    <template v-if="'from' in sensing">
      <QuantityField :value="sensing.from[0]" kind="length" label="From x" :commit="place('from', 0)" />
      <QuantityField :value="sensing.from[1]" kind="length" label="From y" :commit="place('from', 1)" />
      <QuantityField :value="sensing.to[0]" kind="length" label="To x" :commit="place('to', 0)" />
      <QuantityField :value="sensing.to[1]" kind="length" label="To y" :commit="place('to', 1)" />
      <ChoiceField :value="sensing.body" label="Sits on" :options="bodies" @choose="putField('body', $event)" />
      <ManyField
        v-if="seesParts(sensing.kind)"
        :value="sensing.sees"
        label="Sees"
        :options="machine.document!.loose.kinds"
        none="every part"
        @choose="putField('sees', $event)"
      />
    </template>
    <template v-if="sensing.kind === 'proximity'">
      <QuantityField
        :value="sensing.distance"
        kind="length"
        label="Within"
        :commit="(v) => (v! > 0 ? putField('distance', v) : 'Must be greater than zero.')"
      />
      <ToggleField :value="sensing.parts" label="Sees parts" @change="putField('parts', $event)" />
      <ManyField
        class="wide"
        :value="sensing.bodies"
        label="Bodies it sees"
        :options="machine.document!.mechanism.bodies"
        @choose="putField('bodies', $event)"
      />
    </template>
    <template v-else-if="sensing.kind === 'position' || sensing.kind === 'force'">
      <ChoiceField
        :value="sensing.axis"
        label="Axis"
        :options="list(machine.axes)"
        @choose="putField('axis', $event)"
      />
      <ChoiceField
        v-if="sensing.kind === 'position'"
        :value="sensing.quantity"
        label="Its"
        :options="[
          { value: 'position', label: 'Position' },
          { value: 'speed', label: 'Speed' },
        ]"
        @choose="putField('quantity', $event)"
      />
      <ChoiceField
        :value="sensing.side"
        label="Is"
        :options="[
          { value: 'above', label: 'at or above' },
          { value: 'below', label: 'at or below' },
        ]"
        @choose="putField('side', $event)"
      />
      <QuantityField
        :value="sensing.value"
        :kind="hysteresisKind"
        label="Value"
        :commit="(v) => putField('value', v!)"
      />
    </template>
    <template v-else-if="sensing.kind === 'count' && countOf">
      <ChoiceField
        class="wide"
        :value="`${countOf.what} ${counted}`"
        label="Counts"
        :options="countable"
        @choose="setCounted"
      />
      <QuantityField
        :value="sensing.value"
        kind="number"
        label="On from"
        :min="1"
        :commit="(v) => putField('value', Math.round(v!))"
      />
    </template>
    <template v-else-if="sensing.kind === 'timer'">
      <ChoiceField
        :value="sensing.of"
        label="Of the sensor"
        :options="list(cues.sequence!.sensors.filter(({ id }) => id !== sensor.id))"
        @choose="putField('of', $event)"
      />
      <ChoiceField
        :value="sensing.how"
        label="As"
        :options="[
          { value: 'on', label: 'On-delay (TON)' },
          { value: 'off', label: 'Off-delay (TOF)' },
          { value: 'pulse', label: 'Pulse (TP)' },
        ]"
        @choose="putField('how', $event)"
      />
      <QuantityField :value="sensing.time" kind="time" label="Time" :min="0" :commit="(v) => putField('time', v!)" />
    </template>
    <template v-else-if="sensing.kind === 'cue'">
      <ChoiceField
        :value="sensing.cue"
        label="Cue"
        :options="list(cues.sequence!.cues)"
        @choose="putField('cue', $event)"
      />
      <QuantityField
        :value="sensing.time"
        kind="time"
        label="On for (0: it stays on)"
        :min="0"
        :commit="(v) => putField('time', v!)"
      />
    </template>
    <NameField
      v-else-if="sensing.kind === 'button'"
      class="wide"
      :value="presses"
      label="Pressed at (s)"
      placeholder="0.5 for 0.2, 3 for 0.2"
      :most="400"
      :commit="setPresses"
    />
    <QuantityField
      v-if="['beam', 'area', 'proximity', 'position', 'force'].includes(sensing.kind)"
      :value="sensor.hysteresis"
      :kind="hysteresisKind"
      label="Hysteresis"
      :min="0"
      :commit="(v) => set((s) => void (s.hysteresis = v!))"
    />
    <QuantityField
      :value="sensor.onDelay"
      kind="time"
      label="On-delay"
      :min="0"
      :commit="(v) => set((s) => void (s.onDelay = v!))"
    />
    <QuantityField
      :value="sensor.offDelay"
      kind="time"
      label="Off-delay"
      :min="0"
      :commit="(v) => set((s) => void (s.offDelay = v!))"
    />
    <QuantityField
      :value="sensor.filter"
      kind="time"
      label="Filter"
      :min="0"
      :commit="(v) => set((s) => void (s.filter = v!))"
    />
    <ToggleField :value="sensor.inverted" label="Inverted" @change="set((s) => void (s.inverted = $event))" />
  </div>
</template>

<style scoped>
.sensor-fields {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 7px 8px;
  align-items: start;
}
.wide {
  grid-column: span 2;
}
</style>
