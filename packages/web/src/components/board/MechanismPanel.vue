<script setup lang="ts">
import { directionName, gravityFacts, gravityVector, type GravityFacts } from '@yoke/core';
import { ElButton } from 'element-plus';
import { computed } from 'vue';
import { QuantityField, ToggleField } from '@/components/fields';
import { useAdditions } from '@/composables/useAdditions';
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
const pull = computed(() => gravityFacts(gravity.value.vector));
const leavesPlane = computed(() => board.mechanism!.planes.length > 1 || gravity.value.vector[2] !== 0);
const turnGravity = (change: Partial<GravityFacts>) =>
  board.draw(
    'gravity',
    ({ mechanism }) => void (mechanism.gravity.vector = gravityVector({ ...pull.value, ...change })),
  );

const { addABar, addADisc, addAPlane, addAFreeBody } = useAdditions();
</script>

<template>
  <MobilityPanel />
  <h3>Add by numbers</h3>
  <div class="actions">
    <ElButton size="small" @click="addABar">Add a bar</ElButton>
    <ElButton size="small" @click="addADisc">Add a disc</ElButton>
    <ElButton size="small" title="To draw what moves in another plane" @click="addAPlane">Add a plane</ElButton>
    <ElButton size="small" title="Free in space, to be held by rods and ball joints" @click="addAFreeBody"
      >Add a free body</ElButton
    >
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
      :value="pull.strength"
      kind="gravity"
      label="Strength"
      :min="0"
      :commit="(v) => turnGravity({ strength: v! })"
    />
    <QuantityField
      :value="pull.direction"
      kind="angle"
      label="Direction"
      :hint="`It pulls ${directionName(pull.direction)}`"
      :commit="(v) => turnGravity({ direction: v! })"
    />
    <QuantityField
      v-if="leavesPlane"
      :value="pull.tilt"
      kind="angle"
      label="Out of the front plane"
      hint="Towards who looks at it from the front"
      :commit="(v) => turnGravity({ tilt: v! })"
    />
  </div>
  <h3>Couplings</h3>
  <p class="note">Choose two joints (Shift adds to the choice): what can couple them is offered here.</p>
</template>

<style scoped>
@import './panel.css';
</style>
