<script setup lang="ts">
import { choicesOf, freeId, SENSORS, sensorWords, usersOf, type Sensor, type SensorKind } from '@yoke/core';
import { Plus } from '@lucide/vue';
import { ElButton } from 'element-plus';
import { computed, ref } from 'vue';
import { ChoiceField, DeleteButton, NameField, ToggleField } from '@/components/fields';
import { useCues, useCursor, useMachine } from '@/stores';
import SensorFields from './SensorFields.vue';

/** Sensors and flags: what is seen, and what is remembered. */
const machine = useMachine();
const cues = useCues();
const cursor = useCursor();
const message = ref('');
const list = computed(() =>
  (cues.sequence?.sensors ?? []).map((sensor) => {
    const signal = cues.record?.signals.find((s) => s.sensor === sensor.id);
    const changes = (signal?.times ?? []).filter((time) => time <= cursor.time + 1e-9).length - 1;
    return {
      sensor,
      kind: SENSORS[sensor.sensing.kind].label,
      words: sensorWords(sensor, machine.document!),
      on: signal ? (changes % 2 === 0) === signal.first : null,
      changes: (signal?.times.length ?? 1) - 1,
    };
  }),
);

const kind = ref<SensorKind>('beam');
const before = computed(() => ({ machine: machine.document!, was: { axis: machine.axis?.id } }));
const kinds = computed(() => choicesOf<SensorKind>(SENSORS, before.value));
function add(): void {
  const sensing = SENSORS[kind.value].first(before.value);
  if (typeof sensing === 'string') {
    message.value = sensing;
    return;
  }
  const taken = cues.sequence!.sensors;
  const base = SENSORS[kind.value].label;
  const names = new Set(taken.map(({ name }) => name));
  const id = freeId('s', taken.map((s) => s.id)); // prettier-ignore
  const name = names.has(base) ? freeId(`${base} `, names) : base;
  message.value =
    cues.edit('a new sensor', (s) => ({
      ...s,
      sensors: [
        ...s.sensors,
        { id, name, sensing, hysteresis: 0, onDelay: 0, offDelay: 0, filter: 0, inverted: false },
      ],
    })) ?? '';
  if (!message.value) cues.sensorId = id;
}
function remove(sensor: Sensor): void {
  const users = usersOf(cues.sequence!, sensor.id);
  message.value =
    users.length > 0
      ? `${sensor.name} stays: ${users.join(', ')} ${users.length > 1 ? 'speak' : 'speaks'} of it.`
      : (cues.edit('a sensor less', (s) => ({ ...s, sensors: s.sensors.filter(({ id }) => id !== sensor.id) })) ?? '');
}
const flags = computed(() => cues.sequence?.flags ?? []);
const addFlag = () =>
  cues.edit('a new flag', (s) => ({ ...s, flags: [...s.flags, { id: freeId('f', s.flags.map(({ id }) => id)), name: freeId('Flag ', s.flags.map(({ name }) => name)), set: false }] })); // prettier-ignore
function removeFlag(id: string): void {
  const users = usersOf(cues.sequence!, id);
  message.value =
    users.length > 0
      ? `The flag stays: ${users.join(', ')} ${users.length > 1 ? 'speak' : 'speaks'} of it.`
      : (cues.edit('a flag less', (s) => ({ ...s, flags: s.flags.filter((f) => f.id !== id) })) ?? '');
}
</script>

<template>
  <section class="panel sensors" aria-label="Sensors">
    <header>
      <ChoiceField bare :value="kind" label="Kind of sensor" :options="kinds" @choose="kind = $event" />
      <ElButton type="primary" @click="add"><Plus :size="15" /> Add the sensor</ElButton>
      <span v-if="message" class="bad" role="alert">{{ message }}</span>
    </header>
    <div class="scroll">
      <table class="rows">
        <thead>
          <tr>
            <th>Sensor</th>
            <th>Kind</th>
            <th>Senses</th>
            <th class="number">Changes</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="{ sensor, kind: kindName, words, on, changes } in list"
            :key="sensor.id"
            :class="{ chosen: cues.sensorId === sensor.id }"
            @click="cues.sensorId = sensor.id"
          >
            <td>
              <span
                class="lamp"
                :class="{ on }"
                :title="on === null ? 'not run' : on ? 'on at the cursor' : 'off at the cursor'"
              /><button type="button" class="plain name">{{ sensor.name }}</button>
            </td>
            <td class="soft">{{ kindName }}</td>
            <td>{{ words }}<span v-if="sensor.inverted" class="soft">, inverted</span></td>
            <td class="number">{{ changes }}</td>
            <td class="number">
              <DeleteButton :label="`Delete ${sensor.name}`" @click.stop="remove(sensor)" />
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="list.length === 0" class="soft empty">
        No sensor yet: choose a kind above. Beams and areas are then dragged to their place in the picture.
      </p>
      <div v-if="cues.sensor" class="fields">
        <NameField
          :value="cues.sensor.name"
          label="Sensor"
          :commit="
            (name) =>
              cues.edit('name of a sensor', (s) => ((s.sensors.find(({ id }) => id === cues.sensorId)!.name = name), s))
          "
        />
        <SensorFields :key="cues.sensor.id" :sensor="cues.sensor" />
      </div>
      <h3>Flags <button type="button" class="plain link" @click="addFlag">Add a flag</button></h3>
      <div v-for="flag in flags" :key="flag.id" class="flag">
        <NameField
          bare
          :value="flag.name"
          label="Flag"
          :commit="
            (name) => cues.edit('name of a flag', (s) => ((s.flags.find(({ id }) => id === flag.id)!.name = name), s))
          "
        />
        <ToggleField
          :value="flag.set"
          label="Set at the start"
          @change="cues.edit('flag', (s) => ((s.flags.find(({ id }) => id === flag.id)!.set = $event), s))"
        />
        <DeleteButton :label="`Delete ${flag.name}`" @click="removeFlag(flag.id)" />
      </div>
    </div>
  </section>
</template>

<style scoped>
.sensors {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  padding: 8px 10px;
  min-height: 0;
}
header {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-bottom: 4px;
  font-size: 12.5px;
}
header :deep(.el-select) {
  width: 170px;
}
header :deep(.el-button span) {
  display: inline-flex;
  gap: 5px;
  align-items: center;
}
.scroll {
  overflow: auto;
}
tr {
  cursor: pointer;
}
tr.chosen td {
  background: var(--sunken);
}
.lamp {
  display: inline-block;
  width: 9px;
  height: 9px;
  border-radius: 50%;
  border: 1.4px solid var(--ink-soft);
  margin-right: 7px;
}
.lamp.on {
  background: var(--attention);
  border-color: var(--attention);
}
.name {
  font-weight: 500;
}
.fields {
  margin: 10px 0;
  padding: 8px 10px;
  border: 1px solid var(--line-soft);
  border-radius: var(--radius);
  display: grid;
  gap: 7px;
}
h3 {
  margin: 12px 0 5px;
}
.link {
  color: var(--primary);
  text-decoration: underline;
  margin-left: 8px;
  text-transform: none;
  letter-spacing: 0;
}
.flag {
  display: flex;
  gap: 14px;
  align-items: end;
  margin-bottom: 4px;
}
.empty {
  padding: 14px 4px;
}
</style>
