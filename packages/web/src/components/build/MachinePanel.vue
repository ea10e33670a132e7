<script setup lang="ts">
import { newAxis, usersOf } from '@yoke/core';
import { ElButton, ElInput } from 'element-plus';
import { ref } from 'vue';
import { Copy } from '@lucide/vue';
import { freeId, type Axis } from '@yoke/core';
import { ChoiceField, DeleteButton, IconButton, QuantityField, ToggleField } from '@/components/fields';
import { axisColour } from '@/lib/axis-look';
import { useMachine, usePreferences } from '@/stores';

/** The machine as a whole: its cycle, its axes, its notes. */
const machine = useMachine();
const preferences = usePreferences();

const setCycle = (value: number | null) =>
  machine.edit('change the cycle', (draft) => {
    draft.cycle = draft.cycle.given === 'time' ? { given: 'time', time: value! } : { given: 'rate', rate: value! };
  });
const setGiven = (given: 'time' | 'rate') =>
  machine.edit('change the cycle', (draft) => {
    draft.cycle = given === 'time' ? { given, time: machine.cycle } : { given, rate: 1 / machine.cycle };
  });

function add(kind: Axis['kind']): void {
  const axis = newAxis(kind, machine.axes, machine.cycle);
  machine.edit('add an axis', (draft) => void draft.axes.push(structuredClone(axis)));
  machine.selectedAxisId = axis.id;
}

function copy(axis: Axis): void {
  const fresh = newAxis(axis.kind, machine.axes, machine.cycle);
  const names = machine.axes.map(({ name }) => name);
  const name = freeId(`${axis.name.slice(0, 74)} `, names);
  machine.edit('copy an axis', (draft) => {
    draft.axes.push({
      ...structuredClone(axis),
      id: fresh.id,
      colour: fresh.colour,
      name,
    } as (typeof draft.axes)[number]);
  });
  machine.selectedAxisId = fresh.id;
}

const message = ref('');
function remove(axis: Axis): void {
  const users = usersOf(machine.document!.sequence, axis.id);
  message.value =
    users.length > 0
      ? `${axis.name} stays: ${users.slice(0, 4).join(', ')} ${users.length > 1 ? 'speak' : 'speaks'} of it in Cue.`
      : (machine.edit(
          `delete ${axis.name}`,
          (draft) => void (draft.axes = draft.axes.filter(({ id }) => id !== axis.id)),
        ) ?? '');
}
const setOnce = (once: boolean) =>
  machine.edit(once ? 'run once' : 'run again and again', (draft) => {
    if (once) draft.oneOff = true;
    else delete draft.oneOff;
  });
</script>

<template>
  <section class="panel machine" aria-label="Machine">
    <h2>Machine cycle</h2>
    <div class="pair">
      <ChoiceField
        :value="machine.document!.cycle.given"
        label="Given as"
        :options="{ time: 'Cycle time', rate: 'Rate' }"
        @choose="setGiven"
      />
      <QuantityField
        v-if="machine.document!.cycle.given === 'time'"
        :value="machine.document!.cycle.time"
        kind="time"
        label="Cycle time"
        :commit="setCycle"
      />
      <QuantityField
        v-else
        :value="machine.document!.cycle.rate"
        kind="rate"
        label="Cycles a minute"
        :commit="setCycle"
      />
    </div>
    <ToggleField
      class="once"
      :value="machine.document!.oneOff ?? false"
      label="Runs once"
      title="From rest to rest, a single time: motions need not come back to where they began"
      @change="setOnce"
    />
    <ToggleField
      class="once"
      :value="preferences.cycleFollows"
      label="Gets longer by itself"
      title="When a motion that is edited needs more time than the cycle, the cycle follows; kept in this browser"
      @change="preferences.cycleFollows = $event"
    />
    <h2 class="gap">Axes</h2>
    <ul class="axes">
      <li v-for="axis in machine.axes" :key="axis.id" :class="{ selected: axis.id === machine.axis?.id }">
        <span class="swatch" :style="{ background: axisColour(axis) }" />
        <button type="button" class="plain pick" @click="machine.selectedAxisId = axis.id">
          <b>{{ axis.name }}</b> <span class="soft">{{ axis.kind === 'linear' ? 'slides' : 'turns' }}</span>
        </button>
        <IconButton :icon="Copy" :size="15" :aria-label="`Copy ${axis.name}`" title="Copy" @click="copy(axis)" />
        <DeleteButton
          :size="15"
          :label="`Delete ${axis.name}`"
          title="Delete (undo brings it back)"
          @click="remove(axis)"
        />
      </li>
    </ul>
    <p v-if="message" class="bad" role="alert">{{ message }}</p>
    <div class="add">
      <ElButton size="small" @click="add('linear')">Add a slide</ElButton>
      <ElButton size="small" @click="add('rotary')">Add a table</ElButton>
    </div>
    <h2 class="gap">Notes</h2>
    <ElInput
      type="textarea"
      :rows="5"
      :model-value="machine.document!.notes"
      aria-label="Notes"
      maxlength="20000"
      resize="vertical"
      @change="machine.edit('change the notes', (draft) => void (draft.notes = String($event)))"
    />
  </section>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
.once {
  margin-top: 8px;
}
.gap {
  margin: 16px 0 6px;
}
.axes {
  list-style: none;
  margin: 0;
  padding: 0;
}
.axes li {
  display: flex;
  align-items: center;
  gap: 6px;
  border-bottom: 1px solid var(--line-soft);
  height: 34px;
}
.axes li.selected {
  background: var(--sunken);
}
.swatch {
  width: 4px;
  align-self: stretch;
}
.pick {
  flex: 1;
  text-align: left;
  height: 100%;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.pick b {
  font-weight: 500;
}
.add {
  display: flex;
  margin-top: 8px;
}
</style>
