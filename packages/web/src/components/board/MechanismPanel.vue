<script setup lang="ts">
import { addBar, addDisc, directionName, type Body, type Mechanism } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import { QuantityField, ToggleField } from '@/components/fields';
import { useBoard, usePreferences } from '@/stores';
import MobilityPanel from './MobilityPanel.vue';

/** The mechanism as a whole: mobility, gravity, bodies by numbers. */
const board = useBoard();
const preferences = usePreferences();
function setBarWidth(width: number | null): null {
  preferences.barWidth = width;
  return null;
}
const gravity = computed(() => board.mechanism!.gravity);

/** A body in the middle of what is seen, for those who type rather than draw. */
function add(label: string, make: (m: Mechanism, x: number, y: number, size: number) => Body): void {
  const { x, y, scale } = board.view ?? { x: 0, y: 0, scale: 1000 };
  const snap = (v: number) => Number((Math.round(v / board.grid) * board.grid).toPrecision(12));
  board.draw(label, (draft) =>
    board.select(make(draft.mechanism as Mechanism, snap(x), snap(y), snap(100 / scale)).id),
  );
}
const addABar = () =>
  add('add a bar', (m, x, y, size) => addBar(m, [x - size / 2, y], [x + size / 2, y], undefined, preferences.barWidth));
const addADisc = () => add('add a disc', (m, x, y, size) => addDisc(m, [x, y], size / 2));
</script>

<template>
  <MobilityPanel />
  <h3>Add by numbers</h3>
  <div class="actions">
    <ElButton size="small" @click="addABar">Add a bar</ElButton>
    <ElButton size="small" @click="addADisc">Add a disc</ElButton>
  </div>
  <h3>Drawing</h3>
  <div class="fields">
    <QuantityField
      :value="preferences.barWidth"
      kind="length"
      label="Width of new bars"
      hint="Empty: by their length. Kept in this browser"
      optional
      placeholder="by length"
      :min="1e-5"
      :commit="setBarWidth"
    />
    <ToggleField :value="preferences.massCentres" label="Centres of mass" @change="preferences.massCentres = $event" />
  </div>
  <h3>Gravity</h3>
  <div class="fields three">
    <ToggleField
      :value="gravity.on"
      label="On"
      @change="(v) => board.draw('gravity', (d) => void (d.mechanism.gravity.on = v))"
    />
    <QuantityField
      :value="gravity.magnitude"
      kind="gravity"
      label="Strength"
      :commit="(v) => board.draw('gravity', (d) => void (d.mechanism.gravity.magnitude = v!))"
    />
    <QuantityField
      :value="gravity.angle"
      kind="angle"
      label="Direction"
      :hint="`It pulls ${directionName(gravity.angle)}`"
      :commit="(v) => board.draw('gravity', (d) => void (d.mechanism.gravity.angle = v!))"
    />
  </div>
  <h3>Couplings</h3>
  <p class="note">Choose two joints (Shift adds to the choice): what can couple them is offered here.</p>
</template>

<style scoped>
@import './panel.css';
</style>
