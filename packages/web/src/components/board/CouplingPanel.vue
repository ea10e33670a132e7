<script setup lang="ts">
import { formatQuantity, indexerGeometry, type Coupling } from '@yoke/core';
import { computed } from 'vue';
import ChoiceField from '@/components/ChoiceField.vue';
import NameField from '@/components/NameField.vue';
import QuantityField from '@/components/QuantityField.vue';
import ToggleField from '@/components/ToggleField.vue';
import { useThing } from '@/composables/useThing';
import { put, type KeyOf, type ValueOf } from '@/lib/put';
import { useBoard } from '@/stores/board';
import { useMachine } from '@/stores/machine';

/** A coupling between two joints: gears, belt, rack, screw, ratio or indexing wheel. */
const props = defineProps<{ coupling: Coupling }>();
const board = useBoard();
const machine = useMachine();
const { edit, set } = useThing('couplings', () => props.coupling.id);

const WORDS: Record<Coupling['kind'], string> = {
  gear: 'A gear pair turns two pins against each other.',
  belt: 'A belt turns two pins alike, or against each other when crossed.',
  rack: 'A rack slides as its pinion turns.',
  screw: 'A nut travels by the lead for every turn of its screw.',
  ratio: 'The second moves in proportion to the first.',
  indexer: 'A driving pin indexes a wheel with slots; in between the wheel is held.',
};
const joints = computed(() =>
  board.mechanism!.joints.filter(({ kind }) => kind !== 'weld').map(({ id, name }) => ({ value: id, label: name })),
);
const setNumber =
  <K extends KeyOf<Coupling>>(key: K) =>
  (value: ValueOf<Coupling, K> | null) =>
    edit(key, (coupling) => put(coupling, key, value));
const crankPoints = computed(() => {
  const { coupling } = props;
  const crank = board.mechanism!.joints.find(({ id }) => id === coupling.first);
  const body = board.mechanism!.bodies.find(({ id }) => id === crank?.b.body);
  return body?.points.map(({ id }) => ({ value: id, label: `${body.name}.${id}` })) ?? [];
});
const geometry = computed(() => {
  const { coupling } = props;
  if (coupling.kind !== 'indexer') return null;
  const { distance, crankRadius } = indexerGeometry(coupling, board.mechanism!);
  return { distance, crankRadius, wanted: distance * Math.sin(Math.PI / coupling.slots) };
});
const show = (value: number) => formatQuantity(value, 'length', machine.units, 5);
</script>

<template>
  <p class="note">{{ WORDS[coupling.kind] }}</p>
  <div class="fields">
    <NameField :value="coupling.name" :commit="set('name', 'rename')" class="wide" />
    <ChoiceField :value="coupling.first" label="First joint" :options="joints" @choose="set('first')($event)" />
    <ChoiceField :value="coupling.second" label="Second joint" :options="joints" @choose="set('second')($event)" />
    <template v-if="coupling.kind === 'gear' || coupling.kind === 'belt'">
      <QuantityField
        :value="coupling.radius1"
        kind="length"
        label="Radius of the first"
        :commit="setNumber('radius1')"
      />
      <QuantityField
        :value="coupling.radius2"
        kind="length"
        label="Radius of the second"
        :commit="setNumber('radius2')"
      />
      <ToggleField
        v-if="coupling.kind === 'gear'"
        :value="coupling.inside"
        label="One inside the other"
        @change="
          (v) =>
            edit('inside', (c) => {
              if (c.kind === 'gear') c.inside = v;
            })
        "
      />
      <ToggleField
        v-else
        :value="coupling.crossed"
        label="Crossed"
        @change="
          (v) =>
            edit('crossed', (c) => {
              if (c.kind === 'belt') c.crossed = v;
            })
        "
      />
    </template>
    <QuantityField
      v-if="coupling.kind === 'rack'"
      :value="coupling.radius"
      kind="length"
      label="Pitch radius"
      :commit="setNumber('radius')"
    />
    <QuantityField
      v-if="coupling.kind === 'screw'"
      :value="coupling.lead"
      kind="length"
      label="Lead"
      :commit="setNumber('lead')"
    />
    <QuantityField
      v-if="coupling.kind === 'ratio'"
      :value="coupling.ratio"
      kind="number"
      label="Ratio"
      :commit="setNumber('ratio')"
    />
    <template v-if="coupling.kind === 'indexer'">
      <QuantityField :value="coupling.slots" kind="number" label="Slots" :commit="setNumber('slots')" />
      <ChoiceField
        :value="coupling.pin"
        label="Driving pin"
        :options="crankPoints"
        @choose="setNumber('pin')($event)"
      />
    </template>
  </div>
  <p v-if="geometry" class="note">
    Centres {{ show(geometry.distance) }} apart; the pin needs a radius of {{ show(geometry.wanted) }} and has
    {{ show(geometry.crankRadius) }}.
  </p>
</template>

<style scoped>
@import './panel.css';
</style>
