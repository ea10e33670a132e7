<script setup lang="ts">
import { COUPLINGS, couplingSchema, drawnFields, formatQuantity, indexerGeometry, type Coupling } from '@yoke/core';
import { computed } from 'vue';
import { NameField, SchemaFields } from '@/components/fields';
import { useThing } from '@/composables/useThing';
import { useBoard, useMachine } from '@/stores';

/** A coupling between two joints: gears, belt, rack, screw, ratio or indexing wheel. */
const props = defineProps<{ coupling: Coupling }>();
const board = useBoard();
const machine = useMachine();
const { edit, set } = useThing('couplings', () => props.coupling.id);

const fields = computed(() => drawnFields(couplingSchema, props.coupling, machine.document!));
const geometry = computed(() => {
  const { coupling } = props;
  if (coupling.kind !== 'indexer') return null;
  const { distance, crankRadius } = indexerGeometry(coupling, board.mechanism!);
  return { distance, crankRadius, wanted: distance * Math.sin(Math.PI / coupling.slots) };
});
const show = (value: number) => formatQuantity(value, 'length', machine.units, 5);
</script>

<template>
  <p class="note">{{ COUPLINGS[coupling.kind].hint }}</p>
  <div class="fields">
    <NameField :value="coupling.name" :commit="set('name', 'rename')" class="wide" />
    <SchemaFields :fields :change="(change, label) => edit(label, change)" />
  </div>
  <p v-if="geometry" class="note">
    Centres {{ show(geometry.distance) }} apart; the pin needs a radius of {{ show(geometry.wanted) }} and has
    {{ show(geometry.crankRadius) }}.
  </p>
</template>

<style scoped>
@import './panel.css';
</style>
